"""Comma-, semicolon-, tab- and bar-separated text (RFC 4180, and what people make of it)."""

import codecs
import csv
import io
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Literal

import polars as pl

from hobrix.core.errors import FormatError
from hobrix.core.formats.few_values import few_values
from hobrix.core.formats.limits import LONGEST_CELL, refuse_extent
from hobrix.core.formats.names import column_names
from hobrix.core.formats.rectangle import lines_of_rectangle
from hobrix.core.formats.table import Table, source_columns, texts_of

Delimiter = Literal[",", ";", "\t", "|"]
DELIMITERS: tuple[Delimiter, ...] = (",", ";", "\t", "|")
# What a quote that is never closed runs into.
csv.field_size_limit(LONGEST_CELL)
_SAMPLE = 200_000
_SIGNATURES = {
    b"PK\x03\x04": "a zip archive or a spreadsheet",
    b"\xd0\xcf\x11\xe0": "an old spreadsheet",
    b"%PDF": "a PDF",
    b"\x89PNG": "a picture",
    b"\xff\xd8\xff": "a picture",
    b"PAR1": "a Parquet file",
    b"SQLite format": "a database",
    b"\x1f\x8b": "a compressed file",
}


@dataclass(frozen=True)
class DelimitedOptions:
    """How the text is to be read; what is None is detected."""

    delimiter: Delimiter | None = None
    encoding: str | None = None
    decimal_comma: bool | None = None


def read_delimited(
    data: bytes,
    options: DelimitedOptions = DelimitedOptions(),
) -> tuple[Table, DelimitedOptions]:
    """Read delimited text with one header line.

    Returns the table and the options that were used, nothing left to detect.

    Raises:
        FormatError: empty or binary file, header without rows, rows that are longer or shorter
            than the header, a quote that is never closed; names line and column.
    """
    _refuse_binary(data)
    raw, encoding = _as_utf8(data, options.encoding)
    if not raw[:_SAMPLE].strip() and not raw.strip():
        raise FormatError("The file is empty.")
    sample = raw[:_SAMPLE].decode(errors="ignore")
    delimiter = options.delimiter or _detect_delimiter(sample)
    cells = _cells(raw, delimiter)
    if cells.height == 0:
        raise FormatError("The file has column names but no rows.", line=1)
    comma = options.decimal_comma
    if comma is None:
        comma = delimiter != "," and _has_decimal_commas(cells)
    given = pl.Series([keyed.split(":", 1)[1] for keyed in cells.columns], dtype=pl.String)
    names, remarks = column_names(_as_meant(given).to_list())
    found = cells.get_columns()
    if b"'" in raw:
        found = [_as_meant(series) for series in found]
    sources = source_columns(found, decimal_comma=comma)
    columns = dict(zip(names, sources, strict=True))
    used = replace(options, delimiter=delimiter, encoding=encoding, decimal_comma=comma)
    return Table(columns=columns, rows=cells.height, remarks=remarks), used


def _refuse_binary(data: bytes) -> None:
    for signature, what in _SIGNATURES.items():
        if data.startswith(signature):
            raise FormatError(f"This is {what}, not text with one line per row.")
    if b"\x00" in data[:_SAMPLE] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise FormatError("This file holds binary data, not text with one line per row.")


def _as_utf8(data: bytes, encoding: str | None) -> tuple[bytes, str]:
    """The text as UTF-8 with plain line ends, and the encoding it came in.

    Works on bytes, since a text of several hundred megabytes is better not held twice.
    """
    is_told = encoding is not None
    encoding = encoding or _detect_encoding(data)
    if encoding == "utf-8-sig" and data.startswith(_BOM):
        data = data[len(_BOM) :]
    if encoding not in ("utf-8", "utf-8-sig"):
        data = _decoded(data, encoding).encode()
    elif (is_told or encoding == "utf-8-sig") and not data.isascii():
        _decoded(data, "utf-8")
    if b"\r" in data:
        data = data.replace(b"\r\n", b"\n").replace(b"\r", b"\n")
    return (data if data.endswith(b"\n") else data + b"\n"), encoding


_BOM = b"\xef\xbb\xbf"


