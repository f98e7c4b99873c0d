"""Is the outcome separated by the terms, and which coefficients have no finite estimate?

Albert & Anderson 1984, Biometrika 71:1: separated if some direction d has (2y - 1) x'd >= 0 for
all and > 0 for some.
"""

from dataclasses import dataclass

import numpy as np

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.directions import Cone, Fate, Kind
from hobrix.core.logistic.patterns import Patterns


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
    # Along a direction nobody moves the wrong way, and patterns with both answers do not move.
    mixed = (data.events > 0) & (data.trials > data.events)
    sign = np.where(data.events > 0, 1.0, -1.0)[:, None]
    cone = Cone((sign * x)[~mixed], x[mixed])
    strict = np.zeros(len(mixed), dtype=bool)
    strict[~mixed] = cone.strict()
    if not strict.any():
        return Separation("none", ("finite",) * x.shape[1], None)
    kind: Kind = "complete" if strict.all() else "quasi_complete"
    fates = tuple(cone.fate(j) for j in range(x.shape[1]))
    return Separation(kind, fates, _supremum(data, ~strict))


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
