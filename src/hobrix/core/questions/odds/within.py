"""The same model within each stratum, side by side."""

from dataclasses import replace

import numpy as np

from hobrix.core.data import Category, Variable
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.contrasts import contrasts_of
from hobrix.core.questions.modelling.fitted import Fitted, Separated, exp, ratios
from hobrix.core.questions.modelling.prepare import Asked, prepare
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.question import Term
from hobrix.core.survey import logistic
from hobrix.core.survey.replicates import TooFewReplicates
from hobrix.core.tables.independence import chi_square_test

# A term of its own for the strata, by a name that no column of a file has.
_STRATA = "\0strata"
Found = tuple[tuple[r.OddsStratum, ...], r.CommonToStrata | None, r.SameInStrata | None]


def strata(work: OddsWork) -> Found:
    """The model in every stratum that holds somebody, and what all strata have in common; under a
    design everybody else stays in it."""
    if work.strata is None:
        return (), None, None
    found, models, telling = [], [], []
    for code, (values, label) in enumerate(work.labels):
        here = work.used & (work.strata == code)
        if not here.any():
            continue
        model, left_out = _fitted(work, work.asked, here)
        if 0 < work.asked.events[here].sum() < work.asked.trials[here].sum():
            telling.append(here)
        models.append(model)
        found.append(
            r.OddsStratum(
                values=values,
                label=label,
                n=float(work.asked.trials[here].sum()),
                events=float(work.asked.events[here].sum()),
                ratios=() if model is None else _ratios(work.model, model),
                left_out=left_out,
            )
        )
    asked = _with_strata(work) if len(telling) > 1 else work.asked
    common, reason = _fitted(work, asked, np.any(telling, axis=0))
    ratios = () if common is None else _ratios(work.model, common)
    shared = r.CommonToStrata(ratios=ratios, reason=reason)
    return tuple(found), shared, _same(work.model, models, common)


def _with_strata(work: OddsWork) -> Asked:
    """The strata as a term of the model: an intercept for each."""
    asked, codes = work.asked, work.strata
    assert codes is not None
    categories = tuple(
        Category(value=str(code), label=label) for code, (_, label) in enumerate(work.labels)
    )
    variable = Variable(name=_STRATA, kind="nominal", categories=categories)
    return replace(
        asked,
        terms=(*asked.terms, ("allowing_for", Term(variable=_STRATA))),
        variables={**asked.variables, _STRATA: variable},
        references={**asked.references, _STRATA: "0"},
        columns={**asked.columns, _STRATA: codes},
    )


def _fitted(work: OddsWork, asked: Asked, here: Mask) -> tuple[Fitted | None, str | None]:
    """Or why there is no model."""
    whole = work.model
    try:
        prepared = prepare(asked, here, whole.parts)
        return work.sampling.model(prepared, whole.asked, is_whole=False), None
    except QuestionError as refused:
        return None, str(refused)
    except Separated:
        return None, "the outcome is told apart, so the odds ratios have no end"
    except (ml.Collinear, ml.NotFinite):
        return None, "some of its variables say the same there"
    except TooFewReplicates:
        return None, "hardly a replicate has an estimate there"


def _ratios(whole: Fitted, model: Fitted) -> tuple[r.StratumRatio | None, ...]:
    """In the order of the rows of the whole; None where a category is absent."""
    known = {}
    for term in (term for term in model.terms if term.name != _STRATA):
        for given, level, label, contrast in contrasts_of(model.terms, term):
            here = model.estimate(contrast)
            known[(term.name, given, level, label)] = r.StratumRatio(
                odds_ratio=exp(here.log_odds), ci=ratios(here.limits), p=here.p
            )
    return tuple(
        known.get((term.name, given, level, label))
        for term in whole.terms
        for given, level, label, _ in contrasts_of(whole.terms, term)
    )


def _same(whole: Fitted, models: list[Fitted | None], common: Fitted | None) -> r.SameInStrata:
    """All coefficients but the intercept are tested for being the same everywhere: twice what the
    models of the strata gain over one model with an intercept per stratum, or Wald's test."""
    fitted = [model for model in models if model is not None]
    wide = whole.data.design.shape[1]
    reason = None
    if whole.is_firth:
        reason = "Penalised likelihoods of parts do not add up to that of the whole."
    elif len(fitted) < 2 or len(fitted) < len(models):
        reason = "Not every stratum could be fitted."
    elif any(model.data.design.shape[1] != wide for model in fitted):
        reason = "Some strata lack a category that others have."
    elif common is None:
        reason = "No model with what they have in common could be fitted."
    if reason is not None or common is None:
        return r.SameInStrata(test=None, reason=reason)
    if whole.weighted is not None:
        return _same_by_wald(whole, fitted)
    together = sum(model.found.log_likelihood for model in fitted)
    gain = max(0.0, 2 * (together - common.found.log_likelihood))
    test = chi_square_test(gain, (len(fitted) - 1) * (wide - 1))
    named = NamedTest.chi_square("likelihood-ratio test of sameness", test)
    return r.SameInStrata(test=named, reason=None)


def _same_by_wald(whole: Fitted, fitted: list[Fitted]) -> r.SameInStrata:
    assert whole.weighted is not None
    spreads = [model.weighted.found for model in fitted if model.weighted is not None]
    columns = range(1, whole.data.design.shape[1])
    try:
        found = logistic.same_everywhere(whole.weighted.totals.design, spreads, columns)
    except TooFewReplicates:
        reason = "Hardly a replicate has an estimate in every stratum."
        return r.SameInStrata(test=None, reason=reason)
    if found is None:
        reason = "There are too few clusters for so many coefficients."
        return r.SameInStrata(test=None, reason=reason)
    return r.SameInStrata(test=NamedTest.wald("adjusted Wald test of sameness", found), reason=None)
