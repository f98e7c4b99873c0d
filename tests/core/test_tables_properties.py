"""What must hold of every table, whatever its counts."""

import math
from itertools import combinations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import stats

from hobrix.core.tables import (
    independence,
    multiple,
    one_proportion,
    stratified,
    strength,
    two_by_two,
)
from hobrix.core.tables.counts import count_table


@st.composite
def tables(draw: st.DrawFn, least: int = 0) -> np.ndarray:
    rows, columns = draw(st.integers(2, 6)), draw(st.integers(2, 6))
    cells = draw(st.lists(st.integers(least, 60), min_size=rows * columns, max_size=rows * columns))
    return np.array(cells, dtype=float).reshape(rows, columns)


def reduced(table: np.ndarray) -> np.ndarray:
    kept = independence.drop_empty(table).counts
    assume(min(kept.shape) >= 2)
    return kept


@given(tables())
def test_pearson_agrees_with_scipy(table: np.ndarray) -> None:
    kept = reduced(table)
    other = stats.chi2_contingency(kept, correction=False)
    mine = independence.pearson_test(kept)
    assert mine.statistic == pytest.approx(other.statistic, rel=1e-9, abs=1e-9)
    assert mine.df == other.dof
    assert mine.p == pytest.approx(other.pvalue, rel=1e-7)


@given(tables())
def test_likelihood_ratio_agrees_with_scipy(table: np.ndarray) -> None:
    kept = reduced(table)
    other = stats.chi2_contingency(kept, correction=False, lambda_="log-likelihood")
    mine = independence.likelihood_ratio_test(kept)
    assert mine.statistic == pytest.approx(other.statistic, rel=1e-9, abs=1e-9)


@given(tables())
def test_turning_the_table_turns_the_residuals(table: np.ndarray) -> None:
    kept = reduced(table)
    mine, turned = independence.residuals(kept), independence.residuals(kept.T)
    np.testing.assert_allclose(turned.adjusted, mine.adjusted.T, rtol=1e-9, atol=1e-12)
    np.testing.assert_allclose(turned.p_adjusted, mine.p_adjusted.T, rtol=1e-9, atol=1e-12)


@given(tables())
def test_contributions_add_up_to_the_statistic(table: np.ndarray) -> None:
    kept = reduced(table)
    total = independence.residuals(kept).contributions.sum()
    assert total == pytest.approx(independence.pearson_test(kept).statistic, rel=1e-9, abs=1e-9)


@given(tables(), st.permutations(range(6)))
def test_cramers_v_ignores_the_order_of_categories(table: np.ndarray, order: list[int]) -> None:
    kept = reduced(table)
    shuffled = kept[[i for i in order if i < len(kept)]]
    assert strength.cramers_v(shuffled) == pytest.approx(strength.cramers_v(kept), abs=1e-12)


@given(tables(), st.sampled_from([0.8, 0.95, 0.99]))
@settings(deadline=None)
def test_interval_of_cramers_v_holds_the_estimate(table: np.ndarray, confidence: float) -> None:
    kept = reduced(table)
    interval = strength.cramers_v_interval(kept, confidence)
    v = strength.cramers_v(kept)
    assert 0 <= interval.low <= v + 1e-9
    assert v - 1e-9 <= interval.high <= 1
    assert interval.high > 0


@given(st.lists(st.integers(1, 400), min_size=4, max_size=4))
def test_exchanging_groups_inverts_ratios(cells: list[int]) -> None:
    table = np.array(cells, dtype=float).reshape(2, 2)
    for ratio in (two_by_two.odds_ratio, two_by_two.risk_ratio):
        one, other = ratio(table, 0.95), ratio(table[::-1], 0.95)
        assert one.estimate is not None
        assert one.estimate * other.estimate == pytest.approx(1)
        assert one.ci.low * other.ci.high == pytest.approx(1)
    forth, back = (two_by_two.risk_difference(t, 0.95) for t in (table, table[::-1]))
    assert forth.estimate == pytest.approx(-back.estimate)
    assert forth.newcombe_ci.low == pytest.approx(-back.newcombe_ci.high)


@given(st.integers(0, 300), st.integers(1, 300), st.floats(0.5, 0.999))
def test_wilson_agrees_with_scipy(events: int, extra: int, confidence: float) -> None:
    n = events + extra
    other = stats.binomtest(events, n).proportion_ci(confidence, method="wilson")
    mine = one_proportion.wilson(events, n, confidence)
    assert mine.low == pytest.approx(other.low, abs=1e-12)
    assert mine.high == pytest.approx(other.high, abs=1e-12)


