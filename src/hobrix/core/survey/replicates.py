"""Errors by replication: leave out a cluster at a time, or draw clusters again."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# Weights of clusters that are kept for all replicates together.
MOST_FACTORS = 10_000_000


class TooManyReplicates(Exception):
    """Replicates times clusters are more than ``MOST_FACTORS``."""


class TooFewReplicates(Exception):
    """Hardly a replicate has a value of what is estimated, as where a group is a single cluster."""


@dataclass(frozen=True)
class Replication:
    """``draws`` and ``seed`` are those of the bootstrap."""

    method: Literal["jackknife", "bootstrap"]
    draws: int = 500
    seed: int = 1


@dataclass(frozen=True)
class Replicates:
    """What the weights of every cluster are multiplied by, shape (R, clusters), and how much each
    replicate's squared deviation from the estimate of the whole sample counts, shape (R,)."""

    factors: FloatArray
    scale: FloatArray

    def covariance(self, again: FloatArray, whole: FloatArray) -> FloatArray:
        """Of estimates of shape (m,) from those of all replicates, shape (R, m). Replicates without
        a finite estimate are left out, and the others take their place.

        Raises:
            TooFewReplicates: fewer than two are left.
        """
        finite = np.isfinite(again).all(axis=1)
        if np.count_nonzero(finite) < 2:
            raise TooFewReplicates
        scale = self.scale[finite] * (self.scale.sum() / self.scale[finite].sum())
        apart = (again[finite] - whole) * np.sqrt(scale)[:, None]
        found: FloatArray = apart.T @ apart
        return found


def left_out(stratum: IntArray) -> Replicates:
    """Each cluster left out in turn and the others of its stratum weighted up (the jackknife; Kish
    & Frankel 1974; Rao & Wu 1985). ``stratum`` of every cluster as codes, shape (clusters,). The
    one cluster of a stratum is never left out, so such strata add nothing."""
    size = np.bincount(stratum)[stratum].astype(np.float64)
    gone = np.flatnonzero(size > 1)
    _refuse_too_many(len(gone), len(stratum))
    is_own = stratum[gone][:, None] == stratum[None, :]
    factors = np.where(is_own, (size / np.maximum(1.0, size - 1.0))[None, :], 1.0)
    factors[np.arange(len(gone)), gone] = 0.0
    return Replicates(factors, (size[gone] - 1) / size[gone])


def drawn_again(stratum: IntArray, draws: int, seed: int) -> Replicates:
    """In every stratum one cluster fewer than it has, drawn with replacement and weighted up (the
    rescaled bootstrap; Rao, Wu & Yue 1992). The one cluster of a stratum stays as it is."""
    _refuse_too_many(draws, len(stratum))
    random = np.random.default_rng(seed)
    factors = np.ones((draws, len(stratum)))
    for code in np.unique(stratum):
        here = np.flatnonzero(stratum == code)
        if (n := len(here)) > 1:
            drawn = random.multinomial(n - 1, np.full(n, 1 / n), size=draws)
            factors[:, here] = drawn * (n / (n - 1.0))
    return Replicates(factors, np.full(draws, 1.0 / draws))


def _refuse_too_many(replicates: int, clusters: int) -> None:
    if replicates * clusters > MOST_FACTORS:
        raise TooManyReplicates
