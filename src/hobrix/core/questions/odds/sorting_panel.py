"""How well a model sorts: cut-offs, the area under the curve, pairs ordered rightly."""

import numpy as np

from hobrix.core.logistic import sorting
from hobrix.core.questions.lens import Found
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.wording import (
    interval_in_print,
    level,
    plain,
)

# Cut-offs that can be dragged to, and points drawn of a curve.
CUTOFFS = np.arange(1, 100) / 100
MOST_POINTS, BINS = 200, 20


def is_counted(work: OddsWork) -> bool:
    """How well a weighted model sorts has no form here."""
    return work.model.weighted is None


def sorts(work: OddsWork) -> Found:
    people, cutoff, model = work.people, work.options.cutoff, work.model
    here = sorting.classify(people, cutoff)
    area = sorting.area_under_curve(people, work.question.confidence)
    cutoffs = sorted({*CUTOFFS.tolist(), cutoff})
    limits = interval_in_print(area.ci_logit, lambda x: plain(x, 2))
    at = f", {level(work.question.confidence)} CI {limits}" if limits else ""
    return Found(
        r.SortingPanel(
            cutoff=cutoff,
            suggested=round(model.events / model.n, 2) or 0.01,
            predicts_nobody=here.true_positive + here.false_positive == 0,
            classification=tuple(sorting.classify(people, each) for each in cutoffs),
            auc=area,
            roc=_roc(people),
            concordance=sorting.concordance(people),
            predicted=_predicted(people),
            event_label=work.asked.event_label,
            n=model.n,
            events=model.events,
        ),
        write_up=f"AUC = {plain(area.estimate, 2)}{at}, in the rows the model was fitted to.",
    )


def _roc(people: sorting.Sorted) -> tuple[r.RocPoint, ...]:
    """The curve, thinned to what a picture can show."""
    false_share, true_share = sorting.roc_curve(people)
    chosen = np.unique(np.linspace(0, len(false_share) - 1, MOST_POINTS).round().astype(int))
    return tuple(
        r.RocPoint(false_positive_share=float(x), true_positive_share=float(y))
        for x, y in zip(false_share[chosen], true_share[chosen], strict=True)
    )


def _predicted(people: sorting.Sorted) -> tuple[r.PredictedBin, ...]:
    """People by predicted probability and outcome, in twentieths."""
    place = np.minimum((people.fitted * BINS).astype(int), BINS - 1)
    events, others = (
        np.bincount(place, weights=side, minlength=BINS) for side in (people.events, people.others)
    )
    return tuple(
        r.PredictedBin(low=i / BINS, events=float(events[i]), others=float(others[i]))
        for i in range(BINS)
    )
