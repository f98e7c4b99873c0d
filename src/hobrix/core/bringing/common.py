"""Common variables: one variable of several data sets, whose answers are made to agree."""

from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from hobrix.core.bringing.part import Part
from hobrix.core.data import (
    CategoricalColumn,
    Category,
    Coded,
    Frozen,
    Measured,
    MissingCode,
    NumericColumn,
    Source,
    Variable,
)
from hobrix.core.data.column import FloatArray, as_number, smallest_int
from hobrix.core.data.dates import date_of
from hobrix.core.data.keys import Keys
from hobrix.core.data.variable import Name
from hobrix.core.errors import CodebookError, RecipeError

ASIDE = MissingCode(value="(set aside)", label="set aside")
NOT_PLACED = MissingCode(value="(not placed yet)", label="not placed yet")
NOT_ASKED = MissingCode(value="(not asked)", label="not in this data set")
_NOT_KNOWN = "(not an answer)"


class Taken(Frozen):
    """A variable of one data set. ``placed`` says which common answer each of its answers becomes,
    None where it is set aside; answers it does not name are not placed yet. Numbers are multiplied
    by ``factor``."""

    variable: str
    placed: dict[str, str | None] = Field(default_factory=dict)
    factor: Annotated[float, Field(gt=0, le=1e9)] = 1.0


class CommonVariable(Frozen):
    """What one variable of the stacked data is, and what is taken for it from each data set, in their
    order (None: nothing). ``cuts`` band numbers into the categories, in order.

    Raises:
        CodebookError: categories, event or reference contradict each other.
    """

    name: Name
    label: str = ""
    kind: Literal["nominal", "ordinal", "numeric", "date"]
    unit: str = ""
    categories: tuple[Category, ...] = ()
    event: tuple[str, ...] = ()
    reference: str | None = None
    cuts: Annotated[tuple[float, ...], Field(max_length=100)] = ()
    taken: tuple[Taken | None, ...]

    @model_validator(mode="after")
    def _is_consistent(self) -> "CommonVariable":
        self.variable()
        if any(high <= low for low, high in pairwise(self.cuts)):
            raise ValueError("cuts must rise")
        if self.cuts and len(self.categories) != len(self.cuts) + 1:
            raise ValueError("there must be one category per band")
        known = {category.value for category in self.categories}
        for taken in self.taken:
            for answer, place in (taken.placed if taken else {}).items():
                if place is not None and place not in known:
                    raise CodebookError(
                        f"{self.title}: “{answer}” is placed at “{place}”, which is no common answer.",
                        variable=self.name,
                        field="categories",
                    )
        return self

    @property
    def is_categorical(self) -> bool:
        return self.kind in ("nominal", "ordinal")

    @property
    def title(self) -> str:
        return self.label or self.name

    def variable(self, missing: tuple[MissingCode, ...] = ()) -> Variable:
        """The codebook entry."""
        return Variable(
            name=self.name,
            label=self.label,
            kind=self.kind,
            unit=self.unit,
            categories=self.categories if self.is_categorical else (),
            missing=missing,
            event=self.event if self.is_categorical else (),
            reference=self.reference if self.is_categorical else None,
            date_form="ymd" if self.kind == "date" else None,
        )


def common_column(common: CommonVariable, parts: tuple[Part, ...]) -> tuple[Variable, Source]:
    """The variable over all rows of all parts, one after the other. Whatever is no answer keeps its
    reason, in brackets.

    Raises:
        RecipeError: a part has no such variable, or its answers cannot become common ones.
    """
    reasons = _Reasons()
    pieces = []
    for part, taken in zip(parts, common.taken, strict=True):
        if taken is None:
            pieces.append(_nothing(common, part.frame.rows, reasons))
        else:
            pieces.append(_piece(common, part, taken, reasons))
    missing = reasons.codes()
    words = tuple(code.value for code in missing)
    if not common.is_categorical:
        numbers = np.concatenate([numbers for numbers, _ in pieces])
        if common.kind == "date":
            why = np.concatenate([why for _, why in pieces])
            return common.variable(missing), _written_dates(numbers, why, words)
        why = np.concatenate([why for _, why in pieces]).astype(smallest_int(len(words)))
        return common.variable(missing), Measured(numbers, why, words)
    values = (*(category.value for category in common.categories), *words)
    codes = np.concatenate(
        [np.where(why < 0, found, why + len(common.categories)) for found, why in pieces]
    )
    return common.variable(missing), Coded(codes.astype(smallest_int(len(values))), values)


def _written_dates(days: FloatArray, why: Keys, words: tuple[str, ...]) -> Coded:
    """Days since 1 January 1970 written year-month-day."""
    distinct, inverse = np.unique(days, return_inverse=True)
    values = tuple(date_of(day).isoformat() for day in distinct[~np.isnan(distinct)].tolist())
    codes = np.where(np.isnan(days), np.where(why < 0, -1, why + len(values)), inverse)
    return Coded(codes.astype(smallest_int(len(values) + len(words))), (*values, *words))


