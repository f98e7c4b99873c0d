"""A number in a weighted sample: its mean with an error, and how it is distributed."""

from dataclasses import dataclass

import numpy as np

from hobrix.core.survey.design import FloatArray, SampleDesign


@dataclass(frozen=True)
class WeightedMean:
    """``deff`` as for shares: the variance against that of a simple random sample of n."""

    n: int
    weighted_n: float
    estimate: float
    se: float
    deff: float | None
    sd: float


def weighted_mean(design: SampleDesign, x: FloatArray, inside: np.ndarray) -> WeightedMean:
    """sum w x / sum w over the rows ``inside`` (mask of shape (n,)); others stay in the design with
    score 0 (Hajek 1971). ``x`` of shape (n,) is not NaN inside; at least one row is inside."""
    w = np.where(inside, design.weights, 0.0)
    plain = np.where(inside, x, 0.0)
    total = float(w.sum())
    mean = float(w @ plain) / total
    scores = (w * (plain - mean) / total)[:, None]
    if design.replicates is None:
        variance = float(design.covariance(design.cluster_totals(scores))[0, 0])
    else:
        sums = design.cluster_totals(np.column_stack([w * plain, w]))
        again = design.replicates.factors @ sums
        with np.errstate(all="ignore"):
            means = again[:, :1] / again[:, 1:]
        variance = float(design.replicates.covariance(means, np.array([mean]))[0, 0])
    n = int(np.count_nonzero(inside))
    square = float(w @ (plain - mean) ** 2) / total
    simple = square / (n - 1) if n > 1 else 0.0
    return WeightedMean(
        n=n,
        weighted_n=total,
        estimate=mean,
        se=float(np.sqrt(variance)),
        deff=variance / simple if simple > 0 else None,
        sd=float(np.sqrt(square)),
    )


def weighted_quantiles(x: FloatArray, weights: FloatArray, shares: FloatArray) -> FloatArray:
    """The least x up to which at least so much of the weight lies; halfway to the next value where
    it is exactly so much. ``x`` and ``weights`` of shape (n,), shape of ``shares``."""
    values, place = np.unique(x, return_inverse=True)
    weight = np.bincount(place, weights=weights, minlength=len(values))
    reached = np.cumsum(weight) / weight.sum()
    low = np.minimum(np.searchsorted(reached, shares * (1 - 1e-12)), len(values) - 1)
    high = np.minimum(np.searchsorted(reached, shares * (1 + 1e-12), "right"), len(values) - 1)
    found: FloatArray = (values[low] + values[high]) / 2
    return found
