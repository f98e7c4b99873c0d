"""A trend along ordered groups, by the model with their number."""

import math

import numpy as np

from hobrix.core.logistic import fit as ml
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.tables import Crossed
from hobrix.core.questions.two_way import Named
from hobrix.core.survey import logistic
from hobrix.core.survey.patterns import PatternTotals


def trend(
    asked: Named, crossed: Crossed, sample: Sample, confidence: float, tell: logistic.Tell
) -> r.SurveyTrend | None:
    """Groups are scored by their place in the codebook. None where groups have no order, are fewer
    than three, or where the model has no finite estimate."""
    if asked.explanatory.variable.kind != "ordinal" or len(crossed.rows) < 3:
        return None
    place = np.full(len(asked.explanatory.variable.categories) + 1, -1, dtype=np.int64)
    place[list(crossed.rows)] = np.arange(len(crossed.rows))
    events = [c.value in asked.event for c in asked.outcome.variable.categories]
    outcome = sample.codes(asked.outcome.codes)
    pattern = np.where(outcome >= 0, place[sample.codes(asked.explanatory.codes)], -1)
    columns = np.column_stack([np.ones(len(crossed.rows)), crossed.rows]).astype(np.float64)
    is_event = np.array([*events, False])[outcome].astype(np.float64)
    try:
        totals = PatternTotals.count(sample.design, columns, pattern, is_event)
        found = logistic.fit(totals, tell).fit
    except (ml.NotFinite, ml.Collinear):
        return None
    slope, se = float(found.coefficients[1]), math.sqrt(float(found.covariance[1, 1]))
    reach = sample.design.t_quantile(confidence) * se
    if not math.isfinite(reach) or not se:
        return None
    return r.SurveyTrend(
        odds_ratio=math.exp(slope),
        ci=(math.exp(slope - reach), math.exp(min(709.0, slope + reach))),
        p=sample.design.p_of(slope / se),
    )
