"""The same model within each stratum, side by side."""

import numpy as np

from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.fitted import Fitted, Separated, exp, ratios
from hobrix.core.questions.modelling.prepare import prepare
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.rows import contrasts_of
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.survey import logistic
from hobrix.core.survey.replicates import TooFewReplicates
from hobrix.core.tables.independence import chi_square_test


def strata(work: OddsWork) -> tuple[tuple[r.OddsStratum, ...], r.SameInStrata | None]:
    """The model in every stratum that holds somebody; under a design everybody else stays in it."""
    if work.strata is None:
        return (), None
    found, models = [], []
    for code, (values, label) in enumerate(work.labels):
        here = work.used & (work.strata == code)
        if not here.any():
            continue
        model, left_out = _fitted(work, here)
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
    return tuple(found), _same(work.model, models)


def _fitted(work: OddsWork, here: Mask) -> tuple[Fitted | None, str | None]:
    """Or why there is no model."""
    whole = work.model
    try:
        prepared = prepare(work.asked, here, whole.parts)
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
    for term in model.terms:
        for given, level, label, contrast in contrasts_of(model, term):
            here = model.estimate(contrast)
            known[(term.name, given, level, label)] = r.StratumRatio(
                odds_ratio=exp(here.log_odds), ci=ratios(here.limits), p=here.p
            )
    return tuple(
        known.get((term.name, given, level, label))
        for term in whole.terms
        for given, level, label, _ in contrasts_of(whole, term)
    )


def _same(whole: Fitted, models: list[Fitted | None]) -> r.SameInStrata:
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
    if reason is not None:
        return r.SameInStrata(test=None, reason=reason)
    if whole.weighted is not None:
        return _same_by_wald(whole, fitted)
    common = common_model(fitted)
    together = sum(model.found.log_likelihood for model in fitted)
    gain = max(0.0, 2 * (together - ml.fit(common, is_checked=True).log_likelihood))
    test = chi_square_test(gain, (len(fitted) - 1) * (wide - 1))
    named = NamedTest.chi_square("likelihood-ratio test of sameness", test)
    return r.SameInStrata(test=named, reason=None)


def common_model(fitted: list[Fitted]) -> Patterns:
    """All strata in one model with an intercept each, in the first columns."""
    design = np.concatenate([model.data.design[:, 1:] for model in fitted])
    own = np.concatenate([np.full(len(m.data.trials), i) for i, m in enumerate(fitted)])
    intercepts = (own[:, None] == np.arange(len(fitted))).astype(float)
    return Patterns(
        np.column_stack([intercepts, design]),
        np.concatenate([model.data.events for model in fitted]),
        np.concatenate([model.data.trials for model in fitted]),
    )


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
