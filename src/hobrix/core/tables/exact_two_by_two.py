"""Exact inference for one 2x2 table [[a, b], [c, d]] with its margins held fixed."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import optimize, special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.interval import Interval, MaybeInfinite
from hobrix.core.tables.one_proportion import Alternative

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

    def p(self, side: Alternative) -> float:
        return {"two_sided": self.two_sided, "less": self.less, "greater": self.greater}[side]


@dataclass(frozen=True)
class ConditionalOddsRatio:
    """The conditional maximum likelihood estimate with its exact interval (Cornfield 1956)."""

    estimate: MaybeInfinite
    exact_ci: tuple[float, MaybeInfinite]


@dataclass(frozen=True)
class _Support:
    """Possible first cells with the log of their number of ways, and where the observed one is.

    Of large tables only the window in which the law has any mass a double can hold.
    """

    x: FloatArray
    log_ways: FloatArray
    at: int
    is_least: bool
    is_greatest: bool


# Beyond so many standard deviations a law of this kind has no mass that a double could hold.
_WIDE = 60


def _support(table: FloatArray, *, around_observed: bool) -> _Support:
    """Around the first cell expected without association, and the observed one; or, for laws that
    may be centred anywhere near, around the observed one alone."""
    (a, b), (c, d) = np.rint(table).astype(np.int64).tolist()
    n1, n0, m1, m0 = a + b, c + d, a + c, b + d
    n = n1 + n0
    least, greatest = max(0, m1 - n0), min(n1, m1)
    if around_observed:
        spread = (1 / (a + 0.5) + 1 / (b + 0.5) + 1 / (c + 0.5) + 1 / (d + 0.5)) ** -0.5
        low = high = float(a)
    else:
        middle = n1 * m1 / n
        spread = (n1 / n * (n0 / n) * (m1 / n) * (m0 / n) * n) ** 0.5
        low, high = min(middle, a), max(middle, a)
    reach = _WIDE * spread + 200
    first, last = max(least, int(low - reach)), min(greatest, int(high + reach))
    x = np.arange(first, last + 1, dtype=np.float64)
    log_ways = -(
        special.gammaln(x + 1)
        + special.gammaln(n1 - x + 1)
        + special.gammaln(m1 - x + 1)
        + special.gammaln(n0 - m1 + x + 1)
    )
    return _Support(x, log_ways, a - first, a == least, a == greatest)


def fisher_exact(table: FloatArray) -> FishersExact:
    """Fisher's test of a table of whole counts without empty margins."""
    support = _support(table, around_observed=False)
    log_ways, at = support.log_ways, support.at
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
    support = _support(table, around_observed=True)
    x, log_ways, at = support.x, support.log_ways, support.at
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

    is_least, is_greatest = support.is_least, support.is_greatest
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
