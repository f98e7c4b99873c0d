"""Try a profile: the predicted probability of somebody with these values, and its curve."""

import numpy as np

from hobrix.core.errors import QuestionError
from hobrix.core.logistic import effects
from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.terms import Part, base_values, design_of
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.options import OddsOptions
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.wording import number

POINTS, MOST_LINES = 41, 8
_SLOT = "options.odds.profiles"


def has_probabilities(work: OddsWork) -> bool:
    return work.has_probabilities


def profile(work: OddsWork) -> Found:
    known = slots(work.model)
    return Found(
        r.ProfilePanel(
            slots=known,
            predictions=predictions(work.model, work.options, known),
            curve=curve(work),
        )
    )


def slots(model: Fitted) -> tuple[r.ProfileSlot, ...]:
    """What a profile can set, and what is usual: the commonest category, the median."""
    found = []
    for part in model.parts.values():
        categories: tuple[tuple[str, str], ...] = ()
        low = high = None
        usual: str | float = part.base
        if part.is_numeric:
            x = model.prepared.values[part.name]
            low, high = float(x.min()), float(x.max())
        else:
            codes = sorted([int(part.base), *part.codes])
            known = [part.variable.categories[c].value for c in codes]
            categories = tuple((value, part.variable.label_of(value)) for value in known)
            people = np.bincount(
                model.prepared.values[part.name].astype(int), weights=model.data.trials
            )
            usual = part.variable.categories[int(np.argmax(people))].value
        found.append(
            r.ProfileSlot(
                variable=part.name,
                title=part.variable.title,
                categories=categories,
                usual=usual,
                low=low,
                high=high,
            )
        )
    return tuple(found)


def predictions(
    model: Fitted, options: OddsOptions, known: tuple[r.ProfileSlot, ...]
) -> tuple[r.ProfilePrediction, ...]:
    """Of the profiles in the options; what a profile leaves open is as usual.

    Raises:
        QuestionError: a value that is no category of the model, or no number.
    """
    usual = {slot.variable: slot.usual for slot in known}
    found = []
    for profile in options.profiles:
        values = {**usual, **{k: v for k, v in profile.items() if k in usual}}
        row = design_of(
            model.terms, {k: np.array([_value(model.parts[k], v)]) for k, v in values.items()}
        )
        here = effects.predictions(row, model.found, model.quantile)[0]
        found.append(
            r.ProfilePrediction(
                values=values,
                label=_label(model, profile),
                log_odds=here.log_odds,
                se_log_odds=here.se_log_odds,
                probability=here.probability,
                ci=here.ci,
            )
        )
    return tuple(found)


def _label(model: Fitted, profile: dict[str, str | float]) -> str:
    told = []
    for name, value in profile.items():
        if (part := model.parts.get(name)) is not None:
            says = number(float(value)) if part.is_numeric else part.variable.label_of(str(value))
            told.append(f"{part.variable.title}: {says}")
    return ", ".join(told) or "as usual"


def _value(part: Part, value: str | float) -> float:
    if part.is_numeric:
        try:
            return float(value)
        except ValueError:
            message = f"“{value}” is no number: {part.variable.title} needs one."
            raise QuestionError(message, slot=_SLOT) from None
    known = {part.variable.categories[int(c)].value: float(c) for c in (part.base, *part.codes)}
    if str(value) not in known:
        message = f"Nobody counted is in “{value}” of {part.variable.title}."
        raise QuestionError(message, slot=_SLOT)
    return known[str(value)]


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
