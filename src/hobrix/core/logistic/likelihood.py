"""The log-likelihood of an event as a function of the coefficients: its value, score and information.

log(p / (1 - p)) = x'b (Berkson 1944; Cox 1958). Rows are worked through in stretches that stay in the processor's cache,
on all cores.
"""

import threading
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from hobrix.core.logistic.patterns import BLOCK, FloatArray, Patterns, blocks, in_stretches


class _Room(threading.local):
    """A place for products of a block that is not asked for anew every time, one for each thread."""

    def __init__(self) -> None:
        self._held = np.empty(0)

    def like(self, design: FloatArray, rows: int) -> FloatArray:
        """Shape (rows, k), in the order of the design; what it holds is of no account."""
        size = rows * design.shape[1]
        if len(self._held) < size:
            self._held = np.empty(size)
        order: Literal["C", "F"] = "C" if design.flags.c_contiguous else "F"
        return self._held[:size].reshape((rows, -1), order=order)


_room = _Room()


@dataclass(frozen=True)
class At:
    """The log-likelihood at some coefficients, its first derivatives, shape (k,), and minus its
    second ones, shape (k, k); the least p(1 - p) of a pattern, and the sum over all people."""

    value: float
    score: FloatArray
    information: FloatArray
    least: float
    variance: float


def probabilities(design: FloatArray, coefficients: FloatArray) -> FloatArray:
    """p = 1 / (1 + exp(-x'b)), shape (J,)."""
    return logistic(design @ coefficients)


def logistic(eta: FloatArray) -> FloatArray:
    """1 / (1 + exp(-eta)), without overflow."""
    found: FloatArray = _logistic(eta)[0]
    return found


def _logistic(eta: FloatArray) -> tuple[FloatArray, FloatArray]:
    """p and ln(1 + exp(-|eta|)), from one exponential."""
    small = np.exp(-np.abs(eta))
    return np.where(eta >= 0, 1.0, small) / (1 + small), np.log1p(small)


def curve(eta: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """p, p(1 - p), |eta| and 1 + exp(-|eta|), with few passes over the rows and little room: -ln p is half of
    |eta| - eta and ln(1 + exp(-|eta|)), -ln(1 - p) half of |eta| + eta and the same."""
    size = np.abs(eta)
    small = np.negative(size)
    np.exp(small, out=small)
    whole = 1 + small
    large = 1 / whole
    # From here on it is p(1 - p), and the other one p.
    small *= large
    small *= large
    large -= 0.5
    np.copysign(large, eta, out=large)
    large += 0.5
    return large, small, size, whole


def log_likelihood(eta: FloatArray, data: Patterns) -> float:
    """sum y ln p + (m - y) ln(1 - p), each without overflow."""
    return _log_likelihood(eta, _logistic(eta)[1], data.events, data.trials)


def _log_likelihood(
    eta: FloatArray, log_part: FloatArray, events: FloatArray, trials: FloatArray
) -> float:
    missed = events @ np.maximum(-eta, 0) + (trials - events) @ np.maximum(eta, 0)
    return -float(missed + trials @ log_part)


def score_at(
    data: Patterns, scale: FloatArray, b: FloatArray, offset: FloatArray | None
) -> FloatArray:
    slope = b / scale

    def of(rows: slice) -> FloatArray:
        found = np.zeros(len(slope))
        for part in blocks(rows):
            x = data.design[part]
            eta = x @ slope if offset is None else x @ slope + offset[part]
            found += (data.events[part] - data.trials[part] * special.expit(eta)) @ x
        return found

    score: FloatArray = sum(in_stretches(of, len(data.trials))) / scale
    return score


def evaluate(data: Patterns, scale: FloatArray, b: FloatArray, offset: FloatArray | None) -> At:
    slope = b / scale
    parts = in_stretches(lambda part: _of_stretch(data, slope, offset, part), len(data.trials))
    value = sum(part.value for part in parts)
    score: FloatArray = sum(part.score for part in parts) / scale
    information = sum(part.information for part in parts) / np.outer(scale, scale)
    least, variance = min(part.least for part in parts), sum(part.variance for part in parts)
    return At(value, score, information, least, variance)


def _of_stretch(data: Patterns, slope: FloatArray, offset: FloatArray | None, rows: slice) -> At:
    columns = len(slope)
    value, score, least, in_all = 0.0, np.zeros(columns), 1.0, 0.0
    information = np.zeros((columns, columns))
    room = _room.like(data.design, min(BLOCK, rows.stop - rows.start))
    for part in blocks(rows):
        x, y, m = data.design[part], data.events[part], data.trials[part]
        eta = x @ slope if offset is None else x @ slope + offset[part]
        p, variance, size, whole = curve(eta)
        missed = float((size - eta) @ y + (size + eta) @ (m - y)) / 2
        value -= missed + float(np.log(whole) @ m)
        score += (y - m * p) @ x
        least = min(least, float(variance.min()))
        weight = m * variance
        in_all += float(weight.sum())
        # A product of a matrix with itself is worked out once for both halves.
        root = np.multiply(x, np.sqrt(weight)[:, None], out=room[: len(m)])
        information += root.T @ root
    return At(value, score, information, least, in_all)
