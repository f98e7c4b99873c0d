"""Somebody with these values: what a profile can set, what is usual, and what it says."""

import math
from collections.abc import Mapping

import numpy as np

from hobrix.core.data import Frozen
from hobrix.core.errors import QuestionError
from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.questions.modelling.terms import Part
from hobrix.core.questions.wording import number

Profile = Mapping[str, str | float]


class ProfileSlot(Frozen):
    """A value a profile can set: categories with labels, or a number with what is usual."""

    variable: str
    title: str
    categories: tuple[tuple[str, str], ...]
    usual: str | float
    low: float | None
    high: float | None


def slots_of(
    parts: Mapping[str, Part], values: Mapping[str, FloatArray], people: FloatArray
) -> tuple[ProfileSlot, ...]:
    """Usual are the commonest category and the median; ``people`` of each pattern, shape (J,)."""
    found = []
    for part in parts.values():
        categories: tuple[tuple[str, str], ...] = ()
        low = high = None
        usual: str | float = part.base
        of_pattern = values[part.name]
        if part.is_numeric:
            low, high = float(of_pattern.min()), float(of_pattern.max())
        else:
            known = [part.variable.categories[c] for c in sorted([int(part.base), *part.codes])]
            categories = tuple((each.value, each.label) for each in known)
            tally = np.bincount(of_pattern.astype(int), weights=people)
            usual = part.variable.categories[int(np.argmax(tally))].value
        found.append(
            ProfileSlot(
                variable=part.name,
                title=part.variable.title,
                categories=categories,
                usual=usual,
                low=low,
                high=high,
            )
        )
    return tuple(found)


def filled(profile: Profile, known: tuple[ProfileSlot, ...]) -> dict[str, str | float]:
    """With what a profile leaves open as is usual."""
    usual = {slot.variable: slot.usual for slot in known}
    return {**usual, **{name: value for name, value in profile.items() if name in usual}}


def values_of(parts: Mapping[str, Part], profile: Profile, slot: str) -> dict[str, FloatArray]:
    """Codes or numbers by variable, shape (1,).

    Raises:
        QuestionError: a value that is no category of the model, or no number; beside ``slot``.
    """
    return {name: np.array([_value(parts[name], v, slot)]) for name, v in profile.items()}


def _value(part: Part, value: str | float, slot: str) -> float:
    if part.is_numeric:
        try:
            found = float(value)
        except ValueError:
            found = math.nan
        if not math.isfinite(found):
            message = f"“{value}” is no number: {part.variable.title} needs one."
            raise QuestionError(message, slot=slot)
        return found
    known = {part.variable.categories[int(c)].value: float(c) for c in (part.base, *part.codes)}
    if str(value) not in known:
        message = f"Nobody counted is in “{value}” of {part.variable.title}."
        raise QuestionError(message, slot=slot)
    return known[str(value)]


def label_of(parts: Mapping[str, Part], profile: Profile) -> str:
    """ "Water source: River, Age: 45"."""
    told = []
    for name, value in profile.items():
        if (part := parts.get(name)) is not None:
            says = number(float(value)) if part.is_numeric else part.variable.label_of(str(value))
            told.append(f"{part.variable.title}: {says}")
    return ", ".join(told) or "as usual"
