"""The same people twice: a table [[a, b], [c, d]], rows the first and columns the second time; or several times, a
yes or no each."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile
from hobrix.core.tables.multiple import holm
from hobrix.core.tables.one_proportion import share_interval


@dataclass(frozen=True)
class McNemar:
    """McNemar's test from the two discordant counts; None where nobody changed."""

    discordant: tuple[float, float]
    exact_p: float
    mid_p: float | None
    chi_square: ChiSquareTest | None
    chi_square_continuity_corrected: ChiSquareTest | None


@dataclass(frozen=True)
class MarginalDifference:
    """First minus second share, with its Wald interval and Newcombe's."""

    estimate: float
    standard_error: float
    ci: Interval
    newcombe_ci: Interval


@dataclass(frozen=True)
class ChangeOdds:
    """Those who changed one way to those who changed the other; None where nobody changed one way."""

    estimate: float
    log_standard_error: float
    ci: Interval


@dataclass(frozen=True)
class Change:
    """Two of several occasions, by place: McNemar's test with the exact p allowed for all pairs (Holm), and the
    difference of the shares."""

    first: int
    second: int
    mcnemar: McNemar
    p_adjusted: float
    difference: MarginalDifference


@dataclass(frozen=True)
class Occasions:
    """``events`` at each occasion, shape (k,), of ``n`` people; ``mixed`` did not say the same every time. ``q`` is None
    where nobody is."""

    n: int
    events: tuple[int, ...]
    mixed: int
    q: ChiSquareTest | None
    changes: tuple[Change, ...]


def mcnemar(table: FloatArray) -> McNemar:
    """Exact, mid-p, chi-square (McNemar 1947) and corrected (Edwards 1948)."""
    b, c = float(table[0, 1]), float(table[1, 0])
    m, least = b + c, min(b, c)
    # P(Bin(m, 1/2) <= least), and the probability of least itself.
    tail = float(special.betainc(m - least, least + 1, 0.5)) if least < m else 1.0
    point = math.exp(-math.log(m + 1) - special.betaln(m - least + 1, least + 1) - m * math.log(2))
    mid = 1 - point / 2 if b == c else 2 * tail - point
    return McNemar(
        discordant=(b, c),
        exact_p=min(1.0, 2 * tail),
        mid_p=mid if m else None,
        chi_square=chi_square_test((b - c) ** 2 / m, 1) if m else None,
        chi_square_continuity_corrected=chi_square_test(max(0.0, abs(b - c) - 1) ** 2 / m, 1)
        if m
        else None,
    )


def marginal_difference(table: FloatArray, confidence: float) -> MarginalDifference:
    """(b - c) / n with se^2 = [(b + c)/n - ((b - c)/n)^2] / n (Agresti 2013, section 11.1), and limits from
    Wilson's of both shares that allow for their going together (Newcombe 1998, Stat Med 17:2635, method 10)."""
    n, b, c = float(table.sum()), float(table[0, 1]), float(table[1, 0])
    difference = (b - c) / n
    error = math.sqrt(((b + c) / n - difference**2) / n)
    half = normal_quantile(confidence) * error
    wald = Interval(difference - half, difference + half)
    return MarginalDifference(difference, error, wald, _newcombe(table, confidence))


def _newcombe(table: FloatArray, confidence: float) -> Interval:
    (a, b), (c, d) = table.tolist()
    n = a + b + c + d
    p1, p2 = (a + b) / n, (a + c) / n
    low1, high1 = share_interval(a + b, n, confidence, "wilson")
    low2, high2 = share_interval(a + c, n, confidence, "wilson")
    margins = (a + b) * (c + d) * (a + c) * (b + d)
    cross = a * d - b * c
    # A positive phi is lessened by continuity, down to 0.
    phi = (min(cross, 0.0) + max(cross - n / 2, 0.0)) / math.sqrt(margins) if margins else 0.0

    def reach(one: float, other: float) -> float:
        return math.sqrt(max(0.0, one**2 - 2 * phi * one * other + other**2))

    gap = p1 - p2
    return Interval(gap - reach(p1 - low1, high2 - p2), gap + reach(high1 - p1, p2 - low2))


def change_odds(table: FloatArray, confidence: float) -> ChangeOdds | None:
    """b / c, the odds ratio within people, with log se sqrt(1/b + 1/c)."""
    b, c = float(table[0, 1]), float(table[1, 0])
    if not b or not c:
        return None
    error = math.sqrt(1 / b + 1 / c)
    half = normal_quantile(confidence) * error
    log = math.log(b / c)
    return ChangeOdds(b / c, error, Interval(math.exp(log - half), math.exp(log + half)))


def occasions(events: NDArray[np.bool_], confidence: float) -> Occasions:
    """Cochran's Q (1950, Biometrika 37:256) of k occasions, and every two of them. ``events`` of shape (n, k) holds
    who had the event when; nobody lacks an answer."""
    n, k = events.shape
    per_occasion, per_person = events.sum(axis=0), events.sum(axis=1)
    total = int(per_occasion.sum())
    mixed = int(np.count_nonzero((per_person > 0) & (per_person < k)))
    below = k * total - int((per_person.astype(np.int64) ** 2).sum())
    q = None
    if mixed:
        above = (k - 1) * (k * int((per_occasion.astype(np.int64) ** 2).sum()) - total**2)
        q = chi_square_test(above / below, k - 1)
    pairs = [(i, j) for i in range(k) for j in range(i + 1, k)]
    tables = [_twice(events[:, i], events[:, j]) for i, j in pairs]
    tests = [mcnemar(table) for table in tables]
    adjusted = holm(np.array([test.exact_p for test in tests]))
    return Occasions(
        n=n,
        events=tuple(per_occasion.tolist()),
        mixed=mixed,
        q=q,
        changes=tuple(
            Change(i, j, test, float(p), marginal_difference(table, confidence))
            for (i, j), table, test, p in zip(pairs, tables, tests, adjusted, strict=True)
        ),
    )


def _twice(first: NDArray[np.bool_], second: NDArray[np.bool_]) -> FloatArray:
    counts = np.bincount(2 * ~first + ~second, minlength=4)
    return counts.reshape(2, 2).astype(np.float64)
