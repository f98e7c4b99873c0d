"""Shares standardised by a logistic model, against reference numbers, and asked through a question."""

from typing import Any

import numpy as np
import pytest

from core.closeness import assert_agrees
from core.reference_questions import frame_of, question_of
from hobrix.core.questions import answer
from reference_numbers import reference_cases

CASES = [
    case
    for case in reference_cases("risk_ratio")
    if case["expected"]["standardised"]["maximum_likelihood_finite"]
]


def asked(case: dict[str, Any]) -> Any:
    # What is standardised varies, whichever slot the case has it in.
    own = [t for t in case["allowing_for"] if t["variable"] == case["standardise"]]
    varying = [*case["vary_with"], *own]
    allowed = [t for t in case["allowing_for"] if t not in varying]
    question = question_of({**case, "vary_with": varying, "allowing_for": allowed})
    return answer(question, frame_of(case), panels=["shares"])


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
