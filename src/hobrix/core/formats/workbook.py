"""Workbooks with sheets: XLSX (ECMA-376) and ODS (OpenDocument)."""

import datetime
import io
from dataclasses import dataclass
from typing import Any

import polars as pl
from python_calamine import CalamineWorkbook

from hobrix.core.data.column import as_text
from hobrix.core.errors import FormatError
from hobrix.core.formats.archive import open_archive
from hobrix.core.formats.codebook import Codebook
from hobrix.core.formats.extent import refuse_far_cells
from hobrix.core.formats.names import column_names
from hobrix.core.formats.table import Table, has_decimal_commas, source_column
from hobrix.core.formats.workbook_out import CODEBOOK_SHEET, codebook_of_lines


@dataclass(frozen=True)
class WorkbookOptions:
    """Which sheet, and which of its rows (from 1) holds the names; None is detected."""

    sheet: str | None = None
    header_row: int | None = None


@dataclass(frozen=True)
class WorkbookRead:
    """The table, how it was read, and what else there was to choose."""

    table: Table
    used: WorkbookOptions
    sheets: tuple[str, ...]
    codebook: Codebook | None


def read_workbook(data: bytes, options: WorkbookOptions = WorkbookOptions()) -> WorkbookRead:
    """Read one sheet with one header row.

    Rows above the header and rows without any cell are left out. A header cell merged over
    several columns names each of them.

    Raises:
        FormatError: no workbook, no such sheet, no names, or no rows below them.
    """
    with open_archive(data, "a workbook") as archive:
        refuse_far_cells(archive)
    workbook = CalamineWorkbook.from_filelike(io.BytesIO(data))
    sheets = tuple(workbook.sheet_names)
    own = _codebook(workbook, sheets)
    # In a workbook that Hobrix wrote, the data stand first, whatever they hold.
    sheet = options.sheet or (sheets[0] if own else _first_with_a_table(workbook, sheets))
    if sheet not in sheets:
        raise FormatError(f"There is no sheet called “{sheet}”.")
    opened = workbook.get_sheet_by_name(sheet)
    rows: list[list[Any]] = opened.to_python(skip_empty_area=False)
    header_row = options.header_row or _header_row(rows)
    if not 1 <= header_row <= len(rows):
        raise FormatError(f"Sheet “{sheet}” has no row {header_row}.", line=header_row)
    merged = opened.merged_cell_ranges or []
    header = _filled(rows[header_row - 1], header_row - 1, merged)
    width = _used_width(header, rows[header_row:])
    body = _body(rows[header_row:], width, own[1] if own else 0)
    if not body:
        raise FormatError(f"Sheet “{sheet}” has names but no rows.", line=header_row)
    names, remarks = column_names(header[:width])
    if header_row > 1:
        above = "The row above it was" if header_row == 2 else "The rows above it were"
        remarks = (f"The names were taken from row {header_row}. {above} left out.", *remarks)
    cells = {
        name: pl.Series([_text(row[k]) if k < len(row) else None for row in body], dtype=pl.String)
        for k, name in enumerate(names)
    }
    commas = [name for name, each in cells.items() if has_decimal_commas(each)]
    columns = {
        name: source_column(each, decimal_comma=name in commas) for name, each in cells.items()
    }
    if commas:
        named = ", ".join(f"“{name}”" for name in commas[:3])
        more = f" and {len(commas) - 3} more" if len(commas) > 3 else ""
        remarks = (
            *remarks,
            f"Numbers were written as text with decimal commas in {named}{more}: read as numbers.",
        )
    table = Table(columns=columns, rows=len(body), remarks=remarks)
    used = WorkbookOptions(sheet, header_row)
    return WorkbookRead(table, used, sheets, own[0] if own else None)


def _body(rows: list[list[Any]], width: int, known_rows: int) -> list[list[Any]]:
    """The rows of data. Blank ones are left out, unless Hobrix wrote them and says how many."""
    if known_rows:
        return [row[:width] for row in [*rows, *[[]] * known_rows][:known_rows]]
    return [row[:width] for row in rows if any(not _is_blank(cell) for cell in row)]


def _codebook(workbook: CalamineWorkbook, sheets: tuple[str, ...]) -> tuple[Codebook, int] | None:
    """The codebook and the number of rows of a workbook that Hobrix wrote."""
    if CODEBOOK_SHEET not in sheets:
        return None
    lines = workbook.get_sheet_by_name(CODEBOOK_SHEET).to_python(skip_empty_area=False)
    return codebook_of_lines([[_text(cell) or "" for cell in line] for line in lines])


def _first_with_a_table(workbook: CalamineWorkbook, sheets: tuple[str, ...]) -> str:
    """The first sheet with names and a row below them; notes and covers are passed over."""
    for name in sheets:
        rows = workbook.get_sheet_by_name(name).to_python(skip_empty_area=False, nrows=50)
        filled = [sum(not _is_blank(cell) for cell in row) for row in rows]
        if sum(n > 1 for n in filled) >= 2:
            return name
    for name in sheets:
        if len(workbook.get_sheet_by_name(name).to_python(nrows=2)) > 1:
            return name
    raise FormatError("No sheet of this workbook holds a table.")


def _header_row(rows: list[list[Any]]) -> int:
    """The first row that is filled at least half as far as the fullest of the first thirty."""
    filled = [sum(not _is_blank(cell) for cell in row) for row in rows[:30]]
    if not filled or max(filled) == 0:
        raise FormatError("This sheet is empty.")
    return next(i for i, n in enumerate(filled, start=1) if n >= max(filled) / 2)


def _filled(header: list[Any], at: int, merged: list[Any]) -> list[str]:
    """Header cells as text; what is merged over several columns names each of them."""
    texts = [_text(cell) or "" for cell in header]
    for (top, left), (bottom, right) in merged:
        if top <= at <= bottom and left < len(texts):
            for column in range(left + 1, min(right + 1, len(texts))):
                texts[column] = texts[column] or texts[left]
    return texts


def _used_width(header: list[str], body: list[list[Any]]) -> int:
    """Columns up to the last that has a name or a cell."""
    used = [i for i, name in enumerate(header, start=1) if name]
    for row in body:
        last = next((k for k in range(len(row), 0, -1) if not _is_blank(row[k - 1])), 0)
        used.append(last)
    return max(used, default=0)


def _is_blank(cell: Any) -> bool:
    return cell is None or (isinstance(cell, str) and not cell.strip())


def _text(cell: Any) -> str | None:
    match cell:
        case None | "":
            return None
        case bool():
            return "true" if cell else "false"
        case int() | float():
            return as_text(float(cell))
        case datetime.datetime() if cell.time() == datetime.time():
            return cell.date().isoformat()
        case datetime.date() | datetime.time():
            return cell.isoformat()
        case datetime.timedelta():
            return str(cell)
        case _:
            return str(cell)
