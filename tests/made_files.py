"""Files of other programs, made by hand for the tests."""

import io
import zipfile
from typing import Any

import xlsxwriter


def workbook(sheets: dict[str, list[list[Any]]], merge: str | None = None) -> bytes:
    file = io.BytesIO()
    with xlsxwriter.Workbook(file) as book:
        for name, rows in sheets.items():
            sheet = book.add_worksheet(name)
            for i, row in enumerate(rows):
                sheet.write_row(i, 0, row)
            if merge:
                sheet.merge_range(merge, rows[1][1])
    return file.getvalue()


def open_document(rows: list[list[Any]]) -> bytes:
    """A minimal OpenDocument spreadsheet (OASIS, part 3), put together by hand."""

    def cell(value: Any) -> str:
        if value is None:
            return "<table:table-cell/>"
        if isinstance(value, int | float):
            kind = f'office:value-type="float" office:value="{value}"'
        else:
            kind = 'office:value-type="string"'
        return f"<table:table-cell {kind}><text:p>{value}</text:p></table:table-cell>"

    spaces = " ".join(
        f'xmlns:{short}="urn:oasis:names:tc:opendocument:xmlns:{short}:1.0"'
        for short in ("office", "table", "text")
    )
    body = "".join(f"<table:table-row>{''.join(map(cell, row))}</table:table-row>" for row in rows)
    content = (
        f'<?xml version="1.0"?><office:document-content {spaces}><office:body><office:spreadsheet>'
        f'<table:table table:name="Answers">{body}</table:table>'
        "</office:spreadsheet></office:body></office:document-content>"
    )
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", content)
        manifest = "urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"
        archive.writestr(
            "META-INF/manifest.xml",
            f'<m:manifest xmlns:m="{manifest}"><m:file-entry m:full-path="content.xml" '
            'm:media-type="text/xml"/></m:manifest>',
        )
    return file.getvalue()
