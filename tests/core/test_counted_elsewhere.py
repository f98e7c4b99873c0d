"""Rows that were counted elsewhere give the answers that the rows themselves give."""

import json
import math
import re
import warnings
from dataclasses import replace
from typing import Any

import polars as pl
import pytest
from hypothesis import given, settings

from core.test_random_questions import TABLE_OF_FEW, questions
from core.weighted_people import frame
from hobrix.core.data import Frame
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Question, answer, rows_set_aside

# Few different weights, so that rows are alike.
ROWS = TABLE_OF_FEW.with_columns(
    pl.when(pl.col("w") == "0").then(pl.lit("0")).otherwise(pl.col("w").str.head(1))
).with_columns(age=(pl.col("age").cast(pl.Int32) // 10 * 10).cast(pl.String))
PEOPLE = frame(ROWS)
_NUMBER = re.compile(r"-?\d+\.\d{6,}(?:e-?\d+)?")


def condensed(asked: dict[str, Any]) -> Frame:
    """Distinct combinations of what a question names, with how many rows have each."""
    told = json.dumps(asked)
    names = [name for name in ROWS.columns if f'"{name}"' in told]
    table = ROWS.group_by(names).len("hobrix n").sort(names)
    n = table["hobrix n"].cast(pl.Float64).to_numpy()
    found = frame(table.drop("hobrix n"))
    known = {name: PEOPLE.variables[name] for name in names}
    return replace(found, variables=known, stands_for=n)


def alike(one: Any, other: Any, where: str = "") -> None:
    """Numbers to a relative 1e-9, which is more than rounding in sums of another order takes."""
    if isinstance(other, dict):
        assert set(one) == set(other), where
        for key in other:
            alike(one[key], other[key], f"{where}.{key}")
    elif isinstance(other, list):
        same = len(one) == len(other)
        assert same, (
            f"{where}: {[o for o in one if o not in other]}, {[o for o in other if o not in one]}"
        )
        for i, (a, b) in enumerate(zip(one, other, strict=True)):
            alike(a, b, f"{where}[{i}]")
    elif isinstance(other, float):
        # Limits rest on small differences of large sums where hardly anything varies.
        near = 1e-8 if "ci" in where.rsplit(".", 1)[-1] else 1e-9
        close = math.isclose(one, other, rel_tol=near, abs_tol=1e-11)
        assert close, f"{where}: {one!r} is not {other!r}"
    elif isinstance(other, str) and _NUMBER.search(other):
        alike(
            [float(x) for x in _NUMBER.findall(one)],
            [float(x) for x in _NUMBER.findall(other)],
            where,
        )
        assert _NUMBER.sub("", one) == _NUMBER.sub("", other), where
    else:
        assert one == other, where


def told(asked: dict[str, Any], of: Frame) -> dict[str, Any] | str:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            given_ = answer(Question.model_validate(asked), of, panels=None)
        except QuestionError as refused:
            return refused.slot or "refused"
    return json.loads(given_.model_dump_json(by_alias=True))


def without_single_rows(told: dict[str, Any]) -> dict[str, Any]:
    """What single rows are needed for, which are not here, and offers that name other variables."""
    told = {**told, "panels": [p for p in told["panels"] if p["name"] != "unusual"]}
    told["opened"] = {k: v for k, v in told["opened"].items() if k != "unusual"}
    # Nor is it offered to take numbers as they are, which may be too many.
    gone = {"influence", "where", "rounded"}
    if told["question"]["counted_by"]["kind"] == "counts":
        # Whether counts may be weights is told by all other variables of the rows.
        gone.add("counting")
    told["checks"] = [c for c in told["checks"] if c["id"] not in gone]
    told["unavailable"] = [u for u in told["unavailable"] if u["quantity"] != "unusual"]
    return told


def varies(asked: dict[str, Any]) -> bool:
    """Where clusters are themselves compared nothing varies, and errors are rounding alone; matched sets are looked at
    row by row."""
    by_rows = asked["matched"] is not None
    return asked["counted_by"].get("clusters") != "district" and not by_rows


@settings(max_examples=150, deadline=None)
@given(questions().filter(varies))
def test_the_answer_is_that_of_the_rows(asked: dict[str, Any]) -> None:
    of_rows, of_counts = told(asked, PEOPLE), told(asked, condensed(asked))
    if isinstance(of_rows, str) or isinstance(of_counts, str):
        assert of_rows == of_counts
        return
    alike(without_single_rows(of_counts), without_single_rows(of_rows))


def test_several_rows_stand_in_one() -> None:
    asked = {"lens": "odds", "outcome": {"variable": "ill"}, "vary_with": [{"variable": "source"}]}
    few = condensed(asked)
    assert few.rows < 12
    assert few.size == len(ROWS)


def test_what_needs_single_rows_is_refused_in_words() -> None:
    asked = {
        "lens": "odds",
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "source"}],
    }
    few = condensed(asked)
    with pytest.raises(QuestionError, match="cannot be listed"):
        rows_set_aside(Question.model_validate(asked), few, 0, 10)
    without = {**asked, "options": {"odds": {"without_rows": [3]}}}
    with pytest.raises(QuestionError, match="left out one by one") as refused:
        answer(Question.model_validate(without), few)
    assert refused.value.slot == "options.odds.without_rows"
    alone = {**asked, "counted_by": {"kind": "design", "weights": "w", "errors": "jackknife"}}
    with pytest.raises(QuestionError, match="drawn again"):
        answer(Question.model_validate(alone), condensed(alone))


def test_numbers_taken_to_the_nearest_step_say_so() -> None:
    asked = {
        "lens": "distribution",
        "outcome": {"variable": "age"},
        "options": {"rounded": {"age": 20}},
    }
    given_ = answer(Question.model_validate(asked), PEOPLE)
    (check,) = [each for each in given_.checks if each.id == "rounded"]
    assert check.text.startswith("age was rounded to the nearest 20 in this question")
    assert "age was rounded to the nearest 20." in given_.write_up
    assert check.remedies[0].question == Question.model_validate({**asked, "options": {}})
    before, after = (
        f.numeric("age", "outcome").values for f in (PEOPLE, PEOPLE.rounded({"age": 20}))
    )
    assert set((after / 20).tolist()) <= set(range(10))
    # Halves go up, and what is no number cannot be rounded.
    assert set(after[before == 30].tolist()) == {40.0}
    wrong = {**asked, "options": {"rounded": {"source": 2}}}
    with pytest.raises(QuestionError) as refused:
        answer(Question.model_validate(wrong), PEOPLE)
    assert refused.value.slot == "options.rounded"
