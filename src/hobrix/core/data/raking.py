"""Raking: weights fitted to known totals of several variables, one after the other, over and over.

Iterative proportional fitting (Deming & Stephan 1940, Ann Math Stat 11:427; Deville, Särndal &
Sautory 1993, JASA 88:1013).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# Every total is met to this share of itself.
TOLERANCE = 1e-10
MOST_ROUNDS = 1000


@dataclass(frozen=True)
class Raked:
    """``weights`` of shape (n,); ``off`` is by what share the worst total is still missed: that of
    category ``at[1]`` of variable ``at[0]``."""

    weights: FloatArray
    rounds: int
    off: float
    at: tuple[int, int]

    @property
    def is_converged(self) -> bool:
        return self.off <= TOLERANCE


def rake(
    weights: FloatArray,
    codes: Sequence[IntArray],
    totals: Sequence[FloatArray],
    bounds: tuple[float, float] = (0.0, np.inf),
) -> Raked:
    """Multiply weights until they add up to ``totals`` in every category of every variable.

    ``weights`` of shape (n,), above 0; ``codes`` of shape (n,) each, from 0 to the number of its
    ``totals`` less one, each with somebody; totals above 0 and adding up to the same for every
    variable. ``bounds`` are the least and the most a weight may be multiplied by, on top of what
    brings the sum of all to that of the totals.
    """
    # Rows alike in all variables are multiplied alike.
    place = np.zeros(len(weights), dtype=np.int64)
    first = place
    for code, total in zip(codes, totals, strict=True):
        _, first, place = np.unique(
            place * len(total) + code, return_index=True, return_inverse=True
        )
    where = [code[first] for code in codes]
    base = np.bincount(place, weights=weights)
    size = float(totals[0].sum()) / float(base.sum())
    factor = np.full(len(first), size)
    low, high = bounds[0] * size, bounds[1] * size
    rounds, off, at = 0, np.inf, (0, 0)
    while rounds < MOST_ROUNDS:
        rounds += 1
        for code, total in zip(where, totals, strict=True):
            reached = np.bincount(code, weights=base * factor, minlength=len(total))
            factor = np.clip(factor * (total / reached)[code], low, high)
        before, (off, at) = off, _worst(base * factor, where, totals)
        # Done, or no nearer than a round ago: the totals contradict the sample.
        if off <= TOLERANCE or (rounds > 20 and off >= before * (1 - 1e-9)):
            break
    return Raked(weights * factor[place], rounds, off, at)


def _worst(
    weights: FloatArray, where: Sequence[IntArray], totals: Sequence[FloatArray]
) -> tuple[float, tuple[int, int]]:
    worst, at = 0.0, (0, 0)
    for i, (code, total) in enumerate(zip(where, totals, strict=True)):
        missed = np.abs(np.bincount(code, weights=weights, minlength=len(total)) / total - 1)
        if missed.max() > worst:
            worst, at = float(missed.max()), (i, int(missed.argmax()))
    return worst, at
