"""Design-based estimates agree with the reference numbers, and with each other where they must."""

from dataclasses import asdict
from typing import Any

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.closeness import assert_agrees
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import distinct_rows
from hobrix.core.survey import logistic as survey_logistic
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import SampleDesign
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.shares import Shares, WeightedDifference, WeightedRatio, WeightedShare
from hobrix.core.survey.two_way import WaldF, weighted_table
from reference_numbers import REFERENCE, reference_cases

CASES = reference_cases("survey")
each_case = pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])


class Sample:
    """A case's file as codes: -1 for missing, levels in text order."""

    def __init__(self, case: dict[str, Any], single: Any = "nothing") -> None:
        design = case["design"]
        table = pl.read_csv(REFERENCE / case["data"], infer_schema=False)
        weight = table[design["weight"]].cast(pl.Float64).to_numpy()
        self.table = table.filter(pl.Series(weight > 0))
        weights = weight[weight > 0]
        self.levels: dict[str, list[str]] = {}

        def named(name: str | None) -> np.ndarray | None:
            return None if name is None else self.codes(name)

        self.design = SampleDesign.of(
            weights, named(design["strata"]), named(design["psu"]), single
        )

    def codes(self, name: str) -> np.ndarray:
        column = self.table[name].fill_null("")
        levels = sorted(set(column) - {""})
        self.levels[name] = levels
        place = {level: i for i, level in enumerate(levels)} | {"": -1}
        return np.array([place[value] for value in column], dtype=np.int64)

    def cells(self, *names: str) -> tuple[CellTotals, list[int]]:
        columns = [self.codes(name) for name in names]
        sizes = [len(self.levels[name]) for name in names]
        return CellTotals.count(self.design, columns, sizes), sizes


def check_share(mine: WeightedShare, theirs: dict[str, Any]) -> None:
    assert mine.n == theirs["n"]
    for key in (
        "unweighted_count_of_events",
        "sum_of_weights",
        "estimate",
        "se",
        "deff",
        "deft",
        "effective_sample_size",
        "coefficient_of_variation",
    ):
        if key in theirs:
            assert_agrees(getattr(mine, key), theirs[key], key)
    assert_agrees(mine.ci_logit, theirs["ci_95_logit"], "logit interval")
    assert_agrees(mine.ci_wald, theirs["ci_95_wald"], "Wald interval")


@each_case
def test_the_design(case: dict[str, Any]) -> None:
    sample, expected = Sample(case), case["expected"]["design"]
    design = sample.design
    assert len(design.weights) == expected["rows"]
    assert (design.strata, design.clusters, design.df) == (
        expected["strata"],
        expected["psus"],
        expected["design_df"],
    )
    assert len(design.single_strata) == len(expected["single_psu_strata"])
    assert_agrees(float(design.weights.sum()), expected["sum_of_weights"])
    assert_agrees(design.kish_effect, expected["kish_weighting_deff"])


@each_case
def test_a_share_of_all_and_of_a_part(case: dict[str, Any]) -> None:
    sample, expected = Sample(case), case["expected"]
    outcome = case["outcome"]
    totals, _ = sample.cells(outcome["variable"])
    event = np.array([level == outcome["event"] for level in sample.levels[outcome["variable"]]])
    everybody = np.ones(len(event), dtype=bool)
    check_share(Shares.among(totals, [everybody], event).shares(0.95)[0], expected["proportion"])
    theirs = expected["proportion"].get("se_if_single_psu_strata_centred_at_grand_mean")
    if theirs is not None:
        centred, _ = Sample(case, "grand_mean").cells(outcome["variable"])
        mine = Shares.among(centred, [everybody], event).shares(0.95)[0]
        assert_agrees(mine.se, theirs, "centred at the grand mean")
    part = case["domain"]
    totals, (levels, answers) = sample.cells(part["variable"], outcome["variable"])
    inside = np.repeat(
        [level == part["level"] for level in sample.levels[part["variable"]]], answers
    )
    check_share(
        Shares.among(totals, [inside], np.tile(event, levels)).shares(0.95)[0], expected["domain"]
    )


