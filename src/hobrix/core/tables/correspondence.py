"""Correspondence analysis: a table as a map of its rows and columns.

Greenacre 1984, Theory and Applications of Correspondence Analysis; Benzécri 1973.
"""

from dataclasses import dataclass

import numpy as np

from hobrix.core.tables.counts import FloatArray


@dataclass(frozen=True)
class Points:
    """Rows or columns on the axes, shape (points, axes) but for masses and inertias."""

    masses: FloatArray
    principal_coordinates: FloatArray
    inertias: FloatArray
    contributions: FloatArray
    squared_cosines: FloatArray


@dataclass(frozen=True)
class Correspondence:
    """``principal_inertias`` sum to ``total_inertia`` = X2 / n."""

    total_inertia: float
    singular_values: FloatArray
    principal_inertias: FloatArray
    rows: Points
    columns: Points


def correspondence(counts: FloatArray) -> Correspondence:
    """The map of a table without empty margins; min(R, C) - 1 axes, both in principal coordinates.

    On each axis the row coordinate of largest absolute value is positive.
    """
    shares = counts / counts.sum()
    r, c = shares.sum(axis=1), shares.sum(axis=0)
    residuals = (shares - np.outer(r, c)) / np.sqrt(np.outer(r, c))
    u, s, vt = np.linalg.svd(residuals, full_matrices=False)
    axes = min(counts.shape) - 1
    u, s, v = u[:, :axes], s[:axes], vt[:axes].T
    rows, columns = u * s / np.sqrt(r)[:, None], v * s / np.sqrt(c)[:, None]
    lead = rows[np.abs(rows).argmax(axis=0), np.arange(axes)]
    sign = np.where(lead < 0, -1.0, 1.0)
    return Correspondence(
        total_inertia=float(np.sum(residuals**2)),
        singular_values=s,
        principal_inertias=s**2,
        rows=_points(r, rows * sign, s),
        columns=_points(c, columns * sign, s),
    )


def _points(masses: FloatArray, coordinates: FloatArray, singular: FloatArray) -> Points:
    parts = masses[:, None] * coordinates**2
    distance = np.sum(coordinates**2, axis=1, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        contributions = np.where(singular > 0, parts / singular**2, 0.0)
        cosines = np.where(distance > 0, coordinates**2 / distance, 0.0)
    return Points(masses, coordinates, parts.sum(axis=1), contributions, cosines)
