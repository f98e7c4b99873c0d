"""Is there an association at all? Expected counts, tests of independence and residuals.

Every function takes a table of counts without empty rows or columns; ``drop_empty`` makes one.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.multiple import holm


@dataclass(frozen=True)
class ChiSquareTest:
    """A statistic with its degrees of freedom and upper tail probability."""

    statistic: float
    df: int
    p: float


@dataclass(frozen=True)
class Reduced:
    """A table without its empty rows and columns, and where the others stood (0-based)."""

    counts: FloatArray
    kept_rows: tuple[int, ...]
    kept_columns: tuple[int, ...]


def drop_empty(counts: FloatArray) -> Reduced:
    """Leave out rows and columns that nobody is in; they carry no degrees of freedom."""
    rows, columns = np.asarray(counts.any(axis=1)), np.asarray(counts.any(axis=0))
    if rows.all() and columns.all():
        return Reduced(counts, tuple(range(len(rows))), tuple(range(len(columns))))
    return Reduced(
        counts=counts[rows][:, columns],
        kept_rows=tuple(np.flatnonzero(rows).tolist()),
        kept_columns=tuple(np.flatnonzero(columns).tolist()),
    )


def expected_counts(counts: FloatArray) -> FloatArray:
    """Counts expected if rows and columns were unrelated, shape (R, C) (Pearson 1900)."""
    totals = counts.sum(axis=1, keepdims=True), counts.sum(axis=0, keepdims=True)
    expected: FloatArray = totals[0] * totals[1] / counts.sum()
    return expected


def chi_square_test(statistic: float, df: int) -> ChiSquareTest:
    """The upper tail of chi-square, computed as an upper tail."""
    return ChiSquareTest(statistic=statistic, df=df, p=float(special.chdtrc(df, statistic)))


def _degrees_of_freedom(counts: FloatArray) -> int:
    rows, columns = counts.shape
    return int((rows - 1) * (columns - 1))


def pearson_test(counts: FloatArray, expected: FloatArray | None = None) -> ChiSquareTest:
    """Sum of (O - E)^2 / E (Pearson 1900; degrees of freedom Fisher 1922); ``expected`` where it is
    known already."""
    if expected is None:
        expected = expected_counts(counts)
    gaps = counts - expected
    statistic = float((gaps * gaps / expected).sum())
    return chi_square_test(statistic, _degrees_of_freedom(counts))


def likelihood_ratio_test(counts: FloatArray) -> ChiSquareTest:
    """2 sum O ln(O / E), 0 ln 0 = 0 (Wilks 1935)."""
    statistic = likelihood_ratio(counts, expected_counts(counts))
    return chi_square_test(statistic, _degrees_of_freedom(counts))


def likelihood_ratio(counts: FloatArray, expected: FloatArray) -> float:
    """2 sum O ln(O / E) for counts and expected counts of any one shape and the same sum.

    Written as O d(x) with d = x ln x - x + 1 at x = O / E, whose terms are all positive, so
    that nothing cancels when n is large and the association weak.
    """
    excess = (counts - expected) / expected
    ratio = counts / expected
    # x ln x - (x - 1) = (1 + e) log1p(e) - e
    terms = expected * (special.xlogy(ratio, ratio) - excess)
    small = np.abs(excess) < 1e-3
    terms = np.where(small, expected * _small_deviance(excess), terms)
    return 2 * float(np.sum(terms))


def _small_deviance(e: FloatArray) -> FloatArray:
    """(1 + e) log(1 + e) - e as its series e^2/2 - e^3/6 + e^4/12 - ..., for small e."""
    return e**2 * (1 / 2 - e * (1 / 6 - e * (1 / 12 - e * (1 / 20 - e * (1 / 30 - e / 42)))))


def continuity_corrected_test(counts: FloatArray) -> ChiSquareTest:
    """Sum of max(0, |O - E| - 1/2)^2 / E for a 2x2 table (Yates 1934)."""
    expected = expected_counts(counts)
    distance = np.maximum(0.0, np.abs(counts - expected) - 0.5)
    return chi_square_test(float(np.sum(distance**2 / expected)), 1)


def score_correlation(counts: FloatArray, rows: FloatArray, columns: FloatArray) -> float:
    """Pearson correlation of scores: rows shape (R,), columns shape (C,)."""
    n = counts.sum()
    row_totals, column_totals = counts.sum(axis=1), counts.sum(axis=0)
    x = rows - row_totals @ rows / n
    y = columns - column_totals @ columns / n
    return float(x @ counts @ y / np.sqrt((row_totals @ x**2) * (column_totals @ y**2)))


def linear_by_linear_test(
    counts: FloatArray, rows: FloatArray, columns: FloatArray
) -> ChiSquareTest:
    """(n - 1) r^2 for scores in order, df 1 (Mantel 1963)."""
    r = score_correlation(counts, rows, columns)
    return chi_square_test(float(counts.sum() - 1) * r**2, 1)


@dataclass(frozen=True)
class Residuals:
    """Each of shape (R, C). ``p`` is two-sided normal, ``p_adjusted`` allows for all cells at once."""

    raw: FloatArray
    pearson: FloatArray
    adjusted: FloatArray
    contributions: FloatArray
    p: FloatArray
    p_adjusted: FloatArray


def residuals(counts: FloatArray, adjust: Callable[[FloatArray], FloatArray] = holm) -> Residuals:
    """How far each cell is from what independence expects (Haberman 1973).

    In a table with two columns (or rows) the residuals of a row come in mirrored pairs and are
    one comparison, so the adjustment counts (R - 1 or R) x (C - 1 or C) distinct ones.
    """
    expected = expected_counts(counts)
    n = counts.sum()
    raw = counts - expected
    pearson = raw / np.sqrt(expected)
    row_rest = 1 - counts.sum(axis=1, keepdims=True) / n
    column_rest = 1 - counts.sum(axis=0, keepdims=True) / n
    with np.errstate(divide="ignore", invalid="ignore"):
        adjusted = raw / np.sqrt(expected * row_rest * column_rest)
    p = 2 * special.ndtr(-np.abs(adjusted))
    return Residuals(
        raw=raw,
        pearson=pearson,
        adjusted=adjusted,
        contributions=raw**2 / expected,
        p=p,
        p_adjusted=_over_cells(p, adjust),
    )


def _over_cells(p: FloatArray, adjust: Callable[[FloatArray], FloatArray]) -> FloatArray:
    rows, columns = p.shape
    distinct = p[: 1 if rows == 2 else rows, : 1 if columns == 2 else columns]
    return np.broadcast_to(adjust(distinct.ravel()).reshape(distinct.shape), p.shape).copy()
