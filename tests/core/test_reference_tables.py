"""The Crosstab lens agrees with the reference numbers, through the whole question."""

from typing import Any

import pytest

from core.asking import ask, crosstab_question, rows_frame
from core.closeness import assert_agrees
from hobrix.core.questions import answer
from reference_numbers import reference_cases

TABLES = reference_cases("crosstab")
TWO_BY_TWO = [case for case in reference_cases("two_by_two") if "table" in case["input"]]
EXPECTED = (
    "expected_counts",
    "residuals",
    "pearson_residuals",
    "contributions",
    "minimum_expected",
    "share_expected_below_5",
)


def names(case: dict[str, Any]) -> str:
    return case["name"]


@pytest.mark.parametrize("case", TABLES, ids=names)
def test_crosstab(case: dict[str, Any]) -> None:
    expected = case["expected"]
    given = ask(case["input"]["table"])
    whole = given.results.whole.model_dump(mode="json")
    for key in ("n", "adjusted_residuals", "row_totals", "column_totals"):
        assert_agrees(whole[key], expected[key], key)
    for key in EXPECTED:
        assert_agrees(whole["expected"][key], expected[key], key)
    panel = given.opened.measures
    key = "pearson_correlation_of_scores"
    assert_agrees(getattr(panel, key), expected[key], key)
    measures = {measure.key: measure.value for measure in panel.measures}
    for key in ("phi", "cramers_v"):
        assert_agrees(measures.get(key), expected["association"][key], key)
    assert_agrees(whole["cramers_v"], expected["association"]["cramers_v"], "cramers_v")
    kept = expected.get("kept_rows", list(range(len(case["input"]["table"]))))
    assert list(whole["kept_rows"]) == kept


@pytest.mark.parametrize(
    "test", ["pearson", "likelihood_ratio", "continuity_corrected", "linear_by_linear"]
)
@pytest.mark.parametrize("case", TABLES, ids=names)
def test_chi_square(case: dict[str, Any], test: str) -> None:
    expected = case["expected"]["chi_square"].get(test)
    found = ask(case["input"]["table"]).opened.tests.chi_square.model_dump()[test]
    if expected is None:
        assert found is None
        return
    # The likelihood ratio at n near 1e6 is asked for to 1e-8.
    relative = 1e-8 if test == "likelihood_ratio" and case["expected"]["n"] > 5e5 else 1e-9
    assert found["df"] == expected["df"]
    assert_agrees(found["statistic"], expected["statistic"], test, relative=relative)
    assert_agrees(found["p"], expected["p"], f"{test} p", relative=relative)


@pytest.mark.parametrize("case", TWO_BY_TWO, ids=names)
def test_two_by_two(case: dict[str, Any]) -> None:
    """Rows are exposed and unexposed, columns event and no event."""
    expected = case["expected"]
    given = ask(
        case["input"]["table"],
        outcome={"variable": "column", "event": ["c1"]},
        vary_with=[{"variable": "row", "reference": "r2"}],
    ).model_dump(mode="json")
    panel = given["opened"]["two_groups"]
    for key in ("risk_exposed", "risk_unexposed", "zero_cell"):
        assert_agrees(panel[key], expected[key], key)
    against = given["results"]["whole"]["groups"]["comparisons"][0]
    for key in ("odds_ratio", "risk_ratio"):
        found = against[key]["counted"]
        assert_agrees(against[key]["estimate"], expected[key]["estimate"], key)
        assert_agrees(found["estimate"], expected[key]["estimate"], key)
        error = expected[key]["log_standard_error"]
        assert_agrees(found["log_standard_error"], error, f"{key} error")
        limits = expected[key]["ci_95"]
        assert_agrees(against[key]["ci"], None if None in limits else limits, f"{key} interval")
    difference, found = expected["risk_difference"], against["risk_difference"]["counted"]
    for key in ("estimate", "standard_error"):
        assert_agrees(found[key], difference[key], key)
    for key in ("wald_ci", "newcombe_ci"):
        assert_agrees(found[key], difference[f"{key}_95"], key)


@pytest.mark.parametrize("case", [c for c in TABLES if c["expected"]["n"] < 1000], ids=names)
def test_rows_and_counts_give_the_same_answer(case: dict[str, Any]) -> None:
    table = case["input"]["table"]
    by_rows = answer(crosstab_question(counted_by={"kind": "each"}), rows_frame(table))
    assert by_rows.results == ask(table).results


def test_an_interval_is_at_the_level_asked_for() -> None:
    case = TWO_BY_TWO[0]
    at = {}
    for confidence in (0.9, 0.95):
        given = ask(
            case["input"]["table"],
            confidence=confidence,
            outcome={"variable": "column", "event": ["c1"]},
            vary_with=[{"variable": "row", "reference": "r2"}],
        )
        at[confidence] = given.results.whole.groups.comparisons[0].odds_ratio.ci
    low, high = at[0.95]
    assert low < at[0.9][0] < at[0.9][1] < high
