"""Logistic models of weighted samples: pseudo-maximum likelihood (Binder 1983)."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy import linalg

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns, sums
from hobrix.core.survey.design import FloatArray, IntArray, SampleDesign
from hobrix.core.survey.two_way import WaldF, wald_f


def fit(
    design: SampleDesign,
    columns: FloatArray,
    pattern: IntArray,
    outcome: FloatArray,
) -> ml.Fit:
    """Coefficients that solve sum w (y - p) x = 0, with their linearised covariance.

    ``columns``, shape (J, k), are the patterns; ``pattern`` of shape (n,) names that of every row
    of the design, -1 for rows outside the analysis; ``outcome`` of shape (n,) is 0 or 1.

    Raises:
        Collinear, NotFinite: as maximum likelihood does.
    """
    inside = pattern >= 0
    at, w = pattern[inside], design.weights[inside]
    trials = sums(at, w, len(columns))
    events = sums(at, w * outcome[inside], len(columns))
    found = ml.fit(Patterns(columns, events, trials))
    missed = w * (outcome[inside] - ml.probabilities(columns, found.coefficients)[at])
    if design.cluster is None:
        totals = np.zeros((len(pattern), columns.shape[1]))
        totals[inside] = columns[at] * missed[:, None]
    else:
        cluster = design.cluster[inside]
        totals = np.column_stack(
            [sums(cluster, missed * column[at], design.clusters) for column in columns.T]
        )
    # The covariance of maximum likelihood is A^-1 here.
    covariance = found.covariance @ design.covariance(totals) @ found.covariance
    return replace(found, covariance=covariance)


def wald_test(found: ml.Fit, columns: Sequence[int], nu: int) -> WaldF | None:
    """Adjusted Wald test of the coefficients of some columns on t(nu)-type degrees of freedom."""
    at = list(columns)
    try:
        return wald_f(found.coefficients[at], found.covariance[np.ix_(at, at)], nu)
    except linalg.LinAlgError:
        return None
