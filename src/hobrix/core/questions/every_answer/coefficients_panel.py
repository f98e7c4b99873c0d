"""The coefficients as they were estimated."""

import numpy as np

from hobrix.core.logistic import inference
from hobrix.core.questions.every_answer import results as r
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.modelling.fitted import exp, ratios
from hobrix.core.tables.interval import Interval


def coefficients(work: EveryAnswerWork) -> Found:
    model, found = work.model, []
    named = column_names(model.terms)
    if work.is_ordered:
        side = "below" if work.options.downward else "above"
        for cut, word in enumerate(work.words[:-1]):
            found.append(_one(work, cut, None, ("threshold", None, f"{side} “{word}”")))
    for equation, row in enumerate(model.at):
        answer = None if work.is_ordered else work.words[equation + 1]
        for column in range(0 if answer else 1, len(row)):
            found.append(_one(work, int(row[column]), answer, named[column]))
    return Found(r.AnswersCoefficientsPanel(equation=_equation(work), coefficients=tuple(found)))


def _one(
    work: EveryAnswerWork, at: int, answer: str | None, named: tuple[str, str | None, str]
) -> r.AnswersCoefficient:
    model = work.model
    contrast = np.zeros(len(model.found.coefficients))
    contrast[at] = 1.0
    value, se = inference.estimate_of(model.found, contrast)
    limits: Interval = model.inference.limits_of(value, se)
    is_ratio = named[0] not in ("threshold", "intercept")
    return r.AnswersCoefficient(
        answer=answer,
        term=named[0],
        level=named[1],
        label=named[2],
        log_odds=value,
        se=se,
        z=value / se if se else 0.0,
        p=model.inference.p_of(value / se) if se else None,
        log_odds_ci=(limits.low, limits.high),
        odds_ratio=exp(value) if is_ratio else None,
        ci=ratios(limits) if is_ratio else None,
    )


def _equation(work: EveryAnswerWork) -> str:
    if work.is_ordered:
        side = "below" if work.options.downward else "above"
        return f"log(P({side} an answer) / P(not)) = its threshold + coefficients × values"
    return f"log(P(answer) / P({work.words[0]})) = coefficients of that answer × values"
