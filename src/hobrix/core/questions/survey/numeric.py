"""A numeric outcome in a weighted sample."""

import numpy as np

from hobrix.core.data import Frame, NumericColumn, Variable
from hobrix.core.questions.distribution.results import Bins
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.survey.numbers import weighted_mean, weighted_quantiles

_SHARES = np.array([0.25, 0.5, 0.75])


def mean_of(
    frame: Frame, variable: Variable, sample: Sample, confidence: float
) -> r.SurveyMean | None:
    """The weighted mean with its error, and how the number is distributed; None where nobody in
    the sample has one."""
    found = _values(frame, variable, sample)
    if found is None:
        return None
    x, inside = found
    mean = weighted_mean(sample.design, x, inside)
    t = sample.design.t_quantile(confidence)
    reach = t * mean.se if np.isfinite(t) else np.inf
    q1, median, q3 = weighted_quantiles(x[inside], sample.design.weights[inside], _SHARES)
    return r.SurveyMean(
        n=mean.n,
        sum_of_weights=mean.weighted_n,
        estimate=mean.estimate,
        se=mean.se,
        ci=(mean.estimate - reach, mean.estimate + reach)
        if np.isfinite(reach) and mean.se > 0
        else None,
        unweighted=float(x[inside].mean()),
        unweighted_sd=float(x[inside].std(ddof=1)) if mean.n > 1 else None,
        deff=mean.deff,
        sd=mean.sd,
        min=float(x[inside].min()),
        q1=float(q1),
        median=float(median),
        q3=float(q3),
        max=float(x[inside].max()),
    )


def weighted_bins(
    frame: Frame, variable: Variable, sample: Sample, like: Bins | None
) -> r.SurveyBins | None:
    """Shares of the weighted population in the bins of the histogram that counts each row once."""
    found = _values(frame, variable, sample)
    if found is None or like is None:
        return None
    x, inside = found
    edges = np.array(like.edges)
    place = np.clip(np.searchsorted(edges, x[inside], side="right") - 1, 0, len(edges) - 2)
    weights = sample.design.weights[inside]
    by_bin = np.bincount(place, weights=weights, minlength=len(edges) - 1)
    rows = np.bincount(place, minlength=len(edges) - 1)
    return r.SurveyBins(
        edges=like.edges,
        percent=tuple((100 * by_bin / by_bin.sum()).tolist()),
        unweighted_percent=tuple((100 * rows / rows.sum()).tolist()),
        width=like.width,
    )


def _values(
    frame: Frame, variable: Variable, sample: Sample
) -> tuple[np.ndarray, np.ndarray] | None:
    """The number of every row of the sample, and who is inside and has one."""
    column = frame.column(variable.name)
    if not isinstance(column, NumericColumn):
        return None
    x = sample.of(column.values)
    inside = ~np.isnan(x) if sample.inside is None else sample.inside & ~np.isnan(x)
    return (x, inside) if inside.any() else None
