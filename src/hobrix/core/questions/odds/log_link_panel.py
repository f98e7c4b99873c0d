"""Ratios of shares as the model's own: a log link, with robust errors, and the binomial likelihood beside it."""

import numpy as np

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import inference, log_link
from hobrix.core.logistic.log_link import NoEstimate
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.questions.answer import Check
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.contrasts import contrasts_of
from hobrix.core.questions.modelling.fitted import exp, ratios
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.wording import count
from hobrix.core.survey.logistic import covariance_of

WHY = {
    "diverges": "a category has nobody with the event, so its ratio would be 0",
    "boundary": "its maximum has fitted shares of 1, where no error is known",
}


def has_log_link(work: OddsWork) -> bool:
    """Shares have a meaning, and errors come from the people or from linearisation."""
    weighted = work.model.weighted
    return work.has_probabilities and (
        weighted is None or weighted.totals.design.replicates is None
    )


def log_link_ratios(work: OddsWork) -> Found:
    model = work.model
    people = model.people
    try:
        poisson = log_link.poisson(people)
    except (NoEstimate, ml.NotFinite) as error:
        why = WHY[error.why] if isinstance(error, NoEstimate) else "it does not settle"
        return Found(r.LogLinkPanel(rows=(), no_estimate=why, no_binomial=None, above_1=0.0))
    robust = _by_design(work, poisson) if model.weighted is not None else poisson.fit
    binomial, why_not = _binomial(work, people)
    rows = []
    for term in sorted(model.terms, key=lambda term: term.role != "vary_with"):
        for given, level, label, contrast in contrasts_of(model.terms, term):
            value, se = inference.estimate_of(robust, contrast)
            beside = None
            if binomial is not None:
                other, its_se = inference.estimate_of(binomial, contrast)
                ends = ratios(model.limits_of(other, its_se))
                beside = r.ShareRatio(ratio=exp(other), ci=ends, p=model.p_of(other / its_se))
            rows.append(
                r.LogLinkRow(
                    term=term.name,
                    title=term.title,
                    role=term.role,
                    level=level,
                    label=label,
                    given=given,
                    robust=r.ShareRatio(
                        ratio=exp(value),
                        ci=ratios(model.limits_of(value, se)),
                        p=model.p_of(value / se) if se else None,
                    ),
                    binomial=beside,
                )
            )
    found = r.LogLinkPanel(
        rows=tuple(rows), no_estimate=None, no_binomial=why_not, above_1=poisson.above_1
    )
    return Found(found, _checks(work, poisson.above_1))


def _by_design(work: OddsWork, poisson: log_link.PoissonFit) -> ml.Fit:
    """With the errors of the design: scores by cluster."""
    weighted = work.model.weighted
    assert weighted is not None
    totals = weighted.totals
    fitted = np.exp(totals.columns @ poisson.fit.coefficients)
    spread = (totals.missed(fitted) @ totals.columns) @ poisson.inverse
    fit = poisson.fit
    covariance = covariance_of(totals.design, spread)
    return ml.Fit(fit.coefficients, covariance, fit.log_likelihood, fit.maximum)


def _binomial(work: OddsWork, people: Patterns) -> tuple[ml.Fit | None, str | None]:
    if work.model.weighted is not None:
        return None, "a weighted sample has no likelihood"
    try:
        return log_link.binomial(people), None
    except NoEstimate as error:
        return None, WHY[error.why]


def _checks(work: OddsWork, above_1: float) -> tuple[Check, ...]:
    if not above_1:
        return ()
    whom = "" if work.model.weighted is None else ", weighted"
    text = (
        f"By the log link {count(above_1)}{whom} have a fitted share above 100%: ratios far from the middle of the data "
        "are rough. Standardised ratios keep to shares below 100%."
    )
    return (Check(id="above_1", status="care", text=text),)