# Encodings of text; others (of addresses, of bytes) take long or mean something else.
_KNOWN = re.compile(
    r"ascii|utf-(8|8-sig|16|16-le|16-be|32|32-le|32-be)|cp\d+|iso8859-\d+|mac-\w+|koi8-\w|gb\w+|"
    r"big5\w*|shift_jis\w*|euc_\w+|johab|hz|iso2022_\w+|tis-620|ptcp154|kz1048"
)


def _decoded(data: bytes, encoding: str) -> str:
    try:
        name = codecs.lookup(encoding).name
    except (LookupError, ValueError):
        name = ""
    if not _KNOWN.fullmatch(name):
        raise FormatError(f"There is no text encoding called {encoding[:40]}.")
    try:
        return data.decode(encoding)
    except UnicodeError as error:
        line = data[: getattr(error, "start", 0)].count(b"\n") + 1
        raise FormatError(f"Line {line} is not valid {encoding}.", line=line) from None


def _detect_encoding(data: bytes) -> str:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    if data.startswith(_BOM):
        return "utf-8-sig"
    for candidate in ("utf-8", "cp1252"):
        try:
            if not data.isascii():
                data.decode(candidate)
            return candidate
        except UnicodeDecodeError:
            continue
    return "latin-1"


def _detect_delimiter(sample: str) -> Delimiter:
    """The delimiter that splits the first lines into the most cells, equally many each."""
    lines = sample.splitlines()[:50]

    def quality(delimiter: Delimiter) -> tuple[float, int]:
        try:
            widths = [len(row) for row in csv.reader(lines, delimiter=delimiter) if row]
        except csv.Error:
            return (0.0, 0)
        if not widths or widths[0] == 1:
            return (0.0, 0)
        return (widths.count(widths[0]) / len(widths), widths[0])

    return max(DELIMITERS, key=quality)


def _cells(raw: bytes, delimiter: Delimiter) -> pl.DataFrame:
    """All cells as text. Well-formed files take the fast way, others the one that explains."""
    first = raw[: raw.index(b"\n")].decode()
    header = _first(csv.reader([first], delimiter=delimiter))
    lines = lines_of_rectangle(raw, delimiter)
    if lines is None:
        return _cells_explained(raw.decode(), delimiter)
    refuse_extent(lines - 1, len(header), "The file")
    try:
        frame = _read_plain(raw, delimiter, len(header))
    except pl.exceptions.PolarsError:
        return _cells_explained(raw.decode(), delimiter)
    return _with_header(frame, header)


def _read_plain(raw: bytes, delimiter: Delimiter, width: int) -> pl.DataFrame:
    """Text that is well-formed, columns of few values as codes where there is much of it; raises PolarsError where
    polars finds it is not."""
    names = [str(i) for i in range(width)]

    def read(
        raw: bytes, rows: int | None, known: Mapping[str, pl.Enum] = MappingProxyType({})
    ) -> pl.DataFrame:
        return pl.read_csv(
            raw,
            has_header=False,
            skip_rows=1,
            n_rows=rows,
            schema={name: known.get(name, pl.String) for name in names},
            separator=delimiter,
            raise_if_empty=False,
        )

    if known := few_values(raw, read):
        try:
            return read(raw, None, known)
        except pl.exceptions.ComputeError:
            # Another value after all: as texts, then.
            pass
    return read(raw, None)


def _with_header(frame: pl.DataFrame, header: list[str]) -> pl.DataFrame:
    # Names may repeat here, which a data frame cannot hold: the position keeps them apart.
    return frame.rename(
        {
            old: f"{i}:{name}"
            for i, (old, name) in enumerate(zip(frame.columns, header, strict=True))
        }
    )


def _cells_explained(text: str, delimiter: Delimiter) -> pl.DataFrame:
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    header = _first(reader)
    rows: list[list[str]] = []
    line, last = reader.line_num, text.count("\n")
    try:
        for row in reader:
            start, line = line + 1, reader.line_num
            if not row:
                if len(header) == 1 and start < last:
                    rows.append([""])
                continue
            if len(row) != len(header):
                raise _ragged(row, header, start, line)
            rows.append(row)
    except csv.Error as error:
        raise _unread(line + 1, error) from None
    names = [str(i) for i in range(len(header))]
    if not rows:
        return _with_header(pl.DataFrame(schema=dict.fromkeys(names, pl.String)), header)
    return _with_header(
        pl.DataFrame(rows, schema=dict.fromkeys(names, pl.String), orient="row"), header
    )


