"""Ratios and differences of shares from the model, for events so common that odds ratios mislead.

Everybody is set to one category after the other, all else as it is (standardisation), so that people differ in
nothing but that.
"""

import math
from dataclasses import replace

from hobrix.core.logistic import effects
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.terms import Part
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.rows import means_of
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.wording import interval_in_print, level, percent, ratio


def has_shares(work: OddsWork) -> bool:
    """Not where the share of cases was set by the researcher, nor where all that varies are numbers."""
    return work.has_probabilities and bool(_varying(work))


def _varying(work: OddsWork) -> list[Part]:
    named = [term.variable for term in work.question.vary_with]
    return [p for name, p in work.model.parts.items() if name in named and not p.is_numeric]


def shares(work: OddsWork) -> Found:
    model = work.model.of_population
    found = tuple(_of_variable(model, part) for part in _varying(work))
    return Found(r.SharesPanel(variables=found), write_up=_written(work, model, found))


def _of_variable(model: Fitted, part: Part) -> r.VariableShares:
    means = means_of(model, part)
    codes = (int(part.base), *part.codes)
    levels = []
    for i, (code, mean) in enumerate(zip(codes, means, strict=True)):
        category = part.variable.categories[code]
        of_level = effects.share(mean, model.found)
        levels.append(
            r.LevelShare(
                value=category.value,
                label=category.label,
                share=of_level.estimate,
                share_ci=_limits(model, of_level),
                **(_against(model, mean, means[0]) if i else _NOTHING),
            )
        )
    return r.VariableShares(variable=part.name, title=part.variable.title, levels=tuple(levels))


_NOTHING = dict.fromkeys(("ratio", "ratio_ci", "difference", "difference_ci", "p"))


def _against(
    model: Fitted, there: effects.MeanProbability, here: effects.MeanProbability
) -> dict[str, object]:
    log = effects.log_ratio(there, here, model.found)
    apart = effects.average_difference(there, here, model.found)
    ends = _limits(model, log)
    return {
        "ratio": math.exp(log.estimate),
        "ratio_ci": ends and (math.exp(ends[0]), math.exp(ends[1])),
        "difference": apart.estimate,
        "difference_ci": _limits(model, apart),
        "p": model.p_of(log.estimate / log.se) if log.se else None,
    }


def _limits(model: Fitted, found: effects.AverageEffect) -> tuple[float, float] | None:
    low, high = model.limits_of(found.estimate, found.se)
    return (low, high) if math.isfinite(low) and math.isfinite(high) else None


def _written(work: OddsWork, model: Fitted, found: tuple[r.VariableShares, ...]) -> str:
    """Of the first variable the category that differs most clearly from the reference; picked from several, its limits allow for
    all of them."""
    base, *others = found[0].levels
    many = len(others)
    at = max(range(many), key=lambda i: round(abs(math.log(others[i].ratio or 1.0)), 9))
    confidence = 1 - work.question.alpha / many
    wider = replace(model, asked=replace(model.asked, confidence=confidence))
    each = _of_variable(wider, _varying(work)[0]).levels[at + 1]
    if each.ratio is None:
        return ""
    limits = ""
    if each.ratio_ci is not None:
        shown = interval_in_print(each.ratio_ci, ratio)
        limits = f", {level(1 - work.question.alpha)} CI {shown}"
    picked = f", the clearest of {many}, all allowed for" if many > 1 else ""
    allowed = ", standardised to the people of the model," if work.question.allowing_for else ""
    return (
        f"The share with the event{allowed} was {percent(each.share)} with {found[0].title}: {each.label} and "
        f"{percent(base.share)} with {base.label} (ratio = {ratio(each.ratio)}{limits}{picked})."
    )
