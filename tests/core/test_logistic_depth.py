"""Fit, sorting, residuals, effects, separation and Firth agree with the reference numbers."""

from dataclasses import asdict
from typing import Any

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st

from core.closeness import assert_agrees
from core.test_logistic_reference import FINITE, SEPARATED, design_of
from hobrix.core.logistic import (
    calibration,
    collinearity,
    effects,
    firth,
    likelihood,
    residuals,
    sorting,
)
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import distinct_rows
from hobrix.core.logistic.profile import profile_interval
from hobrix.core.logistic.separation import separation

finite = pytest.mark.parametrize("case", FINITE, ids=lambda case: case["name"])
separated = pytest.mark.parametrize("case", SEPARATED, ids=lambda case: case["name"])


@finite
def test_calibration(case: dict[str, Any]) -> None:
    data, places = design_of(case)
    found, expected = ml.fit(data), case["expected"]
    p = likelihood.probabilities(data.design, found.coefficients)
    mine = calibration.hosmer_lemeshow(data, p)
    theirs = expected["hosmer_lemeshow"]
    assert (mine.df, len(mine.table)) == (theirs["df"], theirs["groups"])
    assert_agrees(mine.statistic, theirs["statistic"], "Hosmer–Lemeshow", relative=1e-8)
    assert_agrees(mine.p, theirs["p"], "p", relative=1e-8)
    for group, row in zip(mine.table, theirs["table"], strict=True):
        for key, value in asdict(group).items():
            assert_agrees(float(value), row[key], key, relative=1e-8)
    for key, test in (
        ("pearson_goodness_of_fit", calibration.pearson_goodness_of_fit),
        ("deviance_goodness_of_fit", calibration.deviance_goodness_of_fit),
    ):
        found_test = test(data, p, len(places))
        if expected[key]["df"] <= 0:
            assert found_test is None
            continue
        assert found_test is not None
        assert found_test.df == expected[key]["df"]
        assert_agrees(found_test.statistic, expected[key]["statistic"], key, relative=1e-8)
        assert_agrees(found_test.p, expected[key]["p"], key, relative=1e-7)
    assert_agrees(calibration.brier(data, p), expected["brier"], "Brier", relative=1e-8)


@finite
def test_sorting(case: dict[str, Any]) -> None:
    data, _ = design_of(case)
    p = likelihood.probabilities(data.design, ml.fit(data).coefficients)
    people, expected = sorting.sort_people(data, p), case["expected"]
    for theirs in expected["classification"]:
        for key, value in asdict(sorting.classify(people, theirs["cutoff"])).items():
            assert_agrees(value, theirs[key], key)
    area = sorting.area_under_curve(people, 0.95)
    assert area.ci is not None
    assert area.ci_logit is not None
    theirs = expected["auc"]
    assert_agrees(area.estimate, theirs["estimate"], "AUC")
    assert_agrees(area.se, theirs["se"], "se")
    assert_agrees([area.ci.low, area.ci.high], theirs["ci_95"], "interval")
    assert_agrees([area.ci_logit.low, area.ci_logit.high], theirs["ci_95_logit"], "logit interval")
    pairs = asdict(sorting.concordance(people))
    for key, value in pairs.items():
        assert_agrees(value, expected["concordance"][key], key)
    false_share, true_share = sorting.roc_curve(people)
    under = float(np.sum(np.diff(false_share) * (true_share[1:] + true_share[:-1]) / 2))
    assert under == pytest.approx(area.estimate, rel=1e-12)


