"""Maximum likelihood for a binary outcome: Newton–Raphson, intervals and tests.

log(p / (1 - p)) = x'b (Berkson 1944; Cox 1958).
"""

import math
import threading
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy import linalg
from scipy.linalg import lapack

from hobrix.core.logistic.patterns import (
    BLOCK,
    FloatArray,
    Patterns,
    blocks,
    collapse,
    in_stretches,
)
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile

__all__ = ["Collinear", "Fit", "NotFinite", "Patterns", "collapse", "fit", "probabilities"]

# Converged when a step gains less than this in the log-likelihood, relative to its size.
GAIN = 1e-14
# A loss this small is rounding, not a step too far.
ROUNDING = 1e-13
_MOST_STEPS = 100
# Probabilities this near 0 or 1 for whole patterns are looked at for separation.
_EDGE = 1e-9
# Log odds beyond this are on their way to infinity.
_FAR = 500.0
# What columns differ by, relative to their size, is squared in the information: of less than this
# nothing would be left there.
_TOLD_APART = 4e-7
# Fits of many more patterns start from the estimates of so many of them, and very large ones then from those
# of a quarter: near enough to save a step over all.
_SAMPLE, _VERY_LARGE = 20_000, 400_000
# Estimates to start from need be no nearer than the sample is: a step that gains less ends them.
_NEAR_TO_START = 1e-2
# A step that gains less than this for each person changes no digit that is reported.
SETTLED = 1e-20
# The quadratic about a place from where a step gains this little tells the maximum to 1e-12.
NEAR_IN_VALUE = 1e-8


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


class NotFinite(Exception):
    """The likelihood keeps rising as a coefficient grows: the outcome is separated by the terms."""


class Collinear(Exception):
    """Some columns are a combination of others; ``columns`` are those that add nothing."""

    def __init__(self, columns: tuple[int, ...]) -> None:
        super().__init__(columns)
        self.columns = columns


@dataclass(frozen=True)
class Fit:
    """Coefficients b and their covariance V, in the order of the columns.

    ``maximum`` is what was maximised: the log-likelihood, or the penalised one.
    """

    coefficients: FloatArray
    covariance: FloatArray
    log_likelihood: float
    maximum: float
    # Fitted probabilities of whole patterns at 0 or 1: perhaps separation.
    on_the_edge: bool = False


@dataclass(frozen=True)
class _At:
    """The log-likelihood at some coefficients, its first derivatives, shape (k,), and minus its
    second ones, shape (k, k); the least p(1 - p) of a pattern."""

    value: float
    score: FloatArray
    information: FloatArray
    least: float


