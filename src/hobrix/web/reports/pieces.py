"""A report's pieces of work, done beside the threads that serve."""

from collections.abc import Callable
from typing import Any, NamedTuple
from uuid import UUID, uuid4

from django.contrib.auth import get_user_model

from hobrix import figures
from hobrix.core.progress import Tell
from hobrix.core.questions.printed import Table
from hobrix.core.report.document import questions_of
from hobrix.core.report.methods import methods_paragraphs
from hobrix.documents.page import Gone, Page
from hobrix.documents.writing import FORMATS, Format
from hobrix.web.beside import Asker, Piece
from hobrix.web.reports.models import Report
from hobrix.web.reports.resolving import StudyAnswers, blocks_of, page_now, written


class GivenParts(NamedTuple):
    """What the answer to a question can give a report."""

    title: str
    tables: tuple[Table, ...]
    flow: Table
    pictures: dict[str, figures.Spec]
    lead: str
    write_up: str


def piece_of(
    asker: Asker, function: Callable[..., Any], report: Report, user: Any, *arguments: Any
) -> Piece:
    """One of the functions below, as somebody asks for it now: reports change with every word."""
    key = f"{function.__name__}|{report.id}|{asker.user}|{asker.token or uuid4()}"
    return Piece(key, f"report|{report.id}", function, (report.id, user.pk, *arguments))


def page(report: UUID, user: int, tell: Tell) -> Page:
    return page_now(*_found(report, user), tell)[0]


def document(report: UUID, user: int, kind: Format, tell: Tell) -> bytes:
    return FORMATS[kind].write(page(report, user, tell))


def parts(report: UUID, user: int, question: str, tell: Tell) -> GivenParts | None:
    """None where there is no such question, or its data may not be read."""
    found = StudyAnswers(*_found(report, user), tell)
    try:
        source = found.source(question)
    except Gone:
        return None
    printed = found.printed(source)
    return GivenParts(
        title=source.title,
        tables=printed.tables,
        flow=printed.flow,
        pictures=figures.of(printed.answer),
        lead=printed.answer.reading.lead,
        write_up=printed.answer.write_up,
    )


def methods(report: UUID, user: int, version: str, tell: Tell) -> list[str]:
    """Methods paragraphs from what the report really asked."""
    kept, reader = _found(report, user)
    found = StudyAnswers(kept, reader, tell)
    asked = []
    for name in questions_of(written(kept, blocks_of(kept)).blocks):
        try:
            source = found.source(name)
            asked.append((source, found.printed(source)))
        except Gone:
            continue
    return list(methods_paragraphs(asked, version))


def _found(report: UUID, user: int) -> tuple[Report, Any]:
    return Report.objects.get(id=report), get_user_model().objects.get(pk=user)
