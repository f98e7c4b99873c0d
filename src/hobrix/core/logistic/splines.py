"""Bending numeric terms: restricted cubic splines (Stone & Koo 1985; Harrell 2001)."""

from collections.abc import Callable, Sequence

import numpy as np

from hobrix.core.logistic.order import values_at_shares
from hobrix.core.logistic.patterns import FloatArray

# Where the knots lie, as shares of the people.
KNOT_SHARES = (0.05, 0.35, 0.65, 0.95)


def knots_of(values: FloatArray, weights: FloatArray | None = None) -> tuple[float, ...]:
    """Knots at the 5th, 35th, 65th and 95th percentile; fewer where they fall together."""
    found = values_at_shares(values, weights, KNOT_SHARES)
    return tuple(dict.fromkeys(float(knot) for knot in found))


def spline_columns(x: FloatArray, knots: Sequence[float]) -> FloatArray:
    """x and K - 2 cubic pieces that are straight beyond the outer knots, shape (n, K - 1)."""
    return _pieces(x, knots, _cube, x)


def spline_slopes(x: FloatArray, knots: Sequence[float]) -> FloatArray:
    """Their derivatives in x, shape (n, K - 1)."""
    return _pieces(x, knots, _cube_slope, np.ones_like(x))


def _pieces(
    x: FloatArray,
    knots: Sequence[float],
    cube: Callable[[FloatArray], FloatArray],
    first: FloatArray,
) -> FloatArray:
    *inner, before, last = knots
    size = (last - knots[0]) ** 2
    at_before, at_last = cube(x - before), cube(x - last)
    columns = [first]
    for knot in inner:
        piece = cube(x - knot)
        piece -= at_before * ((last - knot) / (last - before))
        piece += at_last * ((before - knot) / (last - before))
        columns.append(piece / size)
    return np.column_stack(columns)


def _cube(u: FloatArray) -> FloatArray:
    above: FloatArray = np.maximum(u, 0)
    return above * above * above


def _cube_slope(u: FloatArray) -> FloatArray:
    above: FloatArray = np.maximum(u, 0)
    return 3 * above * above
