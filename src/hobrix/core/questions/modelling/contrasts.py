"""What the odds ratios of a term compare: from the reference to each category, by a unit of a number, or within each
level of another variable, as contrasts c'b of the columns of a design."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.questions.modelling.terms import ModelTerm, Part, base_values, places_of
from hobrix.core.questions.wording import number


def column_names(terms: Sequence[ModelTerm]) -> list[tuple[str, str | None, str]]:
    """Term, level and label of every column, the intercept first."""
    return [("intercept", None, "intercept")] + [
        (term.name, level, _column_label(term, i))
        for term in terms
        for i, level in enumerate(term.column_levels)
    ]


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


def described(terms: Sequence[ModelTerm], term: ModelTerm) -> dict[str, Any]:
    """What a term is, as all models tell it."""
    interacting = {part.name for each in terms if each.is_interaction for part in each.parts}
    lead = term.parts[0]
    in_interaction = not term.is_interaction and term.name in interacting
    return {
        "term": term.name,
        "variable": lead.name,
        "together_with": term.parts[1].name if term.is_interaction else None,
        "title": term.title,
        "role": term.role,
        "is_numeric": lead.is_numeric,
        "part_of_interaction": in_interaction,
        "holds_at": _holds_at(terms, term) if in_interaction else None,
        "reference": _reference(lead),
    }


def _reference(part: Part) -> str | None:
    if part.reference is not None:
        return part.variable.label_of(part.reference)
    return f"{number(part.base)} (the median)" if part.bend else None


def _holds_at(terms: Sequence[ModelTerm], term: ModelTerm) -> str:
    others = {
        part.name: part
        for other in terms
        if other.is_interaction and term.name in [part.name for part in other.parts]
        for part in other.parts
        if part.name != term.name
    }
    return ", ".join(
        f"{part.variable.title}: {number(part.base) if part.is_numeric else part.label_of(part.base)}"
        for part in others.values()
    )


def contrasts_of(
    terms: Sequence[ModelTerm], term: ModelTerm
) -> list[tuple[str | None, str | None, str, FloatArray]]:
    """What each odds ratio of a term is worked out from: the level of the other variable of an
    interaction, its own level, its label, and c of shape (k,)."""
    places = places_of(terms)
    steps = [
        (given, base, level, label, moved)
        for given, base in _settings(terms, term)
        for level, label, moved in _steps_of(term.parts[0], base)
    ]

    lead = term.parts[0]
    holding = [
        (each, at)
        for each, at in zip(terms, places, strict=True)
        if lead.name in [part.name for part in each.parts]
    ]
    contrasts = np.zeros((len(steps), 1 + sum(map(len, places))))

    def together(people: list[dict[str, FloatArray]]) -> dict[str, FloatArray]:
        return {name: np.concatenate([each[name] for each in people]) for name in people[0]}

    if len(holding) == 1 and not term.is_interaction and lead.bend is None:
        # Each step is one in a column of its own.
        contrasts[np.arange(len(steps)), holding[0][1]] = 1.0
    else:
        before, after = together([step[1] for step in steps]), together([step[4] for step in steps])
        for each, at in holding:
            contrasts[:, at] = each.columns(after) - each.columns(before)
    return [
        (given, level, label, contrast)
        for (given, _, level, label, _), contrast in zip(steps, contrasts, strict=True)
    ]


def _settings(
    terms: Sequence[ModelTerm], term: ModelTerm
) -> list[tuple[str | None, dict[str, FloatArray]]]:
    """Where the odds ratios of a term are taken: everybody at the references and medians, and for
    an interaction at each level (or low, median and high value) of the other variable."""
    base = base_values(terms)
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
    """ "10 years", "year", "degree Celsius", "unit": one of a unit is named in the singular."""
    if per != 1:
        return f"{number(per)} {unit or 'units'}"
    first, *rest = (unit or "unit").split(" ")
    if len(first) > 3 and first.endswith("s") and not first.endswith(("ss", "us", "is")):
        first = first[:-1]
    return " ".join([first, *rest])
