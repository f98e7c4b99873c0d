"""Maximum likelihood for a binary outcome, by Newton–Raphson."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import linalg
from scipy.linalg import lapack

from hobrix.core.logistic.likelihood import At, evaluate, probabilities, score_at
from hobrix.core.logistic.patterns import (
    BLOCK,
    FloatArray,
    IntArray,
    Patterns,
    collapse,
)

__all__ = ["Collinear", "Fit", "NotFinite", "Patterns", "collapse", "fit"]

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
# Estimates to start from need be no nearer than the sample is (half a unit for each coefficient): a step
# that gains less ends them.
_NEAR_TO_START = 1.0
# Log odds that differ by so little have the same information, to the digits that are reported; by so little,
# information that shows the way to where the score is 0.
_SAME, _ON_THE_WAY = 1e-10, 0.1
# Each step by the same information must gain so much less than the one before.
_LESS = 0.01
# A step that gains less than this for each person changes no digit that is reported.
SETTLED = 1e-20
# The quadratic about a place from where a step gains this little tells the maximum to 1e-12.
NEAR_IN_VALUE = 1e-8


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
    b = _nothing_but_the_share(centred.some, scale)
    if start is not None:
        b = start * scale
        b[0] += float(shift @ start)
    if centred.some is not centred:
        b = _start(centred.some, scale, b)
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
) -> tuple[FloatArray, At]:
    """Newton–Raphson from ``b`` (in units of the columns divided by ``scale``), steps halved where
    a full one would lose; ``offset`` is added to the log odds. Only the columns ``free`` move, and
    no pattern's log odds beyond ``far``. A last step that gains less than ``near`` is not evaluated: half its gain is
    added to the value.

    Raises:
        NotFinite: it does not settle.
    """
    at = evaluate(data, scale, b, offset)
    if offset is None and at.value < -math.log(2) * float(data.trials.sum()):
        # A start from another model may lie where nothing is left to climb on.
        b = np.zeros_like(b)
        at = evaluate(data, scale, b, offset)
    moving = slice(None) if free is None else np.array(free)
    move = np.zeros_like(b)
    for _ in range(_MOST_STEPS):
        information = at.information if free is None else at.information[moving][:, moving]
        try:
            move[moving] = solve_positive(information, at.score[moving])
        except linalg.LinAlgError:
            raise NotFinite from None
        gain = float(at.score @ move)
        nothing = _SAME**2 * at.variance
        if 0 <= gain <= nothing:
            return b + move, at
        if 0 <= gain <= near:
            return b + move, replace(at, value=at.value + gain / 2)
        if len(data.trials) > BLOCK and gain <= _ON_THE_WAY**2 * at.variance:
            gains = gain, max(near, nothing)
            move[moving] += _further(data, scale, b + move, offset, moving, information, gains)
        b, at = _uphill(data, scale, b, offset, move, at)
        if gain <= GAIN * (1 + abs(at.value)):
            return b, at
        # Coefficients of columns that are nearly the same may be large where no log odds are.
        if np.abs(b).max(initial=0.0) > far and np.abs(data.design @ (b / scale)).max() > far:
            break
    raise NotFinite


def _uphill(
    data: Patterns,
    scale: FloatArray,
    b: FloatArray,
    offset: FloatArray | None,
    move: FloatArray,
    at: At,
) -> tuple[FloatArray, At]:
    """After the whole move, or as much of it as does not lose; raises NotFinite where all of it does."""
    size, rounding = 1.0, ROUNDING * (1 + abs(at.value))
    following = evaluate(data, scale, b + move, offset)
    while not following.value - at.value >= -rounding:
        size /= 2
        if size < 1e-6:
            raise NotFinite
        following = evaluate(data, scale, b + size * move, offset)
    return b + size * move, following


def _further(
    data: Patterns,
    scale: FloatArray,
    b: FloatArray,
    offset: FloatArray | None,
    moving: slice | IntArray,
    information: FloatArray,
    gains: tuple[float, float],
) -> FloatArray:
    """Steps from ``b`` by information from nearby, which gain much less each than the one before (the first of
    ``gains``), until one gains no more than the second: the score alone takes a fifth of the time that it takes with a
    new information."""
    steps, at = np.zeros_like(b[moving]), b.copy()
    last, enough = gains
    while last > enough:
        score = score_at(data, scale, at, offset)[moving]
        try:
            step = solve_positive(information, score)
        except linalg.LinAlgError:
            break
        gain = float(score @ step)
        if not 0 < gain < _LESS * last:
            break
        steps, last = steps + step, gain
        at[moving] = b[moving] + steps
    return steps


def _is_on_the_edge(p: FloatArray, data: Patterns) -> bool:
    """Fitted probabilities at 0 or 1 for whole patterns: the sign of separation."""
    return bool(
        np.any((p < _EDGE) & (data.events == 0))
        or np.any((p > 1 - _EDGE) & (data.events == data.trials))
    )


def _refuse_collinear(data: Patterns, scale: FloatArray) -> None:
    # What is no combination in some rows is none in all of them.
    if _are_far_from_collinear(data.some.squares) or _are_far_from_collinear(data.squares):
        return
    if found := redundant(data.design / scale):
        raise Collinear(found)


def _are_far_from_collinear(squares: FloatArray) -> bool:
    """So far that rounding hides no combination: quick, and enough for nearly all."""
    size = np.sqrt(np.diag(squares))
    return bool(np.all(size > 0) and linalg.eigvalsh(squares / np.outer(size, size))[0] > 1e-8)


def redundant(x: FloatArray) -> tuple[int, ...]:
    """Columns of x, shape (J, k), that are a combination of the others, as far as can be told."""
    if not x.shape[1]:
        return ()
    _, triangle, order = linalg.qr(x, mode="economic", pivoting=True)
    size = np.abs(np.diag(triangle))
    rank = int(np.count_nonzero(size > _TOLD_APART * size[0]))
    return tuple(sorted(int(i) for i in order[rank:]))


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
