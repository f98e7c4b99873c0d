"""Writing XLSX: the data on one sheet, the codebook on another, and reading that one back."""

import io
from typing import Any

from hobrix.core.data import Category, MissingCode, Variable
from hobrix.core.data.column import as_number, as_text
from hobrix.core.data.variable import Spelling
from hobrix.core.errors import FormatError
from hobrix.core.formats.codebook import Codebook, Noun
from hobrix.core.formats.table import Table, texts_of

CODEBOOK_SHEET = "Codebook"
_HEAD = ["Variable", "Label", "Kind", "Unit", "Value", "Meaning", "Use"]
MAX_ROWS, MAX_COLUMNS = 1_048_575, 16_384


def write_workbook(table: Table, codebook: Codebook) -> bytes:
    """An XLSX file. Texts are written as texts, never as formulas or links.

    Raises:
        FormatError: more rows or columns than a sheet can hold.
    """
    if table.rows > MAX_ROWS or len(table.columns) > MAX_COLUMNS:
        raise FormatError(
            f"A sheet holds up to {MAX_ROWS:,} rows and {MAX_COLUMNS:,} columns; this data set is "
            "larger. CSV, Parquet and the Data Package take any size."
        )
    # Every process would wait for it, and few write workbooks.
    import xlsxwriter

    file = io.BytesIO()
    options = {"strings_to_formulas": False, "strings_to_urls": False, "constant_memory": False}
    with xlsxwriter.Workbook(file, options) as workbook:
        bold = workbook.add_format({"bold": True})
        sheet = workbook.add_worksheet("Data")
        for column, (name, source) in enumerate(table.columns.items()):
            sheet.write_string(0, column, name, bold)
            for row, text in enumerate(texts_of(source).to_list(), start=1):
                if text is not None:
                    _write(sheet, row, column, text)
        sheet.freeze_panes(1, 0)
        described = workbook.add_worksheet(CODEBOOK_SHEET)
        for row, cells in enumerate(_lines(codebook, table.rows)):
            for column, text in enumerate(cells):
                described.write_string(row, column, text)
    return file.getvalue()


def _write(sheet: Any, row: int, column: int, text: str) -> None:
    number = as_number(text)
    if number is not None and as_text(number) == text and abs(number) < 1e15:
        sheet.write_number(row, column, number)
    else:
        sheet.write_string(row, column, text)


def _lines(codebook: Codebook, rows: int) -> list[list[str]]:
    """One line on rows, then one per variable, followed by its categories and missing codes."""
    lines = [
        _HEAD,
        ["", codebook.noun.one, "row", codebook.noun.many, str(rows), codebook.note, ""],
    ]
    for variable in codebook.variables:
        form = variable.date_form or ""
        lines.append([variable.name, variable.label, variable.kind, variable.unit, "", form, ""])
        for category in variable.categories:
            use = ["answer"]
            use += ["event"] if category.value in variable.event else []
            use += ["reference"] if category.value == variable.reference else []
            lines.append(
                [variable.name, "", "", "", category.value, category.label, ", ".join(use)]
            )
        for code in variable.missing:
            lines.append([variable.name, "", "", "", code.value, code.label, "missing"])
        for spelling in variable.spellings:
            lines.append([variable.name, "", "", "", spelling.written, spelling.value, "spelling"])
    return lines


def codebook_of_lines(lines: list[list[str]]) -> tuple[Codebook, int] | None:
    """The codebook of a sheet written by ``write_workbook`` and the number of rows of its data;
    None when it is another sheet."""
    if not lines or [*lines[0], *[""] * 7][:7] != _HEAD:
        return None
    noun, rows, note = Noun(), 0, ""
    fields: dict[str, dict[str, Any]] = {}
    for line in lines[1:]:
        name, label, kind, unit, value, meaning, use = [*line, *[""] * 7][:7]
        if not name:
            noun = Noun(one=label or "row", many=unit or "rows")
            rows, note = int(value) if value.isdigit() else 0, meaning
        elif not use:
            known = {"name": name, "label": label, "kind": kind, "unit": unit}
            fields[name] = known | ({"date_form": meaning} if meaning else {})
        elif name in fields:
            _add(fields[name], value, meaning, use.split(", "))
    variables = tuple(Variable.model_validate(entry) for entry in fields.values())
    return Codebook(noun=noun, note=note, variables=variables), rows


def _add(entry: dict[str, Any], value: str, meaning: str, use: list[str]) -> None:
    if "missing" in use:
        entry["missing"] = (*entry.get("missing", ()), MissingCode(value=value, label=meaning))
        return
    if "spelling" in use:
        spelling = Spelling(written=value, value=meaning)
        entry["spellings"] = (*entry.get("spellings", ()), spelling)
        return
    entry["categories"] = (*entry.get("categories", ()), Category(value=value, label=meaning))
    if "event" in use:
        entry["event"] = (*entry.get("event", ()), value)
    if "reference" in use:
        entry["reference"] = value
