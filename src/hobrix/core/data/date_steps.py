"""Variables made from dates: parts of them, bands of time, time between two, before and after."""

import datetime
from collections.abc import Iterator, Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from hobrix.core.data.column import (
    CategoricalColumn,
    Coded,
    Column,
    FloatArray,
    Measured,
    Source,
    smallest_int,
)
from hobrix.core.data.dates import date_of, day_number
from hobrix.core.data.variable import Category, Frozen, Name, Variable
from hobrix.core.errors import CodebookError

Period = Literal["year", "quarter", "month"]
_MOST_PERIODS = 400
_MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September",
    "October", "November", "December",
)  # fmt: skip
DAYS_OF_A_YEAR = 365.25


class _OfDates(Frozen):
    """What all of them have."""

    name: Name
    label: str = ""

    def touches(self) -> tuple[str, ...]:
        return (self.name,)


class DatePart(_OfDates):
    """The quarter or month of the year, whatever the year, or the year as a number."""

    step: Literal["date_part"] = "date_part"
    variable: str
    part: Period

    def words(self, title: str) -> str:
        return f"{self.part.capitalize()} of {title}, as {self.name}"


class DateBands(_OfDates):
    """Years, quarters or months in a row, from that of ``first`` to that of ``last``, and what lies
    before and after."""

    step: Literal["date_bands"] = "date_bands"
    variable: str
    by: Period
    first: datetime.date
    last: datetime.date

    @model_validator(mode="after")
    def _is_in_order(self) -> "DateBands":
        if self.last < self.first:
            raise ValueError("the last date lies before the first")
        if len(list(self.periods())) > _MOST_PERIODS:
            raise ValueError(f"these are more than {_MOST_PERIODS} bands")
        return self

    def words(self, title: str) -> str:
        return f"{title} banded by {self.by} into {self.name}"

    def periods(self) -> Iterator[tuple[int, int]]:
        """The year of each band, and its quarter or month (0 for years)."""
        at, end = _period(self.first, self.by), _period(self.last, self.by)
        size = {"year": 1, "quarter": 4, "month": 12}[self.by]
        while at <= end:
            yield at
            year, part = at
            at = (
                (year + 1, 0 if self.by == "year" else 1) if part in (0, size) else (year, part + 1)
            )

    def labels(self) -> tuple[str, ...]:
        """ "2024", "2024 Q1", "2024-01" between "before …" and "after …"."""
        form = {"year": "{0}", "quarter": "{0} Q{1}", "month": "{0}-{1:02}"}[self.by]
        known = [form.format(*period) for period in self.periods()]
        return (f"before {known[0]}", *known, f"after {known[-1]}")


class TimeBetween(_OfDates):
    """From one date to another, in days, in years of 365.25 days, or in full years (age at)."""

    step: Literal["time_between"] = "time_between"
    start: str
    end: str
    unit: Literal["days", "years", "full_years"] = "days"

    def words(self, title: str) -> str:  # noqa: ARG002 (it has two parents)
        unit = {"days": "Days", "years": "Years", "full_years": "Full years"}[self.unit]
        return f"{unit} from {self.start} to {self.end}, as {self.name}"


class OnOrAfter(_OfDates):
    """Yes on that day and later, no before."""

    step: Literal["on_or_after"] = "on_or_after"
    variable: str
    day: datetime.date

    def words(self, title: str) -> str:
        return f"{title} on or after {self.day.isoformat()}, as {self.name}"


OfDates = DatePart | DateBands | TimeBetween | OnOrAfter
DateStep = Annotated[OfDates, Field(discriminator="step")]


def parents_of_dates(making: OfDates) -> tuple[str, ...]:
    """The dates a variable is made from."""
    return (making.start, making.end) if isinstance(making, TimeBetween) else (making.variable,)


def check_dates(parents: Sequence[Variable]) -> None:
    """Raises CodebookError where one holds no dates."""
    for parent in parents:
        if parent.kind != "date":
            message = f"{parent.title} does not hold dates: read it as dates first."
            raise CodebookError(message, variable=parent.name, field="variable")


