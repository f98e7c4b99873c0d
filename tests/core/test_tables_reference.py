"""Estimators of two-way and stratified tables agree with the reference numbers."""

from typing import Any

import numpy as np
import pytest

from core.closeness import assert_agrees
from hobrix.core.tables import (
    association,
    correspondence,
    exact,
    exact_two_by_two,
    paired,
    stratified,
    strength,
    two_by_two,
)
from hobrix.core.tables.independence import drop_empty, pearson_test
from reference_numbers import reference_cases

TABLES = reference_cases("crosstab")
TWO_BY_TWO = [case for case in reference_cases("two_by_two") if "table" in case["input"]]
PAIRED = [case for case in reference_cases("two_by_two") if "paired_table" in case["input"]]
EXACT = reference_cases("exact_tables")
STRATIFIED = [case for case in reference_cases("stratified") if "tables" in case["input"]]
GENERAL = [case for case in reference_cases("stratified") if "general_tables" in case["input"]]
MAPS = reference_cases("correspondence")


def names(case: dict[str, Any]) -> str:
    return case["name"]


@pytest.mark.parametrize("case", TABLES, ids=names)
def test_measures_of_association(case: dict[str, Any]) -> None:
    table = drop_empty(np.array(case["input"]["table"], dtype=np.float64)).counts
    found = {
        **association.ordinal_measures(table),
        **association.lambda_measures(table),
        **association.tau_and_uncertainty(table),
    }
    expected = case["expected"]["association"]
    measured = {key for key, value in expected.items() if isinstance(value, dict)}
    assert measured <= set(found)
    for key in measured:
        measure = found[key]
        assert measure is not None, key
        for quantity, value in expected[key].items():
            if quantity == "ci_95":
                limits = measure.interval(0.95)
                assert limits is not None
                assert_agrees([limits.low, limits.high], value, f"{key} interval")
            else:
                assert_agrees(getattr(measure, quantity), value, f"{key} {quantity}")
    assert_agrees(strength.cramers_v_bias_corrected(table), expected["cramers_v_bias_corrected"])
    coefficient = association.contingency_coefficient(
        pearson_test(table).statistic, float(table.sum())
    )
    assert_agrees(coefficient, expected["contingency_coefficient"])


@pytest.mark.parametrize("case", TWO_BY_TWO, ids=names)
def test_exact_inference_of_two_by_two_tables(case: dict[str, Any]) -> None:
    table, expected = np.array(case["input"]["table"], dtype=np.float64), case["expected"]
    found = exact_two_by_two.fisher_exact(table)
    for key, value in expected["fisher_exact"].items():
        assert_agrees(getattr(found, key), value, key)
    ratio = exact_two_by_two.conditional_odds_ratio(table, 0.95)
    theirs = expected["odds_ratio_conditional"]
    for mine, value in (
        (ratio.estimate, theirs["estimate"]),
        (ratio.exact_ci[0], theirs["exact_ci_95"][0]),
        (ratio.exact_ci[1], theirs["exact_ci_95"][1]),
    ):
        assert_agrees("Infinity" if mine == float("inf") else mine, value, "conditional odds ratio")


@pytest.mark.parametrize("case", TWO_BY_TWO, ids=names)
def test_two_groups(case: dict[str, Any]) -> None:
    table, expected = np.array(case["input"]["table"], dtype=np.float64), case["expected"]
    found = two_by_two.attributable(table)
    for key in (
        "number_needed",
        "attributable_fraction_exposed",
        "population_attributable_fraction",
    ):
        mine = getattr(found, key)
        assert_agrees("Infinity" if mine == float("inf") else mine, expected[key], key)
    z = two_by_two.z_test(table)
    for key, value in expected["z_test_two_proportions"].items():
        assert_agrees(getattr(z, key), value, key)
    if expected["zero_cell"]:
        added = two_by_two.haldane_anscombe(table)
        theirs = expected["haldane_anscombe"]
        for key, mine in (
            ("odds_ratio", two_by_two.odds_ratio(added, 0.95)),
            ("risk_ratio", two_by_two.risk_ratio(added, 0.95)),
        ):
            assert_agrees(mine.estimate, theirs[key]["estimate"], key)
            assert_agrees(mine.ci, theirs[key]["ci_95"], key)


@pytest.mark.parametrize("case", PAIRED, ids=names)
def test_paired(case: dict[str, Any]) -> None:
    table = np.array(case["input"]["paired_table"], dtype=np.float64)
    expected = case["expected"]
    found, theirs = paired.mcnemar(table), expected["mcnemar"]
    assert list(found.discordant) == theirs["discordant"]
    assert_agrees(found.exact_p, theirs["exact_p"])
    assert_agrees(found.mid_p, theirs["mid_p"])
    for key in ("chi_square", "chi_square_continuity_corrected"):
        test = getattr(found, key)
        for quantity in ("statistic", "df", "p"):
            assert_agrees(getattr(test, quantity), theirs[key][quantity], f"{key} {quantity}")
    difference = paired.marginal_difference(table, 0.95)
    theirs = expected["marginal_difference"]
    assert_agrees(difference.estimate, theirs["estimate"])
    assert_agrees(difference.standard_error, theirs["standard_error"])
    assert_agrees(difference.ci, theirs["wald_ci_95"])


