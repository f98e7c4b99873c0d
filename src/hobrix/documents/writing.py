"""The formats a report leaves in: a line for each.

What writes them is imported when one is written: every process of the server would wait for it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from hobrix.documents.page import Page

Format = Literal["docx", "pdf", "html", "xlsx", "csv", "pictures"]


@dataclass(frozen=True)
class Written:
    """How a format is written; ``ends`` its file's name."""

    write: Callable[[Page], bytes]
    media_type: str
    ends: str


def _docx(page: Page) -> bytes:
    from hobrix.documents.word import write_docx

    return write_docx(page)


def _pdf(page: Page) -> bytes:
    from hobrix.documents.typeset import write_pdf

    return write_pdf(page)


def _html(page: Page) -> bytes:
    from hobrix.documents.html import write_html

    return write_html(page).encode()


def _xlsx(page: Page) -> bytes:
    from hobrix.documents.sheets import write_xlsx

    return write_xlsx(page)


def _csv(page: Page) -> bytes:
    from hobrix.documents.sheets import write_csv

    return write_csv(page)


def _pictures(page: Page) -> bytes:
    from hobrix.documents.sheets import write_pictures

    return write_pictures(page)


_OFFICE = "application/vnd.openxmlformats-officedocument"
FORMATS: dict[Format, Written] = {
    "docx": Written(_docx, f"{_OFFICE}.wordprocessingml.document", ".docx"),
    "pdf": Written(_pdf, "application/pdf", ".pdf"),
    "html": Written(_html, "text/html; charset=utf-8", ".html"),
    "xlsx": Written(_xlsx, f"{_OFFICE}.spreadsheetml.sheet", "-tables.xlsx"),
    "csv": Written(_csv, "application/zip", "-tables.zip"),
    "pictures": Written(_pictures, "application/zip", "-pictures.zip"),
}


def by_ending(suffix: str) -> Written | None:
    """How a file of that name is written."""
    endings: dict[str, Format] = {".docx": "docx", ".pdf": "pdf", ".html": "html", ".xlsx": "xlsx"}
    kind = endings.get(suffix.lower())
    return None if kind is None else FORMATS[kind]