@finite
def test_most_extreme_residuals(case: dict[str, Any]) -> None:
    data, _ = design_of(case)
    found = ml.fit(data)
    p = likelihood.probabilities(data.design, found.coefficients)
    mine = residuals.residuals(data.design, found, p)
    present = np.stack([data.trials > data.events, data.events > 0])
    sizes = np.sort(np.abs(mine.standardized_pearson[present]))[::-1]
    most = case["expected"]["residuals"]["most_extreme"]
    assert_agrees(float(sizes[0]), abs(most[0]["standardized_pearson"]), relative=1e-8)
    for row in most:
        outcome = int(row["observed"])
        where = np.flatnonzero(
            np.isclose(mine.standardized_pearson[outcome], row["standardized_pearson"], rtol=1e-8)
            & np.isclose(p, row["fitted"], rtol=1e-8)
        )
        assert len(where)
        for key in ("pearson", "deviance", "cooks_distance"):
            value = float(getattr(mine, key)[outcome, where[0]])
            assert_agrees(value, row[key], key, relative=1e-8)
        assert_agrees(float(mine.leverage[where[0]]), row["leverage"], "leverage", relative=1e-8)


@finite
def test_variance_inflation(case: dict[str, Any]) -> None:
    data, places = design_of(case)
    names = list(dict.fromkeys(name for name, _ in places if name != "intercept"))
    columns = [[i for (name, _), i in places.items() if name == each] for each in names]
    of_estimates = collinearity.inflation_of_estimates(ml.fit(data), columns)
    of_columns = collinearity.inflation_of_columns(data, columns)
    theirs = {term["term"]: term for term in case["expected"]["terms"]}
    for name, mine, plain in zip(names, of_estimates, of_columns, strict=True):
        assert_agrees(mine, theirs[name]["gvif"], name, relative=1e-8)
        assert_agrees(plain, theirs[name]["gvif_of_columns"], name, relative=1e-8)


@separated
def test_separation_and_the_fate_of_each_coefficient(case: dict[str, Any]) -> None:
    data, places = design_of(case)
    mine, expected = separation(data), case["expected"]
    assert mine.kind == expected["separation"]
    for row in expected["coefficients"]:
        at = places[(row["term"], row["level"])]
        assert mine.fates[at] == row["maximum_likelihood"], row
    supremum = expected["log_likelihood_supremum"]
    assert mine.log_likelihood_supremum == pytest.approx(supremum, rel=1e-9, abs=1e-9)


@finite
def test_no_separation_where_there_is_none(case: dict[str, Any]) -> None:
    assert separation(design_of(case)[0]).kind == "none"


@separated
def test_penalised_likelihood(case: dict[str, Any]) -> None:
    data, places = design_of(case)
    found, expected = firth.fit(data), case["expected"]["firth"]
    value = expected["penalised_log_likelihood"]
    assert_agrees(found.maximum, value, "PLL", relative=1e-9)
    for row in expected["coefficients"]:
        at = places[(row["term"], row["level"])]
        assert_agrees(float(found.coefficients[at]), row["log_odds"], "b", relative=1e-8)
        se = float(np.sqrt(found.covariance[at, at]))
        assert_agrees(se, row["se"], "se", relative=1e-8)
        test = firth.likelihood_ratio_test(data, found, [at])
        theirs = row["penalised_likelihood_ratio"]["statistic"]
        assert_agrees(test.statistic, theirs, "PLR", relative=1e-8)
        limits = row["log_odds_ci_95_profile_penalised"]
        if limits is not None:
            mine = firth.profile_interval(data, found, np.eye(len(places))[at], 0.95)
            assert_agrees([mine.low, mine.high], limits, row["level"] or "", relative=1e-7)
    for term in expected["terms"]:
        columns = [i for (name, _), i in places.items() if name == term["term"]]
        test = firth.likelihood_ratio_test(data, found, columns)
        theirs = term["penalised_likelihood_ratio"]["statistic"]
        assert_agrees(test.statistic, theirs, term["term"], relative=1e-8)
    test = firth.likelihood_ratio_test(data, found, list(range(1, len(places))))
    theirs = expected["model_penalised_likelihood_ratio"]["statistic"]
    assert_agrees(test.statistic, theirs, "model", relative=1e-8)


