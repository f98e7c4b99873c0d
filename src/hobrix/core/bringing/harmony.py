"""How far the answers of common variables agree: what is placed where, shares side by side."""

from collections.abc import Sequence

import numpy as np

from hobrix.core.bringing.common import CommonVariable, Taken
from hobrix.core.bringing.part import Part, care
from hobrix.core.bringing.stack import Stack
from hobrix.core.data import CategoricalColumn, Category, Frozen, NumericColumn, Variable
from hobrix.core.data.cases import Finding
from hobrix.core.data.column import FloatArray
from hobrix.core.data.spelling import plainly

# A share is pointed out that lies this far from those of all other data sets, or is this many times
# theirs and not tiny: a look at the coding, not a test. Likewise a median, which tells of other units.
APART = 0.10
TIMES = 2.0
NOT_TINY = 0.05
OTHER_UNITS = 5.0


class AnswerThere(Frozen):
    """An answer of one data set, its rows, and the common answer it becomes (None: set aside)."""

    value: str
    label: str
    n: int
    placed: str | None
    is_placed: bool


class TakenLook(Frozen):
    """One data set's variable. ``shares`` are of each common category among rows that have one;
    empty while there is none, or where the common variable is numeric."""

    variable: str
    title: str
    kind: str
    answers: tuple[AnswerThere, ...]
    answered: int
    not_placed: int
    median: float | None
    shares: tuple[float, ...]


class CommonLook(Frozen):
    """A common variable, data set by data set (None: it takes nothing from that one)."""

    name: str
    parts: tuple[TakenLook | None, ...]
    not_placed: int
    findings: tuple[Finding, ...]


def look_at_common(common: CommonVariable, parts: Sequence[Part]) -> CommonLook:
    """What is placed where, and what stands apart."""
    looks = [
        None
        if taken is None or taken.variable not in part.frame.variables
        else _look(common, part, taken)
        for part, taken in zip(parts, common.taken, strict=True)
    ]
    not_placed = sum(look.not_placed for look in looks if look)
    findings = _not_placed(looks, parts) + _apart(common, looks, parts)
    return CommonLook(
        name=common.name, parts=tuple(looks), not_placed=not_placed, findings=tuple(findings)
    )


def proposed(parts: Sequence[Part], names: Sequence[str | None], name: str) -> CommonVariable:
    """A common variable like the first of those named, with the answers of the others placed where
    their labels are the same. Nobody has looked at it yet.
    """
    first = next(
        part.frame.variables[given]
        for part, given in zip(parts, names, strict=True)
        if given is not None and given in part.frame.variables
    )
    kind = "nominal" if first.kind == "text" else first.kind
    common = CommonVariable(
        name=name,
        label=first.label,
        kind=kind,
        unit=first.unit,
        categories=first.categories,
        event=first.event,
        reference=first.reference,
        taken=(None,) * len(parts),
    )
    for at, (part, given) in enumerate(zip(parts, names, strict=True)):
        if given is not None and given in part.frame.variables:
            common = with_taken(common, at, part.frame.variables[given], parts)
    return common


def with_taken(
    common: CommonVariable, at: int, variable: Variable, parts: Sequence[Part]
) -> CommonVariable:
    """The common variable with one data set's variable taken: answers go where the same answer of
    another data set was placed, or where the label is the same; the rest is not placed yet."""
    known: dict[str, str | None] = {}
    for part, taken in zip(parts, common.taken, strict=True):
        if taken is not None and taken.variable in part.frame.variables:
            label_of = part.frame.variables[taken.variable].label_of
            known |= {plainly(label_of(value)): to for value, to in taken.placed.items()}
    known |= {plainly(category.label): category.value for category in common.categories}
    placed = {
        category.value: known[plainly(category.label)]
        for category in variable.categories
        if variable.is_categorical and plainly(category.label) in known
    }
    taken_now = list(common.taken)
    taken_now[at] = Taken(variable=variable.name, placed=placed)
    return CommonVariable.model_validate({**dict(common), "taken": tuple(taken_now)})


def look_at_stack(recipe: Stack, parts: Sequence[Part]) -> tuple[CommonLook, ...]:
    """Each common variable in turn."""
    return tuple(look_at_common(common, parts) for common in recipe.variables)


