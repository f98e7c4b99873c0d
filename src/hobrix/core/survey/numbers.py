"""A number in a weighted sample: its mean with an error, and how it is distributed."""

from dataclasses import dataclass

import numpy as np

from hobrix.core.survey.design import FloatArray, SampleDesign
from hobrix.core.survey.two_way import WaldF, wald_f

_NOTHING = 1e-24


@dataclass(frozen=True)
class WeightedMean:
    """``deff`` as for shares: the variance against that of a simple random sample of n."""

    n: int
    sum_of_weights: float
    estimate: float
    se: float
    deff: float | None
    sd: float


def weighted_mean(design: SampleDesign, x: FloatArray, inside: np.ndarray) -> WeightedMean:
    """sum w x / sum w over the rows ``inside`` (mask of shape (n,)); others stay in the design with
    score 0 (Hajek 1971). ``x`` of shape (n,) is not NaN inside; at least one row is inside."""
    estimates, covariance = domain_means(design, x, inside[:, None])
    weights = design.weights[inside]
    n, total = design.rows_in(inside), float(weights.sum())
    _, sd = mean_and_sd(x[inside], weights)
    simple = sd**2 / (n - 1) if n > 1 else 0.0
    variance = float(covariance[0, 0])
    # What rounding leaves of 0 for the size of the numbers, as where all are the same.
    if variance <= _NOTHING * float(np.square(x[inside]).max()):
        variance = 0.0
    return WeightedMean(
        n=n,
        sum_of_weights=total,
        estimate=float(estimates[0]),
        se=float(np.sqrt(variance)),
        deff=variance / simple if simple > 0 else None,
        sd=sd,
    )


def domain_means(
    design: SampleDesign, x: FloatArray, domains: np.ndarray
) -> tuple[FloatArray, FloatArray]:
    """Means of m groups of rows (masks of shape (n, m), none empty), shape (m,), and their
    covariance, shape (m, m); rows of no group stay in the design with score 0."""
    w = np.where(domains, design.weights[:, None], 0.0)
    plain = np.where(domains, x[:, None], 0.0)
    totals = w.sum(axis=0)
    means: FloatArray = (w * plain).sum(axis=0) / totals
    if design.replicates is None:
        scores = w * (plain - means) / totals
        return means, design.covariance(design.cluster_totals(scores))
    sums = design.cluster_totals(np.column_stack([w * plain, w]))
    again = design.replicates.factors @ sums
    with np.errstate(all="ignore"):
        replicated = again[:, : len(means)] / again[:, len(means) :]
    return means, design.replicates.covariance(replicated, means)


def equal_means(design: SampleDesign, x: FloatArray, domains: np.ndarray) -> WaldF | None:
    """The adjusted Wald test that m groups (masks of shape (n, m), none empty) have one mean; None
    where there is one group only, too few degrees of freedom, or nothing varies."""
    means, covariance = domain_means(design, x, domains)
    if len(means) < 2 or design.df < len(means) - 1:
        return None
    contrasts = np.column_stack([np.eye(len(means) - 1), -np.ones(len(means) - 1)])
    return wald_f(contrasts @ means, contrasts @ covariance @ contrasts.T, design.df)


def mean_and_sd(x: FloatArray, weights: FloatArray) -> tuple[float, float]:
    """Of the weighted population: ``x`` and ``weights`` of shape (n,), n at least 1."""
    total = float(weights.sum())
    # From the first, so that numbers that are all the same have no spread.
    mean = float(x[0]) + float(weights @ (x - x[0])) / total
    return mean, float(np.sqrt(weights @ (x - mean) ** 2 / total))


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
