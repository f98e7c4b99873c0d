"""Replicates: what leaving clusters out and drawing them again must give, worked out by hand."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import polars as pl
import pytest

from core.weighted_people import DESIGN, TABLE, asked
from hobrix.core.errors import QuestionError
from hobrix.core.logistic.patterns import distinct_rows
from hobrix.core.survey import logistic
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import SampleDesign
from hobrix.core.survey.numbers import weighted_mean, weighted_quantiles
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.replicates import Replication, TooManyReplicates
from hobrix.core.survey.shares import Shares
from hobrix.core.survey.two_way import quadratic_form, weighted_table

JACKKNIFE, BOOTSTRAP = Replication("jackknife"), Replication("bootstrap", draws=600, seed=4)


class People:
    """A made-up sample: clusters in strata, two groups, an outcome and a number."""

    def __init__(self, seed: int = 5, clusters: int = 60) -> None:
        random = np.random.default_rng(seed)
        self.cluster = np.repeat(np.arange(clusters), random.integers(3, 12, clusters))
        self.stratum = (np.arange(clusters) % 4)[self.cluster]
        n = len(self.cluster)
        self.weights = random.uniform(0.5, 3, n)
        self.group = random.integers(0, 2, n)
        lean = random.normal(0, 0.6, clusters)[self.cluster]
        chance = 1 / (1 + np.exp(0.4 - 0.5 * self.group - lean))
        self.ill = (random.random(n) < chance).astype(np.int64)
        self.x = random.normal(40, 12, n) + 4 * lean

    def design(self, replication: Replication | None = None) -> SampleDesign:
        return SampleDesign.of(self.weights, self.stratum, self.cluster, replication=replication)

    def leaving_out(self, statistic: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
        """The covariance of a statistic of the row weights, by the definition of the jackknife."""
        whole = statistic(self.weights)
        found = np.zeros((len(whole), len(whole)))
        for gone in range(self.cluster.max() + 1):
            stratum = self.stratum[self.cluster == gone][0]
            own = self.stratum == stratum
            n = len(np.unique(self.cluster[own]))
            weights = np.where(own, self.weights * n / (n - 1), self.weights)
            weights[self.cluster == gone] = 0
            apart = statistic(weights) - whole
            found += (n - 1) / n * np.outer(apart, apart)
        return found


EVENT, GROUP = np.array([False, True, False, True]), np.array([False, False, True, True])
EVERYBODY = np.ones(4, dtype=bool)


def cells(people: People, replication: Replication | None = None) -> CellTotals:
    return CellTotals.count(people.design(replication), [people.group, people.ill], [2, 2])


def test_the_jackknife_by_its_definition() -> None:
    people = People()

    def share(w: np.ndarray) -> np.ndarray:
        return np.array([w @ people.ill / w.sum()])

    def log_odds_ratio(w: np.ndarray) -> np.ndarray:
        table = np.bincount(2 * people.group + people.ill, weights=w).reshape(2, 2)
        return np.array([np.log(table[1, 1] * table[0, 0] / (table[1, 0] * table[0, 1]))])

    def mean(w: np.ndarray) -> np.ndarray:
        return np.array([w @ people.x / w.sum()])

    totals = cells(people, JACKKNIFE)
    mine = Shares.among(totals, [EVERYBODY], EVENT).shares(0.95)[0].se
    assert mine == pytest.approx(float(np.sqrt(people.leaving_out(share)[0, 0])), rel=1e-9)
    odds = Shares.among(totals, [GROUP, ~GROUP], EVENT).against(1, 0.95)[0].odds_ratio
    assert odds is not None
    expected = float(np.sqrt(people.leaving_out(log_odds_ratio)[0, 0]))
    assert odds.log_se == pytest.approx(expected, rel=1e-9)
    inside = np.ones(len(people.x), dtype=bool)
    found = weighted_mean(people.design(JACKKNIFE), people.x, inside)
    assert found.se == pytest.approx(float(np.sqrt(people.leaving_out(mean)[0, 0])), rel=1e-9)


def test_the_jackknife_of_a_model_fits_it_again_without_each_cluster() -> None:
    people = People(clusters=24)
    x = np.column_stack([np.ones(len(people.ill)), people.group])
    first, place = distinct_rows(list(x.T))

    def coefficients(w: np.ndarray) -> np.ndarray:
        used = w > 0
        design = SampleDesign.of(w[used], people.stratum[used], people.cluster[used])
        totals = PatternTotals.count(design, x[first], place[used], people.ill[used].astype(float))
        return logistic.fit(totals).fit.coefficients

    told: list[float] = []
    totals = PatternTotals.count(
        people.design(JACKKNIFE), x[first], place, people.ill.astype(float)
    )
    mine = logistic.fit(totals, told.append).fit.covariance
    np.testing.assert_allclose(mine, people.leaving_out(coefficients), rtol=1e-7)
    assert told == [i / 24 for i in range(24)]


def test_for_a_total_the_jackknife_is_the_linearised_variance() -> None:
    people = People(seed=6)
    design = people.design(JACKKNIFE)
    scores = design.cluster_totals((people.weights * people.ill)[:, None])
    assert design.replicates is not None
    again = design.replicates.factors @ scores
    mine = design.replicates.covariance(again, scores.sum(axis=0))
    np.testing.assert_allclose(mine, design.covariance(scores), rtol=1e-9)


@pytest.mark.parametrize(("replication", "near"), [(JACKKNIFE, 0.03), (BOOTSTRAP, 0.12)])
def test_replicates_come_near_the_linearised_errors(replication: Replication, near: float) -> None:
    people = People()
    linear, again = cells(people), cells(people, replication)
    for of in (
        lambda t: Shares.among(t, [EVERYBODY], EVENT).shares(0.95)[0].se,
        lambda t: Shares.among(t, [GROUP, ~GROUP], EVENT).against(1, 0.95)[0].risk_difference.se,
        lambda t: weighted_table(t, 2, 2).deffs[0] ** 0.5,
    ):
        assert of(again) == pytest.approx(of(linear), rel=near)


def test_a_seed_gives_the_same_draws_again() -> None:
    people = People()
    one, same, other = (
        Shares.among(cells(people, how), [EVERYBODY], EVENT).shares(0.95)[0].se
        for how in (BOOTSTRAP, BOOTSTRAP, replace(BOOTSTRAP, seed=5))
    )
    assert one == same != other


def test_draws_keep_the_size_of_every_stratum_and_leave_single_clusters_alone() -> None:
    stratum = np.array([0, 0, 0, 1, 2, 2])
    design = SampleDesign(np.ones(6), stratum, np.arange(6), "nothing", BOOTSTRAP)
    assert design.replicates is not None
    factors = design.replicates.factors
    assert np.all(factors[:, 3] == 1)
    for code, size in ((0, 3), (2, 2)):
        np.testing.assert_allclose(factors[:, stratum == code].sum(axis=1), size)
    assert factors.mean(axis=0) == pytest.approx(np.ones(6), abs=0.15)


def test_too_many_replicates_are_refused_before_they_are_made() -> None:
    n = 6000
    with pytest.raises(TooManyReplicates):
        _ = SampleDesign.of(np.ones(n), None, None, replication=JACKKNIFE).replicates


def test_replicates_without_a_finite_estimate_are_left_out() -> None:
    people = People()
    design = people.design(BOOTSTRAP)
    assert design.replicates is not None
    random = np.random.default_rng(1)
    again = random.normal(size=(600, 1))
    lost = again.copy()
    lost[:100] = np.inf
    whole = np.zeros(1)
    mine = design.replicates.covariance(lost, whole)
    assert mine[0, 0] == pytest.approx(float(np.mean(again[100:] ** 2)), rel=1e-12)


def test_quantiles_of_whole_weights_are_those_of_people_written_out() -> None:
    random = np.random.default_rng(3)
    x, w = random.integers(0, 40, 200).astype(float), random.integers(1, 6, 200)
    written_out = np.sort(np.repeat(x, w))
    shares = np.array([0.1, 0.25, 0.5, 0.75, 0.9])
    expected = np.quantile(written_out, shares, method="averaged_inverted_cdf")
    np.testing.assert_array_equal(weighted_quantiles(x, w.astype(float), shares), expected)


def test_groups_of_one_cluster_have_no_errors() -> None:
    """Nothing tells how much a village varies, and each replicate leaves out a whole group."""
    vary = [{"variable": "village"}]
    jackknife = {**DESIGN, "errors": "jackknife"}
    for lens in ("crosstab", "proportions"):
        for how in (DESIGN, jackknife):
            given = asked(lens, vary_with=vary, counted_by=how)
            groups = given.results.whole.groups
            shares = groups.groups if lens == "crosstab" else groups
            assert len(shares) == 45
            assert {share.share_ci for share in shares} == {None}
            assert given.sample.replicates_lost == (45 if how is jackknife else 0)
    two = TABLE.filter(pl.col("village").is_in(["5", "10"]))
    with pytest.raises(QuestionError, match="choose linearised errors"):
        asked("proportions", two, vary_with=vary, counted_by=jackknife)


def test_a_covariance_that_cannot_be_inverted_gives_no_test() -> None:
    singular = np.array([[1.0, 1.0], [1.0, 1.0]])
    for covariance in (singular, np.zeros((2, 2)), np.full((2, 2), np.nan)):
        assert quadratic_form(np.array([1.0, 2.0]), covariance) is None
    regular = np.array([[4.0, 1.0], [1.0, 9.0]])
    e = np.array([1.0, 2.0])
    assert quadratic_form(e, regular) == pytest.approx(e @ np.linalg.solve(regular, e), rel=1e-12)


def test_replicates_in_which_nobody_is_left_are_left_out() -> None:
    """Nobody of a stratum that is one village is in draws without it."""
    alone = (pl.col("village") == "7").cast(pl.String)
    how = {"kind": "design", "weights": "w", "clusters": "village", "errors": "bootstrap"}
    asked_within = {"vary_with": [{"variable": "age"}], "within": ["half"], "counted_by": how}
    strata = asked("odds", TABLE.with_columns(half=alone), **asked_within).results.strata
    village = next(each for each in strata if each.values == ("true",))
    assert 0 < village.n < 40
    assert village.left_out is None
    assert village.ratios[0] is not None