def _look(common: CommonVariable, part: Part, taken: Taken) -> TakenLook:
    variable, column = part.frame.variables[taken.variable], part.frame.column(taken.variable)
    answered = int(np.count_nonzero(~column.is_missing))
    answers: list[AnswerThere] = []
    shares: FloatArray = np.zeros(0)
    not_placed, median = 0, None
    if isinstance(column, CategoricalColumn) and variable.is_categorical:
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.categories))
        answers = [
            _answer(category, int(n), taken)
            for category, n in zip(column.categories, counts.tolist(), strict=True)
        ]
        if common.is_categorical:
            not_placed = sum(answer.n for answer in answers if not answer.is_placed)
            shares = _shares(common, answers)
    if isinstance(column, NumericColumn) and variable.kind == "numeric":
        numbers = column.values[~column.is_missing] * taken.factor
        median = float(np.median(numbers)) if len(numbers) else None
        if common.cuts and len(numbers):
            bands = np.searchsorted(np.array(common.cuts), numbers, side="right")
            shares = np.bincount(bands, minlength=len(common.categories)) / len(numbers)
    return TakenLook(
        variable=variable.name,
        title=variable.title,
        kind=variable.kind,
        answers=tuple(answers),
        answered=answered,
        not_placed=not_placed,
        median=median,
        shares=tuple(float(share) for share in shares),
    )


def _answer(category: Category, n: int, taken: Taken) -> AnswerThere:
    return AnswerThere(
        value=category.value,
        label=category.label,
        n=n,
        placed=taken.placed.get(category.value),
        is_placed=category.value in taken.placed,
    )


def _shares(common: CommonVariable, answers: Sequence[AnswerThere]) -> FloatArray:
    place = {category.value: i for i, category in enumerate(common.categories)}
    counts = np.zeros(len(place))
    for answer in answers:
        if answer.placed is not None:
            counts[place[answer.placed]] += answer.n
    return counts / counts.sum() if counts.any() else np.zeros(0)


def _not_placed(looks: Sequence[TakenLook | None], parts: Sequence[Part]) -> list[Finding]:
    findings = []
    for look, part in zip(looks, parts, strict=True):
        left = (
            [answer for answer in look.answers if not answer.is_placed and answer.n] if look else []
        )
        if look and look.not_placed and left:
            named = ", ".join(f"“{answer.label}” ({answer.n:,})" for answer in left[:3])
            more = f" and {len(left) - 3} more" if len(left) > 3 else ""
            findings.append(
                care(
                    f"Not placed yet in {part.name}: {named}{more}. Their rows have no common answer."
                )
            )
    return findings


def _apart(
    common: CommonVariable, looks: Sequence[TakenLook | None], parts: Sequence[Part]
) -> list[Finding]:
    """The share or median that stands furthest apart, in words without a test."""
    with_shares = [
        (part.name, look.shares)
        for part, look in zip(parts, looks, strict=True)
        if look and look.shares
    ]
    if len(with_shares) > 1:
        return _share_apart(common, with_shares)
    medians = [
        (part.name, look.median)
        for part, look in zip(parts, looks, strict=True)
        if look and look.median and look.median > 0
    ]
    if common.kind == "numeric" and len(medians) > 1:
        name, most = max(medians, key=lambda each: each[1])
        other, least = min(medians, key=lambda each: each[1])
        if most > OTHER_UNITS * least:
            return [
                care(
                    f"The median is {most:g} in {name} and {least:g} in {other}: are these other units?"
                )
            ]
    return []


def _share_apart(
    common: CommonVariable, given: Sequence[tuple[str, tuple[float, ...]]]
) -> list[Finding]:
    found: tuple[float, str] | None = None
    for at, category in enumerate(common.categories):
        for name, shares in given:
            others = [each[at] for called, each in given if called != name]
            low, high, own = min(others), max(others), shares[at]
            gap = max(low - own, own - high)
            large, small = max(own, low), min(own, high)
            is_apart = gap >= APART or (gap > 0 and large >= NOT_TINY and large >= TIMES * small)
            if is_apart and (found is None or gap > found[0]):
                word = "rarer" if own < low else "more common"
                range_ = f"{low:.1%}" if len(others) == 1 else f"{low:.1%} to {high:.1%}"
                found = (
                    gap,
                    f"“{category.label}” is {word} in {name} ({own:.1%} against {range_}): is it coded alike?",
                )
    return [care(found[1])] if found else []
