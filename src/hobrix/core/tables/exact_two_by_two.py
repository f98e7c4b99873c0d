"""Exact inference for one 2x2 table [[a, b], [c, d]] with its margins held fixed."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import optimize, special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.interval import Interval

TOLERANCE = 1e-7


@dataclass(frozen=True)
class FishersExact:
    """Fisher's exact test (1934; Irwin 1935): p for each alternative, and mid-p (Lancaster 1961).

    ``less`` and ``greater`` are of the first cell, that is of the odds ratio.
    """

    two_sided: float
    less: float
    greater: float
    mid_p_two_sided: float
    mid_p_less: float
    mid_p_greater: float
    mid_p_two_sided_only_observed_table_halved: float
    mid_p_two_sided_doubled_one_sided: float
    observed_table_probability: float


@dataclass(frozen=True)
class ConditionalOddsRatio:
    """The conditional maximum likelihood estimate with its exact interval (Cornfield 1956)."""

    estimate: float
    exact: Interval


def _support(table: FloatArray) -> tuple[FloatArray, FloatArray, int]:
    """All possible first cells, the log of their number of ways, and where the observed one is."""
    (a, b), (c, d) = np.rint(table).astype(np.int64).tolist()
    n1, n0, m1 = a + b, c + d, a + c
    x = np.arange(max(0, m1 - n0), min(n1, m1) + 1, dtype=np.float64)
    log_ways = -(
        special.gammaln(x + 1)
        + special.gammaln(n1 - x + 1)
        + special.gammaln(m1 - x + 1)
        + special.gammaln(n0 - m1 + x + 1)
    )
    return x, log_ways, int(a - x[0])


def fisher_exact(table: FloatArray) -> FishersExact:
    """Fisher's test of a table of whole counts without empty margins."""
    _, log_ways, at = _support(table)
    p = np.exp(log_ways - special.logsumexp(log_ways))
    observed = float(p[at])
    is_tied = np.abs(p - observed) <= observed * TOLERANCE
    two_sided = float(p[(p < observed) | is_tied].sum())
    less, greater = float(p[: at + 1].sum()), float(p[at:].sum())
    ends = less - observed / 2, greater - observed / 2
    return FishersExact(
        two_sided=min(1.0, two_sided),
        less=min(1.0, less),
        greater=min(1.0, greater),
        mid_p_two_sided=two_sided - float(p[is_tied].sum()) / 2,
        mid_p_less=ends[0],
        mid_p_greater=ends[1],
        mid_p_two_sided_only_observed_table_halved=two_sided - observed / 2,
        mid_p_two_sided_doubled_one_sided=min(1.0, 2 * min(ends)),
        observed_table_probability=observed,
    )


def conditional_odds_ratio(table: FloatArray, confidence: float) -> ConditionalOddsRatio:
    """The odds ratio at which the observed first cell is the expected one, with exact limits.

    0 or infinite where the observed cell is the least or greatest possible.
    """
    x, log_ways, at = _support(table)
    tail = (1 - confidence) / 2

    def law(log_ratio: float) -> FloatArray:
        logs = log_ways + x * log_ratio
        return np.asarray(np.exp(logs - special.logsumexp(logs)))

    def solve(below_zero: Callable[[float], float]) -> float:
        """The log odds ratio where a rising function crosses 0."""
        low, high = -1.0, 1.0
        while below_zero(low) > 0:
            low *= 2
        while below_zero(high) < 0:
            high *= 2
        root: float = optimize.brentq(below_zero, low, high, xtol=1e-14, rtol=1e-14)
        return float(np.exp(root))

    is_least, is_greatest = at == 0, at == len(x) - 1
    if is_least and is_greatest:
        return ConditionalOddsRatio(1.0, Interval(0.0, float("inf")))
    estimate = (
        0.0
        if is_least
        else float("inf")
        if is_greatest
        else solve(lambda log_ratio: float(law(log_ratio) @ x) - x[at])
    )
    low = 0.0 if is_least else solve(lambda r: float(law(r)[at:].sum()) - tail)
    high = float("inf") if is_greatest else solve(lambda r: tail - float(law(r)[: at + 1].sum()))
    return ConditionalOddsRatio(estimate, Interval(low, high))
