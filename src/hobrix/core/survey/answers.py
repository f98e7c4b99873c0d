"""Models of several answers from weighted samples: pseudo-maximum likelihood (Binder 1983)."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.logistic.answers import AnswerPatterns, Family, Separated, scores_of_cells
from hobrix.core.logistic.answers import fit as maximum
from hobrix.core.logistic.fit import Collinear, NotFinite
from hobrix.core.progress import Tell, quietly
from hobrix.core.survey.design import FloatArray, SampleDesign
from hobrix.core.survey.logistic import WeightedFit, covariance_of
from hobrix.core.survey.patterns import PatternTotals


@dataclass(frozen=True)
class AnswerTotals:
    """Weights by cluster and by pattern and answer: ``totals`` of J * K columns, the answers of a pattern side
    by side. ``design_matrix`` of shape (J, k) are the patterns."""

    totals: PatternTotals
    design_matrix: FloatArray
    answers: int

    @classmethod
    def count(
        cls,
        design: SampleDesign,
        design_matrix: FloatArray,
        answers: int,
        pattern: NDArray[np.signedinteger],
        answer: NDArray[np.signedinteger],
    ) -> "AnswerTotals":
        """``pattern`` and ``answer`` of shape (n,) are those of every row of the design, -1 for rows outside the
        analysis."""
        inside = (pattern >= 0) & (answer >= 0)
        cell = np.where(inside, pattern.astype(np.int64) * answers + answer, -1)
        cells = np.empty((len(design_matrix) * answers, 0))
        totals = PatternTotals.count(design, cells, cell, np.ones(len(pattern)))
        return cls(totals, design_matrix, answers)

    @property
    def design(self) -> SampleDesign:
        return self.totals.design

    @cached_property
    def data(self) -> AnswerPatterns:
        """All clusters together."""
        return self._patterns(np.asarray(self.totals.weights.sum(axis=0)))

    def replicated(self, factors: FloatArray) -> AnswerPatterns | None:
        """The patterns of one replicate; None where it leaves out all who gave an answer."""
        data = self._patterns(np.asarray(factors @ self.totals.weights))
        return data if np.all(data.counts.sum(axis=0) > 0) else None

    def _patterns(self, weights: FloatArray) -> AnswerPatterns:
        counts = np.asarray(weights, dtype=np.float64).reshape(-1, self.answers)
        present = counts.sum(axis=1) > 0
        return AnswerPatterns(self.design_matrix[present], counts[present])

    def scores(self, family: Family, b: FloatArray) -> FloatArray:
        """What each cluster adds to the derivatives of the likelihood, shape (clusters, p)."""
        weights: Any = self.totals.weights
        if not isinstance(weights, np.ndarray):
            weights = weights.tocsc()
        found = np.zeros((weights.shape[0], len(b)))
        for at, cells in scores_of_cells(family, self.design_matrix, b):
            found += weights[:, at.start * self.answers : at.stop * self.answers] @ cells
        return found


def fit(family: Family, totals: AnswerTotals, tell: Tell = quietly) -> WeightedFit:
    """Coefficients that maximise the weighted likelihood, with the covariance of the design.

    Raises:
        Collinear, Separated, NotFinite: as maximum likelihood does.
    """
    found = maximum(family, totals.data)
    design = totals.design
    if design.replicates is None:
        spread = totals.scores(family, found.coefficients) @ found.covariance
        return WeightedFit(replace(found, covariance=covariance_of(design, spread)), spread)
    spread = np.full((len(design.replicates.factors), len(found.coefficients)), np.nan)
    for i, factors in enumerate(design.replicates.factors):
        tell(i / len(spread))
        data = totals.replicated(factors)
        if data is None:
            continue
        try:
            again = maximum(family, data, found.coefficients)
        except (NotFinite, Collinear, Separated):
            continue
        spread[i] = again.coefficients - found.coefficients
    return WeightedFit(replace(found, covariance=covariance_of(design, spread)), spread)
