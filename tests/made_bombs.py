"""Small files that would fill the memory, or never end, if they were read as they ask."""

import io
import zipfile
from collections.abc import Callable

import polars as pl

from hobrix.core.formats.limits import MOST_COLUMNS, MOST_ROWS
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


BOMBS: list[tuple[str, Callable[[], bytes], str]] = [
    ("far.xlsx", lambda: sheet_with(b"XFD1048576"), "16,384 columns"),
    ("down.xlsx", lambda: sheet_with(b"AZ3", b"A1048576"), "1,048,576 rows and 52 columns"),
    ("beyond.xlsx", lambda: sheet_with(b"ZZZZ1"), "columns; up to"),
    ("wide.ods", lambda: repeated(1_000_000, 1, filled=True), "1,000,000 columns"),
    ("deep.ods", lambda: repeated(40, 1_000_000, filled=True), "1,000,002 rows and 40 columns"),
    ("rows.parquet", many_rows, f"{MOST_ROWS + 1:,} rows"),
    ("columns.parquet", many_columns, f"{MOST_COLUMNS + 1:,} columns"),
    ("cell.parquet", long_cell, "a cell of 2,000,000 characters"),
]
"""What it is called, the file, and what is said of it."""
