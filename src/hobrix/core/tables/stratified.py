"""One association in several strata: pooled measures, tests of homogeneity, tests given strata.

2x2 tables come as an array of shape (K, 2, 2), each [[a, b], [c, d]] with rows exposed and not,
columns event and not; general ones as (K, R, C).
"""

import math
from dataclasses import dataclass

import numpy as np

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test, likelihood_ratio
from hobrix.core.tables.interval import Interval, normal_quantile

# Larger tests over strata are not made: they would take minutes.
MOST_CONTRASTS, MOST_CELLS = 400, 20_000


@dataclass(frozen=True)
class PooledRatio:
    """None where the strata together leave it undefined."""

    estimate: float
    log_standard_error: float
    ci: Interval


@dataclass(frozen=True)
class DifferenceWithError:
    standard_error: float
    ci: Interval


@dataclass(frozen=True)
class PooledDifference:
    """With the standard errors of Sato and of Greenland & Robins."""

    estimate: float
    sato: DifferenceWithError
    greenland_robins: DifferenceWithError


def _cells(tables: FloatArray) -> tuple[FloatArray, ...]:
    a, b, c, d = tables[:, 0, 0], tables[:, 0, 1], tables[:, 1, 0], tables[:, 1, 1]
    return a, b, c, d, a + b, c + d, a + c, b + d, a + b + c + d


def informative(tables: FloatArray) -> FloatArray:
    """The strata without an empty margin, shape (k, R, C)."""
    has_rows = np.all(tables.sum(axis=2) > 0, axis=1)
    has_columns = np.all(tables.sum(axis=1) > 0, axis=1)
    kept: FloatArray = tables[has_rows & has_columns]
    return kept


def _pooled_ratio(estimate: float, variance: float, confidence: float) -> PooledRatio:
    error = math.sqrt(variance)
    factor = math.exp(normal_quantile(confidence) * error)
    return PooledRatio(estimate, error, Interval(estimate / factor, estimate * factor))


def mantel_haenszel_odds_ratio(tables: FloatArray, confidence: float) -> PooledRatio | None:
    """Mantel & Haenszel 1959; variance Robins, Breslow & Greenland 1986, Biometrics 42:311."""
    tables = tables[tables.sum(axis=(1, 2)) > 0]
    a, b, c, d, *_, n = _cells(tables)
    r, s, p, q = a * d / n, b * c / n, (a + d) / n, (b + c) / n
    sum_r, sum_s = float(r.sum()), float(s.sum())
    if not sum_r or not sum_s:
        return None
    variance = (
        float(np.sum(p * r)) / (2 * sum_r**2)
        + float(np.sum(p * s + q * r)) / (2 * sum_r * sum_s)
        + float(np.sum(q * s)) / (2 * sum_s**2)
    )
    return _pooled_ratio(sum_r / sum_s, variance, confidence)


def mantel_haenszel_risk_ratio(tables: FloatArray, confidence: float) -> PooledRatio | None:
    """Variance after Greenland & Robins 1985, Biometrics 41:55."""
    tables = tables[np.all(tables.sum(axis=2) > 0, axis=1)]
    a, _, c, _, n1, n0, m1, _, n = _cells(tables)
    top, bottom = float(np.sum(a * n0 / n)), float(np.sum(c * n1 / n))
    if not top or not bottom:
        return None
    variance = float(np.sum((m1 * n1 * n0 - a * c * n) / n**2)) / (top * bottom)
    return _pooled_ratio(top / bottom, variance, confidence)