def check_wald(mine: WaldF | None, theirs: dict[str, Any], key: str) -> None:
    assert mine is not None
    for name in ("chi_square", "f", "df1", "df2", "adjusted_f", "adjusted_df2"):
        assert_agrees(getattr(mine, name), theirs[name], f"{key} {name}", relative=1e-8)
    for name in ("p", "adjusted_p"):
        assert_agrees(getattr(mine, name), theirs[name], f"{key} {name}", relative=1e-7)


@each_case
def test_two_way_tables(case: dict[str, Any]) -> None:
    sample = Sample(case)
    for asked, expected in zip(case["two_way"], case["expected"]["two_way"], strict=True):
        totals, (rows, columns) = sample.cells(asked["rows"], asked["columns"])
        mine = weighted_table(totals, rows, columns)
        np.testing.assert_array_equal(mine.counts, expected["counts"])
        np.testing.assert_allclose(mine.shares, expected["cell_proportions"], rtol=1e-9)
        np.testing.assert_allclose(mine.share_se, expected["cell_se"], rtol=1e-9)
        assert_agrees(mine.pearson_uncorrected, expected["pearson_uncorrected"], relative=1e-9)
        theirs = expected["likelihood_ratio_uncorrected"]
        assert_agrees(mine.likelihood_ratio_uncorrected, theirs, relative=1e-9)
        deffs = sorted(expected["generalised_deff_eigenvalues"], reverse=True)
        np.testing.assert_allclose(mine.deffs, deffs, rtol=1e-8)
        for key in ("rao_scott_pearson", "rao_scott_likelihood_ratio"):
            found, theirs = getattr(mine, key), expected[key]
            assert_agrees(found.mean_generalised_deff, theirs["mean_generalised_deff"])
            a = theirs["squared_cv_of_generalised_deffs"]
            assert found.squared_cv_of_generalised_deffs == pytest.approx(a, rel=1e-7, abs=1e-12)
            for order in ("first_order", "second_order"):
                for name, value in asdict(getattr(found, order)).items():
                    assert_agrees(value, theirs[order][name], f"{key} {name}", relative=1e-7)
        for key in ("wald_residual", "wald_log_odds_ratios"):
            check_wald(getattr(mine, key), expected[key], key)
        event = np.zeros((rows, columns), dtype=bool)
        for i in range(rows):
            inside = np.zeros((rows, columns), dtype=bool)
            inside[i] = True
            for j in range(columns):
                event[:] = False
                event[:, j] = True
                share = Shares.among(totals, [inside.ravel()], event.ravel()).shares(0.95)[0]
                theirs = expected["row_proportions"][i][j]
                assert_agrees(share.estimate, theirs["estimate"])
                assert_agrees(share.se, theirs["se"])
                assert_agrees(share.ci_logit, theirs["ci_95_logit"])


@each_case
def test_comparisons(case: dict[str, Any]) -> None:
    sample, expected, asked = Sample(case), case["expected"]["comparison"], case["compare"]
    outcome = case["outcome"]
    totals, (groups, answers) = sample.cells(asked["variable"], outcome["variable"])
    levels = sample.levels[asked["variable"]]
    masks = [
        np.repeat([level == asked[key] for level in levels], answers)
        for key in ("group", "reference")
    ]
    event = np.tile(
        [level == outcome["event"] for level in sample.levels[outcome["variable"]]], groups
    )
    mine = Shares.among(totals, [masks[0], masks[1]], event).against(1, 0.95)[0]
    assert_agrees(mine.covariance, expected["covariance"], "covariance", relative=1e-8)
    for key in ("risk_difference", "risk_ratio", "odds_ratio"):
        found, theirs = getattr(mine, key), expected[key]
        assert isinstance(found, WeightedDifference | WeightedRatio)
        assert_agrees(found.estimate, theirs["estimate"], key)
        error = "se" if key == "risk_difference" else "log_se"
        assert_agrees(getattr(found, error), theirs[error], f"{key} se")
        assert_agrees(found.t, theirs["t"], f"{key} t", relative=1e-8)
        assert_agrees(found.p, theirs["p"], f"{key} p", relative=1e-7)
        assert_agrees([found.ci.low, found.ci.high], theirs["ci_95"], f"{key} interval")


