"""Subset rules ("among …"): conditions on variables joined by any or all, as row masks."""

import datetime
from collections.abc import Iterator
from functools import reduce
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from hobrix.core.data.column import CategoricalColumn, NumericColumn
from hobrix.core.data.dates import day_number
from hobrix.core.data.frame import Frame
from hobrix.core.data.variable import Frozen
from hobrix.core.errors import QuestionError

Mask = NDArray[np.bool_]

SLOT = "among"


class IsOneOf(Frozen):
    """The variable has one of these answers (values as in the file)."""

    variable: str
    values: Annotated[tuple[str, ...], Field(alias="is", min_length=1)]

    def mask(self, frame: Frame) -> Mask:
        column = frame.categorical(self.variable, SLOT)
        place = {category.value: i for i, category in enumerate(column.categories)}
        unknown = [value for value in self.values if value not in place]
        if unknown:
            title = frame.variables[self.variable].title
            raise QuestionError(f"“{unknown[0]}” is not an answer to {title}.", slot=SLOT)
        return np.isin(column.codes, [place[value] for value in self.values])

    def words(self, frame: Frame) -> str:
        variable = frame.variable(self.variable, SLOT)
        return f"{variable.title}: {' or '.join(map(variable.label_of, self.values))}"


class IsBetween(Frozen):
    """The number lies between both ends, ends included; an end that is null is open."""

    variable: str
    low: Annotated[float | None, Field(alias="from")] = None
    high: Annotated[float | None, Field(alias="to")] = None

    @model_validator(mode="after")
    def _has_an_end(self) -> "IsBetween":
        if self.low is None and self.high is None:
            raise ValueError("a range needs a lower or an upper end")
        return self

    def mask(self, frame: Frame) -> Mask:
        values = frame.numeric(self.variable, SLOT).values
        mask = ~np.isnan(values)
        if self.low is not None:
            mask &= values >= self.low
        if self.high is not None:
            mask &= values <= self.high
        return mask

    def words(self, frame: Frame) -> str:
        title = frame.variable(self.variable, SLOT).title
        if self.high is None:
            return f"{title} {self.low:g} or more"
        if self.low is None:
            return f"{title} {self.high:g} or less"
        return f"{title} {self.low:g} to {self.high:g}"


class IsDated(Frozen):
    """The date lies between both days, days included; an end that is null is open."""

    variable: str
    since: datetime.date | None = None
    until: datetime.date | None = None

    @model_validator(mode="after")
    def _has_an_end(self) -> "IsDated":
        if self.since is None and self.until is None:
            raise ValueError("a range of dates needs a first or a last day")
        return self

    def mask(self, frame: Frame) -> Mask:
        days = frame.days(self.variable, SLOT).values
        mask = ~np.isnan(days)
        if self.since is not None:
            mask &= days >= day_number(self.since)
        if self.until is not None:
            mask &= days <= day_number(self.until)
        return mask

    def words(self, frame: Frame) -> str:
        title = frame.variable(self.variable, SLOT).title
        if self.until is None:
            return f"{title} on {self.since} or later"
        if self.since is None:
            return f"{title} up to {self.until}"
        return f"{title} {self.since} to {self.until}"


class IsMissing(Frozen):
    """The variable was not answered (``missing: true``) or was (``missing: false``)."""

    variable: str
    missing: bool

    def mask(self, frame: Frame) -> Mask:
        frame.variable(self.variable, SLOT)
        column: CategoricalColumn | NumericColumn = frame.column(self.variable)
        return column.is_missing if self.missing else ~column.is_missing

    def words(self, frame: Frame) -> str:
        title = frame.variable(self.variable, SLOT).title
        return f"{title} not answered" if self.missing else f"{title} answered"


Condition = IsOneOf | IsBetween | IsDated | IsMissing


class AllOf(Frozen):
    """Every condition holds."""

    all: Annotated[tuple["Condition | AnyOf", ...], Field(min_length=1)]

    def mask(self, frame: Frame) -> Mask:
        return reduce(np.logical_and, [rule.mask(frame) for rule in self.all])

    def words(self, frame: Frame) -> str:
        return " and ".join(_inside(rule, frame) for rule in self.all)


class AnyOf(Frozen):
    """At least one condition holds."""

    any: Annotated[tuple["Condition | AllOf", ...], Field(min_length=1)]

    def mask(self, frame: Frame) -> Mask:
        return reduce(np.logical_or, [rule.mask(frame) for rule in self.any])

    def words(self, frame: Frame) -> str:
        return " or ".join(_inside(rule, frame) for rule in self.any)


def _inside(rule: "Condition | AllOf | AnyOf", frame: Frame) -> str:
    """The words of a rule within another: a group of several stands in brackets."""
    words = rule.words(frame)
    parts = rule.all if isinstance(rule, AllOf) else rule.any if isinstance(rule, AnyOf) else ()
    return f"({words})" if len(parts) > 1 else words


AllOf.model_rebuild()

Subset = AllOf | AnyOf


def variables_of(subset: "Subset | Condition") -> Iterator[str]:
    """Names of the variables a rule looks at."""
    if isinstance(subset, AllOf | AnyOf):
        for rule in subset.all if isinstance(subset, AllOf) else subset.any:
            yield from variables_of(rule)
    else:
        yield subset.variable
