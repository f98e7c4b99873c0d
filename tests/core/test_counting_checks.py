"""A column of counts that may hold sampling weights is told by the rows beside it."""

from typing import Any

import numpy as np
import pytest

from hobrix.core.data import Category, Coded, Frame, Measured, Variable
from hobrix.core.questions import Question, answer
from hobrix.core.questions.answer import Check

YES_NO = (Category(value="no", label="No"), Category(value="yes", label="Yes"))


def asked(ill: list[int], river: list[int], n: list[float], **numbers: list[float]) -> Check:
    variables = [
        Variable(name="ill", kind="nominal", categories=YES_NO, event=("yes",)),
        Variable(name="river", kind="nominal", categories=YES_NO),
    ]
    sources: dict[str, Any] = {
        name: Coded(np.array(codes, dtype=np.int16), ("no", "yes"))
        for name, codes in (("ill", ill), ("river", river))
    }
    for name, values in {"n": n, **numbers}.items():
        variables.append(Variable(name=name, kind="numeric"))
        sources[name] = Measured.of(np.array(values))
    frame = Frame.of(variables, sources, len(ill))
    question = Question.model_validate(
        {
            "lens": "crosstab",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "river"}],
            "counted_by": {"kind": "counts", "variable": "n"},
        }
    )
    return next(check for check in answer(question, frame).checks if check.id == "counting")


def test_a_table_of_counts_has_each_row_once() -> None:
    assert asked([0, 0, 1, 1], [0, 1, 0, 1], [40, 30, 20, 10]).status == "ok"


def test_rows_that_repeat_may_be_people_with_weights() -> None:
    check = asked([0, 0, 1, 1] * 25, [0, 1, 0, 1] * 25, [1, 2, 3, 4] * 25)
    assert check.status == "care"
    assert "96 of 100 rows are like another in everything but n" in check.text
    assert [remedy.label for remedy in check.remedies] == ["Take it as a weight"]


@pytest.mark.parametrize("missing", [False, True])
def test_another_variable_may_tell_the_rows_apart(missing: bool) -> None:
    """Such as the dose of a group; a value that is missing is one of them."""
    dose = [float("nan") if missing and i == 0 else float(i) for i in range(25)]
    doses = list(np.repeat(dose, 4))
    check = asked([0, 0, 1, 1] * 25, [0, 1, 0, 1] * 25, [1, 2, 3, 4] * 25, dose=doses)
    assert check.status == "ok"
