"""Parquet, read and written by polars."""

import io

import numpy as np
import polars as pl

from hobrix.core.data import Coded, Measured, Source
from hobrix.core.data.column import as_text, smallest_int
from hobrix.core.errors import FormatError
from hobrix.core.formats.codebook import Codebook, read_codebook
from hobrix.core.formats.limits import refuse_extent, refuse_long
from hobrix.core.formats.names import column_names
from hobrix.core.formats.table import MANY_VALUES, Table, source_column, texts_of

_KEY = "hobrix-codebook"


def read_parquet(data: bytes) -> Table:
    """Read a Parquet file.

    Raises:
        FormatError: it is too large, or holds bytes, lists or records.
        Exception: what polars raises at a file that is damaged (``damage.readable``).
    """
    scanned = pl.scan_parquet(io.BytesIO(data))
    columns_there = len(scanned.collect_schema())
    rows_there = scanned.select(pl.len()).collect().item()
    refuse_extent(rows_there, columns_there, "This file")
    frame = pl.read_parquet(io.BytesIO(data))
    if frame.height == 0:
        raise FormatError("The file has columns but no rows.")
    names, remarks = column_names(frame.columns)
    columns = {
        name: source_of(series) for name, series in zip(names, frame.get_columns(), strict=True)
    }
    return Table(columns=columns, rows=frame.height, remarks=remarks)


def source_of(series: pl.Series) -> Source:
    """A column as Parquet has it: numbers, and all else as texts.

    Raises:
        FormatError: it holds bytes, lists or records, or cells that are too long.
    """
    if series.dtype == pl.String and len(series):
        refuse_long(int(series.str.len_chars().max() or 0), f"Column “{series.name}”")  # type: ignore[arg-type]
    if series.dtype == pl.Binary:
        raise FormatError(f"Column “{series.name}” holds bytes, not answers.")
    if series.dtype.is_nested():
        raise FormatError(f"Column “{series.name}” holds lists or records, not answers.")
    if not series.dtype.is_numeric():
        return source_column(series.cast(pl.String))
    numbers = series.cast(pl.Float64).fill_null(np.nan).to_numpy()
    numbers = np.where(np.isfinite(numbers), numbers, np.nan)
    distinct = np.unique(numbers[~np.isnan(numbers)])
    if len(distinct) > MANY_VALUES:
        return Measured.of(numbers)
    codes = np.searchsorted(distinct, numbers)
    codes = np.where(np.isnan(numbers), -1, codes).astype(smallest_int(len(distinct)))
    return Coded(codes, tuple(as_text(float(number)) for number in distinct))


def parquet_codebook(data: bytes) -> Codebook | None:
    """The codebook in the metadata of a file that Hobrix wrote."""
    metadata = pl.read_parquet_metadata(io.BytesIO(data))
    return read_codebook(metadata[_KEY].encode()) if _KEY in metadata else None


def write_parquet(table: Table, codebook: Codebook) -> bytes:
    """All columns as texts as they stand in the data, measurements without words as numbers;
    the codebook as JSON in the file's metadata."""
    columns = {}
    for name, source in table.columns.items():
        if isinstance(source, Measured) and not source.word_values:
            columns[name] = pl.Series(source.numbers).fill_nan(None)
        else:
            columns[name] = texts_of(source)
    file = io.BytesIO()
    metadata = {_KEY: codebook.model_dump_json()}
    pl.DataFrame(columns).write_parquet(file, metadata=metadata)
    return file.getvalue()
