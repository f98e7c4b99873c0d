"""Small files that would fill the memory are refused in words, before anything of them is built."""

import io
import resource
import time
import zipfile
from collections.abc import Callable, Iterator

import polars as pl
import pytest

from hobrix.core.errors import FormatError
from hobrix.core.formats import DelimitedOptions, ReadOptions, read_file
from hobrix.core.formats.limits import LONGEST_CELL, MOST_COLUMNS, MOST_ROWS
from made_files import open_document, workbook

SHEET = b"""<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">
<dimension ref="A1:B2"/><sheetData>
<row r="1"><c r="A1" t="inlineStr"><is><t>a</t></is></c></row>
<row r="2"><c r="A2"><v>1</v></c></row>%s</sheetData></worksheet>"""


def with_part(data: bytes, name: str, content: bytes) -> bytes:
    """The archive with one part in the place of another."""
    file = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(data)) as before,
        zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as after,
    ):
        for each in before.namelist():
            after.writestr(each, content if each == name else before.read(each))
    return file.getvalue()


def sheet_with(*cells: bytes) -> bytes:
    rows = b"".join(
        b'<row r="%s"><c r="%s"><v>1</v></c></row>'
        % (cell.lstrip(b"ABCDEFGHIJKLMNOPQRSTUVWXYZ"), cell)
        for cell in cells
    )
    return with_part(workbook({"Data": [["a"], [1]]}), "xl/worksheets/sheet1.xml", SHEET % rows)


def repeated(columns: int, rows: int, *, filled: bool) -> bytes:
    """An OpenDocument with a repeated cell in a repeated row."""
    plain = open_document([["a", "b"], ["1", "2"]])
    with zipfile.ZipFile(io.BytesIO(plain)) as archive:
        content = archive.read("content.xml")
    value = b' office:value-type="string"' if filled else b""
    text = b"<text:p>x</text:p>" if filled else b""
    row = (
        b'<table:table-row table:number-rows-repeated="%d">'
        b'<table:table-cell table:number-columns-repeated="%d"%s>%s</table:table-cell></table:table-row>'
        % (rows, columns, value, text)
    )
    return with_part(
        plain, "content.xml", content.replace(b"</table:table>", row + b"</table:table>", 1)
    )


def parquet(frame: pl.DataFrame) -> bytes:
    file = io.BytesIO()
    frame.write_parquet(file, compression="zstd")
    return file.getvalue()


def many_rows() -> bytes:
    return parquet(pl.select(pl.repeat(1, MOST_ROWS + 1, dtype=pl.Int8).alias("a")))


def many_columns() -> bytes:
    return parquet(pl.DataFrame({f"v{i}": [1] for i in range(MOST_COLUMNS + 1)}))


def long_cell() -> bytes:
    return parquet(pl.DataFrame({"a": ["x" * 2_000_000, "y"]}))


@pytest.fixture(autouse=True)
def little_memory() -> Iterator[None]:
    """Nothing of them may take more than a second or two, or much memory."""
    began, before = time.monotonic(), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    yield
    assert time.monotonic() - began < 20
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 800_000


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("far.xlsx", lambda: sheet_with(b"XFD1048576"), "16,384 columns"),
        ("down.xlsx", lambda: sheet_with(b"AZ3", b"A1048576"), "1,048,576 rows and 52 columns"),
        ("beyond.xlsx", lambda: sheet_with(b"ZZZZ1"), "columns; up to"),
        ("wide.ods", lambda: repeated(1_000_000, 1, filled=True), "1,000,000 columns"),
        ("deep.ods", lambda: repeated(40, 1_000_000, filled=True), "1,000,002 rows and 40 columns"),
        ("rows.parquet", many_rows, f"{MOST_ROWS + 1:,} rows"),
        ("columns.parquet", many_columns, f"{MOST_COLUMNS + 1:,} columns"),
        ("cell.parquet", long_cell, "a cell of 2,000,000 characters"),
    ],
)
def test_what_reaches_too_far_is_refused(name: str, data: Callable[[], bytes], says: str) -> None:
    made = data()
    with pytest.raises(FormatError, match=says):
        read_file(name, made)


def test_blank_repeats_at_the_end_are_those_of_every_spreadsheet() -> None:
    made = repeated(16_384, 1_048_570, filled=False)
    assert read_file("a.ods", made).table.rows == 1


def test_entities_are_never_expanded() -> None:
    plain = open_document([["a"], ["1"]])
    with zipfile.ZipFile(io.BytesIO(plain)) as archive:
        content = archive.read("content.xml")
    declared = b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]>'
    head, _, rest = content.partition(b"?>")
    made = with_part(plain, "content.xml", head + b"?>" + declared + rest)
    with pytest.raises(FormatError, match="declares entities"):
        read_file("a.ods", made)


def test_cells_as_long_as_a_spreadsheet_allows_are_read() -> None:
    frame = pl.DataFrame({"a": ["x" * LONGEST_CELL, "y"]})
    assert read_file("a.parquet", parquet(frame)).table.rows == 2


def test_columns_of_bytes_are_no_answers() -> None:
    file = io.BytesIO()
    pl.DataFrame({"a": ["x"], "raw": [b"\xff\x00"]}).write_parquet(file)
    with pytest.raises(FormatError, match="Column “raw” holds bytes"):
        read_file("x.parquet", file.getvalue())


@pytest.mark.parametrize(
    "encoding", ["undefined", "punycode", "idna", "utf-7", "base64", "nothing", "\0"]
)
def test_encodings_that_are_none_of_text_are_refused(encoding: str) -> None:
    options = ReadOptions(delimited=DelimitedOptions(encoding=encoding))
    with pytest.raises(FormatError, match="no text encoding"):
        read_file("x.csv", b"a,b\n1,2\n", options)


def test_a_quote_that_is_never_closed_is_said_to_be() -> None:
    text = b'a,b\n1,2\n"3,' + b"x\n" * 100_000
    with pytest.raises(FormatError, match="never closed") as refused:
        read_file("x.csv", text)
    assert refused.value.line == 3


def test_an_empty_first_line_names_no_columns() -> None:
    with pytest.raises(FormatError, match="first line is empty"):
        read_file("x.csv", b"\n1,2\n3,4\n")
