"""What a report shows: its page with the answers as they are, what can be put in, and its documents."""

from collections.abc import Callable
from importlib.metadata import version
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import Http404, HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix import figures
from hobrix.core.questions.printed import Table
from hobrix.core.report.checklist import Item, checklist
from hobrix.core.report.document import questions_of
from hobrix.documents.page import PagePart
from hobrix.documents.writing import FORMATS, Format
from hobrix.web.api.problems import Problem
from hobrix.web.api.reports import REFUSED as REFUSED_AT_ONCE
from hobrix.web.api.reports import Name
from hobrix.web.api.waiting import StillWorking, asker_of, beside
from hobrix.web.reports import pieces
from hobrix.web.reports.access import report_for
from hobrix.web.reports.models import Report, ReportBlock
from hobrix.web.reports.resolving import (
    blocks_of,
    stamp_of,
    standing_alone,
    written,
)
from hobrix.web.reports.writing import look_at
from hobrix.web.studies.access import MAY_CHANGE

router = Router(by_alias=True)

REFUSED = {202: StillWorking, **REFUSED_AT_ONCE}


class PageOut(Schema):
    """The report with its numbers as they are. ``moved`` are numbers by block that are not what somebody
    last looked at, with what they were then; under "" whether a table or picture is another."""

    parts: list[PagePart]
    moved: dict[str, dict[str, str]]
    checklist: list[Item]
    questions: list[str]
    stamp: str


@router.get("/page", response={200: PageOut, **REFUSED})
def read_page(request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID]) -> dict[str, Any]:
    report = report_for(request.user, study_id, report_id)
    page = _beside(request, pieces.page, report)
    value = written(report, blocks_of(report))
    return {
        "parts": page.parts,
        "moved": _moved(report, page.shows),
        "checklist": checklist(value),
        "questions": questions_of(value.blocks),
        "stamp": stamp_of(report),
    }


def _moved(report: Report, shows: dict[str, dict[str, str]]) -> dict[str, dict[str, str]]:
    """What is shown for the first time counts as looked at."""
    moved: dict[str, dict[str, str]] = {}
    for kept in report.blocks.filter(is_removed=False):
        now = shows.get(kept.name, {})
        new = {name: text for name, text in now.items() if name not in kept.seen}
        if new:
            kept.seen = {**kept.seen, **new}
            ReportBlock.objects.filter(id=kept.id, version=kept.version).update(seen=kept.seen)
        was = {name: kept.seen[name] for name, text in now.items() if kept.seen[name] != text}
        if was:
            moved[kept.name] = was
    return moved


class LookedAt(Schema):
    names: Annotated[list[Name], Field(max_length=2000)]


@router.post("/looked-at", response={204: None, **REFUSED})
def looked_at(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID], body: LookedAt
) -> Status[None]:
    """Somebody has looked at what moved in these blocks."""
    report = report_for(request.user, study_id, report_id, *MAY_CHANGE)
    page = _beside(request, pieces.page, report)
    look_at(report, page.shows, body.names)
    return Status(204, None)


class AnswerParts(Schema):
    """What the answer to a question can give a report."""

    question: UUID
    title: str
    tables: list[Table]
    flow: Table
    pictures: dict[str, figures.Spec]
    lead: str
    write_up: str


@router.get("/questions/{question_id}", response={200: AnswerParts, **REFUSED})
def answer_parts(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID], question_id: Path[UUID]
) -> dict[str, Any]:
    report = report_for(request.user, study_id, report_id)
    given = _beside(request, pieces.parts, report, str(question_id))
    if given is None:
        raise Http404("There is no such question.")
    return {"question": question_id, **given._asdict()}


class MethodsOut(Schema):
    paragraphs: list[str]


@router.get("/methods", response={200: MethodsOut, **REFUSED})
def methods(request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID]) -> dict[str, Any]:
    """Methods paragraphs from what the report really asked."""
    report = report_for(request.user, study_id, report_id)
    return {"paragraphs": _beside(request, pieces.methods, report, version("hobrix"))}


Export = Format | Literal["json"]


@router.get("/export/{kind}", response={200: None, 409: Problem, **REFUSED})
def export_report(
    request: HttpRequest,
    study_id: Path[UUID],
    report_id: Path[UUID],
    kind: Path[Export],
) -> HttpResponse:
    """The report as a document, its tables or pictures, or as JSON that `hobrix report` reads."""
    report = report_for(request.user, study_id, report_id)
    if kind == "json":
        value = standing_alone(report, request.user)
        data = value.model_dump_json(by_alias=True, indent=1).encode()
        return _file(data, "application/json", report, ".json")
    how = FORMATS[kind]
    data = _beside(request, pieces.document, report, kind)
    return _file(data, how.media_type, report, how.ends)


def _beside(
    request: HttpRequest, function: Callable[..., Any], report: Report, *arguments: Any
) -> Any:
    """One of the report's pieces of work; raises NotYet while it goes on."""
    piece = pieces.piece_of(asker_of(request), function, report, request.user, *arguments)
    return beside(request, piece)


def _file(data: bytes, media_type: str, report: Report, ends: str) -> HttpResponse:
    response = HttpResponse(data, content_type=media_type)
    name = (report.title or "report").replace('"', "").replace("/", "-")[:80]
    response["Content-Disposition"] = content_disposition_header(True, f"{name}{ends}")
    return response
