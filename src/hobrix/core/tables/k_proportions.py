"""One event in several groups: x of n with the event in each, arrays of shape (k,)."""

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test, pearson_test
from hobrix.core.tables.interval import Interval, normal_quantile
from hobrix.core.tables.multiple import benjamini_hochberg, bonferroni, holm


def homogeneity(x: FloatArray, n: FloatArray) -> ChiSquareTest:
    """Pearson's test that the share is the same in all groups, df k - 1.

    Everyone or nobody having the event leaves nothing to test: statistic 0, p 1.
    """
    if x.sum() in (0, n.sum()):
        return ChiSquareTest(0.0, len(n) - 1, 1.0)
    return pearson_test(np.column_stack([x, n - x]))


@dataclass(frozen=True)
class PairTest:
    """Pooled z of two groups by their positions, with p for all pairs together."""

    groups: tuple[int, int]
    statistic: float
    p: float
    holm: float
    bonferroni: float
    benjamini_hochberg: float


def pairwise(x: FloatArray, n: FloatArray) -> list[PairTest]:
    """Every two groups by the pooled z of just those two; pairs without an event have z = 0."""
    pairs = list(combinations(range(len(n)), 2))
    z = np.array([_pooled_z(x[i], n[i], x[j], n[j]) for i, j in pairs])
    p = 2 * special.ndtr(-np.abs(z))
    adjusted = holm(p), bonferroni(p), benjamini_hochberg(p)
    return [
        PairTest(pair, float(z[at]), float(p[at]), *(float(each[at]) for each in adjusted))
        for at, pair in enumerate(pairs)
    ]


def _pooled_z(x1: float, n1: float, x0: float, n0: float) -> float:
    p = (x1 + x0) / (n1 + n0)
    variance = p * (1 - p) * (1 / n1 + 1 / n0)
    return (x1 / n1 - x0 / n0) / math.sqrt(variance) if variance > 0 else 0.0


@dataclass(frozen=True)
class Trend:
    """z above 0: shares rise with the scores. ``departure_from_trend`` tests what a line leaves."""

    statistic: float
    p_two_sided: float
    p_decreasing: float
    p_increasing: float
    departure_from_trend: ChiSquareTest | None


def trend(x: FloatArray, n: FloatArray, scores: FloatArray) -> Trend | None:
    """Cochran 1954; Armitage 1955, Biometrics 11:375, variance with N. None where all or nobody
    has the event."""
    total = float(n.sum())
    p = float(x.sum()) / total
    spread = float(n @ scores**2) - float(n @ scores) ** 2 / total
    variance = p * (1 - p) * spread
    if variance <= 0:
        return None
    z = float(scores @ (x - n * p)) / math.sqrt(variance)
    below = float(special.ndtr(z))
    rest = None
    if len(n) > 2:
        rest = chi_square_test(max(0.0, homogeneity(x, n).statistic - z**2), len(n) - 2)
    return Trend(z, 2 * float(special.ndtr(-abs(z))), below, float(special.ndtr(-z)), rest)


@dataclass(frozen=True)
class Standardised:
    share: float
    standard_error: float
    ci: Interval


def direct_standardisation(
    x: FloatArray, n: FloatArray, weights: FloatArray, confidence: float
) -> Standardised | None:
    """The share a group would have with the strata as common as ``weights`` says.

    Sum of w_k x_k / n_k, weights scaled to 1; variance sum w^2 p (1 - p) / n (Rothman, Greenland &
    Lash 2008, Modern Epidemiology, ch. 15); interval on the logit scale. None where a stratum with
    weight is empty in the group.
    """
    used = weights > 0
    if not used.any() or np.any(n[used] == 0):
        return None
    w = weights[used] / weights[used].sum()
    p = x[used] / n[used]
    share = float(w @ p)
    error = math.sqrt(float(np.sum(w**2 * p * (1 - p) / n[used])))
    if not 0 < share < 1:
        return Standardised(share, error, Interval(share, share))
    logit = math.log(share / (1 - share))
    half = normal_quantile(confidence) * error / (share * (1 - share))
    low, high = (float(special.expit(logit + side * half)) for side in (-1, 1))
    return Standardised(share, error, Interval(low, high))


def power(p1: float, p0: float, n_each: float, level: float) -> float:
    """Power of the two-sided pooled z test with ``n_each`` per group at significance ``level``.

    Normal approximation with both tails (Fleiss, Levin & Paik 2003, ch. 4).
    """
    pooled = (p1 + p0) / 2
    under_null = math.sqrt(2 * pooled * (1 - pooled) / n_each)
    error = math.sqrt((p1 * (1 - p1) + p0 * (1 - p0)) / n_each)
    z = -float(special.ndtri(level / 2))
    if error == 0:
        return 1.0 if p1 != p0 else level
    gap = p1 - p0
    above = special.ndtr((gap - z * under_null) / error)
    below = special.ndtr((-gap - z * under_null) / error)
    return float(above + below)


def needed_for_width(share: float, half_width: float, confidence: float) -> int:
    """The least n for which Wilson's interval around ``share`` is at most ± ``half_width``."""
    z = normal_quantile(confidence)

    def half(n: float) -> float:
        return z * math.sqrt(share * (1 - share) / n + z**2 / (4 * n**2)) / (1 + z**2 / n)

    low, high = 1, 2
    while half(high) > half_width:
        low, high = high, 2 * high
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if half(middle) > half_width else (low, middle)
    return low if half(low) <= half_width else high
