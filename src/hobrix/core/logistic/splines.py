"""Bending numeric terms: restricted cubic splines (Stone & Koo 1985; Harrell 2001)."""

from collections.abc import Callable, Sequence

import numpy as np

from hobrix.core.logistic.patterns import FloatArray

# Where the knots lie, as shares of the people.
KNOT_SHARES = (0.05, 0.35, 0.65, 0.95)


def knots_of(values: FloatArray, weights: FloatArray | None = None) -> tuple[float, ...]:
    """Knots at the 5th, 35th, 65th and 95th percentile; fewer where they fall together."""
    order = np.argsort(values, kind="stable")
    m = np.ones(len(values)) if weights is None else weights[order]
    share = np.cumsum(m) / m.sum()
    places = np.searchsorted(share, KNOT_SHARES)
    found = values[order][np.minimum(places, len(values) - 1)]
    return tuple(dict.fromkeys(float(knot) for knot in found))


def spline_columns(x: FloatArray, knots: Sequence[float]) -> FloatArray:
    """x and K - 2 cubic pieces that are straight beyond the outer knots, shape (n, K - 1)."""
    return _pieces(x, knots, lambda u: np.maximum(u, 0) ** 3, x)


def spline_slopes(x: FloatArray, knots: Sequence[float]) -> FloatArray:
    """Their derivatives in x, shape (n, K - 1)."""
    return _pieces(x, knots, lambda u: 3 * np.maximum(u, 0) ** 2, np.ones_like(x))


def _pieces(
    x: FloatArray,
    knots: Sequence[float],
    cube: Callable[[FloatArray], FloatArray],
    first: FloatArray,
) -> FloatArray:
    *inner, before, last = knots
    size = (last - knots[0]) ** 2
    columns = [first]
    for knot in inner:
        piece = (
            cube(x - knot)
            - cube(x - before) * (last - knot) / (last - before)
            + cube(x - last) * (before - knot) / (last - before)
        )
        columns.append(piece / size)
    return np.column_stack(columns)