def dates_variable(making: OfDates, parent: Variable) -> Variable:
    """The codebook entry of what is made."""
    label = making.label or f"{parent.title}, {making.name}"
    if isinstance(making, TimeBetween):
        unit = "days" if making.unit == "days" else "years"
        return Variable(name=making.name, label=making.label, kind="numeric", unit=unit)
    if isinstance(making, OnOrAfter):
        answers = (Category(value="no", label="No"), Category(value="yes", label="Yes"))
        return Variable(
            name=making.name,
            label=label,
            kind="nominal",
            categories=answers,
            event=("yes",),
            reference="no",
        )
    if isinstance(making, DatePart) and making.part == "year":
        return Variable(name=making.name, label=label, kind="numeric")
    values = making.labels() if isinstance(making, DateBands) else _parts(making.part)
    categories = tuple(Category(value=value, label=value) for value in values)
    return Variable(name=making.name, label=label, kind="ordinal", categories=categories)


def made_of_dates(making: OfDates, parents: Sequence[Column]) -> Source:
    """The source column, from the days of its parents."""
    days = [_days(parent) for parent in parents]
    match making:
        case TimeBetween():
            start, end = days
            return Measured.of(_between(start, end, making.unit))
        case OnOrAfter():
            codes = (days[0] >= day_number(making.day)).astype(np.int8)
            codes[np.isnan(days[0])] = -1
            return Coded(codes, ("no", "yes"))
        case DatePart():
            year, month = _calendar(days[0])
            if making.part == "year":
                return Measured.of(year)
            at = month - 1 if making.part == "month" else (month - 1) // 3
            return _coded(at, _parts(making.part))
        case DateBands():
            year, month = _calendar(days[0])
            _, *known, _ = making.labels()
            starts = [_first_month(period, making.by) for period in making.periods()]
            at = np.searchsorted(np.array(starts), year * 12 + month, side="right").astype(float)
            size = {"year": 12, "quarter": 3, "month": 1}[making.by]
            at[year * 12 + month >= starts[-1] + size] = len(known) + 1
            return _coded(np.where(np.isnan(year), np.nan, at), making.labels())


def _period(date: datetime.date, by: Period) -> tuple[int, int]:
    part = {"year": 0, "quarter": (date.month - 1) // 3 + 1, "month": date.month}[by]
    return date.year, part


def _first_month(period: tuple[int, int], by: Period) -> int:
    year, part = period
    return year * 12 + {"year": 1, "quarter": 3 * (part - 1) + 1, "month": part}[by]


def _parts(part: Period) -> tuple[str, ...]:
    return _MONTHS if part == "month" else ("Q1", "Q2", "Q3", "Q4")


def _days(column: Column) -> FloatArray:
    assert not isinstance(column, CategoricalColumn)
    return column.values


def _calendar(days: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Year and month (1 to 12) of each day, NaN where there is none."""
    months = np.where(np.isnan(days), 0, days).astype("datetime64[D]").astype("datetime64[M]")
    since = months.astype(np.int64)
    gone = np.isnan(days)
    return (
        np.where(gone, np.nan, 1970 + since // 12),
        np.where(gone, np.nan, since % 12 + 1),
    )


def _between(start: FloatArray, end: FloatArray, unit: str) -> FloatArray:
    if unit == "days":
        return end - start
    if unit == "years":
        return (end - start) / DAYS_OF_A_YEAR
    found = np.full(len(start), np.nan)
    for row in np.flatnonzero(~np.isnan(start) & ~np.isnan(end)).tolist():
        one, other = date_of(start[row]), date_of(end[row])
        # A birthday on 29 February is on 1 March in other years.
        found[row] = other.year - one.year - ((other.month, other.day) < (one.month, one.day))
    return found


def _coded(at: FloatArray, values: tuple[str, ...]) -> Coded:
    codes = np.where(np.isnan(at), -1, at).astype(smallest_int(len(values)))
    return Coded(codes, values)
