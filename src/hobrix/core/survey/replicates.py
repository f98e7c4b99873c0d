"""Variances by replication: leave out a cluster at a time, or draw clusters again."""

from collections.abc import Callable, Iterator

import numpy as np

from hobrix.core.survey.design import FloatArray, SampleDesign

Statistic = Callable[[FloatArray], FloatArray]


def jackknife(design: SampleDesign, statistic: Statistic) -> FloatArray:
    """Covariance of a statistic of the weights, shape (m, m), each cluster left out in turn and the
    others of its stratum weighted up (Kish & Frankel 1974; Rao & Wu 1985). Deviations are from the
    estimate of the whole sample; strata with one cluster add nothing."""
    whole = statistic(design.weights)
    found = np.zeros((len(whole), len(whole)))
    for weights, size in _without_each(design):
        apart = statistic(weights) - whole
        found += (size - 1) / size * np.outer(apart, apart)
    return found


def _without_each(design: SampleDesign) -> Iterator[tuple[FloatArray, int]]:
    cluster = np.arange(design.clusters) if design.cluster is None else design.cluster
    own = design.stratum[cluster]
    for gone, stratum in enumerate(design.stratum.tolist()):
        size = int(design.per_stratum[stratum])
        if size > 1:
            factor = np.where(own == stratum, size / (size - 1.0), 1.0)
            factor[cluster == gone] = 0.0
            yield design.weights * factor, size


def bootstrap(
    design: SampleDesign,
    statistic: Statistic,
    draws: int,
    seed: int,
    is_stopped: Callable[[int], bool] = lambda _done: False,
) -> FloatArray:
    """Covariance from ``draws`` samples of n_h - 1 clusters with replacement in every stratum,
    rescaled (Rao, Wu & Yue 1992). ``is_stopped`` is told how many are done."""
    random = np.random.default_rng(seed)
    whole = statistic(design.weights)
    cluster = np.arange(design.clusters) if design.cluster is None else design.cluster
    found = np.zeros((len(whole), len(whole)))
    done = 0
    for done in range(1, draws + 1):
        factor = np.ones(design.clusters)
        for stratum in np.flatnonzero(design.per_stratum > 1):
            here = np.flatnonzero(design.stratum == stratum)
            drawn = random.integers(0, len(here), len(here) - 1)
            times = np.bincount(drawn, minlength=len(here))
            factor[here] = times * len(here) / (len(here) - 1.0)
        apart = statistic(design.weights * factor[cluster]) - whole
        found += np.outer(apart, apart)
        if is_stopped(done):
            break
    return found / done
