"""Many models of some columns of one design each, climbed side by side.

A model of twelve columns is compared with one without each of its terms and with each term alone:
on a few thousand patterns what such fits cost is the calls, not the numbers.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hobrix.core.logistic.fit import GAIN, NEAR_IN_VALUE, ROUNDING, SETTLED, Fit
from hobrix.core.logistic.inference import start_without
from hobrix.core.logistic.likelihood import curve
from hobrix.core.logistic.patterns import BLOCK, FloatArray, Patterns

# Beyond so many columns their products take more room than going through one by one takes time.
_MOST_COLUMNS = 24
_MOST_STEPS = 12
# So many patterns of all models stay where the processor and the memory are quickest.
_STRETCH = 800


@dataclass(frozen=True)
class Chosen:
    """A model with some columns only. Of some only the value of the maximum is asked for, which
    takes fewer steps; those have no covariance."""

    columns: tuple[int, ...]
    is_value_only: bool = False


def fit_parts(data: Patterns, found: Fit, parts: Sequence[Chosen]) -> dict[Chosen, Fit]:
    """The maximum of the likelihood of each part, from where the quadratic about the maximum
    ``found`` of the whole has its own. Left out is what plain steps do not settle: steps that lose,
    or no finite estimate. Nothing where there are too many patterns or columns, or some of the
    columns are far from 0 for their spread.
    """
    shift, scale = data.scaling
    rows, k = data.design.shape
    if rows > BLOCK or k > _MOST_COLUMNS or shift.any():
        return {}
    climb = _Climb(data, scale)
    held = np.ones((len(parts), k), dtype=bool)
    b = np.zeros((len(parts), k))
    for i, part in enumerate(parts):
        held[i, part.columns] = False
        b[i, part.columns] = start_without(found, part.columns) * scale[list(part.columns)]
    near = np.where([part.is_value_only for part in parts], NEAR_IN_VALUE, SETTLED * rows)
    going, before = np.arange(len(parts)), np.full(len(parts), -np.inf)
    is_last = np.zeros(len(parts), dtype=bool)
    settled: dict[Chosen, Fit] = {}
    for _ in range(_MOST_STEPS):
        value, score, information = climb.at(b[going], held[going])
        try:
            move = np.linalg.solve(information, score[:, :, None])[:, :, 0]
        except np.linalg.LinAlgError:
            break
        gain = np.einsum("ij,ij->i", score, move)
        loses = ~(value - before[going] >= -ROUNDING * (1 + np.abs(value))) | ~(gain >= 0)
        is_done = ~loses & (is_last[going] | (gain <= near[going]))
        b[going] += move
        for i in np.flatnonzero(is_done).tolist():
            model = int(going[i])
            top = float(value[i] + gain[i] / 2)
            settled[parts[model]] = _fit(parts[model], b[model], top, information[i], scale)
        before[going], is_last[going] = value, gain <= GAIN * (1 + np.abs(value))
        going = going[~is_done & ~loses]
        if not len(going):
            break
    return settled


def _fit(
    part: Chosen, b: FloatArray, top: float, information: FloatArray, scale: FloatArray
) -> Fit:
    kept = list(part.columns)
    covariance = np.full((len(kept), len(kept)), np.nan)
    if not part.is_value_only:
        covariance = np.linalg.inv(information[kept][:, kept])
        covariance /= np.outer(scale[kept], scale[kept])
    return Fit(b[kept] / scale[kept], covariance, top, top)


class _Climb:
    """What all models share: the columns, scaled, and their products two by two."""

    def __init__(self, data: Patterns, scale: FloatArray) -> None:
        rows, k = data.design.shape
        self._data = data
        self._x = data.design / scale
        self._pairs = np.triu_indices(k)
        self._products = np.empty((rows, k * (k + 1) // 2), order="F")
        at = 0
        for i in range(k):
            ahead = self._products[:, at : at + k - i]
            np.multiply(self._x[:, i:], self._x[:, i, None], out=ahead)
            at += k - i

    def at(
        self, b: FloatArray, held: NDArray[np.bool_]
    ) -> tuple[FloatArray, FloatArray, FloatArray]:
        """The log-likelihoods at b, shape (m, k), their first derivatives, shape (m, k), and minus
        their second ones, shape (m, k, k), as if columns that are ``held`` were not there."""
        models, k = b.shape
        value, score = np.zeros(models), np.zeros((models, k))
        products = np.zeros((models, self._products.shape[1]))
        for start in range(0, len(self._x), _STRETCH):
            rows = slice(start, start + _STRETCH)
            x, y, m = self._x[rows], self._data.events[rows], self._data.trials[rows]
            eta = b @ x.T
            p, variance, size, whole = curve(eta)
            missed = ((size - eta) @ y + (size + eta) @ (m - y)) / 2
            value -= missed + np.log(whole) @ m
            score += (y - m * p) @ x
            products += (m * variance) @ self._products[rows]
        information = np.empty((models, k, k))
        first, second = self._pairs
        information[:, first, second] = products
        information[:, second, first] = products
        score[held] = 0.0
        information[held[:, :, None] | held[:, None, :]] = 0.0
        model, column = np.nonzero(held)
        information[model, column, column] = 1.0
        return value, score, information