def mantel_haenszel_risk_difference(
    tables: FloatArray, confidence: float
) -> PooledDifference | None:
    """Variances of Sato 1989 (sparse or large strata) and Greenland & Robins 1985 (large)."""
    tables = tables[np.all(tables.sum(axis=2) > 0, axis=1)]
    if not len(tables):
        return None
    a, b, c, d, n1, n0, _, _, n = _cells(tables)
    weight = float(np.sum(n1 * n0 / n))
    difference = float(np.sum((a * n0 - c * n1) / n)) / weight
    p = (n1**2 * c - n0**2 * a + n1 * n0 * (n0 - n1) / 2) / n**2
    sato = difference * float(p.sum()) + float(np.sum((a * d + b * c) / (2 * n)))
    greenland = float(np.sum((a * b * n0**3 + c * d * n1**3) / (n1 * n0 * n**2)))
    z = normal_quantile(confidence)

    def with_error(variance: float) -> DifferenceWithError:
        error = math.sqrt(max(0.0, variance)) / weight
        return DifferenceWithError(error, Interval(difference - z * error, difference + z * error))

    return PooledDifference(difference, with_error(sato), with_error(greenland))


@dataclass(frozen=True)
class ConditionalTests:
    plain: ChiSquareTest
    continuity_corrected: ChiSquareTest


def cochran_mantel_haenszel(tables: FloatArray) -> ConditionalTests | None:
    """Association given the strata (Cochran 1954; Mantel & Haenszel 1959), df 1."""
    a, _, _, _, n1, n0, m1, m0, n = _cells(informative(tables))
    if not len(a):
        return None
    away = float(np.sum(a - n1 * m1 / n))
    variance = float(np.sum(n1 * n0 * m1 * m0 / (n**2 * (n - 1))))
    return ConditionalTests(
        chi_square_test(away**2 / variance, 1),
        chi_square_test(max(0.0, abs(away) - 0.5) ** 2 / variance, 1),
    )


@dataclass(frozen=True)
class BreslowDay:
    plain: ChiSquareTest
    tarone: ChiSquareTest


def breslow_day(tables: FloatArray, pooled: float) -> BreslowDay | None:
    """Is the odds ratio the same in every stratum? (Breslow & Day 1980; Tarone 1985).

    ``pooled`` is the Mantel-Haenszel odds ratio, above 0 and finite. df: informative strata - 1.
    """
    a, _, _, _, n1, n0, m1, _, _ = _cells(informative(tables))
    if len(a) < 2:
        return None
    # e (n0 - m1 + e) = pooled (n1 - e)(m1 - e), the root within the margins.
    square = 1 - pooled
    linear = n0 - m1 + pooled * (n1 + m1)
    constant = -pooled * n1 * m1
    root = np.sqrt(linear**2 - 4 * square * constant)
    # The form without cancellation, right for pooled = 1 too.
    expected = -2 * constant / (linear + root)
    variance = 1 / (
        1 / expected + 1 / (n1 - expected) + 1 / (m1 - expected) + 1 / (n0 - m1 + expected)
    )
    statistic = float(np.sum((a - expected) ** 2 / variance))
    correction = float(np.sum(a - expected)) ** 2 / float(variance.sum())
    df = len(a) - 1
    return BreslowDay(chi_square_test(statistic, df), chi_square_test(statistic - correction, df))


def woolf_homogeneity(tables: FloatArray) -> ChiSquareTest | None:
    """Spread of the log odds ratios around their weighted mean (Woolf 1955); None at a zero cell."""
    if np.any(tables == 0) or len(tables) < 2:
        return None
    a, b, c, d, *_ = _cells(tables)
    return _spread(np.log(a * d / (b * c)), 1 / a + 1 / b + 1 / c + 1 / d)


def difference_homogeneity(tables: FloatArray) -> ChiSquareTest | None:
    """Spread of the differences of shares around their weighted mean (Cochran 1954, Biometrics
    10:417); over strata in which both groups hold somebody and a share lies between 0 and 1."""
    tables = tables[np.all(tables.sum(axis=2) > 0, axis=1)]
    a, b, c, d, n1, n0, *_ = _cells(tables)
    variance = a * b / n1**3 + c * d / n0**3
    some = variance > 0
    return _spread((a / n1 - c / n0)[some], variance[some])


