"""From the variables of a file and a list of steps to the variables questions are asked of.

Steps that describe and steps that make are independent of their order where they can be: a made
variable is computed from its parents as they are described in the end, so a code declared missing
later is missing in what was made of it as well.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from hobrix.core.data.column import (
    CategoricalColumn,
    Coded,
    Column,
    Measured,
    NumericColumn,
    Source,
    as_number,
    smallest_int,
)
from hobrix.core.data.date_steps import OfDates, check_dates, made_of_dates
from hobrix.core.data.inference import with_event
from hobrix.core.data.spelling import spelled_once, twins_among
from hobrix.core.data.steps import (
    Band,
    Calculate,
    CountAsAnswer,
    DeclareMissing,
    Describe,
    Making,
    OneSpelling,
    Regroup,
    Step,
    YesNo,
    made_variable,
    parents_of,
)
from hobrix.core.data.variable import Category, Variable
from hobrix.core.data.weighting import NetworkWeights, Rake, Weighting, check_weights, made_weights
from hobrix.core.errors import CodebookError


@dataclass(frozen=True)
class Prepared:
    """Variables in order, how those that are not in the file are made, and of which values of a variable it was
    said whether they are answers, or which."""

    variables: Mapping[str, Variable]
    made: Mapping[str, Making]
    decided: Mapping[str, frozenset[str]] = field(default_factory=dict)


@dataclass(frozen=True)
class Failure:
    """A step that could not be replayed, and why."""

    index: int
    message: str


def replay(variables: Iterable[Variable], steps: Sequence[Any]) -> Prepared:
    """Apply steps in order.

    Raises:
        CodebookError: a step names what does not exist or would contradict the codebook.
    """
    state = Prepared({variable.name: variable for variable in variables}, {})
    for step in steps:
        state = apply(state, step)
    return state


def replay_what_fits(
    variables: Iterable[Variable], steps: Sequence[Any]
) -> tuple[Prepared, tuple[Failure, ...]]:
    """Apply the steps that can be applied, and tell which could not and why."""
    state = Prepared({variable.name: variable for variable in variables}, {})
    failures = []
    for index, step in enumerate(steps):
        try:
            state = apply(state, step)
        except CodebookError as error:
            failures.append(Failure(index, error.message))
    return state, tuple(failures)


def apply(state: Prepared, step: Step) -> Prepared:
    """The state after one more step; raises CodebookError."""
    match step:
        case Describe():
            return _with(state, _described(_known(state, step.variable), step))
        case DeclareMissing():
            changed = [_without(_known(state, name), step) for name in step.variables]
            return _with(state, *changed, decided=[code.value for code in step.codes])
        case CountAsAnswer():
            changed = [_with_answers(_known(state, name), step.values) for name in step.variables]
            return _with(state, *changed, decided=step.values)
        case OneSpelling():
            variable = _known(state, step.variable)
            twins = twins_among(variable, step.values)
            return _with(state, with_event(spelled_once(variable, step.values)), decided=twins)
        case _:
            return _made(state, step)


def _known(state: Prepared, name: str) -> Variable:
    if name not in state.variables:
        message = f"There is no variable called “{name}”."
        raise CodebookError(message, variable=name, field="variable")
    return state.variables[name]


def _with(state: Prepared, *changed: Variable, decided: Iterable[str] = ()) -> Prepared:
    """Variables as they are now, and the values of each of them that are decided by that."""
    by_name = {variable.name: variable for variable in changed}
    values = {name: state.decided.get(name, frozenset()).union(decided) for name in by_name}
    return Prepared({**state.variables, **by_name}, state.made, {**state.decided, **values})


def _described(variable: Variable, step: Describe) -> Variable:
    fields = variable.model_dump()
    for name in ("label", "kind", "unit", "event", "reference", "date_form"):
        value = getattr(step, name)
        if value is not None:
            fields[name] = value
    if step.clear_reference:
        fields["reference"] = None
    if step.categories is not None:
        listed = {category.value for category in step.categories}
        missing = {code["value"] for code in fields["missing"]}
        known = {c.value for c in variable.categories} | missing
        for category in step.categories:
            # A variable read as numbers so far has no list of answers to hold against.
            if variable.categories and category.value not in known:
                raise CodebookError(
                    f"“{category.value}” is not an answer to {variable.title}.",
                    variable=variable.name,
                    field="categories",
                )
        # Answers the step does not list (they came with newer data) stay, after those it does.
        extra = [c.model_dump() for c in variable.categories if c.value not in listed]
        fields["categories"] = [*(c.model_dump() for c in step.categories), *extra]
        fields["missing"] = [code for code in fields["missing"] if code["value"] not in listed]
    return Variable.model_validate(fields)


def _without(variable: Variable, step: DeclareMissing) -> Variable:
    labels = {code.value: code.label for code in step.codes}
    kept = tuple(c for c in variable.categories if c.value not in labels)
    already = tuple(code for code in variable.missing if code.value not in labels)
    values = {category.value for category in kept}
    return variable.model_copy(
        update={
            "categories": kept,
            "missing": (*already, *step.codes),
            "event": tuple(value for value in variable.event if value in values),
            "reference": variable.reference if variable.reference in values else None,
        }
    )


def _with_answers(variable: Variable, values: tuple[str, ...]) -> Variable:
    back = tuple(
        Category(value=code.value, label=code.value)
        for code in variable.missing
        if code.value in values
    )
    return variable.model_copy(
        update={
            "categories": (*variable.categories, *back),
            "missing": tuple(code for code in variable.missing if code.value not in values),
        }
    )


def _made(state: Prepared, step: Making) -> Prepared:
    if step.name in state.variables:
        message = f"There already is a variable called “{step.name}”."
        raise CodebookError(message, variable=step.name, field="name")
    parents = [_known(state, name) for name in parents_of(step)]
    first = parents[0]
    if isinstance(step, Weighting):
        check_weights(step, parents)
        return _with_made(state, step, first)
    if isinstance(step, OfDates):
        check_dates(parents)
        return _with_made(state, step, first)
    needs_numbers = isinstance(step, Band) or (isinstance(step, Calculate) and step.how != "count")
    for parent in parents:
        if needs_numbers and not _holds_numbers(parent):
            message = f"{parent.title} does not hold numbers."
            raise CodebookError(message, variable=parent.name, field="variable")
        if not needs_numbers and isinstance(step, Regroup | YesNo) and not parent.is_categorical:
            message = f"{parent.title} has no categories; band it, or read it as ordered first."
            raise CodebookError(message, variable=parent.name, field="variable")
    if isinstance(step, Regroup | YesNo):
        known = {category.value for category in first.categories}
        named = step.event if isinstance(step, YesNo) else _values(step)
        for value in named:
            if value not in known:
                message = f"“{value}” is not an answer to {first.title}."
                raise CodebookError(message, variable=first.name, field="groups")
    return _with_made(state, step, first)


def _with_made(state: Prepared, step: Making, first: Variable) -> Prepared:
    made = made_variable(step, first)
    siblings = [name for name, other in state.made.items() if parents_of(other)[0] == first.name]
    return Prepared(
        _inserted(state.variables, made, after=siblings[-1] if siblings else first.name),
        {**state.made, step.name: step},
        state.decided,
    )


def _inserted(
    variables: Mapping[str, Variable], made: Variable, *, after: str
) -> dict[str, Variable]:
    """A made variable stands behind the one it was made from."""
    placed: dict[str, Variable] = {}
    for name, variable in variables.items():
        placed[name] = variable
        if name == after:
            placed[made.name] = made
    return placed


def _values(step: Regroup) -> tuple[str, ...]:
    return tuple(value for group in step.groups for value in group.values)


def _holds_numbers(variable: Variable) -> bool:
    if variable.kind == "numeric":
        return True
    return variable.is_categorical and all(
        as_number(category.value) is not None for category in variable.categories
    )


def made_source(making: Making, parents: Sequence[Column]) -> Source:
    """The source column of a made variable, from the decoded columns of its parents."""
    match making:
        case Regroup():
            groups = {v: i for i, g in enumerate(making.groups) for v in g.values}
            return _mapped(parents[0], groups, tuple(group.label for group in making.groups))
        case YesNo():
            assert isinstance(parents[0], CategoricalColumn)
            yes = {c.value: int(c.value in making.event) for c in parents[0].categories}
            return _mapped(parents[0], yes, ("no", "yes"))
        case Band():
            return _banded(_numbers(parents[0]), making)
        case Calculate():
            return _calculated(making, parents)
        case NetworkWeights() | Rake():
            return made_weights(making, parents)
        case _:
            return made_of_dates(making, parents)


def _mapped(column: Column, groups: Mapping[str, int], values: tuple[str, ...]) -> Coded:
    assert isinstance(column, CategoricalColumn)
    places = [groups.get(category.value, -1) for category in column.categories]
    lookup = np.array([*places, -1], dtype=smallest_int(len(values)))
    return Coded(codes=lookup[column.codes], values=values)


def _banded(numbers: np.ndarray, band: Band) -> Coded:
    labels = band.band_labels()
    codes = np.searchsorted(np.array(band.cuts), numbers, side="right")
    codes = np.where(np.isnan(numbers), -1, codes).astype(smallest_int(len(labels)))
    return Coded(codes=codes, values=labels)


def _calculated(making: Calculate, parents: Sequence[Column]) -> Measured:
    if making.how == "count":
        result = _counted(making, parents)
    else:
        rows = np.vstack([_numbers(parent) for parent in parents])
        if making.how == "difference":
            result = rows[0] - rows[1]
        else:
            answered = np.count_nonzero(~np.isnan(rows), axis=0)
            total = np.nansum(rows, axis=0)
            needed = making.at_least or len(parents)
            with np.errstate(invalid="ignore", divide="ignore"):
                result = total if making.how == "sum" else total / answered
            result = np.where(answered >= needed, result, np.nan)
    return Measured.of(result)


def _counted(making: Calculate, parents: Sequence[Column]) -> np.ndarray:
    """How many of the variables have one of the answers; missing where too few are answered."""
    total = np.zeros(len(parents[0]))
    answered = np.zeros(len(parents[0]), dtype=np.int64)
    for column in parents:
        if isinstance(column, CategoricalColumn):
            wanted = [i for i, c in enumerate(column.categories) if c.value in making.values]
            total += np.isin(column.codes, wanted)
        else:
            numbers = [x for x in map(as_number, making.values) if x is not None]
            total += np.isin(column.values, numbers)
        answered += ~column.is_missing
    return np.where(answered >= (making.at_least or len(parents)), total, np.nan)


def _numbers(column: Column) -> np.ndarray:
    if isinstance(column, NumericColumn):
        return column.values
    values = [as_number(category.value) for category in column.categories]
    lookup = np.array([np.nan if x is None else x for x in values] + [np.nan])
    numbers: np.ndarray = lookup[column.codes]
    return numbers
