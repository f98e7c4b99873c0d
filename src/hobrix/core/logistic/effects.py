"""Predicted probabilities and average differences in probability.

Standard errors by the delta method with the model's covariance (Oehlert 1992), the people as they
are (Chamberlain 1984).
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.logistic.fit import Fit
from hobrix.core.logistic.likelihood import logistic, probabilities
from hobrix.core.logistic.patterns import FloatArray, Patterns, blocks, in_stretches
from hobrix.core.tables.interval import Interval


@dataclass(frozen=True)
class Prediction:
    log_odds: float
    se_log_odds: float
    probability: float
    ci: Interval


@dataclass(frozen=True)
class AverageEffect:
    """An average difference in probability, from -1 to 1."""

    estimate: float
    se: float


def predictions(design: FloatArray, found: Fit, quantile: float) -> list[Prediction]:
    """Of rows of a design, shape (m, k); limits at ``quantile`` standard errors of the log odds, 0
    and 1 where that is infinite."""
    middle = design @ found.coefficients
    errors = np.sqrt(np.einsum("ij,jk,ik->i", design, found.covariance, design))
    reach = quantile * errors if math.isfinite(quantile) else np.full(len(errors), np.inf)
    return [
        Prediction(
            log_odds=float(eta),
            se_log_odds=float(se),
            probability=float(special.expit(eta)),
            ci=Interval(float(special.expit(eta - far)), float(special.expit(eta + far))),
        )
        for eta, se, far in zip(middle, errors, reach, strict=True)
    ]


@dataclass(frozen=True)
class MeanProbability:
    """The mean p over people and its derivatives in the coefficients, shape (k,)."""

    value: float
    slope: FloatArray


def mean_probability(parts: Iterable[tuple[FloatArray, FloatArray]], found: Fit) -> MeanProbability:
    """``parts`` are stretches of people: their design, shape (m, k), and how many each row stands
    for."""
    total, slope, people = 0.0, np.zeros(len(found.coefficients)), 0.0
    for design, counts in parts:
        p = probabilities(design, found.coefficients)
        total += float(counts @ p)
        slope += (counts * p * (1 - p)) @ design
        people += float(counts.sum())
    return MeanProbability(total / people, slope / people)


def mean_probabilities_of_categories(
    data: Patterns, found: Fit, columns: Sequence[int]
) -> list[MeanProbability]:
    """With everybody at the reference of one categorical term, then in each of its categories;
    ``columns`` are those of the term, which stand in no other."""
    at, b = list(columns), found.coefficients
    n = float(data.trials.sum())

    k, settings = len(b), (None, *at)

    def of(rows: slice) -> tuple[FloatArray, FloatArray]:
        totals, slopes = np.zeros(len(settings)), np.zeros((len(settings), k))
        for part in blocks(rows):
            design, trials = data.design[part], data.trials[part]
            rest = design @ b - design[:, at] @ b[at]
            p = logistic(rest + np.array([0.0, *b[at]])[:, None])
            totals += p @ trials
            slopes += (trials * p * (1 - p)) @ design
        return totals, slopes

    parts = in_stretches(of, len(data.trials))
    totals = np.sum([total for total, _ in parts], axis=0) / n
    slopes = np.sum([slope for _, slope in parts], axis=0) / n
    # Everybody is in one category: its column is 1 for all, as the intercept's is.
    whole = slopes[:, 0].copy()
    slopes[:, at] = 0.0
    for i, column in enumerate(at, 1):
        slopes[i, column] = whole[i]
    return [MeanProbability(float(t), s) for t, s in zip(totals, slopes, strict=True)]


def average_difference(there: MeanProbability, here: MeanProbability, found: Fit) -> AverageEffect:
    """Mean p with everybody set to a category less mean p with everybody set to the reference."""
    return _effect(there.value - here.value, there.slope - here.slope, found)


def share(mean: MeanProbability, found: Fit) -> AverageEffect:
    """A mean p with its standard error."""
    return _effect(mean.value, mean.slope, found)


def log_ratio(there: MeanProbability, here: MeanProbability, found: Fit) -> AverageEffect:
    """ln of the ratio of two mean probabilities (standardisation: Lane & Nelder 1982, Biometrics 38:613), by the delta
    method."""
    slope = there.slope / there.value - here.slope / here.value
    return _effect(math.log(there.value / here.value), slope, found)


def mean_steepness(data: Patterns, found: Fit) -> MeanProbability:
    """Mean of p (1 - p) over people, with its derivatives by the coefficients."""
    n = float(data.trials.sum())

    def of(rows: slice) -> tuple[float, FloatArray]:
        design = data.design[rows]
        p = probabilities(design, found.coefficients)
        w = data.trials[rows] * p * (1 - p)
        return float(w.sum()), (w * (1 - 2 * p)) @ design

    parts = in_stretches(of, len(data.trials))
    total = sum(value for value, _ in parts)
    return MeanProbability(total / n, np.sum([slope for _, slope in parts], axis=0) / n)


def average_slope_of_column(steepness: MeanProbability, found: Fit, column: int) -> AverageEffect:
    """Mean of dp/dx over people for a number that stands straight in one column by itself, per step
    of the column: p (1 - p) b."""
    b = float(found.coefficients[column])
    slope = b * steepness.slope
    slope[column] += steepness.value
    return _effect(b * steepness.value, slope, found)


def average_slope(
    parts: Iterable[tuple[FloatArray, FloatArray, FloatArray]], found: Fit
) -> AverageEffect:
    """Mean of dp/dx over people. ``parts`` are stretches of people: their design and its
    derivative, shape (m, k), and how many each row stands for."""
    total, slope, people = 0.0, np.zeros(len(found.coefficients)), 0.0
    for design, derivative, counts in parts:
        p = probabilities(design, found.coefficients)
        w = p * (1 - p)
        along = derivative @ found.coefficients
        total += float(counts @ (w * along))
        slope += (counts * w) @ derivative + (counts * w * (1 - 2 * p) * along) @ design
        people += float(counts.sum())
    return _effect(total / people, slope / people, found)


def _effect(estimate: float, slope: FloatArray, found: Fit) -> AverageEffect:
    return AverageEffect(estimate, math.sqrt(max(0.0, float(slope @ found.covariance @ slope))))
