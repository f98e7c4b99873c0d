"""Everything reported of a fitted model."""

import math

from hobrix.core.logistic import calibration, sorting
from hobrix.core.questions.odds import coefficients as told
from hobrix.core.questions.odds import profiles, quality
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.fitted import Fitted
from hobrix.core.questions.odds.steps import steps
from hobrix.core.questions.odds.unusual import unusual, without_rows
from hobrix.core.questions.quantities import ChiSquare


def explain(model: Fitted) -> r.OddsModel:
    """All parts of the answer about one model; the part they do not share is in their modules."""
    n, k = model.n, model.data.design.shape[1]
    ll, null = model.found.log_likelihood, model.null
    is_firth = model.options.method == "firth"
    people = sorting.sort_people(model.data, model.fitted)
    effects = told.marginal_effects(model)
    pearson, deviance = quality.goodness_of_fit(model)
    slots = profiles.slots(model)
    cox_snell = -math.expm1(2 * (null - ll) / n)
    of_likelihood: dict[str, float | None] = {
        "aic": -2 * ll + 2 * k,
        "bic": -2 * ll + k * math.log(n),
        "mcfadden": 1 - ll / null,
        "mcfadden_adjusted": 1 - (ll - k) / null,
        "cox_snell": cox_snell,
        "nagelkerke": -cox_snell / math.expm1(2 * null / n),
    }
    if is_firth:
        of_likelihood = dict.fromkeys(of_likelihood)
    return r.OddsModel(
        method=model.options.method,
        interval="profile" if model.is_profiled else "wald",
        n=n,
        events=model.events,
        covariate_patterns=len(model.data.trials),
        parameters=k,
        intercept=float(model.found.coefficients[0]),
        coefficients=told.coefficients(model),
        terms=told.terms(model, effects),
        average_marginal_effects=effects,
        steps=steps(model, model.options.new_step_at),
        separation="none" if model.separation is None else model.separation.kind,
        separated=separated(model),
        log_likelihood=ll,
        log_likelihood_null=null,
        penalised_log_likelihood=model.found.maximum if is_firth else None,
        deviance=-2 * ll,
        deviance_null=-2 * null,
        model_likelihood_ratio=ChiSquare(**vars(model.model_test())),
        **of_likelihood,
        tjur=_tjur(model),
        equation=told.equation(model),
        hosmer_lemeshow=quality.hosmer_lemeshow(model),
        pearson_goodness_of_fit=pearson,
        deviance_goodness_of_fit=deviance,
        brier=calibration.brier(model.data, model.fitted),
        cutoff=model.options.cutoff,
        classification=quality.classifications(people, model.options.cutoff),
        auc=quality.area(people, model.confidence),
        roc=quality.roc(people),
        concordance=quality.concordance(people),
        predicted=quality.predicted(people),
        residuals=unusual(model),
        without=without_rows(model),
        linearity=quality.linearity(model),
        slots=slots,
        predictions=profiles.predictions(model, slots),
        curve=profiles.curve(model),
    )


def _tjur(model: Fitted) -> float:
    """Mean predicted probability of those with the event less that of the others."""
    others = model.data.trials - model.data.events
    with_event = float(model.data.events @ model.fitted) / model.events
    return with_event - float(others @ model.fitted) / (model.n - model.events)


def separated(model: Fitted) -> tuple[r.SeparatedPart, ...]:
    """Coefficients without a finite maximum likelihood estimate, the intercept left out."""
    if model.separation is None:
        return ()
    named = told.column_names(model.terms)
    return tuple(
        r.SeparatedPart(term=name, level=level, label=label, maximum_likelihood=fate)
        for (name, level, label), fate in zip(named, model.separation.fates, strict=True)
        if fate != "finite" and name != "intercept"
    )


def without_probabilities(model: r.OddsModel) -> r.OddsModel:
    """The model of a case-control study, where the share with the event was set by the design:
    odds ratios keep their meaning, probabilities and their differences have none."""
    terms = tuple(
        term.model_copy(
            update={"rows": tuple(row.model_copy(update={"difference": None}) for row in term.rows)}
        )
        for term in model.terms
    )
    return model.model_copy(
        update={
            "terms": terms,
            "average_marginal_effects": (),
            "predictions": (),
            "curve": None,
            "slots": (),
        }
    )
