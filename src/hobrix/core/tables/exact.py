"""Exact tests of r x c tables: all tables with the observed margins, without writing them out.

Columns are filled one after the other. What matters for the rest is only what is left of the
row totals (a node), so tables that leave the same are carried on together, each distinct
probability (or statistic) so far with its mass. For every node the best and the worst that the
remaining columns can still add are known from the last column backwards: where even the worst
reaches the observed table, or even the best does not, the whole remainder is settled at once
(the network idea of Mehta & Patel 1983, JASA 78:427).
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import expected_counts
from hobrix.core.tables.interval import Interval
from hobrix.core.tables.one_proportion import clopper_pearson

# A table is as extreme as the observed one within this relative tolerance.
TOLERANCE = 1e-7
# Scores this near are one: far below the tolerance, far above rounding.
_SAME = 1e-10
# Fillings of columns, and continued scores, beyond which the enumeration is given up (about one
# second of work).
MOST_FILLINGS, MOST_VALUES = 600_000, 6_000_000

IntArray = NDArray[np.int64]


class TooLarge(Exception):
    """The reference set is too large to enumerate in reasonable time."""


@dataclass(frozen=True)
class ExactTest:
    """p of all tables as extreme as the observed one; ``mid_p`` counts its equals half."""

    p: float
    mid_p: float
    observed_probability: float


@dataclass(frozen=True)
class MonteCarloTest:
    """p = (as extreme + 1) / (draws + 1) with an exact interval for the p it estimates."""

    p: float
    p_ci: Interval
    draws: int
    seed: int


@dataclass(frozen=True)
class _Node:
    """What is left of the row totals: where that can go with the next column, and at what score.

    Ways to the same place at the same score are one, with their masses added.
    """

    next: IntArray
    score: FloatArray
    log_mass: FloatArray


def _node(target: IntArray, score: FloatArray, log_mass: FloatArray) -> _Node:
    order = np.lexsort((score, target))
    target, score, log_mass = target[order], score[order], log_mass[order]
    is_new = (np.diff(target, prepend=-1) != 0) | (np.diff(score, prepend=-np.inf) > _SAME)
    starts = np.flatnonzero(is_new)
    if len(starts) == len(target):
        return _Node(target, score, log_mass)
    top = float(log_mass.max())
    mass = np.add.reduceat(np.exp(log_mass - top), starts)
    return _Node(target[starts], score[starts], top + np.log(mass))


def fisher_freeman_halton(counts: FloatArray) -> ExactTest:
    """Sum of the probabilities of all tables no more probable than the observed one.

    Freeman & Halton 1951, Biometrika 38:141. ``counts`` are whole, without empty margins.

    Raises:
        TooLarge: there are more nodes or values than can be followed.
    """
    table = _oriented(counts)
    observed = _log_probability(table)
    low, equal = _tails(table, by_probability=True, observed=observed)
    return ExactTest(min(1.0, low + equal), min(1.0, low + equal / 2), math.exp(observed))


def exact_pearson(counts: FloatArray) -> ExactTest:
    """The same with tables ordered by Pearson's chi-square; raises TooLarge."""
    table = _oriented(counts)
    expected = expected_counts(table.astype(np.float64))
    observed = float(np.sum(table**2 / expected))
    low, equal = _tails(table, by_probability=False, observed=-observed)
    probability = math.exp(_log_probability(table))
    return ExactTest(min(1.0, low + equal), min(1.0, low + equal / 2), probability)


def _oriented(counts: FloatArray) -> IntArray:
    """Whole counts with no more rows than columns, the smallest columns first: that order leaves
    the fewest values to carry on."""
    table = np.rint(counts).astype(np.int64)
    if table.shape[0] > table.shape[1]:
        table = table.T
    return table[:, np.argsort(table.sum(axis=0), kind="stable")]


def _log_probability(table: IntArray) -> float:
    margins = (
        special.gammaln(table.sum(axis=1) + 1.0).sum()
        + special.gammaln(table.sum(axis=0) + 1.0).sum()
    )
    cells = special.gammaln(table + 1.0).sum() + special.gammaln(table.sum() + 1.0)
    return float(margins - cells)


