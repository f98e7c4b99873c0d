"""Firth's penalised likelihood: finite odds ratios where the outcome is separated.

Maximises LL + 1/2 ln det I(b) (Firth 1993, Biometrika 80:27; Heinze & Schemper 2002, Statistics in
Medicine 21:2409). Functions stand for those of the same name in ``fit``.
"""

from collections.abc import Sequence

import numpy as np
from scipy import linalg

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval

_MOST_STEPS = 2000
_SMALL = 1e-10
_LONGEST_STEP = 5.0


def fit(data: Patterns, start: FloatArray | None = None, *, is_checked: bool = False) -> ml.Fit:
    """The maximum of the penalised likelihood; covariance is the plain I^-1 there.

    Raises:
        Collinear: columns that add nothing.
        NotFinite: it does not settle.
    """
    if not is_checked:
        scale = np.abs(data.design).max(axis=0)
        scale[scale == 0] = 1.0
        if found := ml.redundant(data.design / scale):
            raise ml.Collinear(found)
    every = np.arange(data.design.shape[1])
    b, value = _maximise(data, every, np.zeros(len(every)) if start is None else start)
    p = ml.probabilities(data.design, b)
    covariance = linalg.inv(_information(data, p))
    return ml.Fit(b, covariance, ml.log_likelihood(data.design @ b, data), value)


def _information(data: Patterns, p: FloatArray) -> FloatArray:
    x: FloatArray = data.design
    information: FloatArray = x.T @ (x * (data.trials * p * (1 - p))[:, None])
    return information


def _penalised(data: Patterns, b: FloatArray) -> float:
    information = _information(data, ml.probabilities(data.design, b))
    sign, log_det = np.linalg.slogdet(information)
    return ml.log_likelihood(data.design @ b, data) + 0.5 * log_det if sign > 0 else -np.inf


def _maximise(data: Patterns, free: np.ndarray, b: FloatArray) -> tuple[FloatArray, float]:
    """Newton steps over the ``free`` columns, the others kept at ``b``; the determinant is always
    that of the whole matrix."""
    x = data.design
    value = _penalised(data, b)
    for _ in range(_MOST_STEPS):
        p = ml.probabilities(x, b)
        variance = data.trials * p * (1 - p)
        information = x.T @ (x * variance[:, None])
        try:
            covariance = linalg.inv(information)
        except linalg.LinAlgError:
            raise ml.NotFinite from None
        leverage = variance * np.einsum("ij,jk,ik->i", x, covariance, x)
        score = (data.events - data.trials * p + leverage * (0.5 - p)) @ x
        if not len(free):
            return b, value
        move = linalg.solve(information[np.ix_(free, free)], score[free], assume_a="pos")
        longest = float(np.abs(x[:, free] @ move).max())
        move *= min(1.0, _LONGEST_STEP / longest) if longest else 1.0
        if float(np.abs(score[free] @ move)) < _SMALL**2 * (1 + abs(value)):
            return b, value
        size = 1.0
        while True:
            tried = b.copy()
            tried[free] += size * move
            reached = _penalised(data, tried)
            if reached >= value - 1e-13 * (1 + abs(value)):
                break
            size /= 2
            if size < 1e-9:
                return b, value
        b, value = tried, reached
    raise ml.NotFinite


def likelihood_ratio_test(data: Patterns, found: ml.Fit, columns: Sequence[int]) -> ChiSquareTest:
    """2 (PLL - its maximum with the coefficients of the columns held at 0)."""
    b = found.coefficients.copy()
    b[list(columns)] = 0.0
    free = np.array([i for i in range(len(b)) if i not in set(columns)], dtype=int)
    _, value = _maximise(data, free, b)
    return chi_square_test(max(0.0, 2 * (found.maximum - value)), len(columns))


def profile_interval(
    data: Patterns, found: ml.Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Profile limits of the penalised likelihood for c'b; raises NotFinite."""
    fixed = int(np.argmax(np.abs(contrast)))
    # Columns such that the coefficient of the fixed one is c'b.
    turn = np.eye(len(contrast))
    turn[fixed] = -contrast / contrast[fixed]
    turn[fixed, fixed] = 1 / contrast[fixed]
    turned = Patterns(data.design @ turn, data.events, data.trials)
    free = np.array([i for i in range(len(contrast)) if i != fixed], dtype=int)
    at = found.coefficients.copy()
    # What the turn does to the determinant, the same everywhere.
    constant = float(np.linalg.slogdet(turn)[1])

    def reached(value: float) -> float:
        nonlocal at
        at = at.copy()
        at[fixed] = value
        at, best = _maximise(turned, free, at)
        return best - constant

    return ml.limits_where_lost(reached, found, contrast, confidence)
