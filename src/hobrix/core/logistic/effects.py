"""Predicted probabilities and average differences in probability.

Standard errors by the delta method with the model's covariance (Oehlert 1992), the people as they
are (Chamberlain 1984).
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.logistic.fit import Fit, probabilities
from hobrix.core.logistic.patterns import FloatArray, Patterns
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
    at = list(columns)
    b = found.coefficients
    n = float(data.trials.sum())
    rest = data.design @ b - data.design[:, at] @ b[at]
    means = []
    for column in (None, *at):
        p = special.expit(rest if column is None else rest + b[column])
        weight = data.trials * p * (1 - p)
        slope = weight @ data.design
        slope[at] = 0.0
        if column is not None:
            slope[column] = float(weight.sum())
        means.append(MeanProbability(float(data.trials @ p) / n, slope / n))
    return means


def average_difference(there: MeanProbability, here: MeanProbability, found: Fit) -> AverageEffect:
    """Mean p with everybody set to a category less mean p with everybody set to the reference."""
    return _effect(there.value - here.value, there.slope - here.slope, found)


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
