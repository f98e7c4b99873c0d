"""A sample with weights, strata and clusters, and the variance of what is estimated from it.

First-stage units (clusters) are taken as drawn with replacement, without a finite population
correction; later stages enter through their totals only (Hansen, Hurwitz & Madow 1953; Durbin
1953). Variances are linearised (Woodruff 1971; Binder 1983).
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy import sparse, special

from hobrix.core.logistic.patterns import distinct_rows
from hobrix.core.survey.replicates import Replicates, Replication, drawn_again, left_out
from hobrix.core.tables.one_proportion import ShareTest

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# What a stratum with one cluster adds: nothing, or its distance from the mean of all clusters.
Single = Literal["nothing", "grand_mean"]


def t_tails(t: float, df: int) -> ShareTest:
    """p for each alternative of a t on so many degrees of freedom, at least one."""
    below = float(special.stdtr(df, t))
    return ShareTest(2 * float(special.stdtr(df, -abs(t))), below, 1 - below, t)


@dataclass(frozen=True)
class SampleDesign:
    """All rows with a weight above 0, whatever is missing in other columns.

    ``weights`` of shape (n,); ``cluster`` of each row and ``stratum`` of each cluster as codes.
    ``cluster`` is None where every row is its own; then ``stratum`` is that of the rows. Where equal rows
    were counted together, ``counts`` says how many stand in each, and ``weights`` are those of all of them;
    ``squared`` are their squared weights added up, where those in a row have different ones.
    """

    weights: FloatArray
    stratum: IntArray
    cluster: NDArray[np.signedinteger] | None
    single: Single = "nothing"
    # How errors are found: linearised where None.
    replication: Replication | None = None
    counts: FloatArray | None = None
    squared: FloatArray | None = None

    @classmethod
    def of(
        cls,
        weights: FloatArray,
        strata: IntArray | None = None,
        clusters: IntArray | None = None,
        single: Single = "nothing",
        replication: Replication | None = None,
        counts: FloatArray | None = None,
        squared: FloatArray | None = None,
    ) -> "SampleDesign":
        """From codes of shape (n,); clusters of the same name in two strata are two clusters."""
        rows = np.zeros(len(weights), dtype=np.int64) if strata is None else strata
        if clusters is None and replication is not None:
            clusters = np.arange(len(weights))
        if clusters is None:
            return cls(weights, rows.astype(np.int64), None, single, counts=counts, squared=squared)
        first, place = distinct_rows([rows, clusters])
        stratum = rows[first].astype(np.int64)
        return cls(weights, stratum, place.astype(np.int32), single, replication, counts, squared)

    @cached_property
    def replicates(self) -> Replicates | None:
        """The weights of clusters in every replicate; None where errors are linearised.

        Raises:
            TooManyReplicates: they would not fit into memory.
        """
        if self.replication is None:
            return None
        if self.replication.method == "jackknife":
            return left_out(self.stratum)
        return drawn_again(self.stratum, self.replication.draws, self.replication.seed)

    @property
    def units(self) -> int:
        """What rows are added up by: clusters or, where every row is its own, codes of strata."""
        return self.clusters if self.cluster is not None else len(self.per_stratum)

    @cached_property
    def unit(self) -> NDArray[np.signedinteger]:
        """The unit of each row, shape (n,)."""
        return self.stratum.astype(np.int32) if self.cluster is None else self.cluster

    @cached_property
    def weights_and_rows(self) -> NDArray[np.complex128]:
        """Weights as real parts, rows of the data as imaginary ones: both are added up in one pass, shape (n,)."""
        found: NDArray[np.complex128] = np.empty(len(self.weights), dtype=np.complex128)
        found.real, found.imag = self.weights, 1.0 if self.counts is None else self.counts
        return found

    @cached_property
    def rows(self) -> int:
        return len(self.weights) if self.counts is None else round(float(self.counts.sum()))

    def rows_in(self, where: NDArray[np.bool_]) -> int:
        """Rows of the data among those in a mask of shape (n,)."""
        if self.counts is None:
            return int(np.count_nonzero(where))
        return round(float(self.counts[where].sum()))

    @cached_property
    def clusters(self) -> int:
        return len(self.stratum) if self.cluster is not None else self.rows

    @cached_property
    def per_stratum(self) -> IntArray:
        """Clusters in every stratum, by code; 0 where a code is not used."""
        if self.cluster is not None or self.counts is None:
            return np.bincount(self.stratum)
        return np.rint(np.bincount(self.stratum, weights=self.counts)).astype(np.int64)

    @cached_property
    def squares(self) -> FloatArray:
        """The sum of squared weights of those in each row, shape (n,)."""
        if self.squared is not None:
            return self.squared
        found: FloatArray = self.weights * self.weights
        return found if self.counts is None else found / self.counts

    @cached_property
    def _in_strata(self) -> sparse.csr_array:
        """What adds up clusters by stratum, shape (codes of strata, clusters)."""
        many = len(self.stratum)
        places = (self.stratum, np.arange(many))
        return sparse.csr_array((np.ones(many), places), shape=(len(self.per_stratum), many))

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

    def p_of(self, t: float) -> float | None:
        """Two-sided, on t of the design degrees of freedom; None where there are none."""
        return 2 * float(special.stdtr(self.df, -abs(t))) if self.df > 0 else None

    def p_of_each(self, t: NDArray[np.float64] | np.float64) -> FloatArray:
        """Of an array, of its shape; 1 where there are no degrees of freedom, so that nothing stands
        out."""
        if self.df < 1:
            return np.ones(np.shape(t))
        return np.asarray(2 * special.stdtr(self.df, -np.abs(t)))

    @cached_property
    def population(self) -> float:
        """The sum of the weights."""
        return float(self.weights.sum())

    @cached_property
    def kish_effect(self) -> float:
        """What unequal weights alone cost: n sum w^2 / (sum w)^2 (Kish 1992)."""
        return self.rows * float(self.squares.sum()) / self.population**2

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
        sums = self._in_strata @ totals
        with np.errstate(divide="ignore", invalid="ignore"):
            mean = np.where(size[:, None] > 0, sums / size[:, None], 0.0)
            factor = np.where(size > 1, size / (size - 1.0), 0.0)
        grand = totals.sum(axis=0) / self.clusters
        if self.cluster is None and self.counts is not None:
            found = self._among_rows(totals, sums, factor)
        else:
            left = (totals - mean[self.stratum]) * np.sqrt(factor[self.stratum])[:, None]
            found = left.T @ left
        if self.single == "grand_mean" and len(self.single_strata):
            alone = np.isin(self.stratum, self.single_strata)
            apart = totals[alone] - grand
            found = found + apart.T @ apart
        return found

    def _among_rows(
        self, totals: FloatArray, sums: NDArray[Any], factor: NDArray[Any]
    ) -> FloatArray:
        """Every row of the data is a unit, and those that stand in one here say the same: the sum of w^2 z z'
        less that of the mean, in every stratum."""
        share = self.squares / self.weights**2
        within = (totals * (factor[self.stratum] * share)[:, None]).T @ totals
        size = np.maximum(self.per_stratum, 1)
        found: FloatArray = within - (sums * (factor / size)[:, None]).T @ sums
        return found
