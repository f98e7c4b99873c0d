"""How far the cells of a workbook reach, from its XML, before any of them is built.

A single cell at the far end of a sheet makes a table of billions.
"""

import re
import zipfile
from collections.abc import Iterator
from xml.parsers import expat

from hobrix.core.errors import FormatError
from hobrix.core.formats.limits import MOST_WORKBOOK_CELLS, refuse_extent

_PIECE = 1 << 20
# Long enough for any start tag that is cut in two by the pieces.
_OVERLAP = 512
_CELL = re.compile(rb'<(?:\w+:)?c\b[^>]*?\sr="([A-Z]{1,7})(\d{1,9})"')
_ODS_ROW, _ODS_CELL = "table-row", ("table-cell", "covered-table-cell")


def refuse_far_cells(archive: zipfile.ZipFile) -> None:
    """Raise FormatError where a sheet reaches further than is read."""
    names = archive.namelist()
    if "content.xml" in names:
        rows, columns = _of_open_document(archive)
        refuse_extent(rows, columns, "A sheet of this workbook", MOST_WORKBOOK_CELLS)
        return
    for name in names:
        if re.match(r"xl/worksheets/[^/]+\.xml$", name):
            rows, columns = _of_sheet(archive, name)
            refuse_extent(rows, columns, "A sheet of this workbook", MOST_WORKBOOK_CELLS)


def _of_sheet(archive: zipfile.ZipFile, name: str) -> tuple[int, int]:
    rows = columns = 0
    for piece in _pieces(archive, name):
        for letters, digits in _CELL.findall(piece):
            rows = max(rows, int(digits))
            columns = max(columns, _column(letters))
    return rows, columns


def _pieces(archive: zipfile.ZipFile, name: str) -> Iterator[bytes]:
    with archive.open(name) as file:
        before = b""
        while piece := file.read(_PIECE):
            yield before + piece
            before = piece[-_OVERLAP:]


def _column(letters: bytes) -> int:
    place = 0
    for letter in letters:
        place = place * 26 + letter - 64
    return place


def _of_open_document(archive: zipfile.ZipFile) -> tuple[int, int]:
    """Rows and columns up to the last cell that holds something, repeats counted."""
    reach = _Reach()
    parser = expat.ParserCreate(namespace_separator=" ")
    parser.StartElementHandler = reach.start
    parser.EndElementHandler = reach.end
    # What is declared in the document itself is never expanded.
    parser.EntityDeclHandler = _no_entities
    with archive.open("content.xml") as file:
        while piece := file.read(_PIECE):
            parser.Parse(piece, False)
        parser.Parse(b"", True)
    return reach.rows, reach.columns


def _no_entities(*_: object) -> None:
    raise FormatError("This workbook declares entities, which no honest workbook does.")


class _Reach:
    """The furthest filled cell of all sheets of an OpenDocument."""

    def __init__(self) -> None:
        self.rows = self.columns = 0
        self._row = self._filled = self._at = self._repeated = 0

    def start(self, name: str, attributes: dict[str, str]) -> None:
        tag = name.rpartition(" ")[2]
        found = {key.rpartition(" ")[2]: value for key, value in attributes.items()}
        if tag == "table":
            self._row = 0
        elif tag == _ODS_ROW:
            self._at = self._filled = 0
            self._repeated = _count(found.get("number-rows-repeated"))
        elif tag in _ODS_CELL:
            self._at += _count(found.get("number-columns-repeated"))
            if "value-type" in found:
                self._filled = self._at

    def end(self, name: str) -> None:
        if name.rpartition(" ")[2] == _ODS_ROW:
            self._row += self._repeated
            if self._filled:
                self.rows = max(self.rows, self._row)
                self.columns = max(self.columns, self._filled)


def _count(text: str | None) -> int:
    return int(text) if text and text.isdigit() and len(text) < 12 else 1
