"""Columns: as they came from the file, and as the codebook reads them.

A *source* column keeps what the file said. Decoding it with a codebook entry gives the column
that questions are asked of: integer codes with -1 for missing, or float64 with NaN for missing.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data.dates import DateForm, day_of, day_of_number
from hobrix.core.data.variable import Category, Variable

IntArray = NDArray[np.signedinteger]
FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class Coded:
    """Each row holds the index of its value in ``values``, or -1 where the cell was blank."""

    codes: IntArray
    values: tuple[str, ...]

    def __len__(self) -> int:
        return len(self.codes)


@dataclass(frozen=True)
class Measured:
    """Numbers (NaN where there is none), with the words found among them kept aside.

    ``words`` holds the index into ``word_values``, or -1. A cell with neither was blank.
    """

    numbers: FloatArray
    words: IntArray
    word_values: tuple[str, ...]

    @classmethod
    def of(cls, numbers: FloatArray) -> "Measured":
        """Numbers without a word among them."""
        return cls(numbers, np.full(len(numbers), -1, dtype=np.int8), ())

    def __len__(self) -> int:
        return len(self.numbers)


Source = Coded | Measured


@dataclass(frozen=True)
class CategoricalColumn:
    """Answers as codes 0..k-1 in the order of ``categories``; -1 is missing."""

    codes: IntArray
    categories: tuple[Category, ...]

    def __len__(self) -> int:
        return len(self.codes)

    @property
    def is_missing(self) -> NDArray[np.bool_]:
        return self.codes < 0


@dataclass(frozen=True)
class NumericColumn:
    """Numbers in the unit of the codebook; NaN is missing."""

    values: FloatArray

    def __len__(self) -> int:
        return len(self.values)

    @property
    def is_missing(self) -> NDArray[np.bool_]:
        return np.isnan(self.values)


Column = CategoricalColumn | NumericColumn


def smallest_int(size: int) -> type[np.signedinteger]:
    """The narrowest signed type that holds the codes -1..size-1."""
    if size <= 127:
        return np.int8
    return np.int16 if size <= 32767 else np.int32


def as_number(text: str) -> float | None:
    """The finite number a cell holds, written with a decimal point, or None."""
    try:
        number = float(text)
    except ValueError:
        return None
    return number if np.isfinite(number) and "_" not in text else None


def as_text(number: float) -> str:
    """A number as the shortest text that reads back to it; whole numbers without a point."""
    return str(int(number)) if number == int(number) and abs(number) < 1e15 else repr(float(number))


def decode(source: Source, variable: Variable) -> Column:
    """Read a source column as its codebook entry says.

    Values that are neither a category nor a number (as the kind asks) are missing.
    """
    if variable.kind == "numeric":
        return _decode_numeric(source, variable)
    if variable.kind == "date":
        return _decode_dates(source, variable)
    coded = source if isinstance(source, Coded) else as_coded(source)
    if variable.kind == "text":
        labels = tuple(Category(value=value, label=value) for value in coded.values)
        return _relabel(coded, labels, {code.value for code in variable.missing})
    same = {spelling.written: spelling.value for spelling in variable.spellings}
    return _relabel(coded, variable.categories, set(), same)


def _relabel(
    coded: Coded,
    categories: tuple[Category, ...],
    drop: set[str],
    same: Mapping[str, str] = MappingProxyType({}),
) -> CategoricalColumn:
    place = {c.value: i for i, c in enumerate(categories) if c.value not in drop}
    dtype = smallest_int(len(categories))
    # The last entry stands for code -1, which numpy reads as "from the end".
    lookup = np.array(
        [place.get(same.get(value, value), -1) for value in coded.values] + [-1], dtype=dtype
    )
    return CategoricalColumn(codes=lookup[coded.codes], categories=categories)


def _decode_numeric(source: Source, variable: Variable) -> NumericColumn:
    missing = {code.value for code in variable.missing}
    if isinstance(source, Coded):
        numbers = [None if value in missing else as_number(value) for value in source.values]
        lookup = np.array([np.nan if x is None else x for x in numbers] + [np.nan])
        return NumericColumn(values=lookup[source.codes])
    codes = [number for number in map(as_number, missing) if number is not None]
    if not codes:
        return NumericColumn(values=source.numbers)
    return NumericColumn(values=np.where(np.isin(source.numbers, codes), np.nan, source.numbers))


def _decode_dates(source: Source, variable: Variable) -> NumericColumn:
    """Days since 1 January 1970; numbers are days as spreadsheets count them."""
    form, missing = variable.date_form or "ymd", {code.value for code in variable.missing}
    if isinstance(source, Coded):
        days = [None if v in missing else _day(v, form) for v in source.values]
        lookup = np.array([np.nan if day is None else day for day in days] + [np.nan])
        return NumericColumn(values=lookup[source.codes])
    numbers = _decode_numeric(source, variable).values
    days_of_words = [None if v in missing else day_of(v, form) for v in source.word_values]
    words = np.array([np.nan if day is None else day for day in days_of_words] + [np.nan])
    distinct, inverse = np.unique(numbers, return_inverse=True)
    of_numbers = [day_of_number(number) for number in distinct.tolist()]
    found = np.array([np.nan if day is None else day for day in of_numbers])[inverse]
    return NumericColumn(values=np.where(np.isnan(numbers), words[source.words], found))


def _day(text: str, form: DateForm) -> float | None:
    number = as_number(text)
    return day_of(text, form) if number is None else day_of_number(number)


def as_coded(source: Measured) -> Coded:
    """The same column with every distinct number as a value of its own, in numeric order."""
    has_number = ~np.isnan(source.numbers)
    distinct, inverse = np.unique(source.numbers[has_number], return_inverse=True)
    values = tuple(as_text(float(number)) for number in distinct) + source.word_values
    codes = np.full(len(source), -1, dtype=smallest_int(len(values)))
    codes[has_number] = inverse
    is_word = source.words >= 0
    codes[is_word] = source.words[is_word].astype(codes.dtype) + codes.dtype.type(len(distinct))
    return Coded(codes=codes, values=values)
