"""Firth's penalised likelihood: finite odds ratios where the outcome is separated.

Maximises LL + 1/2 ln det I(b) (Firth 1993, Biometrika 80:27; Heinze & Schemper 2002, Statistics in
Medicine 21:2409). Functions stand for those of the same name in ``fit``.
"""

import math
from collections.abc import Sequence

import numpy as np
from scipy import linalg

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import likelihood
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.logistic.profile import limits_where_lost
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval

_MOST_STEPS = 2000
# Steps that gain less than this are at the top; where rounding holds the gain above it, steps that
# gain hardly anything and no less than those before.
_TOP, _NEARLY, _PATIENCE = 1e-22, 1e-9, 6
# Where only the value at the top is asked for: steps gain no more than what rounding makes of it.
_VALUE = 1e-16
_LONGEST_STEP = 5.0
# Profiles of fewer numbers than these are climbed from two places.
_LITTLE = 200_000
# Up to so many products the second derivatives are worked out in full.
_LITTLE_WORK = 20_000_000


class _Climb:
    """The penalised likelihood of a design as a function of some of its coefficients, worked out on
    columns at right angles to each other, so that neither units nor near-collinearity nor the order
    of the terms matter. ``free`` are the columns that move."""

    def __init__(self, data: Patterns, free: Sequence[int]) -> None:
        self.data, self.free = data, list(free)
        self.held = [i for i in range(data.design.shape[1]) if i not in set(free)]
        self._every, whole = _at_right_angles(data, range(data.design.shape[1]))
        self._moving, self._back = _at_right_angles(data, self.free)
        self._volume = 2 * float(np.log(np.abs(np.diag(whole))).sum())

    def to_top(self, b: FloatArray, enough: float = _TOP) -> tuple[FloatArray, float]:
        """From b, shape (k,), to the maximum over the free coefficients, and the value there; until a step gains
        no more than ``enough``, for the size of the value.

        Raises:
            NotFinite: it does not settle.
        """
        offset = self.data.design[:, self.held] @ b[self.held]
        c = self._back @ b[self.free]
        value, score, information = self._at(offset + self._moving @ c)
        best, stale = math.inf, 0
        for _ in range(_MOST_STEPS if self.free else 0):
            try:
                move = ml.solve_positive(information, score)
            except linalg.LinAlgError:
                raise ml.NotFinite from None
            gain = float(score @ move)
            stale = 0 if gain < 0.9 * best else stale + 1
            best = min(best, gain)
            if gain <= enough * (1 + abs(value)) or (gain < _NEARLY and stale > _PATIENCE):
                break
            longest = float(np.abs(self._moving @ move).max())
            size = min(1.0, _LONGEST_STEP / longest) if longest else 1.0
            following = self._at(offset + self._moving @ (c + size * move))
            while not following[0] >= value - 1e-13 * (1 + abs(value)):
                size /= 2
                if size < 1e-9:
                    raise ml.NotFinite
                following = self._at(offset + self._moving @ (c + size * move))
            c = c + size * move
            value, score, information = following
        else:
            if self.free:
                raise ml.NotFinite
        found = b.copy()
        if self.free:
            found[self.free] = linalg.solve_triangular(self._back, c)
        return found, value

    def covariance(self, b: FloatArray) -> FloatArray:
        """I^-1 at b of all coefficients, where all are free."""
        information = self.information(b)
        back = linalg.solve_triangular(self._back, np.eye(len(b)))
        found: FloatArray = back @ linalg.inv(information) @ back.T
        return found

    def _at(self, eta: FloatArray) -> tuple[float, FloatArray, FloatArray]:
        """The value, its derivatives in the moving columns, and their information."""
        data, every, moving = self.data, self._every, self._moving
        p = likelihood.logistic(eta)
        variance = data.trials * p * (1 - p)
        whole = every.T @ (every * variance[:, None])
        factor, trouble = linalg.lapack.dpotrf(whole, lower=1)
        if trouble:
            return -math.inf, np.zeros(moving.shape[1]), np.eye(moving.shape[1])
        half = linalg.lapack.dtrtrs(factor, every.T, lower=1)[0]
        leverage = variance * np.square(half).sum(axis=0)
        score = (data.events - data.trials * p + leverage * (0.5 - p)) @ moving
        spread = float(np.log(np.diag(factor)).sum())
        value = likelihood.log_likelihood(eta, data) + spread + 0.5 * self._volume
        information = moving.T @ (moving * variance[:, None])
        if len(whole) ** 3 * len(eta) <= _LITTLE_WORK:
            bent = self._bent(p, variance, leverage, half.T)
            if not linalg.lapack.dpotrf(bent, lower=1)[1]:
                information = bent
        return value, score, information

    def _bent(
        self, p: FloatArray, variance: FloatArray, leverage: FloatArray, z: FloatArray
    ) -> FloatArray:
        """Minus the second derivatives of all that is maximised, which steps quickly near the top;
        with K = zz' the leverages of pairs, sum_ij a_i a_j K_ij² x_i x_j' = sum_rs T_rs T_rs', where
        a = v (1 - 2p) and T_rs = sum_i a_i z_ir z_is x_i."""
        moving, tilt = self._moving, 1 - 2 * p
        weight = variance + leverage * variance - 0.5 * leverage * tilt**2
        a = z * (variance * tilt)[:, None]
        pairs = np.concatenate([(a[:, r, None] * z).T @ moving for r in range(z.shape[1])])
        bent: FloatArray = moving.T @ (moving * weight[:, None]) + 0.5 * pairs.T @ pairs
        return bent

    def information(self, b: FloatArray) -> FloatArray:
        """Of the likelihood alone, at b, of the moving columns."""
        p = likelihood.logistic(self.data.design @ b)
        weight = self.data.trials * p * (1 - p)
        found: FloatArray = self._moving.T @ (self._moving * weight[:, None])
        return found


