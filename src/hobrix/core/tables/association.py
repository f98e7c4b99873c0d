"""Measures of association of two-way tables, each with its standard errors.

Every measure is scale * num / den with num and den homogeneous of equal degree in the counts.
With f_ij its derivative by a count, ASE1^2 = sum n f^2 - (sum n f)^2 / n; ASE0 holds den
constant (Goodman & Kruskal 1963, JASA 58:310, and 1972, JASA 67:415; Brown & Benedetti 1977,
JASA 72:309). "x_given_y": x is the outcome that is predicted, y the predictor.
"""

import math
from dataclasses import dataclass, field, replace

import numpy as np
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.interval import Interval, normal_quantile


@dataclass(frozen=True)
class Measure:
    """A value with its standard error, that under no association, and the test it gives.

    What is not defined for the table (a denominator of 0, no null standard error) is None.
    ``gradient``, shape (R, C), holds the derivatives of the value by each count, up to a constant.
    """

    value: float
    ase: float | None
    gradient: FloatArray = field(repr=False, compare=False)
    ase_null: float | None = None
    z: float | None = None
    p: float | None = None

    def interval(self, confidence: float) -> Interval | None:
        """value ± z ase, not cut to the range of the measure."""
        if self.ase is None:
            return None
        half = normal_quantile(confidence) * self.ase
        return Interval(self.value - half, self.value + half)


def _measure(
    counts: FloatArray,
    scale: float,
    num: float,
    den: float,
    of_num: FloatArray,
    of_den: FloatArray | float,
    *,
    tests: bool = True,
) -> Measure | None:
    """A measure from its numerator, denominator and their derivatives by each count."""
    if den == 0:
        return None
    gradient = scale * (of_num / den - num * of_den / den**2)
    ase = _error(counts, gradient)
    if not tests:
        return Measure(scale * num / den, ase, gradient)
    ase_null = _error(counts, scale * of_num / den)
    # Rounding leaves a remainder where the null error is 0.
    if ase_null <= 1e-12 * scale * float(np.abs(of_num).max(initial=0.0)) / den:
        return Measure(scale * num / den, ase, gradient, 0.0)
    z = scale * num / den / ase_null
    p = 2 * float(special.ndtr(-abs(z)))
    return Measure(scale * num / den, ase, gradient, ase_null, z, p)


def _error(counts: FloatArray, gradient: FloatArray) -> float:
    # Deviations from the mean derivative, so that nothing cancels.
    n = float(counts.sum())
    mean = float(np.sum(counts * gradient)) / n
    return math.sqrt(float(np.sum(counts * (gradient - mean) ** 2)))


@dataclass(frozen=True)
class Pairs:
    """Concordant and discordant pairs: per cell (shape (R, C)) and summed, each pair twice."""

    difference: FloatArray
    concordant_cells: FloatArray
    discordant_cells: FloatArray
    concordant: float
    discordant: float


def pairs(counts: FloatArray) -> Pairs:
    """Counts above-left and below-right of each cell against the other two corners."""
    padded = np.zeros((counts.shape[0] + 1, counts.shape[1] + 1))
    padded[1:, 1:] = counts.cumsum(axis=0).cumsum(axis=1)
    total, rows, columns = padded[-1, -1], padded[:, -1], padded[-1, :]
    before = padded[:-1, :-1]
    after = total - rows[1:, None] - columns[None, 1:] + padded[1:, 1:]
    right_before = rows[:-1, None] - padded[:-1, 1:]
    left_after = columns[None, :-1] - padded[1:, :-1]
    concordant, discordant = before + after, right_before + left_after
    return Pairs(
        difference=concordant - discordant,
        concordant_cells=concordant,
        discordant_cells=discordant,
        concordant=float(np.sum(counts * concordant)),
        discordant=float(np.sum(counts * discordant)),
    )


def ordinal_measures(counts: FloatArray) -> dict[str, Measure | None]:
    """Gamma, Kendall's tau-b, Stuart's tau-c and Somers' d in both directions and symmetric."""
    n = float(counts.sum())
    rows, columns = counts.sum(axis=1), counts.sum(axis=0)
    found = pairs(counts)
    p, q, d = found.concordant, found.discordant, found.difference
    # Derivatives of P - Q, of P + Q, and of the pairs not tied on rows and on columns.
    of_difference = 2 * d
    of_sum = 2 * (found.concordant_cells + found.discordant_cells)
    row_pairs, column_pairs = n**2 - float(rows @ rows), n**2 - float(columns @ columns)
    of_rows = np.broadcast_to(2 * (n - rows)[:, None], counts.shape)
    of_columns = np.broadcast_to(2 * (n - columns)[None, :], counts.shape)
    root = math.sqrt(row_pairs * column_pairs)
    of_root = (of_rows * column_pairs + of_columns * row_pairs) / (2 * root) if root else of_rows
    smaller = min(counts.shape)
    scale = smaller / (smaller - 1)
    s = p - q
    return {
        "gamma": _measure(counts, 1.0, s, p + q, of_difference, of_sum),
        "kendall_tau_b": _measure(counts, 1.0, s, root, of_difference, of_root),
        # n^2 is fixed by the sampling, so both standard errors are the same (Stuart 1953).
        "stuart_tau_c": _measure(counts, scale, s, n**2, of_difference, 0.0),
        "somers_d_row_given_column": _measure(
            counts, 1.0, s, column_pairs, of_difference, of_columns
        ),
        "somers_d_column_given_row": _measure(counts, 1.0, s, row_pairs, of_difference, of_rows),
        "somers_d_symmetric": _measure(
            counts,
            1.0,
            s,
            (row_pairs + column_pairs) / 2,
            of_difference,
            (of_rows + of_columns) / 2,
        ),
    }


