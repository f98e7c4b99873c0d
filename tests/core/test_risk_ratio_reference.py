"""Shares standardised by a logistic model, against reference numbers, and asked through a question."""

from typing import Any

import numpy as np
import pytest
from scipy import stats

from core.closeness import assert_agrees
from core.reference_questions import frame_of, question_of
from hobrix.core.logistic import inference, log_link
from hobrix.core.questions import answer, begin
from hobrix.core.questions.modelling.contrasts import column_names
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


def coefficients(case: dict[str, Any]) -> tuple[Any, dict[tuple[str, str | None], int]]:
    """The patterns of the model a case asks for, and where its columns are."""
    begun = begin(question_of(case), frame_of(case))
    names = [(term, level) for term, level, _ in column_names(begun.work.model.terms)]
    return begun.work.model.data, {name: i for i, name in enumerate(names)}


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_poisson_with_robust_errors(case: dict[str, Any]) -> None:
    data, places = coefficients(case)
    found, expected = log_link.poisson(data), case["expected"]["poisson_robust"]
    assert found.above_1 == expected["people_with_fitted_value_above_1"]
    for each in expected["coefficients"]:
        at = places[(each["term"], each["level"])]
        value, se = found.fit.coefficients[at], np.sqrt(found.fit.covariance[at, at])
        assert_agrees(float(value), each["log_risk_ratio"], str(at), relative=1e-8)
        assert_agrees(float(se), each["se"], str(at), relative=1e-8)
        naive = float(np.sqrt(found.inverse[at, at]))
        assert_agrees(naive, each["se_model_based_not_for_use"], str(at), relative=1e-8)
    for term in expected["terms"]:
        columns = [i for (name, _), i in places.items() if name == term["term"]]
        tested = inference.wald_test(found.fit, columns)
        assert_agrees(tested.statistic, term["wald"]["statistic"], term["term"], relative=1e-8)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_log_binomial_where_it_exists(case: dict[str, Any]) -> None:
    data, places = coefficients(case)
    expected = case["expected"]["log_binomial"]
    if not expected["maximum_inside_the_boundary"]:
        with pytest.raises(log_link.NoEstimate) as refused:
            log_link.binomial(data)
        assert refused.value.why == expected["reason"]
        return
    found = log_link.binomial(data)
    assert_agrees(found.log_likelihood, expected["log_likelihood"], relative=1e-8)
    for each in expected["coefficients"]:
        at = places[(each["term"], each["level"])]
        assert_agrees(float(found.coefficients[at]), each["log_risk_ratio"], str(at), relative=1e-8)
        se = float(np.sqrt(found.covariance[at, at]))
        assert_agrees(se, each["se"], str(at), relative=1e-8)


def test_a_category_without_an_event_has_no_ratio_by_a_log_link() -> None:
    (case,) = [c for c in reference_cases("risk_ratio") if c["name"] == "no_events_in_one_level"]
    # Without the number there is nothing to separate but the category itself.
    firth = question_of(case, options={"odds": {"method": "firth"}})
    given = answer(firth, frame_of(case), panels=["log_link"])
    assert given.opened.log_link.rows == ()
    assert "nobody with the event" in given.opened.log_link.no_estimate


def test_clusters_have_the_errors_of_clusters() -> None:
    (case,) = [c for c in CASES if c["cluster"]]
    expected = case["expected"]["poisson_robust"]["cluster_robust_with_factor"]
    design = {"kind": "design", "clusters": case["cluster"]}
    given = answer(question_of(case, counted_by=design), frame_of(case), panels=["log_link"])
    rows = {(row.term, row.level): row.robust for row in given.opened.log_link.rows}
    df = case["expected"]["clusters"] - 1
    for each in expected["coefficients"]:
        if each["term"] == "intercept":
            continue
        row = rows[(each["term"], each["level"])]
        width = np.log(row.ci[1] / row.ci[0]) / 2 / stats.t.ppf(0.975, df)
        assert_agrees(float(width), each["se"], each["term"], relative=1e-8)
