"""The Crosstab lens agrees with the reference numbers, through the whole question."""

from typing import Any

import pytest

from core.asking import ask, crosstab_question, rows_frame
from core.closeness import assert_agrees
from hobrix.core.questions import answer
from reference_numbers import reference_cases

TABLES = reference_cases("crosstab")
TWO_BY_TWO = [case for case in reference_cases("two_by_two") if "table" in case["input"]]
GRIDS = (
    "expected_counts",
    "residuals",
    "pearson_residuals",
    "adjusted_residuals",
    "contributions",
    "row_totals",
    "column_totals",
)


def names(case: dict[str, Any]) -> str:
    return case["name"]


@pytest.mark.parametrize("case", TABLES, ids=names)
def test_crosstab(case: dict[str, Any]) -> None:
    expected = case["expected"]
    whole = ask(case["input"]["table"]).results.whole.model_dump(mode="json")
    assert_agrees(whole["n"], expected["n"], "n")
    for key in GRIDS:
        assert_agrees(whole[key], expected[key], key)
    for key in ("minimum_expected", "share_expected_below_5", "pearson_correlation_of_scores"):
        assert_agrees(whole[key], expected[key], key)
    for key in ("phi", "cramers_v"):
        assert_agrees(whole["association"][key], expected["association"][key], key)
    kept = expected.get("kept_rows", list(range(len(case["input"]["table"]))))
    assert list(whole["kept_rows"]) == kept


@pytest.mark.parametrize(
    "test", ["pearson", "likelihood_ratio", "continuity_corrected", "linear_by_linear"]
)
@pytest.mark.parametrize("case", TABLES, ids=names)
def test_chi_square(case: dict[str, Any], test: str) -> None:
    expected = case["expected"]["chi_square"].get(test)
    found = ask(case["input"]["table"]).results.whole.chi_square.model_dump()[test]
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
    )
    whole = given.results.whole.model_dump(mode="json")
    assert_agrees(whole["risk_exposed"], expected["risk_exposed"])
    assert_agrees(whole["risk_unexposed"], expected["risk_unexposed"])
    for key in ("odds_ratio", "risk_ratio"):
        assert_agrees(whole[key]["estimate"], expected[key]["estimate"], key)
        error = expected[key]["log_standard_error"]
        assert_agrees(whole[key]["log_standard_error"], error, f"{key} error")
        limits = expected[key]["ci_95"]
        assert_agrees(whole[key]["ci_95"], None if None in limits else limits, f"{key} interval")
    difference = expected["risk_difference"]
    for key in ("estimate", "standard_error", "wald_ci_95", "newcombe_ci_95"):
        assert_agrees(whole["risk_difference"][key], difference[key], key)
    assert whole["zero_cell"] == expected["zero_cell"]


@pytest.mark.parametrize("case", [c for c in TABLES if c["expected"]["n"] < 1000], ids=names)
def test_rows_and_counts_give_the_same_answer(case: dict[str, Any]) -> None:
    table = case["input"]["table"]
    by_rows = answer(crosstab_question(counted_by={"kind": "each"}), rows_frame(table))
    assert by_rows.results == ask(table).results


def test_interval_at_another_level_keeps_that_at_95() -> None:
    case = TWO_BY_TWO[0]
    sides: dict[str, Any] = {
        "outcome": {"variable": "column", "event": ["c1"]},
        "vary_with": [{"variable": "row", "reference": "r2"}],
    }
    at_90 = ask(case["input"]["table"], confidence=0.9, **sides).results.whole.odds_ratio
    at_95 = ask(case["input"]["table"], **sides).results.whole.odds_ratio
    assert at_90 is not None
    assert at_95 is not None
    assert at_90.ci_95 == at_95.ci == at_95.ci_95
    assert at_95.ci[0] < at_90.ci[0] < at_90.ci[1] < at_95.ci[1]  # type: ignore[index]
