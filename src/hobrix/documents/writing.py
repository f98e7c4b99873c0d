"""The formats a report leaves in: a line for each."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from hobrix.documents.html import write_html
from hobrix.documents.page import Page
from hobrix.documents.sheets import write_csv, write_pictures, write_xlsx
from hobrix.documents.typeset import write_pdf
from hobrix.documents.word import write_docx

Format = Literal["docx", "pdf", "html", "xlsx", "csv", "pictures"]


@dataclass(frozen=True)
class Written:
    """How a format is written; ``ends`` its file's name."""

    write: Callable[[Page], bytes]
    media_type: str
    ends: str


def _html(page: Page) -> bytes:
    return write_html(page).encode()


_OFFICE = "application/vnd.openxmlformats-officedocument"
FORMATS: dict[Format, Written] = {
    "docx": Written(write_docx, f"{_OFFICE}.wordprocessingml.document", ".docx"),
    "pdf": Written(write_pdf, "application/pdf", ".pdf"),
    "html": Written(_html, "text/html; charset=utf-8", ".html"),
    "xlsx": Written(write_xlsx, f"{_OFFICE}.spreadsheetml.sheet", "-tables.xlsx"),
    "csv": Written(write_csv, "application/zip", "-tables.zip"),
    "pictures": Written(write_pictures, "application/zip", "-pictures.zip"),
}


def by_ending(suffix: str) -> Written | None:
    """How a file of that name is written."""
    endings: dict[str, Format] = {".docx": "docx", ".pdf": "pdf", ".html": "html", ".xlsx": "xlsx"}
    kind = endings.get(suffix.lower())
    return None if kind is None else FORMATS[kind]
