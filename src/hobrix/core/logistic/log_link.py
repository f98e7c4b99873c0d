"""Ratios of shares as a model's own: ln P = x'b.

By the Poisson likelihood with robust errors (Zou 2004, Am J Epidemiol 159:702), which always has an estimate where
every category has an event; and by the binomial likelihood (Wacholder 1986; Skov et al. 1998), which has one only
where it lies within P <= 1.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hobrix.core.logistic.climb import Height, climb
from hobrix.core.logistic.directions import Cone
from hobrix.core.logistic.fit import Fit, NotFinite
from hobrix.core.logistic.patterns import FloatArray, Patterns

Why = Literal["diverges", "boundary"]
# Of the largest eigenvalue: below it, patterns may leave a direction out.
_REACHES = 1e-9


class NoEstimate(Exception):
    """There is none: it ``diverges`` for want of an event somewhere, or lies on the ``boundary`` P = 1."""

    def __init__(self, why: Why) -> None:
        super().__init__(why)
        self.why = why


@dataclass(frozen=True)
class PoissonFit:
    """``fit`` has the covariance of the information (not for use with yes/no data) in ``inverse``, shape (k, k), and
    the robust one as its covariance. ``above_1`` people have a fitted share above 1."""

    fit: Fit
    inverse: FloatArray
    above_1: float


def poisson(data: Patterns) -> PoissonFit:
    """b that solves sum (y - m) x = 0 with m = exp(x'b); V = A^-1 B A^-1 with B = sum (y - m)^2 x x' over people
    (White 1980; Royall 1986), without a factor.

    Raises:
        NoEstimate: a category without an event.
    """
    x, events, trials = data.design, data.events, data.trials

    def surface(columns: FloatArray, b: FloatArray) -> Height | None:
        eta = columns @ b
        if not np.all(np.isfinite(eta)) or eta.max() > 600:
            return None
        mean = trials * np.exp(eta)
        value = float(events @ eta - mean.sum())
        return Height(value, (events - mean) @ columns, (columns * mean[:, None]).T @ columns)

    found = _climbed(data, surface)
    fitted = np.exp(x @ found.coefficients)
    squares = events * (1 - fitted) ** 2 + (trials - events) * fitted**2
    inverse = found.covariance
    middle = (x * squares[:, None]).T @ x
    robust = Fit(
        found.coefficients, inverse @ middle @ inverse, found.log_likelihood, found.maximum
    )
    return PoissonFit(robust, inverse, float(trials[fitted > 1].sum()))


def binomial(data: Patterns) -> Fit:
    """The maximum of sum y x'b + (1 - y) ln(1 - exp(x'b)), with errors from the observed information.

    Raises:
        NoEstimate: a category without an event, or a maximum with fitted shares of 1.
    """
    events, others = data.events, data.trials - data.events

    def surface(columns: FloatArray, b: FloatArray) -> Height | None:
        eta = columns @ b
        if not np.all(np.isfinite(eta)) or eta.max() >= 0:
            return None
        p, rest = np.exp(eta), -np.expm1(eta)
        value = float(events @ eta + others @ np.log(rest))
        score = (events - others * p / rest) @ columns
        return Height(value, score, (columns * (others * p / rest**2)[:, None]).T @ columns)

    try:
        return _climbed(data, surface)
    except NotFinite:
        raise NoEstimate("boundary") from None


def _climbed(data: Patterns, surface: Callable[[FloatArray, FloatArray], Height | None]) -> Fit:
    """From the share of all, on columns whose middle is 0 and spread is 1."""
    if _diverges(data):
        raise NoEstimate("diverges")
    x, weight = data.design, data.trials
    middle = weight @ x / weight.sum()
    middle[0] = 0.0
    spread = np.sqrt(weight @ (x - middle) ** 2 / weight.sum())
    spread[0] = 1.0
    spread[spread == 0] = 1.0
    turned = (x - middle) / spread
    start = np.zeros(x.shape[1])
    start[0] = np.log(data.events.sum() / weight.sum())
    b, at = climb(lambda b: surface(turned, b), start)
    try:
        covariance = np.linalg.inv(at.information)
    except np.linalg.LinAlgError:
        raise NotFinite from None
    turn = np.diag(1 / spread)
    turn[0] -= middle / spread
    return Fit(turn @ b, turn @ covariance @ turn.T, at.value, at.value)


def _diverges(data: Patterns) -> bool:
    """Whether some direction lessens only shares of patterns without an event."""
    none = data.events == 0
    if not none.any():
        return False
    scale = np.abs(data.design).max(axis=0)
    scale[scale == 0] = 1.0
    x = data.design / scale
    # A direction that leaves all patterns with an event as they are is at right angles to them: where these
    # reach everywhere, there is none, and no linear programme is needed.
    with_event = x[~none]
    reach = np.linalg.eigvalsh(with_event.T @ with_event)
    if reach[0] > _REACHES * reach[-1]:
        return False
    return bool(Cone(-x[none], np.unique(with_event, axis=0)).strict().any())
