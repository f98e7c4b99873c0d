"""The same people twice, with the same answers: a square table, rows the first and columns the second time.

Who changed to what (symmetry), whether the answers moved as a whole (marginal homogeneity), and how far the
two agree (kappa). Counts of shape (K, K) in the order of the answers, those that nobody gave included.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile

# How much of an agreement answers are that are not the same: none, or more the nearer they are.
Weights = Literal["unweighted", "linear", "quadratic"]


@dataclass(frozen=True)
class Kappa:
    """Agreement beyond what the shares of the answers alone would give. None where nobody could disagree."""

    observed: float
    expected: float
    estimate: float | None
    standard_error: float | None
    standard_error_null: float | None
    z: float | None
    p: float | None
    ci: Interval | None


def symmetry(counts: FloatArray) -> ChiSquareTest | None:
    """Sum over pairs of (n_ij - n_ji)^2 / (n_ij + n_ji) (Bowker 1948, JASA 43:572); degrees of freedom are pairs
    between which somebody changed (Hoenig, Morgan & Brown 1995). None where nobody did."""
    i, j = np.triu_indices(len(counts), 1)
    there, back = counts[i, j], counts[j, i]
    moved = there + back > 0
    if not moved.any():
        return None
    there, back = there[moved], back[moved]
    return chi_square_test(float(((there - back) ** 2 / (there + back)).sum()), int(moved.sum()))


def marginal_homogeneity(counts: FloatArray) -> tuple[ChiSquareTest, ChiSquareTest | None] | None:
    """Whether answers are as common the second time as the first: Stuart's test (1955, Biometrika 42:412; Maxwell
    1970) and Bhapkar's (1966, JASA 61:228), None where that has no end. None where nobody changed."""
    difference = counts.sum(axis=1) - counts.sum(axis=0)
    covariance = -(counts + counts.T)
    np.fill_diagonal(covariance, 0.0)
    np.fill_diagonal(covariance, -covariance.sum(axis=1))
    scale = float(np.abs(covariance).max())
    if scale == 0:
        return None
    # Answers fall into sets between which somebody changed: each has one that follows from its others.
    kept = _one_less_of_each_set(covariance)
    solved = np.linalg.solve(covariance[np.ix_(kept, kept)], difference[kept])
    w, df = float(difference[kept] @ solved), len(kept)
    n = float(counts.sum())
    bhapkar = chi_square_test(w / (1 - w / n), df) if w < n * (1 - 1e-12) else None
    return chi_square_test(w, df), bhapkar


def _one_less_of_each_set(covariance: FloatArray) -> list[int]:
    left, kept = set(range(len(covariance))), []
    while left:
        reached, waiting = set(), [min(left)]
        while waiting:
            at = waiting.pop()
            if at not in reached:
                reached.add(at)
                waiting += np.flatnonzero(covariance[at] < 0).tolist()
        left -= reached
        kept += sorted(reached)[:-1]
    return sorted(kept)


def kappa(counts: FloatArray, weights: Weights, confidence: float) -> Kappa:
    """Cohen's kappa (1960; weighted 1968), with the error for its interval and the one without agreement for its test
    (Fleiss, Cohen & Everitt 1969, Psychological Bulletin 72:323). Linear weights after Cicchetti & Allison (1971),
    quadratic after Fleiss & Cohen (1973); positions are those of the answers."""
    n, w = float(counts.sum()), _agreement(len(counts), weights)
    p = counts / n
    rows, columns = p.sum(axis=1), p.sum(axis=0)
    observed, expected = float((w * p).sum()), float(rows @ w @ columns)
    if 1 - expected <= 1e-15:
        return Kappa(observed, expected, None, None, None, None, None, None)
    estimate = (observed - expected) / (1 - expected)
    both = (w @ columns)[:, None] + (rows @ w)[None, :]
    size = n * (1 - expected) ** 2
    varies = float((p * (w - both * (1 - estimate)) ** 2).sum())
    variance = (varies - (estimate - expected * (1 - estimate)) ** 2) / size
    apart = float((np.outer(rows, columns) * (w - both) ** 2).sum()) - expected**2
    error, null = math.sqrt(max(0.0, variance)), math.sqrt(max(0.0, apart / size))
    half = normal_quantile(confidence) * error
    z = estimate / null if null > 0 else None
    return Kappa(
        observed=observed,
        expected=expected,
        estimate=estimate,
        standard_error=error,
        standard_error_null=null,
        z=z,
        p=None if z is None else 2 * float(special.ndtr(-abs(z))),
        ci=Interval(estimate - half, estimate + half),
    )


def greatest_kappa(counts: FloatArray) -> float | None:
    """The most that kappa without weights could be with these shares (Cohen 1960)."""
    p = counts / counts.sum()
    rows, columns = p.sum(axis=1), p.sum(axis=0)
    expected = float(rows @ columns)
    if 1 - expected <= 1e-15:
        return None
    return (float(np.minimum(rows, columns).sum()) - expected) / (1 - expected)


def _agreement(size: int, weights: Weights) -> FloatArray:
    if weights == "unweighted" or size < 2:
        return np.eye(size)
    apart = np.abs(np.subtract.outer(np.arange(size), np.arange(size))) / (size - 1.0)
    found: FloatArray = 1 - apart if weights == "linear" else 1 - apart**2
    return found