def fit(data: Patterns, start: FloatArray | None = None, *, is_checked: bool = False) -> Fit:
    """The maximum of the likelihood, by Newton–Raphson from ``start`` (the share of events in all).
    Columns known not to be collinear are ``is_checked``.

    Raises:
        Collinear: columns that add nothing.
        NotFinite: separation; the estimate is not finite.
    """
    if is_checked and (exact := _of_shares(data)) is not None:
        return exact
    shift, scale = data.scaling
    centred = data
    if shift.any():
        centred = Patterns(data.design - shift, data.events, data.trials)
    x = centred.design
    if not is_checked:
        _refuse_collinear(centred, scale)
    b = _nothing_but_the_share(centred, scale)
    if start is not None:
        b = start * scale
        b[0] += float(shift @ start)
    many = len(data.trials)
    for size in (_SAMPLE, many // 4) if many >= _VERY_LARGE else (_SAMPLE,):
        if (sample := centred.sample(size)) is not None:
            b = _start(sample, scale, b)
    b, at = maximise(centred, scale, b)
    try:
        covariance = np.linalg.inv(at.information) / np.outer(scale, scale)
    except np.linalg.LinAlgError:
        # Where all probabilities come to 0 or 1 nothing is left to tell.
        raise NotFinite from None
    b = b / scale
    edge = at.least < _EDGE and _is_on_the_edge(probabilities(x, b), data)
    if shift.any():
        # Back to an intercept at 0: b0 - sum of shift times slope.
        turn = np.eye(len(b))
        turn[0] -= shift
        b, covariance = turn @ b, turn @ covariance @ turn.T
    return Fit(b, covariance, at.value, at.value, edge)


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
    """p, p(1 - p), |eta| and 1 + exp(-|eta|), with few passes over the rows: -ln p is half of
    |eta| - eta and ln(1 + exp(-|eta|)), -ln(1 - p) half of |eta| + eta and the same."""
    size = np.abs(eta)
    small = np.exp(-size)
    whole = 1 + small
    large = 1 / whole
    return np.copysign(large - 0.5, eta) + 0.5, large * (large * small), size, whole


def log_likelihood(eta: FloatArray, data: Patterns) -> float:
    """sum y ln p + (m - y) ln(1 - p), each without overflow."""
    return _log_likelihood(eta, _logistic(eta)[1], data.events, data.trials)


def _log_likelihood(
    eta: FloatArray, log_part: FloatArray, events: FloatArray, trials: FloatArray
) -> float:
    missed = events @ np.maximum(-eta, 0) + (trials - events) @ np.maximum(eta, 0)
    return -float(missed + trials @ log_part)


def _nothing_but_the_share(data: Patterns, scale: FloatArray) -> FloatArray:
    """The estimate of the model with an intercept only, where the first column is one."""
    b = np.zeros(data.design.shape[1])
    events, trials = float(data.events.sum()), float(data.trials.sum())
    if 0 < events < trials and data.has_intercept:
        b[0] = scale[0] * math.log(events / (trials - events))
    return b


def _of_shares(data: Patterns) -> Fit | None:
    """The maximum where columns of categories can take up the share of every pattern: the log odds
    of each, with variance 1/y + 1/(m - y) (Woolf 1955); None for any other model."""
    x, y, others = data.design, data.events, data.trials - data.events
    are_as_many = x.shape[0] == x.shape[1]
    if not are_as_many or np.abs(x).max() > 1 or not np.all((y > 0) & (others > 0)):
        return None
    turn = np.asarray(np.linalg.inv(x), dtype=np.float64)
    value = float(y @ np.log(y / data.trials) + others @ np.log(others / data.trials))
    log_odds, variance = np.log(y) - np.log(others), 1 / y + 1 / others
    return Fit(turn @ log_odds, (turn * variance) @ turn.T, value, value)


def solve_positive(matrix: FloatArray, right: FloatArray) -> FloatArray:
    """A^-1 b of a positive definite matrix, shape (k,); raises LinAlgError where it is none."""
    _, solution, trouble = lapack.dposv(matrix, right)
    if trouble or not np.all(np.isfinite(solution)):
        raise linalg.LinAlgError
    found: FloatArray = solution
    return found


def _start(sample: Patterns, scale: FloatArray, b: FloatArray) -> FloatArray:
    """The estimate of a sample, near enough to save steps; ``b`` where it has none."""
    try:
        return maximise(sample, scale, b, near=_NEAR_TO_START)[0]
    except NotFinite:
        return b


def maximise(
    data: Patterns,
    scale: FloatArray,
    b: FloatArray,
    offset: FloatArray | None = None,
    free: Sequence[int] | None = None,
    far: float = _FAR,
    near: float = 0.0,
) -> tuple[FloatArray, _At]:
    """Newton–Raphson from ``b`` (in units of the columns divided by ``scale``), steps halved where
    a full one would lose; ``offset`` is added to the log odds. Only the columns ``free`` move, and
    no pattern's log odds beyond ``far``. A last step that gains less than ``near`` is not evaluated: half its gain is
    added to the value.

    Raises:
        NotFinite: it does not settle.
    """
    at = _evaluate(data, scale, b, offset)
    if offset is None and at.value < -math.log(2) * float(data.trials.sum()):
        # A start from another model may lie where nothing is left to climb on.
        b = np.zeros_like(b)
        at = _evaluate(data, scale, b, offset)
    moving = slice(None) if free is None else np.array(free)
    move = np.zeros_like(b)
    for _ in range(_MOST_STEPS):
        information = at.information if free is None else at.information[moving][:, moving]
        try:
            move[moving] = solve_positive(information, at.score[moving])
        except linalg.LinAlgError:
            raise NotFinite from None
        gain = float(at.score @ move)
        if 0 <= gain <= SETTLED * len(data.trials):
            return b + move, at
        if 0 <= gain <= near:
            return b + move, replace(at, value=at.value + gain / 2)
        size, rounding = 1.0, ROUNDING * (1 + abs(at.value))
        following = _evaluate(data, scale, b + move, offset)
        while not following.value - at.value >= -rounding:
            size /= 2
            if size < 1e-6:
                raise NotFinite
            following = _evaluate(data, scale, b + size * move, offset)
        b, at = b + size * move, following
        if gain <= GAIN * (1 + abs(at.value)):
            return b, at
        # Coefficients of columns that are nearly the same may be large where no log odds are.
        if np.abs(b).max(initial=0.0) > far and np.abs(data.design @ (b / scale)).max() > far:
            break
    raise NotFinite


def _evaluate(data: Patterns, scale: FloatArray, b: FloatArray, offset: FloatArray | None) -> _At:
    slope = b / scale
    parts = in_stretches(lambda part: _of_stretch(data, slope, offset, part), len(data.trials))
    value = sum(part.value for part in parts)
    score: FloatArray = sum(part.score for part in parts) / scale
    information = sum(part.information for part in parts) / np.outer(scale, scale)
    return _At(value, score, information, min(part.least for part in parts))


def _of_stretch(data: Patterns, slope: FloatArray, offset: FloatArray | None, rows: slice) -> _At:
    columns = len(slope)
    value, score, least = 0.0, np.zeros(columns), 1.0
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
        # A product of a matrix with itself is worked out once for both halves.
        root = np.multiply(x, np.sqrt(m * variance)[:, None], out=room[: len(m)])
        information += root.T @ root
    return _At(value, score, information, least)


def _is_on_the_edge(p: FloatArray, data: Patterns) -> bool:
    """Fitted probabilities at 0 or 1 for whole patterns: the sign of separation."""
    return bool(
        np.any((p < _EDGE) & (data.events == 0))
        or np.any((p > 1 - _EDGE) & (data.events == data.trials))
    )


def _refuse_collinear(data: Patterns, scale: FloatArray) -> None:
    size = np.sqrt(np.diag(data.squares))
    # Rounding hides no combination this far from one: quick, and enough for nearly all.
    if np.all(size > 0) and linalg.eigvalsh(data.squares / np.outer(size, size))[0] > 1e-8:
        return
    if found := redundant(data.design / scale):
        raise Collinear(found)


def redundant(x: FloatArray) -> tuple[int, ...]:
    """Columns of x, shape (J, k), that are a combination of the others, as far as can be told."""
    if not x.shape[1]:
        return ()
    _, triangle, order = linalg.qr(x, mode="economic", pivoting=True)
    size = np.abs(np.diag(triangle))
    rank = int(np.count_nonzero(size > _TOLD_APART * size[0]))
    return tuple(sorted(int(i) for i in order[rank:]))


def wald_test(found: Fit, columns: Sequence[int]) -> ChiSquareTest:
    """b_T' (V_TT)^-1 b_T, df: the number of columns (Wald 1943)."""
    at = list(columns)
    b = found.coefficients[at]
    inverse = solve_positive(found.covariance[np.ix_(at, at)], b)
    return chi_square_test(float(b @ inverse), len(at))


def likelihood_ratio_test(data: Patterns, found: Fit, columns: Sequence[int]) -> ChiSquareTest:
    """Twice what the columns gain over the model without them; raises as ``fit`` does."""
    rest = [i for i in range(data.design.shape[1]) if i not in set(columns)]
    without = (
        maximum_without(data, found, columns)
        if rest
        else log_likelihood(np.zeros(len(data.trials)), data)
    )
    return gain_test(found, without, columns)


def gain_test(found: Fit, without: float, columns: Sequence[int]) -> ChiSquareTest:
    """Twice what the columns gain over the greatest log-likelihood ``without`` them."""
    return chi_square_test(max(0.0, 2 * (found.log_likelihood - without)), len(columns))


def maximum_without(data: Patterns, found: Fit, columns: Sequence[int]) -> float:
    """The greatest log-likelihood with the coefficients of some columns at 0."""
    data, found, _ = centred(data, found, np.zeros(data.design.shape[1]))
    scale, b = data.scaling[1], np.zeros(data.design.shape[1])
    free = [i for i in range(len(b)) if i not in set(columns)]
    b[free] = start_without(found, free)
    return maximise(data, scale, b * scale, free=free, near=NEAR_IN_VALUE)[1].value


def start_without(found: Fit, free: Sequence[int]) -> FloatArray:
    """Where the quadratic about a maximum has its own with only the coefficients ``free`` not at 0,
    shape of ``free``."""
    kept, v, b = list(free), found.covariance, found.coefficients
    held = [i for i in range(len(b)) if i not in set(kept)]
    pull = solve_positive(v[held][:, held], b[held])
    start: FloatArray = b[kept] - v[kept][:, held] @ pull
    return start


def estimate_of(found: Fit, contrast: FloatArray) -> tuple[float, float]:
    """c'b and its standard error sqrt(c'Vc); ``contrast`` of shape (k,)."""
    return float(contrast @ found.coefficients), math.sqrt(
        float(contrast @ found.covariance @ contrast)
    )


def wald_intervals(found: Fit, confidence: float) -> list[Interval]:
    """b_j ± z se_j on the log scale."""
    z = normal_quantile(confidence)
    errors = np.sqrt(np.diag(found.covariance))
    return [
        Interval(float(b - z * se), float(b + z * se))
        for b, se in zip(found.coefficients, errors, strict=True)
    ]


def centred(data: Patterns, found: Fit, contrast: FloatArray) -> tuple[Patterns, Fit, FloatArray]:
    """The same model and c'b with columns far from 0 taken off their middle."""
    shift, _ = data.scaling
    if not shift.any():
        return data, found, contrast
    forth, back = np.eye(len(shift)), np.eye(len(shift))
    forth[0] += shift
    back[0] -= shift
    moved = replace(
        found,
        coefficients=forth @ found.coefficients,
        covariance=forth @ found.covariance @ forth.T,
    )
    return Patterns(data.design - shift, data.events, data.trials), moved, contrast @ back
