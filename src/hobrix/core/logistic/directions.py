"""Does a log-likelihood keep rising along some direction, and which coefficients go where?

Albert & Anderson 1984, Biometrika 71:1: where every row r of somebody answered has r'd >= 0 and some r'd > 0.
Decided by linear programmes over -1 <= d <= 1 (Konis 2007).
"""

from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy import optimize, sparse

from hobrix.core.logistic.patterns import FloatArray

Kind = Literal["none", "quasi_complete", "complete"]
Fate = Literal["finite", "plus_infinity", "minus_infinity", "not_determined"]

# What a linear programme leaves of zero.
_ZERO = 1e-7


class Cone:
    """Directions d with ``rising`` @ d >= 0 and ``level`` @ d = 0; shapes (m, k)."""

    def __init__(self, rising: FloatArray, level: FloatArray | None = None) -> None:
        self.rising, self.columns = rising, rising.shape[1]
        self.level = np.empty((0, self.columns)) if level is None else level

    def best(self, objective: FloatArray) -> FloatArray:
        """The direction that maximises ``objective`` @ d, shape (k,)."""
        sides: dict[str, Any] = {}
        if len(self.rising):
            sides |= {"A_ub": sparse.csr_array(-self.rising), "b_ub": np.zeros(len(self.rising))}
        if len(self.level):
            sides |= {"A_eq": sparse.csr_array(self.level), "b_eq": np.zeros(len(self.level))}
        found = optimize.linprog(-objective, bounds=(-1, 1), method="highs", **sides)
        return np.zeros(self.columns) if found.x is None else np.asarray(found.x)

    def strict(self) -> NDArray[np.bool_]:
        """Which of ``rising`` some direction moves up, shape (m,)."""
        open_ = np.ones(len(self.rising), dtype=bool)
        while open_.any():
            moved = self.rising @ self.best(self.rising[open_].sum(axis=0)) > _ZERO
            if not (moved & open_).any():
                break
            open_ &= ~moved
        return ~open_

    def fate(self, column: int) -> Fate:
        """Where the coefficient goes over all directions."""
        objective = np.zeros(self.columns)
        objective[column] = 1.0
        up = self.best(objective)[column] > _ZERO
        down = self.best(-objective)[column] < -_ZERO
        if up and down:
            return "not_determined"
        return "plus_infinity" if up else "minus_infinity" if down else "finite"
