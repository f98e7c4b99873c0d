"""The same people twice: a table [[a, b], [c, d]], rows the first and columns the second time."""

import math
from dataclasses import dataclass

from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile


@dataclass(frozen=True)
class McNemar:
    """McNemar's test from the two discordant counts; None where nobody changed."""

    discordant: tuple[float, float]
    exact_p: float
    mid_p: float
    chi_square: ChiSquareTest | None
    chi_square_continuity_corrected: ChiSquareTest | None


@dataclass(frozen=True)
class MarginalDifference:
    """First minus second share, with its Wald interval."""

    estimate: float
    standard_error: float
    ci: Interval


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
        mid_p=mid,
        chi_square=chi_square_test((b - c) ** 2 / m, 1) if m else None,
        chi_square_continuity_corrected=chi_square_test(max(0.0, abs(b - c) - 1) ** 2 / m, 1)
        if m
        else None,
    )


def marginal_difference(table: FloatArray, confidence: float) -> MarginalDifference:
    """(b - c) / n with se^2 = [(b + c)/n - ((b - c)/n)^2] / n (Agresti 2013, section 11.1)."""
    n, b, c = float(table.sum()), float(table[0, 1]), float(table[1, 0])
    difference = (b - c) / n
    error = math.sqrt(((b + c) / n - difference**2) / n)
    half = normal_quantile(confidence) * error
    return MarginalDifference(difference, error, Interval(difference - half, difference + half))
