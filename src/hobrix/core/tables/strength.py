"""How strong is an association between unordered variables? Phi and Cramér's V."""

import math
from collections.abc import Callable

import numpy as np
from scipy import optimize, special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, pearson_test
from hobrix.core.tables.interval import Interval, normal_quantile

_MOST_SECANTS = 12


def phi(counts: FloatArray) -> float:
    """2x2: (ad - bc) / sqrt of the product of the margins, signed (Yule 1912); else sqrt(X2/n)."""
    if counts.shape == (2, 2):
        (a, b), (c, d) = counts
        margins = np.concatenate([counts.sum(axis=1), counts.sum(axis=0)])
        return float((a * d - b * c) / math.sqrt(float(np.prod(margins))))
    return math.sqrt(pearson_test(counts).statistic / float(counts.sum()))


def cramers_v(counts: FloatArray, pearson: ChiSquareTest | None = None) -> float:
    """sqrt(X2 / (n (min(R, C) - 1))), from 0 (unrelated) to 1 (Cramér 1946); ``pearson`` where it is
    known already, here and below."""
    smaller = min(counts.shape) - 1
    test = pearson or pearson_test(counts)
    return math.sqrt(test.statistic / (float(counts.sum()) * smaller))


def cramers_v_bias_corrected(counts: FloatArray, pearson: ChiSquareTest | None = None) -> float:
    """V with the part that chance alone brings taken out (Bergsma 2013, J Korean Stat Soc 42:323).

    0 where a corrected dimension would fall to 1 or below.
    """
    rows, columns = counts.shape
    n = float(counts.sum())
    test = pearson or pearson_test(counts)
    excess = max(0.0, test.statistic / n - (rows - 1) * (columns - 1) / (n - 1))
    smaller = min(size - 1 - (size - 1) ** 2 / (n - 1) for size in (rows, columns))
    return math.sqrt(excess / smaller) if smaller > 0 else 0.0


def cramers_v_interval(
    counts: FloatArray, confidence: float, pearson: ChiSquareTest | None = None
) -> Interval:
    """Interval for the population's V; docs/methods.md gives its simulated coverage.

    X2 follows a noncentral chi-square distribution with root noncentrality d; the limits hold
    every d for which sqrt(X2) lies within the range around d that has the asked probability
    (the symmetric range interval of Kent & Hainsworth 1995), each turned into
    V = d / sqrt(n (min(R, C) - 1)), at most 1. Unlike the delta method it keeps its coverage
    near V = 0, and unlike equal tails it is never empty and always holds the estimate.
    """
    test = pearson or pearson_test(counts)
    scale = math.sqrt(float(counts.sum()) * (min(counts.shape) - 1))
    low, high = _root_noncentralities(test.statistic, test.df, confidence)
    return Interval(min(1.0, low / scale), min(1.0, high / scale))


def _root_noncentralities(statistic: float, df: int, confidence: float) -> tuple[float, float]:
    root = math.sqrt(statistic)

    def within(low: float, high: float, d: float) -> float:
        below = float(special.chndtr(low**2, df, d**2)) if low > 0 else 0.0
        return float(special.chndtr(high**2, df, d**2)) - below

    def above(d: float) -> float:
        return within(root, 2 * d - root, d) - confidence

    def below(d: float) -> float:
        return within(2 * d - root, root, d) - confidence

    # The root of a noncentral chi-square varies by about 1, as a normal number does.
    guess = normal_quantile(confidence)
    low = 0.0
    if below(0.0) > 0:
        low = _zero(below, max(0.0, root - guess), 0.0, root)
    return low, _zero(above, root + guess, root, root + 2 * guess + 2)


def _zero(f: Callable[[float], float], guess: float, low: float, high: float) -> float:
    """Where f is 0: by secants from the guess, which nearly always settle in a few steps; otherwise
    between low and high, which is moved up until f changes its sign."""
    before, now = guess, guess + 0.01
    there, here = f(before), f(now)
    for _ in range(_MOST_SECANTS):
        if here == there:
            break
        before, now, there = now, now - here * (now - before) / (here - there), here
        if not low <= now <= high:
            break
        if abs(now - before) <= 1e-13 * now:
            return now
        here = f(now)
    while f(low) * f(high) > 0:
        high += 2
    return float(optimize.brentq(f, low, high))
