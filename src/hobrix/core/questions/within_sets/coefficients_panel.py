"""The coefficients as they were estimated."""

import numpy as np

from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.modelling.fitted import exp, ratios
from hobrix.core.questions.within_sets import results as r
from hobrix.core.questions.within_sets.work import MatchedWork


def coefficients(work: MatchedWork) -> Found:
    model, named, found = work.model, column_names(work.model.laid.terms), []
    for column in model.kept:
        contrast = np.zeros(len(named))
        contrast[column] = 1.0
        here = model.estimate(contrast)
        term, level, label = named[column]
        found.append(
            r.MatchedCoefficient(
                term=term,
                level=level,
                label=label,
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                p=here.p or 0.0,
                log_odds_ci=(here.limits.low, here.limits.high),
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
            )
        )
    return Found(r.MatchedCoefficientsPanel(coefficients=tuple(found)))