def _tails(table: IntArray, *, by_probability: bool, observed: float) -> tuple[float, float]:
    """Mass of tables scoring below the observed one, and of its equals.

    The score is the log-probability, or minus Pearson's statistic: low is extreme.
    """
    stages = list(_network(table, by_probability=by_probability))
    best, worst, log_all = _bounds(stages)
    slack = math.log1p(TOLERANCE) if by_probability else TOLERANCE * abs(observed)
    constant = 0.0
    if by_probability:
        constant = float(
            special.gammaln(table.sum(axis=1) + 1.0).sum()
            + special.gammaln(table.sum(axis=0) + 1.0).sum()
            - special.gammaln(table.sum() + 1.0)
        )
    # log of the number that makes masses probabilities.
    log_scale = -float(log_all[0][0])
    below = equal = 0.0
    effort = 0
    values: dict[int, tuple[FloatArray, FloatArray]] = {
        0: (np.array([constant]), np.array([log_scale]))
    }
    for k, nodes in enumerate(stages):
        reached: list[tuple[IntArray, FloatArray, FloatArray]] = []
        for at, (score, mass) in values.items():
            highest, lowest = score + best[k][at], score + worst[k][at]
            is_below = highest < observed - slack
            below += float(np.exp(mass[is_below] + log_all[k][at]).sum())
            is_open = ~is_below & (lowest <= observed + slack)
            # All that is left is as probable as the observed table.
            is_equal = is_open & (lowest >= observed - slack) & (highest <= observed + slack)
            equal += float(np.exp(mass[is_equal] + log_all[k][at]).sum())
            is_open &= ~is_equal
            score, mass = score[is_open], mass[is_open]
            if not len(score):
                continue
            node = nodes[at]
            if k == len(stages) - 2:
                parts = _completed(node, stages[-1], score, mass, observed, slack)
                below, equal = below + parts[0], equal + parts[1]
                continue
            effort += len(score) * len(node.next)
            if effort > MOST_VALUES:
                raise TooLarge
            reached.append(
                (
                    np.tile(node.next, len(score)),
                    (score[:, None] + node.score).ravel(),
                    (mass[:, None] + node.log_mass).ravel(),
                )
            )
        values = _merged(reached) if reached else {}
    return below, equal


def _completed(
    node: _Node,
    last: list[_Node],
    score: FloatArray,
    mass: FloatArray,
    observed: float,
    slack: float,
) -> tuple[float, float]:
    """Mass below and equal with two columns to go: the last one has no choice left, so all ends
    are looked up in one sorted list."""
    ends = np.array([last[target].score[0] for target in node.next]) + node.score
    end_mass = np.array([last[target].log_mass[0] for target in node.next]) + node.log_mass
    order = np.argsort(ends)
    top = float(end_mass.max())
    so_far = np.concatenate([[0.0], np.cumsum(np.exp(end_mass[order] - top))])
    ends = ends[order]
    under = so_far[np.searchsorted(ends, observed - slack - score, side="left")]
    up_to = so_far[np.searchsorted(ends, observed + slack - score, side="right")]
    weight = np.exp(mass + top)
    return float(weight @ under), float(weight @ (up_to - under))


def _merged(
    reached: list[tuple[IntArray, FloatArray, FloatArray]],
) -> dict[int, tuple[FloatArray, FloatArray]]:
    """What stands at each node: equal scores (to about ten digits) become one, their masses
    added."""
    target, score, mass = (np.concatenate(parts) for parts in zip(*reached, strict=True))
    # Few nodes are told apart by 16 bits, which sort in one pass.
    narrow = np.int16 if int(target.max()) < 2**15 else np.int64
    order = np.argsort(target.astype(narrow), kind="stable")
    ends = np.flatnonzero(np.diff(target[order], append=-1)) + 1
    values = {}
    for start, end in zip([0, *ends[:-1].tolist()], ends.tolist(), strict=True):
        here = order[start:end]
        here = here[np.argsort(score[here])]
        scores, masses = score[here], mass[here]
        starts = np.flatnonzero(np.diff(scores, prepend=-np.inf) > _SAME)
        top = float(masses.max())
        summed = np.log(np.add.reduceat(np.exp(masses - top), starts))
        values[int(target[here[0]])] = (scores[starts], top + summed)
    return values


