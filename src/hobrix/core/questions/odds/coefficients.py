"""Coefficients, and the odds ratios of every term that can be read by themselves."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from hobrix.core.logistic import effects
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.collinearity import inflation_of_columns, inflation_of_estimates
from hobrix.core.logistic.patterns import FloatArray, blocks
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.fitted import Fitted, exp
from hobrix.core.questions.odds.prepare import base_values
from hobrix.core.questions.odds.terms import ModelTerm, Part, design_of, slopes_of
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.questions.wording import number
from hobrix.core.tables.interval import Interval


def coefficients(model: Fitted) -> tuple[r.Coefficient, ...]:
    """One per column, the intercept first."""
    wald = ml.wald_intervals(model.found, 0.95)
    named = column_names(model.terms)
    found = []
    for column, (name, level, label) in enumerate(named):
        at = np.eye(len(named))[column]
        here = model.estimate(at)
        profile = None
        if model.is_profiled:
            profile = here.limits if model.confidence == 0.95 else model.estimate(at, 0.95).limits
        found.append(
            r.Coefficient(
                term=name,
                level=level,
                label=label,
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                p=here.p,
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
                ci_95_wald=ratios(wald[column]),
                log_odds_ci_95_wald=(wald[column].low, wald[column].high),
                ci_95_profile=profile and ratios(profile),
                log_odds_ci_95_profile=profile and (profile.low, profile.high),
            )
        )
    return tuple(found)


def column_names(terms: Sequence[ModelTerm]) -> list[tuple[str, str | None, str]]:
    """Term, level and label of every column, the intercept first."""
    return [("intercept", None, "intercept")] + [
        (term.name, level, _column_label(term, i))
        for term in terms
        for i, level in enumerate(term.column_levels)
    ]


def ratios(limits: Interval) -> tuple[float, float]:
    """Limits of an odds ratio from those of its log."""
    return exp(limits.low), exp(limits.high)


def _column_label(term: ModelTerm, column: int) -> str:
    """ "Water source: River", "Age / 10, squared", "… × …" for an interaction."""
    if not term.is_interaction:
        return _part_label(term.parts[0], column)
    first, second = term.parts
    wide = len(second.column_levels)
    return f"{_part_label(first, column // wide)} × {_part_label(second, column % wide)}"


def _part_label(part: Part, column: int) -> str:
    title = part.variable.title
    if not part.is_numeric:
        return f"{title}: {part.variable.label_of(part.levels[column])}"
    unit = "" if part.per == 1 else f" / {number(part.per)}"
    piece = part.column_levels[column]
    return f"{title}{unit}{f', {piece}' if piece else ''}"


def equation(model: Fitted) -> str:
    """log odds = intercept + each coefficient times what it stands for."""
    b = model.found.coefficients
    text = f"{b[0]:.4g}"
    labels = [label for *_, label in column_names(model.terms)]
    for value, label in zip(b[1:], labels[1:], strict=True):
        text += f" {'−' if value < 0 else '+'} {abs(value):.4g} · [{label}]"
    return f"log odds = {text}".replace("-", "−")


def terms(model: Fitted, found_effects: Sequence[r.MarginalEffect]) -> tuple[r.OddsTerm, ...]:
    """Every term with its tests, odds ratios and average differences."""
    inflation = inflation_of_estimates(model.found, model.places)
    of_columns = inflation_of_columns(model.data, model.places)
    found = []
    for term, at, gvif, plain in zip(model.terms, model.places, inflation, of_columns, strict=True):
        test = model.method.likelihood_ratio_test(model.data, model.found, at)
        found.append(
            r.OddsTerm(
                **vars(described(model, term)),
                wald=ChiSquare(**vars(ml.wald_test(model.found, at))),
                likelihood_ratio=ChiSquare(**vars(test)),
                gvif=gvif,
                gvif_adjusted=gvif ** (1 / (2 * len(at))),
                gvif_of_columns=plain,
                rows=with_differences(term, rows_of(model, term, at), found_effects),
            )
        )
    return tuple(found)


def described(model: Fitted, term: ModelTerm) -> r.TermOfModel:
    """What a term is, and who is at its reference."""
    interacting = {part.name for term in model.terms if term.is_interaction for part in term.parts}
    lead = term.parts[0]
    in_interaction = not term.is_interaction and term.name in interacting
    base = _tally(model, lead).get(lead.reference or "", (None, None))
    return r.TermOfModel(
        term=term.name,
        variable=lead.name,
        together_with=term.parts[1].name if term.is_interaction else None,
        title=term.title,
        role=term.role,
        is_numeric=lead.is_numeric,
        part_of_interaction=in_interaction,
        holds_at=_holds_at(model, term) if in_interaction else None,
        reference=_reference(lead),
        reference_n=base[0],
        reference_events=base[1],
    )


def _reference(part: Part) -> str | None:
    if part.reference is not None:
        return part.variable.label_of(part.reference)
    return f"{number(part.base)} (the median)" if part.bend else None


def _holds_at(model: Fitted, term: ModelTerm) -> str:
    others = {
        part.name: part
        for other in model.terms
        if other.is_interaction and term.name in [part.name for part in other.parts]
        for part in other.parts
        if part.name != term.name
    }
    return ", ".join(
        f"{part.variable.title}: {number(part.base) if part.is_numeric else part.label_of(part.base)}"
        for part in others.values()
    )


def rows_of(model: Fitted, term: ModelTerm, at: list[int]) -> tuple[r.OddsRow, ...]:
    """The odds ratios of a term: of an interaction, within each level of its other variable."""
    lead = term.parts[0]
    tally = _tally(model, lead)
    alone = None
    if not term.is_interaction and len(model.terms) > 1:
        alone = replace(model, prepared=replace(model.prepared, data=model.data.keep([0, *at])))
        alone = replace(alone, found=model.alone(at))
    rows = []
    for given, level, label, contrast in contrasts_of(model, term):
        here = model.estimate(contrast)
        plain = None if alone is None else alone.estimate(contrast[[0, *at]])
        if not term.is_interaction and len(model.terms) == 1:
            plain = here
        people = tally.get(level or "") if given is None else None
        rows.append(
            r.OddsRow(
                term=term.name,
                level=level,
                label=label,
                given=given,
                n=people and people[0],
                events=people and people[1],
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                p=here.p,
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
                unadjusted=plain and exp(plain.log_odds),
                unadjusted_ci=plain and ratios(plain.limits),
                difference=None,
            )
        )
    return tuple(rows)


def contrasts_of(
    model: Fitted, term: ModelTerm
) -> list[tuple[str | None, str | None, str, FloatArray]]:
    """What each odds ratio of a term is worked out from: the level of the other variable of an
    interaction, its own level, its label, and c of shape (k,)."""
    return [
        (
            given,
            level,
            label,
            (design_of(model.terms, moved) - design_of(model.terms, base))[0],
        )
        for given, base in _settings(model, term)
        for level, label, moved in _steps_of(term.parts[0], base)
    ]


def _settings(model: Fitted, term: ModelTerm) -> list[tuple[str | None, dict[str, FloatArray]]]:
    """Where the odds ratios of a term are taken: everybody at the references and medians, and for
    an interaction at each level (or low, median and high value) of the other variable."""
    base = base_values(model.terms)
    if not term.is_interaction:
        return [(None, base)]
    other = term.parts[1]
    title = other.variable.title
    if other.is_numeric:
        points = dict.fromkeys((other.at[0], other.base, other.at[3]))
        return [(f"{title} {number(x)}", {**base, other.name: np.array([x])}) for x in points]
    codes = sorted([other.base, *map(float, other.codes)])
    return [(f"{title}: {other.label_of(c)}", {**base, other.name: np.array([c])}) for c in codes]


def _steps_of(
    part: Part, base: dict[str, FloatArray]
) -> list[tuple[str | None, str, dict[str, FloatArray]]]:
    """From the base to each category, by one unit, or to low and high values of a bent number."""
    if not part.is_numeric:
        return [
            (level, part.variable.label_of(level), {**base, part.name: np.array([float(code)])})
            for level, code in zip(part.levels, part.codes, strict=True)
        ]
    if part.bend is None:
        label = f"per {_units(part.per, part.variable.unit)}"
        return [(None, label, {**base, part.name: base[part.name] + part.per})]
    points = [x for x in dict.fromkeys(part.at) if x != part.base]
    return [
        (
            None,
            f"{number(x)} against {number(part.base)}",
            {**base, part.name: np.array([x])},
        )
        for x in points
    ]


def _units(per: float, unit: str | None) -> str:
    """ "10 years", "year", "unit": one of a unit is named in the singular."""
    if per != 1:
        return f"{number(per)} {unit or 'units'}"
    return unit[:-1] if unit and len(unit) > 3 and unit.endswith("s") else unit or "unit"


def _tally(model: Fitted, part: Part) -> dict[str, tuple[float, float]]:
    """People and events by category of a categorical variable."""
    if part.is_numeric:
        return {}
    codes = model.prepared.values[part.name].astype(int)
    names = [category.value for category in part.variable.categories]
    n, x = (
        np.bincount(codes, weights=side, minlength=len(names))
        for side in (model.data.trials, model.data.events)
    )
    return {name: (float(n[i]), float(x[i])) for i, name in enumerate(names)}


def marginal_effects(model: Fitted) -> tuple[r.MarginalEffect, ...]:
    """Average differences in probability, of each variable: per unit, or against the reference."""
    found = []
    for part in model.parts.values():
        levels: tuple[str | None, ...] = (None,) if part.is_numeric else part.levels
        for level, effect in zip(levels, _effects_of(model, part), strict=True):
            value, se = effect.estimate, effect.se
            ci, at_95 = (model.limits_of(value, se, c) for c in (model.confidence, 0.95))
            z = value / se if se else 0.0
            found.append(
                r.MarginalEffect(
                    variable=part.name,
                    level=level,
                    estimate=value,
                    se=se,
                    z=z,
                    p=model.p_of(z),
                    ci=(ci.low, ci.high),
                    ci_95=(at_95.low, at_95.high),
                )
            )
    return tuple(found)


def _effects_of(model: Fitted, part: Part) -> list[effects.AverageEffect]:
    if part.is_numeric:
        return [effects.average_slope(_slopes(model, part), model.found)]
    holding = [
        (term, at)
        for term, at in zip(model.terms, model.places, strict=True)
        if part.name in [each.name for each in term.parts]
    ]
    if len(holding) == 1:
        means = effects.mean_probabilities_of_categories(model.data, model.found, holding[0][1])
    else:
        means = [
            effects.mean_probability(_set_to(model, part, code), model.found)
            for code in (part.base, *part.codes)
        ]
    return [effects.average_difference(mean, means[0], model.found) for mean in means[1:]]


def _stretches(model: Fitted) -> Iterator[tuple[dict[str, FloatArray], FloatArray, slice]]:
    for at in blocks(slice(0, len(model.data.trials))):
        yield {k: v[at] for k, v in model.prepared.values.items()}, model.data.trials[at], at


def _set_to(model: Fitted, part: Part, code: float) -> Iterator[tuple[FloatArray, FloatArray]]:
    for values, trials, _ in _stretches(model):
        moved = {**values, part.name: np.full(len(trials), code)}
        yield design_of(model.terms, moved), trials


def _slopes(model: Fitted, part: Part) -> Iterator[tuple[FloatArray, FloatArray, FloatArray]]:
    for values, trials, at in _stretches(model):
        yield model.data.design[at], slopes_of(model.terms, values, part.name), trials


def with_differences(
    term: ModelTerm, rows: tuple[r.OddsRow, ...], found: Sequence[r.MarginalEffect]
) -> tuple[r.OddsRow, ...]:
    """Rows of a term by itself with the average difference in probability beside the odds ratio."""
    if term.is_interaction or (term.parts[0].is_numeric and len(rows) > 1):
        return rows
    by_level = {effect.level: effect for effect in found if effect.variable == term.parts[0].name}

    def filled(row: r.OddsRow) -> r.OddsRow:
        effect = by_level.get(row.level)
        if effect is None:
            return row
        kept = {k: getattr(effect, k) for k in r.AverageDifference.model_fields}
        return row.model_copy(update={"difference": r.AverageDifference(**kept)})

    return tuple(filled(row) for row in rows)