def lambda_measures(counts: FloatArray) -> dict[str, Measure | None]:
    """Goodman & Kruskal's lambda in both directions and symmetric; the first mode at a tie."""
    num, den, of_num, of_den = _lambda_parts(counts)
    other, other_den, of_other, of_other_den = _lambda_parts(counts.T)
    of_other, of_other_den = of_other.T, of_other_den.T
    return {
        "lambda_column_given_row": _measure(counts, 1.0, num, den, of_num, of_den),
        "lambda_row_given_column": _measure(counts, 1.0, other, other_den, of_other, of_other_den),
        "lambda_symmetric": _measure(
            counts, 1.0, num + other, den + other_den, of_num + of_other, of_den + of_other_den
        ),
    }


def _lambda_parts(counts: FloatArray) -> tuple[float, float, FloatArray, FloatArray]:
    """Numerator, denominator and their derivatives for columns guessed from rows."""
    n = float(counts.sum())
    totals = counts.sum(axis=0)
    mode, modes = int(totals.argmax()), counts.argmax(axis=1)
    is_mode = np.zeros_like(counts)
    is_mode[:, mode] = 1.0
    is_own = np.zeros_like(counts)
    is_own[np.arange(len(counts)), modes] = 1.0
    num = float(counts.max(axis=1).sum() - totals[mode])
    return num, n - float(totals[mode]), is_own - is_mode, 1 - is_mode


def tau_and_uncertainty(counts: FloatArray) -> dict[str, Measure | None]:
    """Goodman & Kruskal's tau and Theil's uncertainty coefficient (1970), with ASE1 only."""
    uncertainty = _uncertainty(counts)
    return {
        "goodman_kruskal_tau_column_given_row": _tau(counts),
        "goodman_kruskal_tau_row_given_column": _turned(_tau(counts.T)),
        **uncertainty,
    }


def _turned(found: Measure | None) -> Measure | None:
    """Of the transposed table."""
    return None if found is None else replace(found, gradient=found.gradient.T)


def _tau(counts: FloatArray) -> Measure | None:
    """(n sum n_ij^2 / n_i. - sum n_.j^2) / (n^2 - sum n_.j^2): columns guessed from rows."""
    n = float(counts.sum())
    rows, columns = counts.sum(axis=1, keepdims=True), counts.sum(axis=0)
    within = counts**2 / rows
    # As a sum of squares, so that nothing cancels where rows hardly differ.
    share = columns / n
    num = n * float(np.sum(rows * (counts / rows - share) ** 2))
    den = n**2 - float(columns @ columns)
    of_num = (
        within.sum()
        + n * (2 * counts / rows - (within.sum(axis=1, keepdims=True) / rows))
        - 2 * columns[None, :]
    )
    of_den = np.broadcast_to(2 * n - 2 * columns[None, :], counts.shape)
    return _measure(counts, 1.0, num, den, of_num, of_den, tests=False)


def _uncertainty(counts: FloatArray) -> dict[str, Measure | None]:
    n = float(counts.sum())
    p, r, c = counts / n, counts.sum(axis=1) / n, counts.sum(axis=0) / n
    expected = r[:, None] * c[None, :]
    h_row, h_column = float(special.entr(r).sum()), float(special.entr(c).sum())
    h_both = float(special.entr(p).sum())
    # Mutual information as a sum of terms that are all positive.
    ratio = p / expected
    shared = float(np.sum(expected * (special.xlogy(ratio, ratio) - ratio + 1)))
    with np.errstate(divide="ignore"):
        log_p = np.where(p > 0, np.log(np.where(p > 0, p, 1.0)), 0.0)
    log_r, log_c = np.log(r)[:, None], np.log(c)[None, :]

    def directed(
        h: float, log_own: FloatArray, log_given: FloatArray, other: float
    ) -> Measure | None:
        if h == 0:
            return None
        term = h * (log_p - log_given) + (other - h_both) * log_own
        variance = float(np.sum(counts * term**2)) / (n**2 * h**4)
        return Measure(shared / h, math.sqrt(variance), term / (n * h**2))

    both = h_row + h_column
    term = both * log_p - h_both * (log_r + log_c)
    symmetric = (
        Measure(
            2 * shared / both,
            math.sqrt(4 * float(np.sum(counts * term**2)) / (n**2 * both**4)),
            2 * term / (n * both**2),
        )
        if both
        else None
    )
    return {
        "uncertainty_coefficient_column_given_row": directed(h_column, log_c, log_r, h_row),
        "uncertainty_coefficient_row_given_column": directed(h_row, log_r, log_c, h_column),
        "uncertainty_coefficient_symmetric": symmetric,
    }


def all_measures(counts: FloatArray) -> dict[str, Measure | None]:
    """Every measure with an error of its own, by name."""
    return {
        **lambda_measures(counts),
        **tau_and_uncertainty(counts),
        **ordinal_measures(counts),
    }


def contingency_coefficient(chi_square: float, n: float) -> float:
    """sqrt(X2 / (X2 + n)), not divided by its maximum (Pearson 1904)."""
    return math.sqrt(chi_square / (chi_square + n))
