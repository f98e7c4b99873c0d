"""Every coefficient with its error and limits, the equation, and what says nearly the same."""

import numpy as np

from hobrix.core.logistic.collinearity import inflation_of_columns, inflation_of_estimates
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.modelling.fitted import Fitted, exp, ratios
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.work import OddsWork


def coefficients(work: OddsWork) -> Found:
    model = work.model
    found = []
    for column, (name, level, label) in enumerate(column_names(model.terms)):
        here = model.estimate(np.eye(len(model.found.coefficients))[column])
        plain = None if model.plain is None else exp(float(model.plain.coefficients[column]))
        found.append(
            r.Coefficient(
                term=name,
                level=level,
                label=label,
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                df=model.weighted and model.weighted.df,
                p=here.p,
                log_odds_ci=here.limits,
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
                unweighted_odds_ratio=plain,
            )
        )
    return Found(
        r.CoefficientsPanel(
            intercept=float(model.found.coefficients[0]),
            coefficients=tuple(found),
            equation=equation(model),
            inflation=_inflation(model),
        )
    )


def _inflation(model: Fitted) -> tuple[r.Inflation, ...]:
    of_estimates = inflation_of_estimates(model.plain or model.found, model.places)
    of_columns = inflation_of_columns(model.people, model.places)
    return tuple(
        r.Inflation(
            term=term.name,
            title=term.title,
            gvif=gvif,
            gvif_adjusted=gvif ** (1 / (2 * len(at))),
            gvif_of_columns=plain,
        )
        for term, at, gvif, plain in zip(
            model.terms, model.places, of_estimates, of_columns, strict=True
        )
    )


def equation(model: Fitted) -> str:
    """log odds = intercept + each coefficient times what it stands for."""
    b = model.found.coefficients
    text = f"{b[0]:.4g}"
    labels = [label for *_, label in column_names(model.terms)]
    for value, label in zip(b[1:], labels[1:], strict=True):
        text += f" {'−' if value < 0 else '+'} {abs(value):.4g} · [{label}]"
    return f"log odds = {text}".replace("-", "−")