@pytest.mark.parametrize("case", EXACT, ids=names)
def test_exact_tests_of_larger_tables(case: dict[str, Any]) -> None:
    table, expected = np.array(case["input"]["table"], dtype=np.float64), case["expected"]
    found = exact.fisher_freeman_halton(table)
    assert_agrees(found.p, expected["fisher_freeman_halton_p"])
    assert_agrees(found.mid_p, expected["fisher_freeman_halton_mid_p"])
    assert_agrees(found.observed_probability, expected["observed_table_probability"])
    assert_agrees(exact.exact_pearson(table).p, expected["exact_p_pearson_statistic"])
    drawn = exact.monte_carlo(table, 20_000, seed=5)
    # Five standard errors: the seed is fixed, so this holds or does not.
    error = np.sqrt(found.p * (1 - found.p) / 20_000)
    assert abs(drawn.p - found.p) < 5 * error + 1e-4


@pytest.mark.parametrize("case", STRATIFIED, ids=names)
def test_stratified(case: dict[str, Any]) -> None:
    tables, expected = np.array(case["input"]["tables"], dtype=np.float64), case["expected"]
    for key, pooled in (
        ("mantel_haenszel_odds_ratio", stratified.mantel_haenszel_odds_ratio(tables, 0.95)),
        ("mantel_haenszel_risk_ratio", stratified.mantel_haenszel_risk_ratio(tables, 0.95)),
    ):
        assert pooled is not None
        assert_agrees(pooled.estimate, expected[key]["estimate"], key)
        assert_agrees(pooled.log_standard_error, expected[key]["log_standard_error"], key)
        assert_agrees(pooled.ci, expected[key]["ci_95"], key)
    difference = stratified.mantel_haenszel_risk_difference(tables, 0.95)
    theirs = expected["mantel_haenszel_risk_difference"]
    assert difference is not None
    assert_agrees(difference.estimate, theirs["estimate"])
    for key, error, limits in (
        ("sato", difference.sato.standard_error, difference.sato.ci),
        (
            "greenland_robins",
            difference.greenland_robins.standard_error,
            difference.greenland_robins.ci,
        ),
    ):
        assert_agrees(error, theirs[key]["standard_error"], key)
        assert_agrees([limits.low, limits.high], theirs[key]["ci_95"], key)
    conditional = stratified.cochran_mantel_haenszel(tables)
    assert conditional is not None
    ratio = expected["mantel_haenszel_odds_ratio"]["estimate"]
    homogeneity = stratified.breslow_day(tables, ratio)
    assert len(stratified.informative(tables)) == expected["informative_strata"]
    tests = {
        "cochran_mantel_haenszel": conditional.plain,
        "cochran_mantel_haenszel_continuity_corrected": conditional.continuity_corrected,
        "breslow_day": homogeneity and homogeneity.plain,
        "breslow_day_tarone": homogeneity and homogeneity.tarone,
        "woolf_homogeneity": stratified.woolf_homogeneity(tables),
    }
    if "woolf_homogeneity_half_added_to_all_strata" in expected:
        has_zero = np.any(tables == 0, axis=(1, 2))[:, None, None]
        some, every = np.where(has_zero, tables + 0.5, tables), tables + 0.5
        tests["woolf_homogeneity_half_added_to_strata_with_zero"] = stratified.woolf_homogeneity(
            some
        )
        tests["woolf_homogeneity_half_added_to_all_strata"] = stratified.woolf_homogeneity(every)
    for key, test in tests.items():
        if expected[key] is None:
            assert test is None, key
            continue
        assert test is not None, key
        for quantity in ("statistic", "df", "p"):
            assert_agrees(getattr(test, quantity), expected[key][quantity], f"{key} {quantity}")


@pytest.mark.parametrize("case", GENERAL, ids=names)
def test_generalized_tests(case: dict[str, Any]) -> None:
    tables = np.array(case["input"]["general_tables"], dtype=np.float64)
    found = stratified.generalized_cochran_mantel_haenszel(tables)
    for key, expected in case["expected"]["generalized_cochran_mantel_haenszel"].items():
        test = getattr(found, key)
        for quantity in ("statistic", "df", "p"):
            assert_agrees(getattr(test, quantity), expected[quantity], f"{key} {quantity}")


@pytest.mark.parametrize("case", MAPS, ids=names)
def test_correspondence(case: dict[str, Any]) -> None:
    expected = case["expected"]
    found = correspondence.correspondence(np.array(case["input"]["table"], dtype=np.float64))
    assert len(found.singular_values) == expected["dimensions"]
    assert_agrees(found.total_inertia, expected["total_inertia"])
    assert_agrees(found.singular_values.tolist(), expected["singular_values"])
    assert_agrees(found.principal_inertias.tolist(), expected["principal_inertias"])
    for side in ("rows", "columns"):
        for key, value in expected[side].items():
            assert_agrees(getattr(getattr(found, side), key).tolist(), value, f"{side} {key}")
