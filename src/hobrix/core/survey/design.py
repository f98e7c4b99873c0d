"""A sample with weights, strata and clusters, and the variance of what is estimated from it.

First-stage units (clusters) are taken as drawn with replacement, without a finite population
correction; later stages enter through their totals only (Hansen, Hurwitz & Madow 1953; Durbin
1953). Variances are linearised (Woodruff 1971; Binder 1983).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy import stats

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# What a stratum with one cluster adds: nothing, or its distance from the mean of all clusters.
Single = Literal["nothing", "grand_mean"]


@dataclass(frozen=True)
class SampleDesign:
    """All rows with a weight above 0, whatever is missing in other columns.

    ``weights`` of shape (n,); ``cluster`` of each row and ``stratum`` of each cluster as codes.
    ``cluster`` is None where every row is its own; then ``stratum`` is that of the rows.
    """

    weights: FloatArray
    stratum: IntArray
    cluster: IntArray | None
    single: Single = "nothing"

    @classmethod
    def of(
        cls,
        weights: FloatArray,
        strata: IntArray | None = None,
        clusters: IntArray | None = None,
        single: Single = "nothing",
    ) -> "SampleDesign":
        """From codes of shape (n,); clusters of the same name in two strata are two clusters."""
        rows = np.zeros(len(weights), dtype=np.int64) if strata is None else strata
        if clusters is None:
            return cls(weights, rows.astype(np.int64), None, single)
        pairs = rows.astype(np.int64) * (int(clusters.max()) + 1) + clusters
        names, place = np.unique(pairs, return_inverse=True)
        return cls(weights, names // (int(clusters.max()) + 1), place, single)

    @cached_property
    def clusters(self) -> int:
        return len(self.stratum)

    @cached_property
    def per_stratum(self) -> IntArray:
        """Clusters in every stratum, by code; 0 where a code is not used."""
        return np.bincount(self.stratum)

    @property
    def strata(self) -> int:
        return int(np.count_nonzero(self.per_stratum))

    @property
    def df(self) -> int:
        """Design degrees of freedom: clusters less strata."""
        return self.clusters - self.strata

    @property
    def single_strata(self) -> IntArray:
        """Codes of strata with one cluster."""
        return np.flatnonzero(self.per_stratum == 1)

    def t_quantile(self, confidence: float) -> float:
        """Infinite where no degree of freedom is left."""
        return float(stats.t.ppf(0.5 + confidence / 2, self.df)) if self.df > 0 else np.inf

    def cluster_totals(self, scores: FloatArray) -> FloatArray:
        """Scores of the rows, shape (n, m), added up by cluster, shape (clusters, m)."""
        if self.cluster is None:
            return scores
        columns = [
            np.bincount(self.cluster, weights=column, minlength=self.clusters)
            for column in scores.T
        ]
        return np.column_stack(columns)

    def covariance(self, totals: FloatArray) -> FloatArray:
        """Linearised covariance from scores added up by cluster: shape (m, m)."""
        size = self.per_stratum
        sums = np.stack(
            [np.bincount(self.stratum, weights=c, minlength=len(size)) for c in totals.T], axis=1
        )
        with np.errstate(divide="ignore", invalid="ignore"):
            mean = np.where(size[:, None] > 0, sums / size[:, None], 0.0)
            factor = np.where(size > 1, size / (size - 1.0), 0.0)
        left = (totals - mean[self.stratum]) * np.sqrt(factor[self.stratum])[:, None]
        found: FloatArray = left.T @ left
        if self.single == "grand_mean" and len(self.single_strata):
            alone = np.isin(self.stratum, self.single_strata)
            apart = totals[alone] - totals.mean(axis=0)
            found = found + apart.T @ apart
        return found


@dataclass(frozen=True)
class CellTotals:
    """Rows counted in cells: what is estimated from cells alone needs only their totals.

    ``weighted`` and ``squared`` (sums of w and w^2), ``n`` unweighted, shape (K,); ``by_cluster``
    of shape (clusters, K), or by stratum where every row is its own cluster.
    """

    design: SampleDesign
    weighted: FloatArray
    squared: FloatArray
    n: FloatArray
    by_cluster: FloatArray
    squared_by_stratum: FloatArray | None

    @classmethod
    def count(cls, design: SampleDesign, codes: IntArray, cells: int) -> "CellTotals":
        """``codes`` of shape (n,) name the cell of each row, -1 for rows outside."""
        w = design.weights
        # One more cell for those outside: they stay in the design with score 0.
        place = codes + 1

        def summed(groups: IntArray | None, many: int, values: FloatArray | None) -> FloatArray:
            at = place if groups is None else groups * (cells + 1) + place
            found = np.bincount(at, weights=values, minlength=many * (cells + 1))
            return found.reshape(many, -1)[:, 1:].astype(np.float64)

        units = design.stratum if design.cluster is None else design.cluster
        many = len(design.per_stratum) if design.cluster is None else design.clusters
        by = summed(units, many, w)
        squares = summed(design.stratum, many, w * w) if design.cluster is None else None
        squared = summed(None, 1, w * w)[0] if squares is None else squares.sum(axis=0)
        n = summed(None, 1, None)[0]
        return cls(design, by.sum(axis=0), squared, n, by, squares)

    def covariance(self, scores: FloatArray) -> FloatArray:
        """Of sums of w times a score that is the same for everybody in a cell: ``scores`` of shape
        (K, m); the result of shape (m, m)."""
        design = self.design
        if self.squared_by_stratum is None:
            return design.covariance(self.by_cluster @ scores)
        found = np.zeros((scores.shape[1], scores.shape[1]))
        for size, total, squares in zip(
            design.per_stratum, self.by_cluster, self.squared_by_stratum, strict=True
        ):
            if size > 1:
                middle = total @ scores
                spread = (scores * squares[:, None]).T @ scores - np.outer(middle, middle) / size
                found += size / (size - 1.0) * spread
        if design.single == "grand_mean" and len(design.single_strata):
            grand = self.weighted @ scores / design.clusters
            for stratum in design.single_strata:
                apart = self.by_cluster[stratum] @ scores - grand
                found += np.outer(apart, apart)
        return found


def kish_effect(weights: FloatArray) -> float:
    """What unequal weights alone cost: n sum w^2 / (sum w)^2 (Kish 1992)."""
    return float(len(weights) * np.sum(weights**2) / np.sum(weights) ** 2)


def stacked(columns: Sequence[IntArray], sizes: Sequence[int]) -> IntArray:
    """One code for the combination of several; -1 where any is missing."""
    codes = np.zeros(len(columns[0]), dtype=np.int64)
    missing = np.zeros(len(columns[0]), dtype=bool)
    for column, size in zip(columns, sizes, strict=True):
        codes = codes * size + column
        missing |= column < 0
    codes[missing] = -1
    return codes