def _first(reader: Iterator[list[str]]) -> list[str]:
    """The line of names."""
    try:
        header = next(reader, [])
    except csv.Error as error:
        raise _unread(1, error) from None
    if not header:
        raise FormatError("The first line is empty; it has to name the columns.", line=1)
    return header


def _unread(line: int, error: csv.Error) -> FormatError:
    if "limit" in str(error):
        message = (
            f"Line {line} holds a cell of more than {LONGEST_CELL:,} characters, or a quote that is never "
            "closed."
        )
        return FormatError(message, line=line)
    return FormatError(f"Line {line} cannot be read: {error}.", line=line)


def _ragged(row: list[str], header: list[str], start: int, end: int) -> FormatError:
    if end - start > 20:
        message = f"Line {start} opens a quote that is not closed on the same row."
        return FormatError(message, line=start)
    if len(row) < len(header):
        column = header[len(row)]
        message = (
            f"Line {start} has {len(row)} cells where the header has {len(header)}: "
            f"it ends before “{column}”."
        )
        return FormatError(message, line=start, column=column)
    column = header[-1]
    message = (
        f"Line {start} has {len(row)} cells where the header has {len(header)}: "
        f"“{row[len(header)][:40]}” comes after the last column, “{column}”. "
        "A cell that holds the separator needs quotes around it."
    )
    return FormatError(message, line=start, column=column)


def _has_decimal_commas(cells: pl.DataFrame) -> bool:
    """Whether some column holds numbers with a comma, and none numbers with a point; columns of
    other text say nothing."""
    columns = [each.cast(pl.String).drop_nulls() for each in cells.head(500).get_columns()]

    def writes(mark: str) -> bool:
        return any(
            present.str.contains(rf"^\s*[+-]?\d+{mark}\d+\s*$").any()
            and (present.str.contains(rf"^\s*[+-]?\d+({mark}\d+)?\s*$").mean() or 0.0) > 0.8  # type: ignore[operator]
            for present in columns
            if len(present)
        )

    return writes(",") and not writes(r"\.")


# What a spreadsheet would run as a formula.
_FORMULA = r"^'*[=+\-@]"


def write_delimited(table: Table) -> bytes:
    """CSV in UTF-8 with every cell as it stands in the data.

    Text that a spreadsheet would run as a formula gets an apostrophe before it, which
    ``read_delimited`` takes off again; numbers stay as they are.
    """
    columns = [
        _harmless(texts_of(source)).alias(f"{i}:{name}")
        for i, (name, source) in enumerate(table.columns.items())
    ]
    header = io.StringIO()
    csv.writer(header, lineterminator="\n").writerow(
        [_harmless(pl.Series([name]))[0] for name in table.columns]
    )
    body = pl.DataFrame(columns).write_csv(include_header=False, quote_style="necessary")
    if len(columns) == 1:
        # A blank line would be no row at all; a quoted blank is one.
        body = "".join(f"{line}\n" if line else '""\n' for line in body.split("\n")[:-1])
    return (header.getvalue() + body).encode()


def _harmless(cells: pl.Series) -> pl.Series:
    risky = cells.str.contains(_FORMULA) & cells.cast(pl.Float64, strict=False).is_null()
    return ("'" + cells).zip_with(risky.fill_null(value=False), cells)


def _as_meant(cells: pl.Series) -> pl.Series:
    """Without the apostrophe that keeps a spreadsheet from running a text."""
    if isinstance(cells.dtype, pl.Enum):
        values = cells.dtype.categories
        return cells if _as_meant(values).equals(values) else _as_meant(cells.cast(pl.String))
    guarded = cells.str.contains(r"^'+[=+\-@]").fill_null(value=False)
    return cells.str.slice(1).zip_with(guarded, cells) if guarded.any() else cells
