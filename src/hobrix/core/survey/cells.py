"""Rows counted in cells: what is estimated from cells alone needs only their totals."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from math import prod
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

from hobrix.core.survey.design import FloatArray, IntArray, SampleDesign
from hobrix.core.tables.counts import combination_of

# Of cell totals, shape (..., K), to estimates, shape (..., m).
Statistic = Callable[[FloatArray], FloatArray]

# The halves of more rows than this are added up side by side.
_SIDE_BY_SIDE = 200_000
# Up to so many cells have their covariance worked out once.
_FEW = 64
# What is left of a variance of 0 when sums are rounded, for the size of what is summed.
_NOTHING = 1e-12


@dataclass(frozen=True)
class CellTotals:
    """``weighted`` are sums of w, ``n`` unweighted counts, shape (K,); ``by_cluster`` of shape
    (clusters, K), or by stratum where every row is its own cluster: then with sums of w^2 too.
    """

    design: SampleDesign
    weighted: FloatArray
    n: FloatArray
    by_cluster: FloatArray
    squared_by_stratum: FloatArray | None

    @classmethod
    def count(
        cls,
        design: SampleDesign,
        columns: Sequence[NDArray[Any]],
        sizes: Sequence[int],
        inside: NDArray[np.bool_] | None = None,
    ) -> "CellTotals":
        """Of the rows that have every one of several codes; see ``count_with_missing``."""
        return count_with_missing(design, columns, sizes, inside)[1]

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

    def merged(self, onto: FloatArray) -> "CellTotals":
        """Cells put together: ``onto`` of shape (K, M) is 1 where a cell goes."""
        squares = self.squared_by_stratum
        return CellTotals(
            self.design,
            self.weighted @ onto,
            self.n @ onto,
            self.by_cluster @ onto,
            None if squares is None else squares @ onto,
        )

    def summed_over_first(self, size: int) -> "CellTotals":
        """Cells of several codes without the first of them, which has so many values."""

        def summed(values: FloatArray) -> FloatArray:
            return np.asarray(values.reshape(*values.shape[:-1], size, -1).sum(axis=-2))

        squares = self.squared_by_stratum
        return CellTotals(
            self.design,
            summed(self.weighted),
            summed(self.n),
            summed(self.by_cluster),
            None if squares is None else summed(squares),
        )

    def without_empty(
        self, sizes: tuple[int, int]
    ) -> "tuple[CellTotals, NDArray[np.intp], NDArray[np.intp]]":
        """A table of R x C cells in row-major order without its empty rows and columns, and which
        rows and columns are left."""
        n = self.n.reshape(sizes)
        rows, columns = (np.flatnonzero(n.sum(axis=axis)) for axis in (1, 0))
        cells = np.arange(n.size).reshape(sizes)[np.ix_(rows, columns)].ravel()
        return self.keep(cells), rows, columns

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

    @cached_property
    def _of_shares(self) -> FloatArray:
        """Linearised covariance of the shares of all cells, which everything else rests on."""
        total = float(self.weighted.sum())
        return self.covariance((np.eye(len(self.n)) - self.weighted / total) / total)

    @cached_property
    def replicated(self) -> FloatArray | None:
        """Weighted totals in every replicate, shape (R, K); None where errors are linearised."""
        replicates = self.design.replicates
        return None if replicates is None else replicates.factors @ self.by_cluster

    def covariance_of(self, statistic: Statistic, scores: FloatArray) -> FloatArray:
        """Of estimates that do not change with the scale of the weights, shape (m, m): by
        replication where the design says so, otherwise linearised from ``scores``, their
        derivatives by the cell totals, shape (K, m)."""
        if self.replicated is None or self.design.replicates is None:
            if len(self.n) > _FEW:
                found = self.covariance(scores)
                size = np.zeros(len(found))
            else:
                on_shares = scores * self.weighted.sum()
                found = on_shares.T @ self._of_shares @ on_shares
                size = np.diag(np.abs(on_shares).T @ np.abs(self._of_shares) @ np.abs(on_shares))
            # A variance of 0, as within a single cluster, may come out a little beside it: of what is added up
            # and taken off hardly anything is left.
            nothing = np.diag(found) <= _NOTHING * size
            found[nothing] = found[:, nothing] = 0.0
            return found
        with np.errstate(all="ignore"):
            again = statistic(self.replicated)
        return self.design.replicates.covariance(again, statistic(self.weighted))


def count_with_missing(
    design: SampleDesign,
    columns: Sequence[NDArray[Any]],
    sizes: Sequence[int],
    inside: NDArray[np.bool_] | None = None,
) -> tuple[FloatArray, CellTotals]:
    """Rows by the combination of several codes, each of shape (n,) and from 0 to its size less one, or -1 where
    it is missing. ``inside`` are the rows asked about, shape (n,); all others stay in the design with score 0.

    Returns:
        The rows of each combination, missing ones first on every axis as in ``count_table``, of shape
        (sizes[0] + 1, ...), and the totals of those without, cells in row-major order.
    """
    shape = tuple(size + 1 for size in sizes)
    many = prod(shape)
    rows = None if inside is None else np.flatnonzero(inside)
    n = len(design.weights) if rows is None else len(rows)

    def added_up(values: NDArray[Any], part: slice = slice(0, n)) -> NDArray[Any]:
        """By unit and combination, shape (units, many)."""
        at = part if rows is None else rows[part]
        # Elements of a sparse matrix that name the same place are added up.
        found = sparse.coo_array((design.units, many))
        place = combination_of([column[at] for column in columns], shape)
        found.data, found.coords = values[at], (design.unit[at], place.astype(design.unit.dtype))
        sums: NDArray[Any] = found.toarray()
        return sums

    if n > max(_SIDE_BY_SIDE, design.units * many):
        with ThreadPoolExecutor(1) as pool:
            other = pool.submit(added_up, design.weights_and_rows, slice(n // 2, n))
            both = added_up(design.weights_and_rows, slice(0, n // 2)) + other.result()
    else:
        both = added_up(design.weights_and_rows)

    # Combinations that have nothing missing.
    complete = np.arange(many).reshape(shape)[(slice(1, None),) * len(sizes)].ravel()
    of_each = both.sum(axis=0)
    counts: FloatArray = of_each.imag
    weighted: FloatArray = of_each.real[complete]
    squares = None if design.cluster is not None else added_up(design.squares)[:, complete]
    totals = CellTotals(design, weighted, counts[complete], both.real[:, complete], squares)
    return counts.reshape(shape), totals
