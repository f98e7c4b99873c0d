"""Maximum likelihood for a binary outcome: patterns, Newton–Raphson, intervals, tests.

log(p / (1 - p)) = x'b (Berkson 1944; Cox 1958). Rows with the same pattern of x are one pattern
with events out of trials, so a million rows of categorical terms cost no more than their table.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import linalg, optimize, special

from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile

FloatArray = NDArray[np.float64]

# Converged when a step gains less than this in the log-likelihood, relative to its size.
_GAIN = 1e-14
# A loss this small is rounding, not a step too far.
_ROUNDING = 1e-13
_MOST_STEPS = 100
# Scaled coefficients beyond this are on their way to infinity.
_FAR = 500.0


class NotFinite(Exception):
    """The likelihood keeps rising as a coefficient grows: the outcome is separated by the terms."""


class Collinear(Exception):
    """Some columns are a combination of others; ``columns`` are those that add nothing."""

    def __init__(self, columns: tuple[int, ...]) -> None:
        super().__init__(columns)
        self.columns = columns


@dataclass(frozen=True)
class Patterns:
    """Distinct rows of a design matrix, shape (J, k), with events out of trials, shape (J,)."""

    design: FloatArray
    events: FloatArray
    trials: FloatArray

    def keep(self, columns: Sequence[int]) -> "Patterns":
        """The same people with fewer columns; patterns that become equal stay apart."""
        return Patterns(self.design[:, list(columns)], self.events, self.trials)


@dataclass(frozen=True)
class Fit:
    """Coefficients b and their covariance V, in the order of the columns."""

    coefficients: FloatArray
    covariance: FloatArray
    log_likelihood: float


def collapse(design: FloatArray, outcome: FloatArray, counts: FloatArray | None = None) -> Patterns:
    """Patterns of a design matrix of shape (n, k) and outcomes 0 or 1 of shape (n,).

    ``counts`` says how many people each row stands for; rows of 0 fall out.
    """
    weights = np.ones(len(outcome)) if counts is None else counts
    used = weights > 0
    first, place = _distinct_rows(design[used])
    patterns = design[used][first]
    trials = np.bincount(place, weights=weights[used], minlength=len(patterns))
    events = np.bincount(place, weights=(weights * outcome)[used], minlength=len(patterns))
    return Patterns(patterns, events.astype(np.float64), trials.astype(np.float64))


def _distinct_rows(design: FloatArray) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Where each distinct row first stands, and for every row which of them it is.

    Columns are turned into one code per row, one after the other; sorting whole rows instead
    takes fifty times as long.
    """
    codes, size = np.zeros(len(design), dtype=np.int64), 1
    for column in design.T:
        if column.min() == column.max():
            continue
        if np.all((column == 0) | (column == 1)):
            part, many = column.astype(np.int64), 2
        else:
            values, part = np.unique(column, return_inverse=True)
            many = len(values)
        if size * many >= 2**62:
            _, codes = np.unique(codes, return_inverse=True)
            size = int(codes.max()) + 1
        codes, size = codes * many + part, size * many
    if size > 4 * len(design):
        _, first, place = np.unique(codes, return_index=True, return_inverse=True)
        return first, place
    present = np.bincount(codes, minlength=size) > 0
    place = (np.cumsum(present) - 1)[codes]
    first = np.empty(int(present.sum()), dtype=np.int64)
    first[place[::-1]] = np.arange(len(design))[::-1]
    return first, place


def fit(data: Patterns) -> Fit:
    """The maximum of the likelihood, by Newton–Raphson.

    Raises:
        Collinear: columns that add nothing.
        NotFinite: separation; the estimate is not finite.
    """
    scale = _scale(data.design)
    x = data.design / scale
    _refuse_collinear(x)
    b = _maximise(x, data, np.zeros(x.shape[1]), np.zeros(len(x)))
    p = special.expit(x @ b)
    variance = data.trials * p * (1 - p)
    if float(variance.max()) <= 0 or _is_on_the_edge(p, data):
        raise NotFinite
    covariance = linalg.inv((x * variance[:, None]).T @ x)
    return Fit(b / scale, covariance / np.outer(scale, scale), _log_likelihood(x @ b, data))


def _scale(design: FloatArray) -> FloatArray:
    """The largest absolute value of each column: divided by it, values of 1e12 do no harm."""
    scale: FloatArray = np.abs(design).max(axis=0)
    scale[scale == 0] = 1.0
    return scale


