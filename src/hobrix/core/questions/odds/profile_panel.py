"""Try a profile: the predicted probability of somebody with these values, and its curve."""

import numpy as np

from hobrix.core.logistic import effects
from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.profiles import (
    ProfileSlot,
    filled,
    label_of,
    slots_of,
    values_of,
)
from hobrix.core.questions.modelling.terms import Part, base_values, design_of
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.options import OddsOptions
from hobrix.core.questions.odds.work import OddsWork

POINTS, MOST_LINES = 41, 8
_SLOT = "options.odds.profiles"


def has_probabilities(work: OddsWork) -> bool:
    return work.has_probabilities


def profile(work: OddsWork) -> Found:
    model = work.model
    known = slots_of(model.parts, model.prepared.values, model.data.trials)
    return Found(
        r.ProfilePanel(
            slots=known,
            predictions=predictions(work.model, work.options, known),
            curve=curve(work),
        )
    )


def predictions(
    model: Fitted, options: OddsOptions, known: tuple[ProfileSlot, ...]
) -> tuple[r.ProfilePrediction, ...]:
    """Of the profiles in the options; what a profile leaves open is as usual.

    Raises:
        QuestionError: a value that is no category of the model, or no number.
    """
    found = []
    for profile in options.profiles:
        values = filled(profile, known)
        row = design_of(model.terms, values_of(model.parts, values, _SLOT))
        here = effects.predictions(row, model.found, model.quantile)[0]
        found.append(
            r.ProfilePrediction(
                values=values,
                label=label_of(model.parts, profile),
                log_odds=here.log_odds,
                se_log_odds=here.se_log_odds,
                probability=here.probability,
                ci=here.ci,
            )
        )
    return tuple(found)


def curve(work: OddsWork) -> r.ProbabilityCurve | None:
    """The probability across a number, for every category of another variable; all else at the
    reference or the median. Without a number there is none."""
    model, options = work.model, work.options
    numeric = [part for part in model.parts.values() if part.is_numeric]
    if not numeric:
        return None
    across = next((p for p in numeric if p.name == options.curve), numeric[0])
    by = _by(model, options)
    x = model.prepared.values[across.name]
    grid = np.linspace(x.min(), x.max(), POINTS)
    base = {k: np.repeat(v, POINTS) for k, v in base_values(model.terms).items()}
    base[across.name] = grid
    lines = [("", base)]
    if by is not None:
        codes = sorted([by.base, *map(float, by.codes)])[:MOST_LINES]
        lines = [(by.label_of(code), {**base, by.name: np.full(POINTS, code)}) for code in codes]
    return r.ProbabilityCurve(
        across=across.name,
        across_title=across.variable.title,
        by=by and by.name,
        by_title=by.variable.title if by else "",
        event_label=work.asked.event_label,
        lines=tuple(_line(model, label, grid, values) for label, values in lines),
    )


def _by(model: Fitted, options: OddsOptions) -> Part | None:
    """As asked, otherwise the first variable of interest that has categories."""
    categorical = [part for part in model.parts.values() if not part.is_numeric]
    if options.curve_by is not None:
        return next((p for p in categorical if p.name == options.curve_by), None)
    of_interest = [
        term.parts[0]
        for term in model.terms
        if term.role == "vary_with" and not term.is_interaction
    ]
    return next((part for part in of_interest if not part.is_numeric), None)


def _line(
    model: Fitted, label: str, grid: FloatArray, values: dict[str, FloatArray]
) -> r.CurveLine:
    found = effects.predictions(design_of(model.terms, values), model.found, model.quantile)
    return r.CurveLine(
        label=label,
        points=tuple(
            (float(x), each.probability, each.ci.low, each.ci.high)
            for x, each in zip(grid, found, strict=True)
        ),
    )