@given(st.lists(st.floats(0, 1), min_size=1, max_size=7))
def test_holm_closes_bonferroni(p: list[float]) -> None:
    """A hypothesis falls where every intersection it is part of falls by Bonferroni (Marcus, Peritz & Gabriel 1976)."""
    intersections = [
        chosen for size in range(1, len(p) + 1) for chosen in combinations(range(len(p)), size)
    ]
    closed = [
        max(min(1.0, len(c) * min(p[j] for j in c)) for c in intersections if i in c)
        for i in range(len(p))
    ]
    np.testing.assert_allclose(multiple.holm(np.array(p)), closed, rtol=1e-12)


@given(
    st.lists(
        st.tuples(st.integers(-1, 3), st.integers(-1, 4), st.integers(-1, 1), st.integers(0, 9)),
        min_size=1,
        max_size=80,
    )
)
def test_count_table_counts_every_row_once(rows: list[tuple[int, int, int, int]]) -> None:
    codes = [np.array([row[k] for row in rows], dtype=np.int8) for k in range(3)]
    weights = np.array([row[3] for row in rows], dtype=float)
    table = count_table(codes, (4, 5, 2), weights=weights)
    assert table.shape == (5, 6, 3)
    assert table.sum() == weights.sum()
    by_hand = np.zeros((5, 6, 3))
    for i, j, k, weight in rows:
        by_hand[i + 1, j + 1, k + 1] += weight
    np.testing.assert_array_equal(table, by_hand)


def test_count_table_with_more_cells_than_a_small_integer_holds() -> None:
    codes = [np.array([199, -1, 0], dtype=np.int16), np.array([299, 0, -1], dtype=np.int16)]
    table = count_table(codes, (200, 300))
    assert table[200, 300] == table[0, 1] == table[1, 0] == 1
    assert table.sum() == 3


def test_count_table_counts_only_where_asked() -> None:
    codes = [np.array([0, 1, 1], dtype=np.int8)]
    table = count_table(codes, (2,), where=np.array([True, True, False]))
    assert table.tolist() == [0, 1, 1]


@pytest.mark.parametrize("strength_of_association", [0.0, 0.3, 1.0])
@pytest.mark.parametrize("n", [80, 600])
def test_interval_of_cramers_v_covers_the_truth(n: int, strength_of_association: float) -> None:
    """Simulated from a known 4 x 3 population; 95% intervals, allowing for 600 draws."""
    random = np.random.default_rng(20260101)
    population = np.outer(np.linspace(2, 1, 4), np.linspace(1, 2, 3))
    scores = np.outer(np.linspace(-1, 1, 4), np.linspace(-1, 1, 3))
    population *= np.exp(strength_of_association * scores)
    population /= population.sum()
    truth = strength.cramers_v(population)
    held = 0
    for _ in range(600):
        drawn = random.multinomial(n, population.ravel()).reshape(4, 3).astype(float)
        interval = strength.cramers_v_interval(independence.drop_empty(drawn).counts, 0.95)
        held += interval.low <= truth <= interval.high
    assert held / 600 > 0.93


def test_zero_cells_leave_ratios_without_interval() -> None:
    none_exposed = np.array([[0.0, 12], [9, 15]])
    assert two_by_two.odds_ratio(none_exposed, 0.95).estimate == 0
    assert two_by_two.odds_ratio(none_exposed[::-1], 0.95).estimate == math.inf
    assert two_by_two.odds_ratio(np.array([[0.0, 5], [0, 7]]), 0.95).estimate is None
    assert two_by_two.risk_ratio(np.array([[0.0, 5], [0, 7]]), 0.95).estimate is None


def test_homogeneity_of_two_strata_is_their_squared_distance() -> None:
    """Of two, the spread around the weighted mean comes to (d1 - d2)² / (v1 + v2)."""
    tables = np.array([[[30.0, 20], [10, 40]], [[25, 35], [20, 30]]])
    shares = tables[:, :, 0] / tables.sum(axis=2)
    gap = shares[:, 0] - shares[:, 1]
    variance = (shares * (1 - shares) / tables.sum(axis=2)).sum(axis=1)
    found = stratified.difference_homogeneity(tables)
    assert found is not None
    assert found.statistic == pytest.approx((gap[0] - gap[1]) ** 2 / variance.sum(), rel=1e-12)
    assert found.df == 1
    logs = np.log(shares[:, 0] / shares[:, 1])
    of_logs = ((1 - shares) / tables[:, :, 0]).sum(axis=1)
    found = stratified.risk_ratio_homogeneity(tables)
    assert found is not None
    assert found.statistic == pytest.approx((logs[0] - logs[1]) ** 2 / of_logs.sum(), rel=1e-12)


def test_homogeneity_needs_two_strata_that_tell_something() -> None:
    one = np.array([[[30.0, 20], [10, 40]], [[0, 50], [0, 30]]])
    assert stratified.difference_homogeneity(one) is None
    assert stratified.risk_ratio_homogeneity(one) is None
