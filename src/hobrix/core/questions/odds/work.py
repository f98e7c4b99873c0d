"""The model of a question while it is being answered."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import sorting
from hobrix.core.questions.lens import Work
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.fitted import Fitted, Separated
from hobrix.core.questions.modelling.prepare import Asked, Prepared, ask, prepare
from hobrix.core.questions.modelling.terms import Part, places_of
from hobrix.core.questions.odds.options import OddsOptions
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import Sampling
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.questions.wording import listed

NO_FINITE = "The model does not settle on an estimate: choose fewer variables."


@dataclass(frozen=True)
class OddsWork(Work):
    """``used`` are the rows that answered everything, shape (rows,); ``strata`` their codes and what
    each is called."""

    asked: Asked
    used: Mask
    strata: IntArray | None
    labels: list[tuple[tuple[str, ...], str]]
    model: Fitted

    @property
    def options(self) -> OddsOptions:
        return self.question.options.odds

    @property
    def has_probabilities(self) -> bool:
        """In a case-control study the share with the event was set by the design: odds ratios keep
        their meaning, probabilities and their differences have none."""
        return not self.frame.was_set(self.asked.outcome.name)

    @cached_property
    def people(self) -> sorting.Sorted:
        """By predicted probability."""
        return sorting.sort_people(self.model.data, self.model.fitted)


def work_on(question: Question, frame: Frame, sampling: Sampling) -> OddsWork:
    """Prepare and fit.

    Raises:
        QuestionError: a slot is empty or cannot be used, the outcome is separated by the terms, or
            some of them say the same.
    """
    asked = ask(question, frame, sampling.rows)
    taken = {asked.outcome.name, *(term.variable for _, term in asked.terms)}
    codes, labels = strata_codes(question, frame, taken)
    used = asked.complete(sampling.rows)
    many = 0
    if codes is not None:
        used &= codes >= 0
        many = len(np.unique(codes[used]))
        refuse_too_many(question, frame, many)
    options = question.options.odds
    alone = sum(term.together_with is None for _, term in asked.terms)
    sampling.stages.total = 1 + many + (many > 0) + (alone if alone > 1 else 0)
    prepared = prepare(asked, used)
    model = fit(sampling, prepared, _estimation(question, sampling), question, options)
    return OddsWork(question, frame, sampling, asked, used, codes, labels, model)


def _estimation(question: Question, sampling: Sampling) -> Estimation:
    """Penalised and profile likelihoods have no design-based form."""
    options = question.options.odds
    if sampling.sample is not None:
        return Estimation("maximum_likelihood", "wald", question.confidence)
    return Estimation(options.method, options.limits, question.confidence)


def fit(
    sampling: Sampling,
    prepared: Prepared,
    estimation: Estimation,
    question: Question,
    options: OddsOptions,
) -> Fitted:
    """Fit what was prepared; what is wrong with it is said in words."""
    try:
        return sampling.model(prepared, estimation, is_whole=True)
    except ml.Collinear as refused:
        raise QuestionError(_says_the_same(prepared, refused), slot="vary_with") from None
    except Separated as refused:
        remedies: tuple[tuple[str, object], ...] = ()
        if sampling.sample is None and options.method != "firth":
            firth = question.with_options("odds", method="firth")
            remedies = (("Take Firth’s penalised likelihood", firth),)
        message = _told_apart(prepared, refused, can_penalise=bool(remedies))
        raise QuestionError(message, slot="vary_with", remedies=remedies) from None
    except ml.NotFinite:
        raise QuestionError(NO_FINITE, slot="vary_with") from None


def _says_the_same(prepared: Prepared, refused: ml.Collinear) -> str:
    titles = [
        term.title
        for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True)
        if set(at) & set(refused.columns)
    ]
    return (
        f"{listed(titles or ['One variable'])} can be worked out from the other variables of the "
        "model, exactly or all but, so its odds ratio cannot be told apart. Leave one of them out."
    )


def _told_apart(prepared: Prepared, refused: Separated, *, can_penalise: bool) -> str:
    """Which categories have no finite odds ratio, and what can be done."""
    found = refused.found
    whole = "completely" if found.kind == "complete" else "in part"
    ends, titles = [], []
    for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True):
        if all(found.fates[column] == "finite" for column in at):
            continue
        titles.append(term.title)
        if not term.is_interaction and not term.parts[0].is_numeric:
            ends += _without_both(prepared, term.parts[0], at)
    predict = "predicts" if len(titles) == 1 else "together predict"
    why = listed(ends[:3]) if ends else f"{listed(titles[:4])} {predict} it"
    ways = "Combine that category with another, or leave the variable out."
    if can_penalise:
        ways = (
            "Combine that category with another, leave the variable out, or take Firth’s "
            "penalised likelihood."
        )
    return (
        f"{prepared.asked.outcome.title} is told apart {whole}: {why}. The odds ratio would be "
        f"infinite. {ways}"
    )


def _without_both(prepared: Prepared, part: Part, at: list[int]) -> list[str]:
    """Categories in which everybody or nobody has the event, the reference among them."""
    columns, data = prepared.data.design[:, at], prepared.data
    inside = [*(columns == 1).T, (columns == 0).all(axis=1)]
    found = []
    for level, rows in zip((*part.levels, part.reference), inside, strict=True):
        events, trials = float(data.events[rows].sum()), float(data.trials[rows].sum())
        if level is not None and events in (0.0, trials):
            who = "everybody" if events else "nobody"
            label = part.variable.label_of(level)
            found.append(f"in “{label}” ({part.variable.title}) {who} has the event")
    return found
