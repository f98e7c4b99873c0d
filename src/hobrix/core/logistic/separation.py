"""Is the outcome separated by the terms, and which coefficients have no finite estimate?

Albert & Anderson 1984, Biometrika 71:1: separated if some direction d has (2y - 1) x'd >= 0 for
all and > 0 for some. Decided by linear programmes over -1 <= d <= 1 (Konis 2007).
"""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from scipy import optimize, sparse

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import FloatArray, Patterns

Kind = Literal["none", "quasi_complete", "complete"]
Fate = Literal["finite", "plus_infinity", "minus_infinity", "not_determined"]

# What a linear programme leaves of zero.
_ZERO = 1e-7


@dataclass(frozen=True)
class Separation:
    """``fates`` of the coefficients, shape (k,); the limit the log-likelihood rises to."""

    kind: Kind
    fates: tuple[Fate, ...]
    log_likelihood_supremum: float | None


def separation(data: Patterns) -> Separation:
    """Decide for patterns whose columns are not collinear."""
    scale = np.abs(data.design).max(axis=0)
    scale[scale == 0] = 1.0
    x = data.design / scale
    cone = _Cone(x, data)
    strict = cone.strictly_apart()
    if not strict.any():
        return Separation("none", ("finite",) * x.shape[1], None)
    kind: Kind = "complete" if strict.all() else "quasi_complete"
    fates = tuple(cone.fate(j) for j in range(x.shape[1]))
    return Separation(kind, fates, _supremum(data, ~strict))


class _Cone:
    """Directions d along which nobody moves the wrong way."""

    def __init__(self, x: FloatArray, data: Patterns) -> None:
        self.has_event = data.events > 0
        self.has_other = data.trials > data.events
        self.mixed = self.has_event & self.has_other
        sign = np.where(self.has_event, 1.0, -1.0)[:, None]
        self.pure = (sign * x)[~self.mixed]
        self.both = x[self.mixed]
        self.columns = x.shape[1]

    def best(self, objective: FloatArray) -> FloatArray:
        """The direction that maximises ``objective`` @ d, shape (k,)."""
        sides: dict[str, Any] = {}
        if len(self.pure):
            sides |= {"A_ub": sparse.csr_array(-self.pure), "b_ub": np.zeros(len(self.pure))}
        if len(self.both):
            sides |= {"A_eq": sparse.csr_array(self.both), "b_eq": np.zeros(len(self.both))}
        found = optimize.linprog(-objective, bounds=(-1, 1), method="highs", **sides)
        return np.zeros(self.columns) if found.x is None else np.asarray(found.x)

    def strictly_apart(self) -> np.ndarray:
        """Which of all patterns some direction moves the right way, shape (J,)."""
        open_ = np.ones(len(self.pure), dtype=bool)
        while open_.any():
            moved = self.pure @ self.best(self.pure[open_].sum(axis=0)) > _ZERO
            if not (moved & open_).any():
                break
            open_ &= ~moved
        strict = np.zeros(len(self.mixed), dtype=bool)
        strict[~self.mixed] = ~open_
        return strict

    def fate(self, column: int) -> Fate:
        """Where the coefficient goes over all directions."""
        objective = np.zeros(self.columns)
        objective[column] = 1.0
        up = self.best(objective)[column] > _ZERO
        down = self.best(-objective)[column] < -_ZERO
        if up and down:
            return "not_determined"
        return "plus_infinity" if up else "minus_infinity" if down else "finite"


def _supremum(data: Patterns, left: np.ndarray) -> float:
    """The log-likelihood of the patterns that stay undecided; the others reach 0."""
    if not left.any():
        return 0.0
    rest = Patterns(data.design[left], data.events[left], data.trials[left])
    scale = np.abs(rest.design).max(axis=0)
    some = [i for i in range(len(scale)) if scale[i] > 0]
    extra = ml.redundant(rest.design[:, some] / scale[some])
    columns = [column for at, column in enumerate(some) if at not in extra]
    return ml.fit(rest.keep(columns)).log_likelihood
