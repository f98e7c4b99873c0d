"""Terms that say nearly the same: generalised variance inflation (Fox & Monette 1992, Journal of
the American Statistical Association 87:178)."""

from collections.abc import Sequence

import numpy as np

from hobrix.core.logistic.fit import Fit
from hobrix.core.logistic.patterns import FloatArray, Patterns


def inflation_of_estimates(found: Fit, places: Sequence[Sequence[int]]) -> list[float]:
    """gvif of each term from the correlation of the coefficients, the intercept left out.

    ``places`` are the columns of each term, from 1 on.
    """
    return _inflation(_correlation(found.covariance[1:, 1:]), places)


def inflation_of_columns(data: Patterns, places: Sequence[Sequence[int]]) -> list[float]:
    """The same from the Pearson correlation of the columns over people."""
    x, m = data.design[:, 1:], data.trials
    centred = x - (m @ x) / m.sum()
    return _inflation(_correlation(centred.T @ (centred * m[:, None])), places)


def _correlation(covariance: FloatArray) -> FloatArray:
    size = np.sqrt(np.diag(covariance))
    correlation: FloatArray = covariance / np.outer(size, size)
    return correlation


def _inflation(correlation: FloatArray, places: Sequence[Sequence[int]]) -> list[float]:
    """det(C_TT) det(C_rest) / det(C)."""
    found = []
    every = np.linalg.slogdet(correlation)[1]
    for columns in places:
        at = [i - 1 for i in columns]
        rest = [i for i in range(len(correlation)) if i not in at]
        own = np.linalg.slogdet(correlation[np.ix_(at, at)])[1]
        others = np.linalg.slogdet(correlation[np.ix_(rest, rest)])[1] if rest else 0.0
        found.append(float(np.exp(own + others - every)) if rest else 1.0)
    return found
