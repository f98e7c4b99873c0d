"""The tables of a report as sheets, and its pictures as files."""

import csv
import re
import zipfile
from io import BytesIO, StringIO

import xlsxwriter

from hobrix.core.questions.printed import Cell, Number, Table, text_of
from hobrix.documents import pictures
from hobrix.documents.page import Page, PagePart, table_in_words

_FIXED = (2000, 1, 1, 0, 0, 0)


def write_xlsx(page: Page) -> bytes:
    """A sheet per table, numbers as numbers where a cell holds just one."""
    out = BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    )
    bold = book.add_format({"bold": True})
    for part in _tables(page):
        assert part.table is not None
        sheet = book.add_worksheet(part.label)
        sheet.write_string(0, 0, f"{part.label}. {part.caption}", bold)
        for at, column in enumerate(part.table.columns):
            sheet.write_string(2, at, column.heading, bold)
        for i, row in enumerate(part.table.rows):
            for j, cell in enumerate(row.cells):
                value = _value(cell)
                if isinstance(value, str):
                    sheet.write_string(3 + i, j, value)
                else:
                    sheet.write_number(3 + i, j, value)
        for k, note in enumerate(part.table.notes):
            sheet.write_string(4 + len(part.table.rows) + k, 0, note)
        sheet.set_column(0, 0, 34)
        sheet.set_column(1, len(part.table.columns), 16)
    if not _tables(page):
        book.add_worksheet("No tables")
    book.close()
    return out.getvalue()


def _value(cell: Cell) -> str | float:
    """What was computed, where a cell is one number."""
    if len(cell) == 1 and isinstance(cell[0], Number) and cell[0].value is not None:
        value = float(cell[0].value)
        if abs(value) != float("inf"):
            return value
    return text_of(cell)


def write_csv(page: Page) -> bytes:
    """A ZIP with a CSV per table, as they are read."""
    return _zipped({f"{_file(part)}.csv": _csv(part.table) for part in _tables(page) if part.table})


def write_pictures(page: Page) -> bytes:
    """A ZIP with every picture as SVG and as PNG."""
    files: dict[str, bytes] = {}
    for part in page.parts:
        if part.picture is not None:
            files[f"{_file(part)}.svg"] = pictures.svg(part.picture, page.style).encode()
            files[f"{_file(part)}.png"] = pictures.png(part.picture, page.style)
    return _zipped(files)


def _tables(page: Page) -> list[PagePart]:
    return [part for part in page.parts if part.table is not None]


def _csv(table: Table) -> bytes:
    out = StringIO()
    csv.writer(out).writerows(table_in_words(table))
    return out.getvalue().encode("utf-8-sig")


def _file(part: PagePart) -> str:
    return re.sub(r"[^a-z0-9]+", "-", part.label.lower()) or "table"


def _zipped(files: dict[str, bytes]) -> bytes:
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(zipfile.ZipInfo(name, _FIXED), data)
    return out.getvalue()