def _maximise(x: FloatArray, data: Patterns, b: FloatArray, offset: FloatArray) -> FloatArray:
    """Newton–Raphson from ``b`` with steps halved where a full one would lose; ``offset`` is
    added to the log odds. Raises NotFinite where it does not settle."""
    value = _log_likelihood(x @ b + offset, data)
    for _ in range(_MOST_STEPS):
        p = special.expit(x @ b + offset)
        information = (x * (data.trials * p * (1 - p))[:, None]).T @ x
        score = x.T @ (data.events - data.trials * p)
        try:
            move = linalg.solve(information, score, assume_a="pos")
        except linalg.LinAlgError:
            raise NotFinite from None
        size, rounding = 1.0, _ROUNDING * (1 + abs(value))
        while (gained := _log_likelihood(x @ (b + size * move) + offset, data) - value) < -rounding:
            size /= 2
            if size < 1e-6:
                raise NotFinite
        b, value = b + size * move, value + gained
        if float(score @ move) <= _GAIN * (1 + abs(value)):
            return b
        if np.abs(b).max(initial=0.0) > _FAR:
            break
    raise NotFinite


def _is_on_the_edge(p: FloatArray, data: Patterns) -> bool:
    """Fitted probabilities at 0 or 1 for whole patterns: the sign of separation."""
    return bool(
        np.any((p < 1e-9) & (data.events == 0))
        or np.any((p > 1 - 1e-9) & (data.events == data.trials))
    )


def _log_likelihood(eta: FloatArray, data: Patterns) -> float:
    """sum y ln p + (m - y) ln(1 - p), each without overflow."""
    return -float(
        data.events @ np.logaddexp(0, -eta) + (data.trials - data.events) @ np.logaddexp(0, eta)
    )


def _refuse_collinear(x: FloatArray) -> None:
    _, triangle, order = linalg.qr(x, mode="economic", pivoting=True)
    size = np.abs(np.diag(triangle))
    rank = int(np.count_nonzero(size > 1e-11 * size[0] * max(x.shape))) if len(size) else 0
    if rank < x.shape[1]:
        raise Collinear(tuple(sorted(int(i) for i in order[rank:])))


def wald_test(found: Fit, columns: Sequence[int]) -> ChiSquareTest:
    """b_T' (V_TT)^-1 b_T, df: the number of columns (Wald 1943)."""
    at = list(columns)
    b = found.coefficients[at]
    inverse = linalg.solve(found.covariance[np.ix_(at, at)], b, assume_a="pos")
    return chi_square_test(float(b @ inverse), len(at))


def likelihood_ratio_test(data: Patterns, found: Fit, columns: Sequence[int]) -> ChiSquareTest:
    """Twice what the columns gain over the model without them; raises as ``fit`` does."""
    rest = [i for i in range(data.design.shape[1]) if i not in set(columns)]
    without = (
        fit(data.keep(rest)).log_likelihood
        if rest
        else _log_likelihood(np.zeros(len(data.trials)), data)
    )
    return chi_square_test(max(0.0, 2 * (found.log_likelihood - without)), len(columns))


def wald_intervals(found: Fit, confidence: float) -> list[Interval]:
    """b_j ± z se_j on the log scale."""
    z = normal_quantile(confidence)
    errors = np.sqrt(np.diag(found.covariance))
    return [
        Interval(float(b - z * se), float(b + z * se))
        for b, se in zip(found.coefficients, errors, strict=True)
    ]


def profile_interval(data: Patterns, found: Fit, column: int, confidence: float) -> Interval:
    """Both values c of the coefficient at which twice the loss in log-likelihood, all others
    refitted, is the chi-square quantile (Wilks 1938; Venzon & Moolgavkar 1988)."""
    allowed = normal_quantile(confidence) ** 2
    others = [i for i in range(data.design.shape[1]) if i != column]
    error = math.sqrt(found.covariance[column, column])
    middle = float(found.coefficients[column])

    def loss(value: float) -> float:
        offset = data.design[:, column] * value
        return 2 * (found.log_likelihood - _best_with_offset(data, others, offset, found)) - allowed

    def limit(side: int) -> float:
        step = side * normal_quantile(confidence) * error
        far = middle + step
        while loss(far) < 0:
            far += step
        near, end = sorted((middle, far))
        root: float = optimize.brentq(loss, near, end, xtol=1e-13 * max(1.0, abs(far)), rtol=1e-14)
        return root

    return Interval(limit(-1), limit(1))


def _best_with_offset(data: Patterns, columns: list[int], offset: FloatArray, found: Fit) -> float:
    """The greatest log-likelihood over the other coefficients, one held fixed."""
    scale = _scale(data.design[:, columns])
    x = data.design[:, columns] / scale
    b = _maximise(x, data, found.coefficients[columns] * scale, offset)
    return _log_likelihood(x @ b + offset, data)
