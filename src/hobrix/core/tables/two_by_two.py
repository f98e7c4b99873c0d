"""Two groups and an event: odds ratio, risk ratio and risk difference with intervals.

A table is [[a, b], [c, d]]: rows are the compared group and the reference, columns the event and
no event; n1 = a + b, n0 = c + d, p1 = a / n1, p0 = c / n0.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.interval import Interval, MaybeInfinite, normal_quantile
from hobrix.core.tables.one_proportion import Alternative, wilson


@dataclass(frozen=True)
class Ratio:
    """An estimate with its standard error on the log scale.

    ``estimate`` may be infinite. ``log_standard_error`` and ``ci`` are None where a cell
    that the formula divides by is zero.
    """

    estimate: MaybeInfinite | None
    log_standard_error: float | None
    ci: Interval | None


@dataclass(frozen=True)
class Difference:
    """An estimate with its standard error, its Wald and its Newcombe interval."""

    estimate: float
    standard_error: float
    wald_ci: Interval
    newcombe_ci: Interval


def odds_ratio(table: FloatArray, confidence: float) -> Ratio:
    """ad / bc with the interval of Woolf (1955); 0 or infinite, without interval, at a zero cell."""
    (a, b), (c, d) = table.tolist()
    if a * d == 0 and b * c == 0:
        return Ratio(None, None, None)
    if b * c == 0:
        return Ratio(math.inf, None, None)
    if a * d == 0:
        return Ratio(0.0, None, None)
    error = math.sqrt(1 / a + 1 / b + 1 / c + 1 / d)
    return _ratio(a * d / (b * c), error, confidence)


def risk_ratio(table: FloatArray, confidence: float) -> Ratio:
    """p1 / p0 with the interval of Katz et al. (1978); no interval where a or c is zero."""
    (a, b), (c, d) = table.tolist()
    n1, n0 = a + b, c + d
    if c == 0:
        return Ratio(math.inf if a > 0 else None, None, None)
    if a == 0:
        return Ratio(0.0, None, None)
    error = math.sqrt(max(0.0, b / (a * n1) + d / (c * n0)))
    return _ratio((a / n1) / (c / n0), error, confidence)


def _ratio(estimate: float, log_standard_error: float, confidence: float) -> Ratio:
    factor = math.exp(normal_quantile(confidence) * log_standard_error)
    interval = Interval(estimate / factor, estimate * factor)
    return Ratio(estimate, log_standard_error, interval)


def risk_difference(table: FloatArray, confidence: float) -> Difference:
    """p1 - p0 with the Wald interval and that of Newcombe (1998, method 10)."""
    (a, b), (c, d) = table.tolist()
    n1, n0 = a + b, c + d
    p1, p0 = a / n1, c / n0
    z = normal_quantile(confidence)
    difference = (a * d - b * c) / (n1 * n0)
    error = math.sqrt(p1 * (1 - p1) / n1 + p0 * (1 - p0) / n0)
    w1, w0 = wilson(a, n1, confidence), wilson(c, n0, confidence)
    return Difference(
        estimate=difference,
        standard_error=error,
        wald_ci=Interval(difference - z * error, difference + z * error),
        newcombe_ci=Interval(
            difference - math.hypot(p1 - w1.low, w0.high - p0),
            difference + math.hypot(w1.high - p1, p0 - w0.low),
        ),
    )


def has_zero_cell(table: FloatArray) -> bool:
    return bool(np.any(table == 0))


@dataclass(frozen=True)
class Attributable:
    """How many, and what share, the exposure would account for, were it the cause."""

    number_needed: MaybeInfinite
    attributable_fraction_exposed: float | None
    population_attributable_fraction: float | None


def attributable(table: FloatArray) -> Attributable:
    """1 / |RD| (Laupacis et al. 1988), (p1 - p0) / p1 (Miettinen 1974) and (p - p0) / p (Levin 1953).

    The last takes the share of the exposed from the table, so it needs a cohort or a cross-section.
    """
    (a, b), (c, d) = table.tolist()
    n1, n0, m1 = a + b, c + d, a + c
    difference = (a * d - b * c) / (n1 * n0)
    # p - p0 = (n1 / n) (p1 - p0)
    return Attributable(
        number_needed=math.inf if difference == 0 else 1 / abs(difference),
        attributable_fraction_exposed=difference / (a / n1) if a else None,
        population_attributable_fraction=difference * n1 / m1 if m1 else None,
    )


@dataclass(frozen=True)
class ZTest:
    """Pooled z of p1 - p0; ``p_less`` is for p1 < p0."""

    statistic: float
    p_two_sided: float
    p_less: float
    p_greater: float

    def p(self, side: Alternative) -> float:
        by = {"two_sided": self.p_two_sided, "less": self.p_less, "greater": self.p_greater}
        return by[side]


def z_test(table: FloatArray) -> ZTest:
    """(p1 - p0) / sqrt(p (1 - p)(1/n1 + 1/n0)) with the pooled p, no correction."""
    (a, b), (c, d) = table.tolist()
    n1, n0, m1, m0 = a + b, c + d, a + c, b + d
    n = n1 + n0
    # sqrt(n) (ad - bc) / sqrt(n1 n0 m1 m0)
    z = math.sqrt(n / n1 / n0 / m1 / m0) * (a * d - b * c)
    below = float(special.ndtr(z))
    return ZTest(z, 2 * float(special.ndtr(-abs(z))), below, float(special.ndtr(-z)))


def haldane_anscombe(table: FloatArray) -> FloatArray:
    """The table with 1/2 added to all four cells (Haldane 1956; Anscombe 1956)."""
    return table + 0.5