@finite
def test_a_profile_of_a_contrast_does_not_mind_how_the_model_is_written(
    case: dict[str, Any],
) -> None:
    data, places = design_of(case)
    if len(places) < 3:
        return
    found = ml.fit(data)
    contrast = np.zeros(len(places))
    contrast[1:3] = 1.0, -1.0
    mine = profile_interval(data, found, contrast, 0.9)
    # The same difference as a coefficient: the second column joins the first.
    design = data.design.copy()
    design[:, 2] += design[:, 1]
    rewritten = ml.Patterns(design, data.events, data.trials)
    other = profile_interval(rewritten, ml.fit(rewritten), np.eye(len(places))[1], 0.9)
    assert_agrees([mine.low, mine.high], [other.low, other.high], relative=1e-6)


def test_a_sample_to_start_from_changes_nothing() -> None:
    random = np.random.default_rng(4)
    x = np.column_stack([np.ones(90_000), random.normal(size=(90_000, 2))])
    y = (random.random(90_000) < likelihood.probabilities(x, np.array([-1.0, 0.4, -0.2]))).astype(
        float
    )
    data = ml.collapse(x, y)
    assert data.sample(20_000) is not None
    plain = ml.fit(data, np.zeros(3))
    np.testing.assert_allclose(ml.fit(data).coefficients, plain.coefficients, rtol=1e-9)


def many_rows(seed: int, rare: bool) -> tuple[np.ndarray, np.ndarray]:
    """An intercept, two numbers of which one is far from nought, and a yes/no column whose few yes stand where no
    sample looks."""
    random = np.random.default_rng(seed)
    n = 100_000
    x = np.column_stack([np.ones(n), random.normal(size=n), random.normal(3e3, 1, n), np.zeros(n)])
    x[np.arange(7, n, 500) // 10 * 10 + 7, 3] = 1
    eta = x @ np.array([-6.0 if rare else 0.2, 0.5, 0.0, 5.0 if rare else 0.8])
    return x, (random.random(n) < 1 / (1 + np.exp(-eta))).astype(float)


@pytest.mark.parametrize("rare", [False, True])
def test_many_rows_are_fitted_as_the_library_does(rare: bool) -> None:
    x, y = many_rows(11, rare)
    theirs = sm.GLM(y, x - [0, 0, 3e3, 0], family=sm.families.Binomial()).fit(tol=1e-15, maxiter=60)
    moved = np.eye(4)
    moved[0, 2] = -3e3
    mine = ml.fit(ml.Patterns(x, y, np.ones(len(y))))
    np.testing.assert_allclose(mine.coefficients, moved @ theirs.params, rtol=1e-9)
    covariance = moved @ theirs.cov_params() @ moved.T
    np.testing.assert_allclose(np.diag(mine.covariance), np.diag(covariance), rtol=2e-9)
    assert mine.log_likelihood == pytest.approx(theirs.llf, rel=1e-12)


def test_columns_are_told_apart_by_all_rows_and_not_by_a_sample() -> None:
    x, y = many_rows(12, rare=False)
    ones = np.ones(len(y))
    same = np.column_stack([x, x[:, 1] + x[:, 3]])
    with pytest.raises(ml.Collinear):
        ml.fit(ml.Patterns(same, y, ones))
    # What differs from another column in rows of no sample only is a column of its own.
    apart = np.column_stack([x[:, :2], x[:, 1] + x[:, 3]])
    found = ml.fit(ml.Patterns(apart, y, ones)).coefficients
    turned = ml.fit(ml.Patterns(np.column_stack([x[:, :2], x[:, 3]]), y, ones)).coefficients
    np.testing.assert_allclose(found[1] + found[2], turned[1], rtol=1e-6)
    np.testing.assert_allclose(found[2], turned[2], rtol=1e-6)


def test_the_unit_of_what_no_sample_sees_does_not_matter() -> None:
    x, y = many_rows(13, rare=False)
    x, small = x[:, [0, 1, 3]], x[:, [0, 1, 3]] * [1, 1, 1e-9]
    plain, told = (ml.fit(ml.Patterns(each, y, np.ones(len(y)))) for each in (x, small))
    np.testing.assert_allclose(told.coefficients, plain.coefficients * [1, 1, 1e9], rtol=1e-9)
    with pytest.raises(ml.Collinear) as refused:
        ml.fit(ml.Patterns(np.column_stack([small, x[:, 1]]), y, np.ones(len(y))))
    assert refused.value.columns in ((1,), (3,))


def test_numbers_far_from_nought_are_centred() -> None:
    random = np.random.default_rng(2)
    x = random.normal(size=500)
    y = (random.random(500) < likelihood.probabilities(x[:, None], np.array([1.0]))).astype(float)
    near, far = (np.column_stack([np.ones(500), x + shift]) for shift in (0.0, 1e7))
    plain, moved = ml.fit(ml.collapse(near, y)), ml.fit(ml.collapse(far, y))
    assert moved.coefficients[1] == pytest.approx(plain.coefficients[1], rel=1e-7)
    assert moved.log_likelihood == pytest.approx(plain.log_likelihood, rel=1e-9)
    assert moved.covariance[1, 1] == pytest.approx(plain.covariance[1, 1], rel=1e-6)
    limits = [
        profile_interval(ml.collapse(x, y), found, np.array([0.0, 1.0]), 0.95)
        for x, found in ((near, plain), (far, moved))
    ]
    assert limits[1].low == pytest.approx(limits[0].low, rel=1e-6)
    assert limits[1].high == pytest.approx(limits[0].high, rel=1e-6)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 2**31), st.integers(1, 200), st.integers(1, 4))
