"""What a reader gives: named source columns, and remarks on what it had to decide."""

from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
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


def source_columns(cells: Sequence[pl.Series], *, decimal_comma: bool = False) -> list[Source]:
    """Encode columns of texts side by side on the machine's cores; see ``source_column``."""
    with ThreadPoolExecutor() as pool:
        return list(pool.map(lambda each: source_column(each, decimal_comma=decimal_comma), cells))


def source_column(cells: pl.Series, *, decimal_comma: bool = False) -> Source:
    """Encode a column of texts, shape (rows,), which may be known to be few; null and blank cells are missing.

    Columns of many distinct numbers become Measured, all others Coded with their values in
    order of first appearance.
    """
    if decimal_comma:
        cells = _with_decimal_points(cells.cast(pl.String))
    if cells.head(_LOOK).n_unique() > MANY_VALUES:
        stripped, numbers = cells, cells.cast(pl.Float64, strict=False)
        # Nearly always there is nothing around numbers, and looking for it takes longer than reading them.
        if numbers.null_count() > cells.null_count():
            stripped = cells.str.strip_chars()
            numbers = stripped.cast(pl.Float64, strict=False)
        finite = numbers.is_finite().fill_null(value=False)
        if _are_measurements(stripped, finite):
            return _measured(stripped, numbers, finite)
    return _stripped(_coded(cells))


_LOOK = 20_000


def _with_decimal_points(cells: pl.Series) -> pl.Series:
    cells = cells.str.strip_chars()
    is_number = cells.str.contains(r"^[+-]?(\d{1,3}(\.\d{3})+|\d+)(,\d+)?([eE][+-]?\d+)?$")
    plain = cells.str.replace_all(".", "", literal=True).str.replace(",", ".", literal=True)
    return plain.zip_with(is_number.fill_null(value=False), cells)


def has_decimal_commas(cells: pl.Series) -> bool:
    """Whether nearly all that is written in a column is numbers, and some have a decimal comma."""
    present = cells.drop_nulls().str.strip_chars()
    present = present.filter(present != "")
    with_comma = present.str.contains(r"^[+-]?\d+,\d+$")
    if not with_comma.any():
        return False
    number = with_comma | present.str.contains(r"^[+-]?\d+$")
    return bool(number.sum() >= 0.9 * len(present))


def _stripped(coded: Coded) -> Coded:
    """Without white space at the ends of values; what is left blank is missing."""
    values = [value.strip() for value in coded.values]
    kept = tuple(dict.fromkeys(value for value in values if value))
    if kept == coded.values:
        return coded
    place = {value: i for i, value in enumerate(kept)}
    lookup = np.array([place.get(value, -1) for value in values] + [-1])
    codes = lookup.astype(smallest_int(len(kept)))[coded.codes]
    return Coded(codes=codes, values=kept)


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


def _are_measurements(cells: pl.Series, is_finite: pl.Series) -> bool:
    """Nearly all are numbers, and none is written with a leading zero as codes are."""
    finite = int(is_finite.sum())
    # Blank cells are looked for only where too few seem to be numbers.
    if finite <= 0.98 * (len(cells) - cells.null_count()) and finite <= 0.98 * int(
        (cells != "").sum()
    ):
        return False
    with_zero = cells.filter(cells.str.starts_with("0").fill_null(value=False))
    return not bool(with_zero.str.contains(r"^0\d").any())


def _coded(cells: pl.Series) -> Coded:
    """Values in order of first appearance. Those of the first rows are nearly always all there are."""
    if isinstance(cells.dtype, pl.Enum):
        distinct, codes = cells.dtype.categories, cells
    else:
        distinct = cells.head(_LOOK).drop_nulls().unique(maintain_order=True)
        codes = cells.cast(pl.Enum(distinct), strict=False)
        if codes.null_count() > cells.null_count():
            others = cells.filter(codes.is_null() & cells.is_not_null()).unique(maintain_order=True)
            distinct = distinct.append(others)
            codes = cells.cast(pl.Enum(distinct))
    dtype = smallest_int(len(distinct))
    # Physical codes have no sign; the highest of them is -1 where it is read with one.
    physical = codes.to_physical().cast(_UNSIGNED[dtype])
    filled = physical.fill_null(np.iinfo(dtype).max * 2 + 1)
    return Coded(codes=filled.to_numpy().view(dtype), values=tuple(distinct))


_UNSIGNED: dict[type[np.signedinteger], type[pl.DataType]] = {
    np.int8: pl.UInt8,
    np.int16: pl.UInt16,
    np.int32: pl.UInt32,
}


def _measured(cells: pl.Series, numbers: pl.Series, is_finite: pl.Series) -> Measured:
    if int(is_finite.sum()) == len(cells) - cells.null_count():
        return Measured.of(numbers.fill_null(np.nan).to_numpy())
    numbers = numbers.set(~is_finite, None)
    words = cells.set(numbers.is_not_null(), None)
    words = words.set(words == "", None)
    coded = _coded(words)
    return Measured(
        numbers=numbers.fill_null(np.nan).to_numpy(), words=coded.codes, word_values=coded.values
    )
