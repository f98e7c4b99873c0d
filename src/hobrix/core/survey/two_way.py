"""Tests of independence in a weighted table: Rao & Scott's corrections, and Wald tests.

Rao & Scott 1981, Journal of the American Statistical Association 76:221; 1984, Annals of
Statistics 12:46; Thomas & Rao 1987; Koch, Freeman & Freeman 1975.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import linalg, special

from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import FloatArray

# The least eigenvalue of correlations that can be inverted.
_SINGULAR = 1e-12


@dataclass(frozen=True)
class CorrectedTest:
    """A chi-square statistic corrected for the design, on chi-square and as F."""

    statistic: float
    df: float
    p: float
    f: float
    df1: float
    df2: float
    p_f: float


@dataclass(frozen=True)
class RaoScott:
    mean_generalised_deff: float
    squared_cv_of_generalised_deffs: float
    first_order: CorrectedTest
    second_order: CorrectedTest


@dataclass(frozen=True)
class WaldF:
    """W as chi-square, as F on the design degrees of freedom and, as is to be reported, adjusted to
    those that d contrasts leave."""

    chi_square: float
    f: float
    df1: int
    df2: int
    p: float
    adjusted_f: float
    adjusted_df1: int
    adjusted_df2: int
    adjusted_p: float


@dataclass(frozen=True)
class WeightedTable:
    """Shares of all, shape (R, C), with errors, and the tests; no empty row or column. ``covariance`` is
    that of the shares, shape (RC, RC), ``departures`` and theirs are P_rc - P_r P_c without the last row and
    column."""

    counts: FloatArray
    shares: FloatArray
    covariance: FloatArray
    pearson_uncorrected: float
    likelihood_ratio_uncorrected: float
    deffs: FloatArray
    departures: FloatArray
    covariance_of_departures: FloatArray
    residual_z: FloatArray
    design_df: int

    @cached_property
    def share_se(self) -> FloatArray:
        return np.sqrt(np.diag(self.covariance)).reshape(self.shares.shape)

    @property
    def _has_df(self) -> bool:
        return self.design_df > 0 and float(self.deffs.sum()) > 0

    @cached_property
    def rao_scott_pearson(self) -> RaoScott | None:
        """None where no design degree of freedom is left, or nothing varies."""
        if not self._has_df:
            return None
        return _rao_scott(self.pearson_uncorrected, self.deffs, self.design_df)

    @cached_property
    def rao_scott_likelihood_ratio(self) -> RaoScott | None:
        if not self._has_df:
            return None
        return _rao_scott(self.likelihood_ratio_uncorrected, self.deffs, self.design_df)

    @cached_property
    def wald_residual(self) -> WaldF | None:
        return wald_f(self.departures, self.covariance_of_departures, self.design_df)

    @cached_property
    def wald_log_odds_ratios(self) -> WaldF | None:
        """None where a cell is empty, too."""
        return _wald_log_odds(self.shares, self.covariance, self.design_df)


def weighted_table(totals: CellTotals, rows: int, columns: int) -> WeightedTable:
    """``totals`` of R x C cells in row-major order."""
    p = (totals.weighted / totals.weighted.sum()).reshape(rows, columns)
    weight, n = float(totals.weighted.sum()), float(totals.n.sum())
    r, c = p.sum(axis=1), p.sum(axis=0)
    flat = p.ravel()
    cells = np.eye(rows * columns)
    of_cells = totals.covariance_of(cell_shares, (cells - flat) / weight)
    gaps = p - np.outer(r, c)
    x2 = n * float(np.sum(gaps**2 / np.outer(r, c)))
    g2 = 2 * n * float(np.sum(special.rel_entr(p, np.outer(r, c))))
    in_row = np.repeat(np.eye(rows), columns, axis=0)
    in_column = np.tile(np.eye(columns), (rows, 1))
    # Scores of each cell in each gap P_rc - P_r P_c, shape (RC, R, C).
    scores = (
        (cells - flat).reshape(-1, rows, columns)
        - (in_row - r)[:, :, None] * c[None, None, :]
        - (in_column - c)[:, None, :] * r[None, :, None]
    ) / weight

    def all_gaps(weighted: FloatArray) -> FloatArray:
        shares = cell_shares(weighted).reshape(*weighted.shape[:-1], rows, columns)
        expected = shares.sum(axis=-1, keepdims=True) * shares.sum(axis=-2, keepdims=True)
        gaps: FloatArray = (shares - expected).reshape(weighted.shape)
        return gaps

    every = totals.covariance_of(all_gaps, scores.reshape(rows * columns, -1))
    kept = np.arange(rows * columns).reshape(rows, columns)[:-1, :-1].ravel()
    v_h = every[np.ix_(kept, kept)]
    v_0 = np.kron(
        np.diag(r[:-1]) - np.outer(r[:-1], r[:-1]), np.diag(c[:-1]) - np.outer(c[:-1], c[:-1])
    )
    deffs = np.real(np.linalg.eigvals(np.linalg.solve(v_0 / n, v_h)))
    with np.errstate(divide="ignore", invalid="ignore"):
        z = gaps / np.sqrt(np.diag(every)).reshape(rows, columns)
    z[~np.isfinite(z)] = 0.0
    return WeightedTable(
        counts=totals.n.reshape(rows, columns),
        shares=p,
        covariance=of_cells,
        pearson_uncorrected=x2,
        likelihood_ratio_uncorrected=g2,
        deffs=np.sort(deffs)[::-1],
        departures=gaps[:-1, :-1].ravel(),
        covariance_of_departures=v_h,
        residual_z=z,
        design_df=totals.design.df,
    )


def cell_shares(weighted: FloatArray) -> FloatArray:
    """Shares of all, from any cell totals of shape (..., K)."""
    found: FloatArray = weighted / weighted.sum(axis=-1, keepdims=True)
    return found


def _rao_scott(statistic: float, deffs: FloatArray, nu: int) -> RaoScott:
    d = len(deffs)
    m = float(deffs.sum()) / d
    a = float(np.sum(deffs**2)) / (d * m**2) - 1
    df1 = d / (1 + a)
    f = statistic / (d * m)
    first = CorrectedTest(
        statistic=statistic / m,
        df=d,
        p=float(special.chdtrc(d, statistic / m)),
        f=f,
        df1=d,
        df2=d * nu,
        p_f=float(special.fdtrc(d, d * nu, f)),
    )
    second = CorrectedTest(
        statistic=statistic / (m * (1 + a)),
        df=df1,
        p=float(special.chdtrc(df1, statistic / (m * (1 + a)))),
        f=f,
        df1=df1,
        df2=nu * df1,
        p_f=float(special.fdtrc(df1, nu * df1, f)),
    )
    return RaoScott(m, a, first, second)


def against_stated(
    expected: FloatArray, totals: CellTotals
) -> tuple[float, float, float, float] | None:
    """Weighted against stated shares of shape (K,), adding up to 1: Pearson's statistic with the
    second-order correction, as F, df1, df2 and p. None where the design leaves no degree of freedom
    or nothing varies."""
    k = len(expected)
    p = cell_shares(totals.weighted)
    n, nu = float(totals.n.sum()), totals.design.df
    if nu < 1 or k < 2 or np.any(expected <= 0):
        return None
    scores = (np.eye(k) - p) / totals.weighted.sum()
    v = totals.covariance_of(cell_shares, scores)[:-1, :-1]
    v_0 = (np.diag(expected[:-1]) - np.outer(expected[:-1], expected[:-1])) / n
    deffs = np.real(np.linalg.eigvals(np.linalg.solve(v_0, v)))
    total = float(deffs.sum())
    if total <= 0:
        return None
    df1 = total**2 / float(np.sum(deffs**2))
    f = n * float(np.sum((p - expected) ** 2 / expected)) / total
    return f, df1, nu * df1, float(special.fdtrc(df1, nu * df1, f))


def wald_f(estimate: FloatArray, covariance: FloatArray, nu: int) -> WaldF | None:
    """W = e'V^-1 e as F(d, nu), and adjusted on nu - d + 1 (Fellegi 1980; Korn & Graubard 1990);
    None where V cannot be inverted or so many contrasts leave no degree of freedom."""
    d = len(estimate)
    w = quadratic_form(estimate, covariance)
    left = nu - d + 1
    if w is None or left < 1:
        return None
    adjusted = w * left / (nu * d)
    return WaldF(
        chi_square=w,
        f=w / d,
        df1=d,
        df2=nu,
        p=float(special.fdtrc(d, nu, w / d)),
        adjusted_f=adjusted,
        adjusted_df1=d,
        adjusted_df2=left,
        adjusted_p=float(special.fdtrc(d, left, adjusted)),
    )


def quadratic_form(estimate: FloatArray, covariance: FloatArray) -> float | None:
    """e'V^-1 e; None where V is not finite, or singular in double precision."""
    scale = np.sqrt(np.maximum(0.0, np.diag(covariance)))
    if not np.all(np.isfinite(covariance)) or np.any(scale == 0):
        return None
    values, vectors = linalg.eigh(covariance / np.outer(scale, scale))
    if values[0] < _SINGULAR:
        return None
    along = vectors.T @ (estimate / scale)
    return float(np.sum(along**2 / values))


def _wald_log_odds(p: FloatArray, of_cells: FloatArray, nu: int) -> WaldF | None:
    if np.any(p == 0):
        return None
    rows, columns = p.shape
    contrasts = []
    for i in range(rows - 1):
        for j in range(columns - 1):
            signs = np.zeros_like(p)
            signs[i, j] = signs[-1, -1] = 1
            signs[i, -1] = signs[-1, j] = -1
            contrasts.append(signs.ravel())
    k = np.array(contrasts)
    theta = k @ np.log(p.ravel())
    slopes = k / p.ravel()
    return wald_f(theta, slopes @ of_cells @ slopes.T, nu)