def _at_right_angles(data: Patterns, columns: Sequence[int]) -> tuple[FloatArray, FloatArray]:
    """The columns as X R^-1, where R makes them orthonormal with people as weights, and R."""
    x = data.design[:, list(columns)]
    found = linalg.qr(x * np.sqrt(data.trials)[:, None], mode="r")[0]
    triangle: FloatArray = np.asarray(found, dtype=np.float64)[: x.shape[1]]
    if np.any(np.diag(triangle) == 0):
        raise ml.NotFinite
    across: FloatArray = linalg.solve_triangular(triangle, x.T, trans="T").T
    return across, triangle


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
    k = data.design.shape[1]
    climb = _Climb(data, range(k))
    b, value = climb.to_top(np.zeros(k) if start is None else start)
    return ml.Fit(b, climb.covariance(b), likelihood.log_likelihood(data.design @ b, data), value)


def likelihood_ratio_test(data: Patterns, found: ml.Fit, columns: Sequence[int]) -> ChiSquareTest:
    """2 (PLL - its maximum with the coefficients of the columns held at 0)."""
    b = found.coefficients.copy()
    b[list(columns)] = 0.0
    free = [i for i in range(len(b)) if i not in set(columns)]
    _, value = _Climb(data, free).to_top(b, _VALUE)
    return chi_square_test(max(0.0, 2 * (found.maximum - value)), len(columns))


def profile_interval(
    data: Patterns, found: ml.Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Profile limits of the penalised likelihood for c'b. It may have two tops over the other
    coefficients: it is climbed along the ridge from the maximum and from the value before, and the
    higher one counts, which gives the outer limit."""
    fixed = int(np.argmax(np.abs(contrast)))
    # Columns such that the coefficient of the fixed one is c'b.
    turn = np.eye(len(contrast))
    turn[fixed] = -contrast / contrast[fixed]
    turn[fixed, fixed] = 1 / contrast[fixed]
    turned = Patterns(data.design @ turn, data.events, data.trials)
    climb = _Climb(turned, [i for i in range(len(contrast)) if i != fixed])
    # What the turn does to the determinant, the same everywhere.
    constant = float(np.linalg.slogdet(turn)[1])
    ridge = found.covariance @ contrast
    ridge = ridge / float(contrast @ ridge)
    middle = found.coefficients.copy()
    middle[fixed] = float(contrast @ found.coefficients)
    before = middle
    ridge[fixed] = 1.0

    def reached(value: float) -> float:
        nonlocal before
        starts = [before + ridge * (value - before[fixed])]
        if turned.design.size < _LITTLE and before is not middle:
            starts.append(middle + ridge * (value - middle[fixed]))
        tops = [climb.to_top(start, _VALUE) for start in starts]
        before, best = max(tops, key=lambda top: top[1])
        return best - constant

    return limits_where_lost(reached, found, contrast, confidence)
