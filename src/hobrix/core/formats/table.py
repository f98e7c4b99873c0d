"""What a reader gives: named source columns, and remarks on what it had to decide."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import polars as pl

from hobrix.core.data.column import Coded, Measured, Source, as_text, smallest_int

# Beyond this many distinct values, a column of numbers is kept as numbers, not as a value list.
MANY_VALUES = 1000


@dataclass(frozen=True)
class Table:
    """Columns in file order; ``remarks`` are full sentences for the person who brought the file."""

    columns: Mapping[str, Source]
    rows: int
    remarks: tuple[str, ...] = ()


def source_column(cells: pl.Series, *, decimal_comma: bool = False) -> Source:
    """Encode a column of texts, shape (rows,); null and blank cells are missing.

    Columns of many distinct numbers become Measured, all others Coded with their values in
    order of first appearance.
    """
    cells = cells.str.strip_chars()
    cells = cells.set(cells == "", None)
    if decimal_comma:
        is_number = cells.str.contains(r"^[+-]?(\d{1,3}(\.\d{3})+|\d+)(,\d+)?([eE][+-]?\d+)?$")
        plain = cells.str.replace_all(".", "", literal=True).str.replace(",", ".", literal=True)
        cells = plain.zip_with(is_number.fill_null(value=False), cells)
    distinct = cells.drop_nulls().unique(maintain_order=True)
    if len(distinct) > MANY_VALUES and _are_measurements(distinct):
        return _measured(cells)
    return _coded(cells, distinct)


def texts_of(source: Source) -> pl.Series:
    """The cells of a column as they stand in the data, null where blank."""
    if isinstance(source, Coded):
        values = pl.Series([*source.values, None], dtype=pl.String)
        codes = np.where(source.codes < 0, len(source.values), source.codes)
        return values.gather(pl.Series(codes.astype(np.int64)))
    texts = [as_text(number) if number == number else None for number in source.numbers.tolist()]
    cells = pl.Series(texts, dtype=pl.String)
    if not source.word_values:
        return cells
    words = texts_of(Coded(source.words, source.word_values))
    return cells.zip_with(cells.is_not_null(), words)


def _are_measurements(distinct: pl.Series) -> bool:
    """Nearly all are numbers, and none is written with a leading zero as codes are."""
    numeric = distinct.cast(pl.Float64, strict=False).is_finite().fill_null(value=False)
    leading_zero = distinct.str.contains(r"^0\d")
    return bool(numeric.mean() > 0.98) and not bool(leading_zero.any())  # type: ignore[operator]


def _coded(cells: pl.Series, distinct: pl.Series) -> Coded:
    codes = cells.cast(pl.Enum(distinct)).to_physical().cast(pl.Int64).fill_null(-1)
    return Coded(codes=codes.to_numpy().astype(smallest_int(len(distinct))), values=tuple(distinct))


def _measured(cells: pl.Series) -> Measured:
    numbers = cells.cast(pl.Float64, strict=False)
    numbers = numbers.set(~numbers.is_finite().fill_null(value=False), None)
    words = cells.set(numbers.is_not_null(), None)
    coded = _coded(words, words.drop_nulls().unique(maintain_order=True))
    return Measured(
        numbers=numbers.fill_null(np.nan).to_numpy(), words=coded.codes, word_values=coded.values
    )
