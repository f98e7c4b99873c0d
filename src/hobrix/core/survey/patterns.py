"""Rows of a sample by cluster and pattern: what weighted models are fitted to."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

from hobrix.core.logistic.patterns import Patterns, sums
from hobrix.core.survey.design import FloatArray, IntArray, SampleDesign

# Tables of clusters by patterns up to this size are kept whole.
_WHOLE = 4_000_000


@dataclass(frozen=True)
class PatternTotals:
    """Weights, and weights of those with the event, by cluster and pattern: shape (clusters, J),
    sparse where that is large. ``columns`` of shape (J, k) are the patterns."""

    design: SampleDesign
    columns: FloatArray
    weights: Any
    events: Any

    @classmethod
    def count(
        cls,
        design: SampleDesign,
        columns: FloatArray,
        pattern: NDArray[np.signedinteger],
        outcome: FloatArray,
    ) -> "PatternTotals":
        """``pattern`` of shape (n,) names that of every row of the design, -1 for rows outside the
        analysis; ``outcome`` of shape (n,) is 0 or 1."""
        at, w, y = pattern, design.weights, outcome
        units = np.arange(len(pattern)) if design.cluster is None else design.cluster
        inside = pattern >= 0
        if not inside.all():
            at, w, y, units = at[inside], w[inside], y[inside], units[inside]
        shape = (len(design.stratum), len(columns))
        if shape[0] * shape[1] > _WHOLE:
            weights, events = (
                sparse.csr_array((values, (units, at)), shape=shape) for values in (w, w * y)
            )
            return cls(design, columns, weights, events)
        place = units.astype(np.int64) * shape[1] + at

        def by_place(values: FloatArray) -> FloatArray:
            return sums(place, values, shape[0] * shape[1]).reshape(shape)

        return cls(design, columns, by_place(w), by_place(w * y))

    def keep(self, columns: Sequence[int]) -> "PatternTotals":
        """The same rows with fewer columns of the patterns."""
        return replace(self, columns=self.columns[:, list(columns)])

    @cached_property
    def patterns(self) -> Patterns:
        """All clusters together."""
        return Patterns(self.columns, _over_clusters(self.events), _over_clusters(self.weights))

    def missed(self, probabilities: FloatArray) -> Any:
        """Events less what is predicted, weighted, by cluster and pattern."""
        if isinstance(self.weights, np.ndarray):
            return self.events - self.weights * probabilities
        return self.events - self.weights.multiply(probabilities[None, :])

    def replicated(self, factors: FloatArray) -> Patterns:
        """The patterns of one replicate: ``factors`` of shape (clusters,)."""
        trials, events = factors @ self.weights, factors @ self.events
        present = trials > 0
        return Patterns(self.columns[present], events[present], trials[present])


def _over_clusters(table: Any) -> FloatArray:
    return np.asarray(table.sum(axis=0), dtype=np.float64).ravel()


def grouped(values: FloatArray, weights: FloatArray, most: int) -> IntArray:
    """Groups of about equal weight along ``values``, shape (J,), equal values together; numbered
    from 0, at most ``most``."""
    distinct, place = np.unique(values, return_inverse=True)
    weight = np.bincount(place, weights=weights, minlength=len(distinct))
    middle = (np.cumsum(weight) - weight / 2) / weight.sum()
    group = np.minimum(most - 1, (middle * most).astype(np.int64))
    _, renumbered = np.unique(group, return_inverse=True)
    return np.asarray(renumbered[place], dtype=np.int64)
