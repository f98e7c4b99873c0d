"""Limits from the profile of a likelihood: everything else refitted at every value."""

import math
from collections.abc import Callable

import numpy as np
from scipy import optimize

from hobrix.core.logistic.fit import Fit, NotFinite, centred, maximise
from hobrix.core.logistic.inference import estimate_of
from hobrix.core.logistic.likelihood import log_likelihood
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.tables.interval import Interval, normal_quantile

# A limit is looked for in so many strides, each longer than the one before.
_MOST_STRIDES, _LONGER = 30, 1.25


def profile_interval(
    data: Patterns, found: Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Both values of c'b at which twice the loss in log-likelihood, everything else refitted, is
    the chi-square quantile (Wilks 1938; Venzon & Moolgavkar 1988).
    Without end on a side where the loss stays smaller.
    """
    data, found, contrast = centred(data, found, contrast)
    turned, fixed = _turned(data, contrast)
    others = [i for i in range(data.design.shape[1]) if i != fixed]
    rest = Patterns(turned.design[:, others], data.events, data.trials)
    scale = rest.scaling[1]
    best, before = found.coefficients[others] * scale, float(contrast @ found.coefficients)
    # Where the others go as c'b moves, near the maximum: along the ridge of correlated columns.
    ridge = found.covariance @ contrast
    ridge = ridge[others] * scale / float(contrast @ ridge)

    def reached(value: float) -> float:
        nonlocal best, before
        if not others:
            return log_likelihood(turned.design[:, fixed] * value, data)
        start, offset = best + ridge * (value - before), turned.design[:, fixed] * value
        best, at = maximise(rest, scale, start, offset, far=math.inf)
        before = value
        return at.value

    return limits_where_lost(reached, found, contrast, confidence)


def _turned(data: Patterns, contrast: FloatArray) -> tuple[Patterns, int]:
    """The same model with c'b as the coefficient of one column, and which column that is."""
    fixed = int(np.argmax(np.abs(contrast)))
    size = contrast[fixed]
    design = data.design - np.outer(data.design[:, fixed] / size, contrast)
    design[:, fixed] = data.design[:, fixed] / size
    return Patterns(design, data.events, data.trials), fixed


def limits_where_lost(
    reached: Callable[[float], float], found: Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Where a profile, maximal at c'b, has lost what the chi-square quantile allows; without end on a
    side where it never does, or cannot be followed."""
    middle, error = estimate_of(found, contrast)
    reach = normal_quantile(confidence)

    def loss(value: float) -> float:
        if value == middle:
            return -(reach**2)
        return 2 * (found.maximum - reached(value)) - reach**2

    def limit(side: int) -> float:
        step = side * reach * error
        far = middle + step
        for _ in range(_MOST_STRIDES):
            if loss(far) >= 0:
                break
            far += step
            step *= _LONGER
        else:
            return side * math.inf
        near, end = sorted((middle, far))
        root: float = optimize.brentq(loss, near, end, xtol=1e-13 * max(1.0, abs(far)), rtol=1e-14)
        return root

    def found_or_none(side: int) -> float:
        try:
            return limit(side)
        except NotFinite:
            return side * math.inf

    return Interval(found_or_none(-1), found_or_none(1))
