"""The Odds model of a weighted sample, beside the one that counts each row once."""

import math

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.odds.coefficients import column_names, contrasts_of
from hobrix.core.questions.odds.fitted import Fitted, exp
from hobrix.core.questions.odds.options import options_of
from hobrix.core.questions.odds.prepare import ask, prepare
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.tables import wald
from hobrix.core.survey import logistic
from hobrix.core.tables.interval import normal_quantile


def survey_model(question: Question, frame: Frame, sample: Sample) -> r.SurveyModel:
    """Pseudo-maximum likelihood on the rows with a weight; limits and tests on t(design df).

    Raises:
        QuestionError: the weighted model has no finite estimate.
    """
    options = options_of(question)
    rows = Rows(question, frame)
    asked = ask(question, frame, rows, options)
    used = asked.complete(rows)
    if sample.rows is not None:
        has_weight = np.zeros(frame.rows, dtype=bool)
        has_weight[sample.rows] = True
        used &= has_weight
    prepared = prepare(asked, used)
    pattern = np.full(frame.rows, -1, dtype=np.int64)
    pattern[prepared.rows] = prepared.pattern
    pattern = sample.of(pattern)
    outcome = (sample.of(asked.events) > 0).astype(np.float64)
    try:
        found = logistic.fit(sample.design, prepared.data.design, pattern, outcome)
        plain = ml.fit(prepared.data)
    except (ml.NotFinite, ml.Collinear):
        message = "With these weights the model has no finite estimate: leave a variable out."
        raise QuestionError(message, slot="vary_with") from None
    return _told(
        Fitted(prepared, options, question.confidence, found, None),
        plain,
        sample,
    )


def _told(model: Fitted, plain: ml.Fit, sample: Sample) -> r.SurveyModel:
    nu = sample.design.df
    t = sample.design.t_quantile(model.confidence)
    z = normal_quantile(model.confidence)

    def estimate(contrast: np.ndarray) -> tuple[float, float, float, tuple[float, float]]:
        value, se = ml.estimate_of(model.found, contrast)
        p = sample.design.p_of(value / se if se else 0.0)
        return value, se, p, (_ratio(value - t * se), _ratio(value + t * se))

    coefficients = []
    for column, (term, level, label) in enumerate(column_names(model.terms)):
        value, se, p, ci = estimate(np.eye(len(plain.coefficients))[column])
        coefficients.append(
            r.SurveyCoefficient(
                term=term,
                level=level,
                label=label,
                log_odds=value,
                se=se,
                t=value / se if se else 0.0,
                p=p,
                odds_ratio=exp(value),
                ci=ci,
                unweighted_odds_ratio=exp(float(plain.coefficients[column])),
            )
        )
    rows = []
    for each in sorted(model.terms, key=lambda term: term.role != "vary_with"):
        lead = each.parts[0]
        against = None if lead.reference is None else lead.variable.label_of(lead.reference)
        for given, _, label, contrast in contrasts_of(model, each):
            value, _, p, ci = estimate(contrast)
            other, error = ml.estimate_of(plain, contrast)
            rows.append(
                r.SurveyTerm(
                    term=each.name,
                    title=each.title,
                    label=label,
                    reference=against,
                    given=given,
                    odds_ratio=exp(value),
                    ci=ci,
                    p=p,
                    unweighted=exp(other),
                    unweighted_ci=(_ratio(other - z * error), _ratio(other + z * error)),
                )
            )
    tests = [
        r.SurveyTermTest(term=term.name, title=term.title, wald=test)
        for term, at in zip(model.terms, model.places, strict=True)
        if (test := wald(logistic.wald_test(model.found, at, nu))) is not None
    ]
    every = range(1, len(plain.coefficients))
    return r.SurveyModel(
        n=model.n,
        coefficients=tuple(coefficients),
        rows=tuple(rows),
        terms=tuple(tests),
        model=wald(logistic.wald_test(model.found, every, nu)),
    )


def _ratio(log_odds: float) -> float:
    """exp within what a double holds."""
    return math.exp(min(709.0, max(-709.0, log_odds)))
