"""Logistic models of weighted samples: pseudo-maximum likelihood (Binder 1983)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import special

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import likelihood
from hobrix.core.progress import Tell, quietly
from hobrix.core.survey.design import FloatArray, SampleDesign
from hobrix.core.survey.patterns import PatternTotals, grouped
from hobrix.core.survey.two_way import WaldF, quadratic_form, wald_f


@dataclass(frozen=True)
class WeightedFit:
    """``spread`` is what the covariance comes from: the estimates' scores by cluster, shape
    (clusters, k), or their deviations in every replicate, shape (R, k)."""

    fit: ml.Fit
    spread: FloatArray


def fit(totals: PatternTotals, tell: Tell = quietly) -> WeightedFit:
    """Coefficients that solve sum w (y - p) x = 0, with the covariance of the design.

    Raises:
        Collinear, NotFinite: as maximum likelihood does.
    """
    found = ml.fit(totals.patterns)
    if totals.design.replicates is not None:
        spread = _replicated(totals, found, tell)
    else:
        missed = totals.missed(likelihood.probabilities(totals.columns, found.coefficients))
        # The covariance of maximum likelihood is the inverse of the information here.
        spread = (missed @ totals.columns) @ found.covariance
    return WeightedFit(replace(found, covariance=covariance_of(totals.design, spread)), spread)


def covariance_of(design: SampleDesign, spread: FloatArray) -> FloatArray:
    """The joint covariance of estimates from their spreads side by side."""
    if design.replicates is None:
        return design.covariance(spread)
    return design.replicates.covariance(spread, np.zeros(spread.shape[1]))


def _replicated(totals: PatternTotals, whole: ml.Fit, tell: Tell) -> FloatArray:
    """Deviations of the coefficients in every replicate; NaN where there is no finite estimate."""
    replicates = totals.design.replicates
    assert replicates is not None
    found = np.full((len(replicates.factors), totals.columns.shape[1]), np.nan)
    for i, factors in enumerate(replicates.factors):
        tell(i / len(found))
        data = totals.replicated(factors)
        if not len(data.trials):
            continue
        try:
            again = ml.fit(data, whole.coefficients)
        except (ml.NotFinite, ml.Collinear):
            continue
        # At the edge a coefficient grows without end.
        if not again.on_the_edge:
            found[i] = again.coefficients - whole.coefficients
    return found


def wald_test(found: ml.Fit, columns: Sequence[int], nu: int) -> WaldF | None:
    """Adjusted Wald test of the coefficients of some columns on ``nu`` degrees of freedom."""
    at = list(columns)
    return wald_f(found.coefficients[at], found.covariance[np.ix_(at, at)], nu)


def same_everywhere(
    design: SampleDesign, fits: Sequence[WeightedFit], columns: Sequence[int]
) -> WaldF | None:
    """Adjusted Wald test that some coefficients are the same in every fit; the fits may share
    clusters. All have the same columns."""
    at = list(columns)
    spread = np.concatenate([each.spread[:, at] for each in fits], axis=1)
    differences = np.kron(
        np.column_stack([-np.ones(len(fits) - 1), np.eye(len(fits) - 1)]), np.eye(len(at))
    )
    estimates = np.concatenate([each.fit.coefficients[at] for each in fits])
    covariance = differences @ covariance_of(design, spread) @ differences.T
    return wald_f(differences @ estimates, covariance, design.df)


@dataclass(frozen=True)
class GroupFit:
    """Groups of rising predicted probability, shape (g,): weighted shares observed and predicted,
    unweighted n, and the test that they do not differ."""

    n: FloatArray
    observed: FloatArray
    predicted: FloatArray
    f: float
    df1: float
    df2: float
    p: float


# Of a mean residual: the square of a billionth.
_NOTHING_VARIES = 1e-18


def fit_test(
    totals: PatternTotals, found: ml.Fit, n: FloatArray, groups: int = 10
) -> GroupFit | None:
    """Mean residuals in groups of about equal weight, tested together: F = (nu - g + 2) W / (nu g)
    on F(g - 1, nu - g + 2) (Archer, Lemeshow & Hosmer 2007, Comput Stat Data Anal 51:4450).

    ``n`` is the unweighted number of rows of every pattern, shape (J,). None with fewer than three
    groups, too few degrees of freedom, or a group in which nothing varies.
    """
    p = likelihood.probabilities(totals.columns, found.coefficients)
    patterns, nu = totals.patterns, totals.design.df
    group = grouped(p, patterns.trials, groups)
    g = int(group.max()) + 1
    if g < 3 or nu - g + 2 < 1:
        return None
    of_group = (group[:, None] == np.arange(g)).astype(np.float64)
    weight = patterns.trials @ of_group
    mean = (patterns.events - patterns.trials * p) @ of_group / weight
    missed, weights = totals.missed(p) @ of_group, totals.weights @ of_group
    replicates = totals.design.replicates
    if replicates is None:
        covariance = totals.design.covariance((missed - weights * mean) / weight)
    else:
        with np.errstate(all="ignore"):
            again = (replicates.factors @ missed) / (replicates.factors @ weights)
        covariance = replicates.covariance(again, mean)
    # Where all of a group have the same prediction and nobody (or everybody) the event, nothing tells how
    # much its mean residual varies.
    if (np.diag(covariance) <= _NOTHING_VARIES).any():
        return None
    w = quadratic_form(mean, covariance)
    if w is None:
        return None
    f = (nu - g + 2) * w / (nu * g)
    return GroupFit(
        n=n @ of_group,
        observed=(patterns.events @ of_group) / weight,
        predicted=(patterns.trials * p) @ of_group / weight,
        f=f,
        df1=g - 1,
        df2=nu - g + 2,
        p=float(special.fdtrc(g - 1, nu - g + 2, f)),
    )
