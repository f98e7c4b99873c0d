"""Tests and intervals of what was fitted."""

import math
from collections.abc import Sequence

import numpy as np

from hobrix.core.logistic.fit import NEAR_IN_VALUE, Fit, centred, maximise, solve_positive
from hobrix.core.logistic.likelihood import log_likelihood
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile


def wald_test(found: Fit, columns: Sequence[int]) -> ChiSquareTest:
    """b_T' (V_TT)^-1 b_T, df: the number of columns (Wald 1943)."""
    at = list(columns)
    b = found.coefficients[at]
    inverse = solve_positive(found.covariance[np.ix_(at, at)], b)
    return chi_square_test(float(b @ inverse), len(at))


def likelihood_ratio_test(data: Patterns, found: Fit, columns: Sequence[int]) -> ChiSquareTest:
    """Twice what the columns gain over the model without them; raises as ``fit`` does."""
    rest = [i for i in range(data.design.shape[1]) if i not in set(columns)]
    without = (
        maximum_without(data, found, columns)
        if rest
        else log_likelihood(np.zeros(len(data.trials)), data)
    )
    return gain_test(found, without, columns)


def gain_test(found: Fit, without: float, columns: Sequence[int]) -> ChiSquareTest:
    """Twice what the columns gain over the greatest log-likelihood ``without`` them."""
    return chi_square_test(max(0.0, 2 * (found.log_likelihood - without)), len(columns))


def maximum_without(data: Patterns, found: Fit, columns: Sequence[int]) -> float:
    """The greatest log-likelihood with the coefficients of some columns at 0."""
    data, found, _ = centred(data, found, np.zeros(data.design.shape[1]))
    scale, b = data.scaling[1], np.zeros(data.design.shape[1])
    free = [i for i in range(len(b)) if i not in set(columns)]
    b[free] = start_without(found, free)
    return maximise(data, scale, b * scale, free=free, near=NEAR_IN_VALUE)[1].value


def start_without(found: Fit, free: Sequence[int]) -> FloatArray:
    """Where the quadratic about a maximum has its own with only the coefficients ``free`` not at 0,
    shape of ``free``."""
    kept, v, b = list(free), found.covariance, found.coefficients
    held = [i for i in range(len(b)) if i not in set(kept)]
    pull = solve_positive(v[held][:, held], b[held])
    start: FloatArray = b[kept] - v[kept][:, held] @ pull
    return start


def estimate_of(found: Fit, contrast: FloatArray) -> tuple[float, float]:
    """c'b and its standard error sqrt(c'Vc); ``contrast`` of shape (k,)."""
    return float(contrast @ found.coefficients), math.sqrt(
        float(contrast @ found.covariance @ contrast)
    )


def wald_intervals(found: Fit, confidence: float) -> list[Interval]:
    """b_j ± z se_j on the log scale."""
    z = normal_quantile(confidence)
    errors = np.sqrt(np.diag(found.covariance))
    return [
        Interval(float(b - z * se), float(b + z * se))
        for b, se in zip(found.coefficients, errors, strict=True)
    ]