def test_distinct_rows_are_those_of_the_whole_rows(seed: int, n: int, columns: int) -> None:
    random = np.random.default_rng(seed)
    kinds = [
        random.integers(-1, 4, n).astype(np.int8),
        random.integers(0, 2, n).astype(float),
        random.integers(0, 3, n) / 7,
        np.where(random.random(n) < 0.5, 0.0, -0.0),
    ][:columns]
    first, place = distinct_rows(kinds)
    rows = np.column_stack(kinds)
    np.testing.assert_array_equal(rows[first][place], rows)
    assert len(first) == len({tuple(row + 0.0) for row in rows.tolist() for row in [np.array(row)]})


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 2**31))
def test_effects_against_small_steps(seed: int) -> None:
    """The delta method's slope agrees with differences of refitted coefficients."""
    random = np.random.default_rng(seed)
    x = np.column_stack([np.ones(60), random.normal(size=60).round(1), random.integers(0, 2, 60)])
    y = (random.random(60) < 0.45).astype(float)
    data = ml.collapse(x, y)
    try:
        found = ml.fit(data)
    except (ml.NotFinite, ml.Collinear):
        return
    there, here = data.design.copy(), data.design.copy()
    there[:, 2], here[:, 2] = 1, 0
    means = effects.mean_probabilities_of_categories(data, found, [2])
    mine = effects.average_difference(means[1], means[0], found)
    each = [effects.mean_probability([(x, data.trials)], found) for x in (there, here)]
    slow = effects.average_difference(each[0], each[1], found)
    assert (mine.estimate, mine.se) == pytest.approx((slow.estimate, slow.se), rel=1e-10)

    def difference(b: np.ndarray) -> float:
        gap = likelihood.probabilities(there, b) - likelihood.probabilities(here, b)
        return float(data.trials @ gap / data.trials.sum())

    assert mine.estimate == pytest.approx(difference(found.coefficients), rel=1e-12, abs=1e-15)
    h = 1e-6
    slope = np.array(
        [
            (difference(found.coefficients + h * e) - difference(found.coefficients - h * e))
            / (2 * h)
            for e in np.eye(3)
        ]
    )
    assert mine.se == pytest.approx(np.sqrt(slope @ found.covariance @ slope), rel=1e-5)