def risk_ratio_homogeneity(tables: FloatArray) -> ChiSquareTest | None:
    """Spread of the log ratios of shares around their weighted mean (Rothman, Greenland & Lash 2008);
    None where nobody in a group has the event."""
    tables = tables[np.all(tables.sum(axis=2) > 0, axis=1)]
    if np.any(tables[:, :, 0] == 0):
        return None
    a, _, c, _, n1, n0, *_ = _cells(tables)
    return _spread(np.log(a * n0 / (c * n1)), 1 / a - 1 / n1 + 1 / c - 1 / n0)


def _spread(estimates: FloatArray, variances: FloatArray) -> ChiSquareTest | None:
    """Squared distances from the mean weighted by 1/variance; df: strata - 1."""
    if len(estimates) < 2 or not np.all(variances > 0):
        return None
    weight = 1 / variances
    mean = float(np.sum(weight * estimates) / weight.sum())
    return chi_square_test(float(np.sum(weight * (estimates - mean) ** 2)), len(estimates) - 1)


@dataclass(frozen=True)
class GeneralizedTests:
    """Landis, Heyman & Koch 1978, Int Stat Rev 46:237. None where the strata leave no room, or where it
    would have more than ``MOST_CONTRASTS`` degrees of freedom."""

    general_association: ChiSquareTest | None
    row_mean_scores: ChiSquareTest | None
    correlation: ChiSquareTest | None


def generalized_cochran_mantel_haenszel(tables: FloatArray) -> GeneralizedTests:
    """Association given the strata for r x c tables, scores 1..R and 1..C."""
    _, rows, columns = tables.shape
    row_basis, column_basis = np.eye(rows)[:-1], np.eye(columns)[:-1]
    row_scores, column_scores = np.arange(1.0, rows + 1)[None], np.arange(1.0, columns + 1)[None]
    return GeneralizedTests(
        _generalized(tables, row_basis, column_basis),
        _generalized(tables, row_basis, column_scores),
        _generalized(tables, row_scores, column_scores),
    )


def _generalized(
    tables: FloatArray, of_rows: FloatArray, of_columns: FloatArray
) -> ChiSquareTest | None:
    size = len(of_rows) * len(of_columns)
    if size > MOST_CONTRASTS:
        return None
    away, variance = np.zeros(size), np.zeros((size, size))
    for table in tables:
        n = float(table.sum())
        if n < 2:
            continue
        r, c = table.sum(axis=1) / n, table.sum(axis=0) / n
        gap = of_rows @ (table - n * np.outer(r, c)) @ of_columns.T
        away += gap.ravel()
        row_part = of_rows @ (np.diag(r) - np.outer(r, r)) @ of_rows.T
        column_part = of_columns @ (np.diag(c) - np.outer(c, c)) @ of_columns.T
        variance += n**2 / (n - 1) * np.kron(row_part, column_part)
    if np.linalg.matrix_rank(variance) < size:
        return None
    return chi_square_test(float(away @ np.linalg.solve(variance, away)), size)


def three_way_interaction(tables: FloatArray) -> ChiSquareTest | None:
    """Likelihood-ratio test that the association is the same in every stratum of (K, R, C).

    Expected counts of the model with all two-way terms come from proportional fitting (Deming &
    Stephan 1940; Bishop, Fienberg & Holland 1975). df = (K-1)(R-1)(C-1) over the strata and
    categories that hold somebody; None where a two-way margin is empty, which leaves no usual df, or with more than
    ``MOST_CELLS`` cells.
    """
    tables = informative(tables)
    k, rows, columns = tables.shape
    margins = [tables.sum(axis=axis, keepdims=True) for axis in range(3)]
    if k < 2 or tables.size > MOST_CELLS or any(np.any(margin == 0) for margin in margins):
        return None
    fitted = np.ones_like(tables)
    for _ in range(2000):
        before = fitted
        for axis, margin in enumerate(margins):
            fitted = fitted * (margin / fitted.sum(axis=axis, keepdims=True))
        if float(np.max(np.abs(fitted - before))) < 1e-12 * float(tables.max()):
            break
    df = (k - 1) * (rows - 1) * (columns - 1)
    positive = np.where(fitted > 0, fitted, 1.0)
    return chi_square_test(max(0.0, likelihood_ratio(tables, positive)), df)
