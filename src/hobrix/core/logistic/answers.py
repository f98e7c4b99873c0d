"""Models of an outcome with several answers: how many of each pattern gave each, and what makes them likely.

Which likelihood it is, a ``Family`` says: ``ordered`` for answers from low to high, ``several`` for any others.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from hobrix.core.logistic import climb
from hobrix.core.logistic.directions import Cone, Fate, Kind
from hobrix.core.logistic.fit import Collinear, Fit, NotFinite, redundant
from hobrix.core.logistic.patterns import FloatArray, IntArray, blocks
from hobrix.core.tables.interval import Interval

# Of a whole pattern: answers predicted this rarely that nobody gave are looked at for separation.
_EDGE = 1e-9
# On columns whose spread is 1 no coefficient that data tell of varies this much; on its way to infinity one does.
_LOOSE = 1e3
# Rows beyond this are not gone through by linear programmes.
_MOST_ROWS = 400_000


@dataclass(frozen=True)
class AnswerPatterns:
    """Distinct rows of a design matrix whose first column is 1, shape (J, k), and how many of each gave each
    answer, shape (J, K); every answer was given by somebody."""

    design: FloatArray
    counts: FloatArray

    @property
    def n(self) -> float:
        return float(self.counts.sum())

    @property
    def null(self) -> float:
        """The log-likelihood of the model without any term."""
        of_each = self.counts.sum(axis=0)
        given = of_each[of_each > 0]
        return float(given @ np.log(given / self.n))

    def keep(self, columns: Sequence[int]) -> "AnswerPatterns":
        return replace(self, design=self.design[:, list(columns)])


class Family(Protocol):
    """A likelihood. p is the number of its coefficients, (J, K) the shape of the counts."""

    def at(self, k: int, answers: int) -> IntArray:
        """Where the coefficient of each of k columns stands in each equation, shape (equations, k); of the
        first column where it has one of its own."""

    def start(self, data: AnswerPatterns) -> FloatArray:
        """The estimates of the model without terms, 0 for those."""

    def surface(self, data: AnswerPatterns, b: FloatArray) -> climb.Height | None:
        """The log-likelihood there."""

    def probabilities(self, design: FloatArray, b: FloatArray) -> FloatArray:
        """Of each answer, shape (J, K)."""

    def scores(self, design: FloatArray, b: FloatArray) -> FloatArray:
        """Derivatives of ln P of each answer, shape (J, K, p); those of P are P times them."""

    def unturned(self, turn: FloatArray, answers: int) -> FloatArray:
        """What takes coefficients of the columns X T back to those of X, for T of shape (k, k) that keeps
        the first column."""

    def rising(self, design: FloatArray, gave: NDArray[np.bool_]) -> FloatArray:
        """Rows r with r'd > 0 where the answers given become likelier along d, shape (m, p), for
        ``gave`` of shape (J, K) true where somebody gave it."""


@dataclass(frozen=True)
class Apart:
    """Why there is no finite maximum: ``fates`` of the coefficients, shape (p,)."""

    kind: Kind
    fates: tuple[Fate, ...]


class Separated(Exception):
    """There is no finite maximum likelihood estimate."""

    def __init__(self, found: Apart) -> None:
        super().__init__(found.kind)
        self.found = found


def fit(family: Family, data: AnswerPatterns, start: FloatArray | None = None) -> Fit:
    """The maximum of the likelihood.

    Raises:
        Collinear: columns that add nothing.
        Separated: it has none that is finite.
        NotFinite: it does not settle.
    """
    turn, turned = _standardised(data)
    _refuse_collinear(turned)
    back = family.unturned(turn, data.counts.shape[1])
    begin = family.start(turned)
    if start is not None:
        begin = np.asarray(np.linalg.solve(back, start), dtype=np.float64)
    try:
        b, at = climb.climb(lambda b: family.surface(turned, b), begin)
        covariance = np.linalg.inv(at.information)
    except (NotFinite, np.linalg.LinAlgError):
        _refuse_separated(family, data)
        raise NotFinite from None
    if np.diag(covariance).max() > _LOOSE or _is_on_the_edge(family, turned, b):
        _refuse_separated(family, data)
    return Fit(back @ b, back @ covariance @ back.T, at.value, at.value)


def profile_interval(
    family: Family, data: AnswerPatterns, found: Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Profile limits of c'b, ``contrast`` of shape (p,)."""
    turn, turned = _standardised(data)
    back = family.unturned(turn, data.counts.shape[1])
    to = np.linalg.inv(back)
    there = replace(
        found,
        coefficients=to @ found.coefficients,
        covariance=to @ found.covariance @ to.T,
    )
    return climb.profile_interval(
        lambda b: family.surface(turned, b), there, back.T @ contrast, confidence
    )


def scores_of_cells(
    family: Family, design: FloatArray, b: FloatArray
) -> Iterator[tuple[slice, FloatArray]]:
    """Stretches of patterns with the scores of their cells, shape (rows * K, p)."""
    for at in blocks(slice(0, len(design))):
        yield at, family.scores(design[at], b).reshape(-1, len(b))


def separation(family: Family, data: AnswerPatterns) -> Apart:
    """Decide for columns that are not collinear."""
    scale = np.abs(data.design).max(axis=0)
    scale[scale == 0] = 1.0
    rows = family.rising(data.design / scale, data.counts > 0)
    cone = Cone(np.unique(rows, axis=0))
    strict = cone.strict()
    if not strict.any():
        return Apart("none", ("finite",) * rows.shape[1])
    fates = tuple(cone.fate(j) for j in range(rows.shape[1]))
    return Apart("complete" if strict.all() else "quasi_complete", fates)


def _standardised(data: AnswerPatterns) -> tuple[FloatArray, AnswerPatterns]:
    """T and the data with columns X T, whose middle is 0 and whose spread is 1 but for the first."""
    x, weight = data.design, data.counts.sum(axis=1)
    middle = weight @ x / weight.sum()
    middle[0] = 0.0
    spread = np.sqrt(weight @ (x - middle) ** 2 / weight.sum())
    spread[0] = 1.0
    spread[spread == 0] = 1.0
    turn = np.diag(1 / spread)
    turn[0] -= middle / spread
    return turn, AnswerPatterns((x - middle) / spread, data.counts)


def _refuse_collinear(data: AnswerPatterns) -> None:
    if found := redundant(data.design):
        raise Collinear(found)


def _is_on_the_edge(family: Family, data: AnswerPatterns, b: FloatArray) -> bool:
    """A rare answer is enough for this; of data too large to be gone through, only what varies without bound counts."""
    if data.counts.size > _MOST_ROWS:
        return False
    for at in blocks(slice(0, len(data.design))):
        p = family.probabilities(data.design[at], b)
        if np.any((p < _EDGE) & (data.counts[at] == 0)):
            return True
    return False


def _refuse_separated(family: Family, data: AnswerPatterns) -> None:
    if data.counts.size > _MOST_ROWS:
        raise NotFinite
    apart = separation(family, data)
    if apart.kind != "none":
        raise Separated(apart)
