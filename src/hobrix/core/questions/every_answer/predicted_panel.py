"""Predicted shares of all answers: for somebody with these values, and with everybody in one category."""

import math

import numpy as np
from scipy import special

from hobrix.core.logistic.patterns import FloatArray, blocks
from hobrix.core.questions.every_answer import results as r
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted
from hobrix.core.questions.modelling.profiles import (
    Profile,
    ProfileSlot,
    filled,
    label_of,
    slots_of,
    values_of,
)
from hobrix.core.questions.modelling.terms import Part, design_of
from hobrix.core.questions.wording import listed, percent

_SLOT = "options.every_answer.profiles"


def has_shares(work: EveryAnswerWork) -> bool:
    return work.has_shares


def predicted(work: EveryAnswerWork) -> Found:
    model = work.model
    known = slots_of(model.parts, model.prepared.values, model.data.counts.sum(axis=1))
    variables = tuple(_standardised(model, part) for part in _varying(work))
    panel = r.PredictedPanel(
        labels=tuple(work.words),
        slots=known,
        profiles=tuple(_profile(model, each, known) for each in work.options.profiles),
        variables=variables,
    )
    return Found(panel, write_up=_written(work, variables))


def _varying(work: EveryAnswerWork) -> list[Part]:
    named = [term.variable for term in work.question.vary_with]
    return [p for name, p in work.model.parts.items() if name in named and not p.is_numeric]


def _profile(
    model: AnswersFitted, profile: Profile, known: tuple[ProfileSlot, ...]
) -> r.PredictedProfile:
    """What a profile leaves open is as usual.

    Raises:
        QuestionError: a value that is no category of the model, or no number.
    """
    values = filled(profile, known)
    codes = values_of(model.parts, values, _SLOT)
    return r.PredictedProfile(
        values=values,
        label=label_of(model.parts, profile),
        answers=_shares(model, codes, np.ones(1)),
    )


def _standardised(model: AnswersFitted, part: Part) -> r.StandardisedVariable:
    """The mean over everybody, with all set to one category after the other."""
    weights, levels = model.people.sum(axis=1), []
    for code in (part.base, *map(float, part.codes)):
        values = {**model.prepared.values, part.name: np.full(len(weights), code)}
        category = part.variable.categories[int(code)]
        shares = _shares(model, values, weights)
        levels.append(
            r.StandardisedAnswers(value=category.value, label=category.label, answers=shares)
        )
    return r.StandardisedVariable(
        variable=part.name, title=part.variable.title, levels=tuple(levels)
    )


def _shares(
    model: AnswersFitted, values: dict[str, FloatArray], weights: FloatArray
) -> tuple[r.PredictedAnswer, ...]:
    """The mean of predicted probabilities, errors by the delta method and limits on the log odds."""
    b, answers = model.found.coefficients, model.data.counts.shape[1]
    mean, slope = np.zeros(answers), np.zeros((answers, len(b)))
    for at in blocks(slice(0, len(weights))):
        design = design_of(model.terms, {name: each[at] for name, each in values.items()})
        p, w = model.family.probabilities(design, b), weights[at]
        mean += w @ p
        slope += np.einsum("jk,jkp->kp", p * w[:, None], model.family.scores(design, b))
    mean, slope = mean / weights.sum(), slope / weights.sum()
    errors = np.sqrt(np.einsum("kp,pq,kq->k", slope, model.found.covariance, slope))
    return tuple(_one(model, float(p), float(se)) for p, se in zip(mean, errors, strict=True))


def _one(model: AnswersFitted, share: float, se: float) -> r.PredictedAnswer:
    quantile = model.inference.quantile
    spread = share * (1 - share)
    if not math.isfinite(quantile) or se <= 0 or spread <= 0:
        return r.PredictedAnswer(share=share, se=se, ci=None)
    middle, reach = float(special.logit(share)), quantile * se / spread
    low, high = (float(special.expit(middle + side * reach)) for side in (-1, 1))
    return r.PredictedAnswer(share=share, se=se, ci=(low, high))


def _written(work: EveryAnswerWork, variables: tuple[r.StandardisedVariable, ...]) -> str:
    if not variables:
        return ""
    first, allowed = variables[0], work.question.allowing_for
    told = [
        f"{level.label}: "
        + ", ".join(
            f"{percent(each.share)} {word}"
            for each, word in zip(level.answers, work.words, strict=True)
        )
        for level in first.levels[:4]
    ]
    how = ", standardised to the people of the model," if allowed else ""
    return f"Predicted shares by {first.title}{how} were, for {listed(told, 'and for')}."
