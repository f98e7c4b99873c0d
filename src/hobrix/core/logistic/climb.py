"""The highest point of a concave log-likelihood: Newton–Raphson, also on a plane c'b = value."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import linalg

from hobrix.core.logistic.fit import GAIN, ROUNDING, SETTLED, Fit, NotFinite, solve_positive
from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.logistic.profile import limits_where_lost
from hobrix.core.tables.interval import Interval

_MOST_STEPS = 100


@dataclass(frozen=True)
class Height:
    """The log-likelihood at some coefficients, its first derivatives, shape (p,), and minus its second
    ones, shape (p, p)."""

    value: float
    score: FloatArray
    information: FloatArray


# None where there is none, as with thresholds out of order.
Surface = Callable[[FloatArray], Height | None]


def climb(surface: Surface, start: FloatArray) -> tuple[FloatArray, Height]:
    """The maximum, steps halved where a full one would lose.

    Raises:
        NotFinite: it does not settle.
    """
    b, at = start, surface(start)
    if at is None:
        raise NotFinite
    for _ in range(_MOST_STEPS):
        try:
            move = solve_positive(at.information, at.score)
        except linalg.LinAlgError:
            raise NotFinite from None
        gain = float(at.score @ move)
        if 0 <= gain <= SETTLED:
            return b + move, at
        size, rounding = 1.0, ROUNDING * (1 + abs(at.value))
        following = surface(b + move)
        while following is None or not following.value - at.value >= -rounding:
            size /= 2
            if size < 1e-6:
                raise NotFinite
            following = surface(b + size * move)
        b, at = b + size * move, following
        if gain <= GAIN * (1 + abs(at.value)):
            return b, at
    raise NotFinite


def profile_interval(
    surface: Surface, found: Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Limits of c'b where twice the loss, everything else at its best, is the chi-square quantile (Venzon &
    Moolgavkar 1988). ``contrast`` has shape (p,)."""
    # Everything that does not move c'b, and the shortest way to move it by one.
    others, step = linalg.null_space(contrast[None, :]), contrast / float(contrast @ contrast)
    value = float(contrast @ found.coefficients)
    # Where the others go as c'b moves, near the maximum.
    ridge = found.covariance @ contrast
    ridge = others.T @ (ridge / float(contrast @ ridge))
    best, before = others.T @ found.coefficients, value

    def reached(at: float) -> float:
        nonlocal best, before

        def plane(free: FloatArray) -> Height | None:
            here = surface(others @ free + step * at)
            if here is None:
                return None
            return Height(here.value, others.T @ here.score, others.T @ here.information @ others)

        if not len(best):
            here = surface(step * at)
            return -np.inf if here is None else here.value
        for start in (best + ridge * (at - before), best):
            if plane(start) is not None:
                best, height = climb(plane, start)
                before = at
                return height.value
        raise NotFinite

    return limits_where_lost(reached, found, contrast, confidence)
