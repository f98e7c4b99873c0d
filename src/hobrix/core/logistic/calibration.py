"""How well a model fits: predicted against observed events."""

from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.logistic.patterns import FloatArray, Patterns, sums
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test

# Fitted probabilities nearer than this are one value.
SAME = 1e-9


@dataclass(frozen=True)
class FitGroup:
    """People with predicted probabilities in one tenth; ``group`` is its number, 1 to 10."""

    group: int
    n: float
    lowest_fitted: float
    highest_fitted: float
    observed_events: float
    expected_events: float
    observed_non_events: float
    expected_non_events: float


@dataclass(frozen=True)
class HosmerLemeshow:
    """Without a p where there are fewer than three groups."""

    statistic: float
    df: int
    p: float | None
    groups: int
    table: tuple[FitGroup, ...]


def values_of(fitted: FloatArray) -> tuple[np.ndarray, np.ndarray]:
    """Order of the fitted probabilities from the lowest, and the number of the distinct value
    each has in that order; values within 1e-9 of the one before are one value."""
    order = np.argsort(fitted, kind="stable")
    number = np.cumsum(np.diff(fitted[order], prepend=fitted[order][:1]) > SAME)
    return order, number


def hosmer_lemeshow(data: Patterns, fitted: FloatArray, groups: int = 10) -> HosmerLemeshow:
    """Tenths of the people by predicted probability, ties never split (Hosmer & Lemeshow 1980,
    Communications in Statistics A9:1043). df is the number of groups with people less 2."""
    order, number = values_of(fitted)
    p, y, m = fitted[order], data.events[order], data.trials[order]
    people = sums(number, m, 0)
    below = np.cumsum(people) - people
    n = float(people.sum())
    tenth = np.floor_divide(groups * (2 * below + people), 2 * n).astype(int)[number]

    def total(values: FloatArray) -> FloatArray:
        return sums(tenth, values, groups)

    size, observed, expected = total(m), total(y), total(m * p)
    filled = np.flatnonzero(size > 0)
    table = tuple(
        FitGroup(
            group=int(g) + 1,
            n=float(size[g]),
            lowest_fitted=float(p[tenth == g].min()),
            highest_fitted=float(p[tenth == g].max()),
            observed_events=float(observed[g]),
            expected_events=float(expected[g]),
            observed_non_events=float(size[g] - observed[g]),
            expected_non_events=float(size[g] - expected[g]),
        )
        for g in filled
    )
    o, e, m = observed[filled], expected[filled], size[filled]
    statistic = float(np.sum((o - e) ** 2 / (e * (1 - e / m))))
    df = len(filled) - 2
    found = chi_square_test(statistic, df).p if df > 0 else None
    return HosmerLemeshow(statistic, df, found, len(table), table)


def pearson_goodness_of_fit(
    data: Patterns, fitted: FloatArray, parameters: int
) -> ChiSquareTest | None:
    """sum (y - mp)^2 / (mp(1 - p)) over patterns, df J - k; None where no df is left."""
    expected = data.trials * fitted
    statistic = float(np.sum((data.events - expected) ** 2 / (expected * (1 - fitted))))
    return _tested(statistic, data, parameters)


def deviance_goodness_of_fit(
    data: Patterns, fitted: FloatArray, parameters: int
) -> ChiSquareTest | None:
    """2 sum y ln(y / mp) + (m - y) ln((m - y) / m(1 - p)) over patterns, df J - k."""
    others = data.trials - data.events
    statistic = 2 * float(
        np.sum(special.rel_entr(data.events, data.trials * fitted))
        + np.sum(special.rel_entr(others, data.trials * (1 - fitted)))
    )
    return _tested(statistic, data, parameters)


def _tested(statistic: float, data: Patterns, parameters: int) -> ChiSquareTest | None:
    df = len(data.trials) - parameters
    return chi_square_test(statistic, df) if df > 0 else None


def brier(data: Patterns, fitted: FloatArray) -> float:
    """Mean of (y - p)^2 over people (Brier 1950)."""
    others = data.trials - data.events
    total = data.events @ (1 - fitted) ** 2 + others @ fitted**2
    return float(total / data.trials.sum())