@each_case
def test_logistic_models(case: dict[str, Any]) -> None:
    sample, expected = Sample(case), case["expected"]["logistic"]
    n = len(sample.design.weights)
    outcome = sample.codes(case["outcome"]["variable"])
    event = sample.levels[case["outcome"]["variable"]].index(case["outcome"]["event"])
    inside, made = outcome >= 0, [np.ones(n)]
    names: list[tuple[str, str | None]] = [("intercept", None)]
    for term in [*case["allowing_for"], *case["vary_with"]]:
        name = term["variable"]
        if term["kind"] == "numeric":
            x = sample.table[name].cast(pl.Float64, strict=False).to_numpy()
            inside &= ~np.isnan(x)
            made.append(x / term["per"])
            names.append((name, None))
            continue
        codes = sample.codes(name)
        inside &= codes >= 0
        for i, level in enumerate(sample.levels[name]):
            if level != term["reference"]:
                made.append((codes == i).astype(float))
                names.append((name, level))
    design = np.column_stack(made)
    first, place = distinct_rows(list(design[inside].T))
    pattern = np.full(n, -1)
    pattern[inside] = place
    totals = PatternTotals.count(
        sample.design, design[inside][first], pattern, (outcome == event).astype(float)
    )
    found = survey_logistic.fit(totals).fit
    assert int(inside.sum()) == expected["n"]
    for theirs in expected["coefficients"]:
        at = names.index((theirs["term"], theirs["level"]))
        b, se = float(found.coefficients[at]), float(np.sqrt(found.covariance[at, at]))
        assert_agrees(b, theirs["log_odds"], "log odds", relative=1e-8)
        assert_agrees(se, theirs["se"], "se", relative=1e-8)
        reach = sample.design.t_quantile(0.95) * se
        assert_agrees([b - reach, b + reach], theirs["log_odds_ci_95"], relative=1e-8)
    nu = sample.design.df
    for theirs in expected["terms"]:
        columns = [i for i, (name, _) in enumerate(names) if name == theirs["term"]]
        check_wald(survey_logistic.wald_test(found, columns, nu), theirs, theirs["term"])
    check_wald(
        survey_logistic.wald_test(found, range(1, len(names)), nu), expected["model"], "model"
    )


def random_sample(seed: int, clusters: int = 40) -> tuple[SampleDesign, np.ndarray, np.ndarray]:
    random = np.random.default_rng(seed)
    cluster = np.repeat(np.arange(clusters), random.integers(3, 12, clusters))
    strata = (np.arange(clusters) % 4)[cluster]
    weights = random.uniform(0.5, 3, len(cluster))
    group = random.integers(-1, 3, len(cluster))
    return SampleDesign.of(weights, strata, cluster), group, random.integers(0, 2, len(cluster))


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**31), st.booleans())
def test_totals_by_cell_give_the_covariance_of_the_rows(seed: int, is_clustered: bool) -> None:
    design, group, outcome = random_sample(seed)
    if not is_clustered:
        rows = design.stratum[design.cluster]
        design = SampleDesign.of(design.weights, rows)
    codes = np.where(group < 0, -1, group * 2 + outcome)
    totals = CellTotals.count(design, [group, outcome], [3, 2])
    scores = np.random.default_rng(seed).normal(size=(6, 4))
    of_rows = np.vstack([scores, np.zeros((1, 4))])[codes] * design.weights[:, None]
    direct = design.covariance(design.cluster_totals(of_rows))
    np.testing.assert_allclose(totals.covariance(scores), direct, rtol=1e-9, atol=1e-12)


def test_weights_alike_without_clusters_are_the_ordinary_estimates() -> None:
    random = np.random.default_rng(8)
    n = 500
    x = np.column_stack([np.ones(n), random.integers(0, 4, n)])
    y = (random.random(n) < 0.3).astype(float)
    design = SampleDesign.of(np.full(n, 2.0))
    first, place = distinct_rows(list(x.T))
    mine = survey_logistic.fit(PatternTotals.count(design, x[first], place, y)).fit
    plain = ml.fit(ml.collapse(x, y))
    np.testing.assert_allclose(mine.coefficients, plain.coefficients, rtol=1e-9)
    totals = CellTotals.count(design, [y.astype(np.int64)], [2])
    share = Shares.among(totals, [np.array([True, True])], np.array([False, True])).shares(0.95)[0]
    assert share.deff == pytest.approx(1.0, rel=1e-9)