class _Reasons:
    """Why rows have no answer, each word once over all parts."""

    def __init__(self) -> None:
        self._labels: dict[str, str] = {}

    def code(self, value: str, label: str) -> int:
        self._labels.setdefault(value, label)
        return list(self._labels).index(value)

    def codes(self) -> tuple[MissingCode, ...]:
        return tuple(MissingCode(value=v, label=label) for v, label in self._labels.items())


def _nothing(common: CommonVariable, rows: int, reasons: _Reasons) -> tuple[FloatArray, Keys]:
    why = np.full(rows, reasons.code(NOT_ASKED.value, NOT_ASKED.label))
    return np.full(rows, -1.0 if common.is_categorical else np.nan), why


def _piece(
    common: CommonVariable, part: Part, taken: Taken, reasons: _Reasons
) -> tuple[FloatArray, Keys]:
    """Numbers or codes of common categories, and where there is none the reason or -1 (blank)."""
    variable = part.frame.variables.get(taken.variable)
    if variable is None:
        raise RecipeError(
            f"{common.title}: there is no variable called “{taken.variable}” in {part.name}.",
            field=common.name,
        )
    column = part.frame.column(taken.variable)
    why = _why_missing(variable, part.frame.source(taken.variable), column.is_missing, reasons)
    if (common.kind == "date") != (variable.kind == "date"):
        raise RecipeError(
            f"{common.title} {'is' if common.kind == 'date' else 'is not'} a date, {variable.title} in "
            f"{part.name} is{' not' if common.kind == 'date' else ''}.",
            field=common.name,
        )
    if common.kind == "date":
        assert isinstance(column, NumericColumn)
        return column.values, why
    if common.kind == "numeric":
        return _numbers(common, part, variable, column) * taken.factor, why
    if common.cuts and (isinstance(column, NumericColumn)):
        numbers = column.values * taken.factor
        bands = np.searchsorted(np.array(common.cuts), numbers, side="right").astype(np.float64)
        bands[column.is_missing] = -1
        return bands, why
    if not variable.is_categorical:
        raise RecipeError(
            f"{variable.title} in {part.name} holds "
            f"{'numbers: cut them into bands' if variable.kind == 'numeric' else 'free text'}, or "
            "read it as categories in the Codebook.",
            field=common.name,
        )
    assert isinstance(column, CategoricalColumn)
    place = {category.value: i for i, category in enumerate(common.categories)}
    found = np.full(len(column.categories) + 1, -1.0)
    reason = np.full(len(column.categories) + 1, -1)
    for i, category in enumerate(column.categories):
        if category.value not in taken.placed:
            reason[i] = reasons.code(NOT_PLACED.value, NOT_PLACED.label)
        elif (to := taken.placed[category.value]) is None:
            reason[i] = reasons.code(ASIDE.value, ASIDE.label)
        else:
            found[i] = place[to]
    return found[column.codes], np.where(column.codes < 0, why, reason[column.codes])


def _numbers(
    common: CommonVariable,
    part: Part,
    variable: Variable,
    column: NumericColumn | CategoricalColumn,
) -> FloatArray:
    if isinstance(column, NumericColumn):
        return column.values
    numbers = [as_number(category.value) for category in column.categories]
    if any(number is None for number in numbers):
        raise RecipeError(
            f"{common.title} holds numbers, {variable.title} in {part.name} does not.",
            field=common.name,
        )
    return np.array([*(x for x in numbers if x is not None), np.nan])[column.codes]


def _why_missing(
    variable: Variable, source: Source, is_missing: np.ndarray, reasons: _Reasons
) -> Keys:
    """The reason of each row without an answer, -1 for blank ones and for answers."""
    declared = {code.value: code.label or code.value for code in variable.missing}
    values = source.values if isinstance(source, Coded) else source.word_values
    codes = source.codes if isinstance(source, Coded) else source.words
    rows = np.flatnonzero(is_missing)
    at = codes[rows].astype(np.int64)
    lookup = np.full(len(values) + 1, -1)
    for i in np.unique(at[at >= 0]).tolist():
        label = declared.get(values[i])
        word = _NOT_KNOWN if label is None else f"({label.strip('()')})"
        lookup[i] = reasons.code(word, word.strip("()"))
    why = np.full(len(is_missing), -1)
    why[rows] = lookup[at]
    if isinstance(source, Measured):
        for value, label in declared.items():
            if (number := as_number(value)) is not None:
                is_code = is_missing & (source.numbers == number)
                if is_code.any():
                    why[is_code] = reasons.code(f"({label.strip('()')})", label.strip("()"))
    return why
