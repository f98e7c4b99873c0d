"""An ordered outcome cut in two at every place: are the coefficients the same at each cut?"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import likelihood
from hobrix.core.logistic.answers import AnswerPatterns
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.logistic.separation import Separation, separation
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test


@dataclass(frozen=True)
class Cut:
    """A yes/no model of answering above one of the answers; ``fit`` is None where it is ``separated``."""

    data: Patterns
    fit: ml.Fit | None
    separated: Separation | None


@dataclass(frozen=True)
class Cuts:
    """Those between the answers, from low to high."""

    data: AnswerPatterns
    each: tuple[Cut, ...]

    @cached_property
    def covariance(self) -> FloatArray | None:
        """Of the slopes of all cuts, one after the other, under proportional odds (Brant 1990, Biometrics
        46:1171); shape ((K - 1)(k - 1),) twice, None where a cut is separated or there is one only."""
        fits = [cut.fit for cut in self.each if cut.fit is not None]
        if len(fits) < max(2, len(self.each)):
            return None
        x, n = self.data.design, self.data.counts.sum(axis=1)
        p = [likelihood.probabilities(x, fit.coefficients) for fit in fits]
        inverse = [_inverse((x * (n * each * (1 - each))[:, None]).T @ x) for each in p]
        wide = x.shape[1] - 1
        found = np.empty((len(fits), wide, len(fits), wide))
        for low in range(len(fits)):
            for high in range(low, len(fits)):
                weight = n * (p[high] - p[low] * p[high])
                both = inverse[low] @ ((x * weight[:, None]).T @ x) @ inverse[high]
                found[low, :, high] = both[1:, 1:]
                found[high, :, low] = both[1:, 1:].T
        return found.reshape(len(fits) * wide, len(fits) * wide)

    def same_at_each(self, columns: Sequence[int]) -> ChiSquareTest | None:
        """Brant's test that the coefficients of some columns of the design (not the first) are the same at
        every cut; None where it cannot be had."""
        if self.covariance is None:
            return None
        wide = self.data.design.shape[1] - 1
        at = np.array(columns) - 1
        fits = [cut.fit for cut in self.each if cut.fit is not None]
        slopes = np.concatenate([fit.coefficients[1:][at] for fit in fits])
        places = np.concatenate([i * wide + at for i in range(len(fits))])
        against = np.kron(
            np.column_stack([np.ones(len(fits) - 1), -np.eye(len(fits) - 1)]), np.eye(len(at))
        )
        apart = against @ slopes
        spread = against @ self.covariance[np.ix_(places, places)] @ against.T
        return chi_square_test(float(apart @ np.linalg.solve(spread, apart)), len(apart))


def cuts_of(data: AnswerPatterns) -> Cuts:
    """Every cut by itself; columns known not to be collinear."""
    found = []
    for above in range(1, data.counts.shape[1]):
        events = data.counts[:, above:].sum(axis=1)
        yes_no = Patterns(data.design, events, data.counts.sum(axis=1))
        found.append(_cut(yes_no))
    return Cuts(data, tuple(found))


def _cut(data: Patterns) -> Cut:
    try:
        fit = ml.fit(data)
    except ml.NotFinite:
        return Cut(data, None, separation(data))
    if fit.on_the_edge and (apart := separation(data)).kind != "none":
        return Cut(data, None, apart)
    return Cut(data, fit, None)


def _inverse(matrix: FloatArray) -> FloatArray:
    return np.asarray(np.linalg.inv(matrix), dtype=np.float64)