def _network(table: IntArray, *, by_probability: bool) -> Iterator[list[_Node]]:
    """The nodes of every stage. Rows are alike for probabilities, so their order is forgotten;
    Pearson's statistic keeps it unless their totals are equal."""
    rows, columns = table.sum(axis=1), table.sum(axis=0)
    n = float(table.sum())
    forget = by_probability or len(set(rows.tolist())) == 1
    base = int(n) + 1
    weights = base ** np.arange(len(rows), dtype=np.int64)
    if math.log2(base) * len(rows) > 62:
        raise TooLarge
    left = np.sort(rows)[None, :] if forget else rows[None, :]
    fillings = 0
    for total in columns:
        nodes, found = [], []
        for remaining in left:
            ways = _ways(int(total), remaining)
            fillings += len(ways)
            if fillings > MOST_FILLINGS:
                raise TooLarge
            after = remaining - ways
            # log of the multinomial-like weight 1 / prod x!, the mass of the filling.
            log_mass = -special.gammaln(ways + 1.0).sum(axis=1)
            if by_probability:
                score = log_mass
            else:
                score = -(ways**2 / (rows * (float(total) / n))).sum(axis=1)
            after = np.sort(after, axis=1) if forget else after
            nodes.append((after @ weights, score, log_mass))
            found.append(after)
        every = np.concatenate(found)
        keys, index = np.unique(every @ weights, return_index=True)
        left = every[index]
        yield [_node(np.searchsorted(keys, key), score, mass) for key, score, mass in nodes]


def _ways(total: int, most: IntArray) -> IntArray:
    """All ways to take ``total`` out of rows that hold ``most``, shape (w, R)."""
    ways = np.zeros((1, 0), dtype=np.int64)
    taken = np.zeros(1, dtype=np.int64)
    rest = int(most.sum())
    for limit in most[:-1].tolist():
        rest -= limit
        low = np.maximum(0, total - taken - rest)
        high = np.minimum(limit, total - taken)
        choices = high - low + 1
        if int(choices.sum()) > MOST_FILLINGS:
            raise TooLarge
        starts = np.cumsum(choices) - choices
        x = np.arange(int(choices.sum())) - np.repeat(starts - low, choices)
        ways = np.column_stack([np.repeat(ways, choices, axis=0), x])
        taken = np.repeat(taken, choices) + x
    return np.column_stack([ways, total - taken])


def _bounds(
    stages: list[list[_Node]],
) -> tuple[list[FloatArray], list[FloatArray], list[FloatArray]]:
    """For every node the highest and the lowest score still to come, and the log of all mass."""
    best, worst, log_all = [np.zeros(1)], [np.zeros(1)], [np.zeros(1)]
    for nodes in reversed(stages):
        best.append(np.array([(node.score + best[-1][node.next]).max() for node in nodes]))
        worst.append(np.array([(node.score + worst[-1][node.next]).min() for node in nodes]))
        log_all.append(
            np.array([_log_sum(node.log_mass + log_all[-1][node.next]) for node in nodes])
        )
    return best[::-1], worst[::-1], log_all[::-1]


def _log_sum(logs: FloatArray) -> float:
    """log of the sum of exp; scipy's does the same with checks that cost more than the sum."""
    top = float(logs.max())
    return top + math.log(float(np.exp(logs - top).sum()))


def monte_carlo(counts: FloatArray, draws: int, seed: int) -> MonteCarloTest:
    """Tables drawn with the observed margins (Patefield 1981), ordered by their probability.

    p = (b + 1) / (draws + 1) (Phipson & Smyth 2010); the interval is the exact one for b of
    ``draws`` at 95%.
    """
    from scipy import stats  # half a second, which only tables drawn at random wait for

    table = np.rint(counts).astype(np.int64)
    law = stats.random_table(table.sum(axis=1), table.sum(axis=0))
    observed = -float(special.gammaln(table + 1.0).sum()) + math.log1p(TOLERANCE)
    random = np.random.default_rng(seed)
    extreme, left = 0, draws
    while left:
        part = min(left, max(1, 2_000_000 // table.size))
        drawn = law.rvs(size=part, random_state=random)
        extreme += int(np.sum(-special.gammaln(drawn + 1.0).sum(axis=(1, 2)) <= observed))
        left -= part
    return MonteCarloTest(
        p=(extreme + 1) / (draws + 1),
        p_ci=clopper_pearson(extreme, draws, 0.95),
        draws=draws,
        seed=seed,
    )
