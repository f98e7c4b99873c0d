"""What allowing for the others did to an odds ratio, in words."""

import math

import numpy as np

from hobrix.core.questions.confounding import verdict
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.odds.results import OddsRow, OddsTerm
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.wording import points, ratio


def what_the_others_did(work: OddsWork, term: OddsTerm, row: OddsRow) -> str:
    """ " Unadjusted it was 3.00: the others hardly change it." Nothing where it is not defined."""
    before, now = row.unadjusted, row.odds_ratio
    if before is None or not (0 < before < math.inf and 0 < now < math.inf):
        return ""
    gap = None if row.difference is None else row.difference.estimate
    alone = row.unadjusted_difference
    beside = f" Unadjusted it was {ratio(before)}"
    match verdict(before, now, alone, gap, _wide(work.model, term)):
        case "same":
            return f"{beside}: the others hardly change it."
        case "reversed":
            return f"{beside}, on the other side of 1."
        case "not confounded":
            assert gap is not None
            assert alone is not None
            return (
                f"{beside}, though the average difference in probability is about the same with the "
                f"others ({points(gap)} points) and without them ({points(alone)}): an odds ratio "
                "moves away from 1 when anything else that matters is held equal, which is not "
                "confounding."
            )
        case "smaller":
            return f"{beside}: part of the difference goes with the others."
        case "larger":
            return f"{beside}: without the others part of the difference does not show."
    return f"{beside}."


def _wide(model: Fitted, term: OddsTerm) -> float:
    """Two standard deviations of a number, in its units, which compare as two categories do (Gelman
    2008, Stat Med 27:2865); 1 for categories."""
    if not term.is_numeric:
        return 1.0
    at = next(
        at for each, at in zip(model.terms, model.places, strict=True) if each.name == term.term
    )
    x, weights = model.data.design[:, at[0]], model.data.trials
    mean = np.average(x, weights=weights)
    return 2 * math.sqrt(float(np.average((x - mean) ** 2, weights=weights)))
