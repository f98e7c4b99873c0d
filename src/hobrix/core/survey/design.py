"""A sample with weights, strata and clusters, and the variance of what is estimated from it.

First-stage units (clusters) are taken as drawn with replacement, without a finite population
correction; later stages enter through their totals only (Hansen, Hurwitz & Madow 1953; Durbin
1953). Variances are linearised (Woodruff 1971; Binder 1983).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy import special

from hobrix.core.logistic.patterns import distinct_rows

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
    cluster: NDArray[np.signedinteger] | None
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
        first, place = distinct_rows([rows, clusters])
        return cls(weights, rows[first].astype(np.int64), place.astype(np.int32), single)

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

    @cached_property
    def df(self) -> int:
        """Design degrees of freedom: clusters less strata."""
        return self.clusters - self.strata

    @property
    def single_strata(self) -> IntArray:
        """Codes of strata with one cluster."""
        return np.flatnonzero(self.per_stratum == 1)

    def t_quantile(self, confidence: float) -> float:
        """Infinite where no degree of freedom is left."""
        return float(special.stdtrit(self.df, 0.5 + confidence / 2)) if self.df > 0 else np.inf

    def p_of(self, t: float) -> float:
        """Two-sided, on t of the design degrees of freedom; 1 where there are none."""
        return 2 * float(special.stdtr(self.df, -abs(t))) if self.df > 0 else 1.0

    @cached_property
    def population(self) -> float:
        """The sum of the weights."""
        return float(self.weights.sum())

    @cached_property
    def kish_effect(self) -> float:
        """What unequal weights alone cost: n sum w^2 / (sum w)^2 (Kish 1992)."""
        return len(self.weights) * float(self.weights @ self.weights) / self.population**2

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

    ``weighted`` are sums of w, ``n`` unweighted counts, shape (K,); ``by_cluster`` of shape
    (clusters, K), or by stratum where every row is its own cluster: then with sums of w^2 too.
    """

    design: SampleDesign
    weighted: FloatArray
    n: FloatArray
    by_cluster: FloatArray
    squared_by_stratum: FloatArray | None

    @classmethod
    def count(
        cls, design: SampleDesign, columns: Sequence[NDArray[Any]], sizes: Sequence[int]
    ) -> "CellTotals":
        """Rows by the combination of several codes, each of shape (n,) and from 0 to its size less
        one; -1 for rows outside, which stay in the design with score 0. Cells in row-major order.
        """
        # One more code each for those outside.
        many = int(np.prod([size + 1 for size in sizes]))
        inner = np.arange(many).reshape([size + 1 for size in sizes])
        inner = inner[tuple(slice(1, None) for _ in sizes)].ravel()
        units = design.stratum if design.cluster is None else design.cluster
        groups = len(design.per_stratum) if design.cluster is None else design.clusters
        narrow = np.int32 if groups * many < 2**31 else np.int64
        place: NDArray[Any] = columns[0].astype(narrow)
        lowest = 1
        for column, size in zip(columns[1:], sizes[1:], strict=True):
            place *= size + 1
            np.add(place, column, out=place, casting="unsafe")
            lowest = lowest * (size + 1) + 1
        place += lowest
        n = np.bincount(place, minlength=many).astype(np.float64)[inner]
        place += (units * many).astype(narrow, copy=False)

        def by_group(values: FloatArray) -> FloatArray:
            found = np.bincount(place, weights=values, minlength=groups * many)
            return found.reshape(groups, many)[:, inner].astype(np.float64)

        by = by_group(design.weights)
        squares = by_group(design.weights**2) if design.cluster is None else None
        return cls(design, by.sum(axis=0), n, by, squares)

    def keep(self, cells: IntArray) -> "CellTotals":
        """Some cells only; everybody else is outside."""
        squares = self.squared_by_stratum
        return CellTotals(
            self.design,
            self.weighted[cells],
            self.n[cells],
            self.by_cluster[:, cells],
            None if squares is None else squares[:, cells],
        )

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
