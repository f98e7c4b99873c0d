"""Shares standardised by a logistic model, against reference numbers, and asked through a question."""

from typing import Any

import numpy as np
import polars as pl
import pytest

from core.closeness import assert_agrees
from hobrix.core.data import Category, Frame, Variable
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Question, answer
from reference_numbers import REFERENCE, reference_cases

CASES = [
    case
    for case in reference_cases("risk_ratio")
    if case["expected"]["standardised"]["maximum_likelihood_finite"]
]


def asked(case: dict[str, Any]) -> Any:
    data = pl.read_csv(REFERENCE / case["data"], infer_schema=False).fill_null("")
    terms = [*case["allowing_for"], *case["vary_with"]]
    kinds = {t["variable"]: t["kind"] for t in terms if "kind" in t}
    variables = []
    for name in data.columns:
        if kinds.get(name) == "numeric" or name == case["counts"]:
            variables.append(Variable(name=name, kind="numeric"))
            continue
        values = sorted(set(data[name]) - {""})
        categories = tuple(Category(value=v, label=v) for v in values)
        variables.append(Variable(name=name, kind="nominal", categories=categories))
    frame = Frame.of(variables, {n: source_column(data[n]) for n in data.columns}, data.height)

    def slot(terms: list[dict[str, Any]]) -> list[dict[str, Any]]:
        return [
            {
                "variable": t["variable"],
                **{k: t[k] for k in ("reference", "per", "with") if t.get(k) is not None},
            }
            for t in terms
        ]

    # What is standardised varies, whichever slot the case has it in.
    own = [t for t in case["allowing_for"] if t["variable"] == case["standardise"]]
    varying = [*case["vary_with"], *own]
    question = {
        "lens": "odds",
        "outcome": {"variable": case["outcome"]["variable"], "event": [case["outcome"]["event"]]},
        "vary_with": slot(varying),
        "allowing_for": slot([term for term in terms if term not in varying]),
        "counted_by": {"kind": "counts", "variable": case["counts"]}
        if case["counts"]
        else {"kind": "each"},
    }
    return answer(Question.model_validate(question), frame, panels=["shares"])


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_standardised_shares(case: dict[str, Any]) -> None:
    expected = case["expected"]["standardised"]
    given = asked(case)
    found = {each.variable: each for each in given.opened.shares.variables}[expected["variable"]]
    levels = {level.value: level for level in found.levels}
    assert found.levels[0].value == expected["reference"]
    for risk in expected["risks"]:
        level = levels[risk["level"]]
        assert_agrees(level.share, risk["risk"], risk["level"], relative=1e-8)
        assert_agrees(list(level.share_ci), risk["ci_95"], risk["level"], relative=1e-8)
    for each in expected["comparisons"]:
        level = levels[each["level"]]
        assert_agrees(level.ratio, each["risk_ratio"], each["level"], relative=1e-8)
        assert_agrees(list(level.ratio_ci), each["risk_ratio_ci_95"], "limits", relative=1e-8)
        assert_agrees(level.p, each["p"], "p", relative=1e-6)
        assert_agrees(level.difference, each["risk_difference"], "difference", relative=1e-8)
        wanted = each["risk_difference_ci_95"]
        assert_agrees(list(level.difference_ci), wanted, "limits", relative=1e-7)


def test_without_others_the_ratio_is_that_of_the_table() -> None:
    case = next(case for case in CASES if case["name"] == "one_binary_factor")
    given, crude = asked(case), case["expected"]["crude_check"]
    level = given.opened.shares.variables[0].levels[1]
    assert_agrees(level.ratio, crude["risk_ratio"], "ratio", relative=1e-9)
    width = np.log(level.ratio_ci[1] / level.ratio_ci[0]) / 2 / 1.959963984540054
    assert_agrees(width, crude["log_standard_error"], "log error", relative=1e-9)
    (check,) = [each for each in given.checks if each.id == "common_event"]
    assert [(r.label, r.panel) for r in check.remedies] == [("See ratios of shares", "shares")]
    assert (
        "was 38.3% with flooded: yes and 26.4% with no (ratio = 1.45, 95% CI [1.06, 1.98])"
        in given.write_up
    )
