"""Reports: written block by block, with the numbers of the study's answers in them."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.db.models import F
from django.http import HttpRequest
from django.utils import timezone
from ninja import Path, Router, Schema, Status
from pydantic import Field, StringConstraints

from hobrix.core.questions.number_style import NumberStyle
from hobrix.core.report.document import Block
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.reports.access import report_for
from hobrix.web.reports.models import Report, ReportBlock
from hobrix.web.reports.resolving import blocks_of, page_now, stamp_of
from hobrix.web.reports.writing import BlockChange, change_blocks, look_at
from hobrix.web.studies.access import MAY_CHANGE, study_for

router = Router(by_alias=True)

Title = Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)]
Name = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9-]+$")]
REFUSED = {403: Problem, 404: Problem, 422: Problem}


class ReportIn(Schema):
    title: Title = ""


class ReportChange(Schema):
    """What is left out stays as it is."""

    version: int
    title: Title | None = None
    style: NumberStyle | None = None


class ReportHead(Schema):
    id: UUID
    title: str
    style: NumberStyle
    version: int
    tables: int
    pictures: int


class BlockOut(Schema):
    """A block with who changed it last."""

    name: str
    version: int
    block: Block
    changed_at: datetime
    changed_by: str | None


class ReportOut(ReportHead):
    """``stamp`` changes whenever the report, its questions or their data do."""

    blocks: list[BlockOut]
    stamp: str


_TABLES = (
    "table",
    "frequencies",
    "characteristics",
    "flow",
    "comparison",
    "codebook",
    "preparation",
)


def _head(report: Report, blocks: list[ReportBlock]) -> dict[str, Any]:
    kinds = [each.block["type"] for each in blocks]
    return {
        "id": report.id,
        "title": report.title,
        "style": NumberStyle.model_validate(report.style),
        "version": report.version,
        "tables": sum(kind in _TABLES for kind in kinds),
        "pictures": kinds.count("picture"),
    }


def _block(kept: ReportBlock) -> dict[str, Any]:
    return {
        "name": kept.name,
        "version": kept.version,
        "block": kept.block,
        "changed_at": kept.changed_at,
        "changed_by": None if kept.changed_by is None else kept.changed_by.get_username(),
    }


def _whole(report: Report) -> dict[str, Any]:
    # Before the blocks: what changes in between is read once more, and not missed.
    stamp = stamp_of(report)
    blocks = blocks_of(report)
    return {**_head(report, blocks), "blocks": [_block(each) for each in blocks], "stamp": stamp}


@router.get("", response={200: list[ReportHead], 404: Problem})
def list_reports(request: HttpRequest, study_id: Path[UUID]) -> list[dict[str, Any]]:
    study = study_for(request.user, study_id)
    reports = Report.objects.filter(study=study, deleted_at__isnull=True)
    return [_head(report, blocks_of(report)) for report in reports]


@router.post("", response={201: ReportOut, **REFUSED})
def create_report(
    request: HttpRequest, study_id: Path[UUID], body: ReportIn
) -> Status[dict[str, Any]]:
    study = study_for(request.user, study_id, *MAY_CHANGE)
    return Status(201, _whole(Report.objects.create(study=study, title=body.title)))


@router.get("/{report_id}", response={200: ReportOut, 404: Problem})
def read_report(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID]
) -> dict[str, Any]:
    return _whole(report_for(request.user, study_id, report_id))


@router.patch("/{report_id}", response={200: ReportOut, 409: Problem, **REFUSED})
def change_report(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID], body: ReportChange
) -> dict[str, Any]:
    """Its title or its style of numbers."""
    report = report_for(request.user, study_id, report_id, *MAY_CHANGE)
    fields: dict[str, Any] = {}
    if body.title is not None:
        fields["title"] = body.title
    if body.style is not None:
        fields["style"] = body.style.model_dump(mode="json")
    done = Report.objects.filter(id=report.id, version=body.version).update(
        **fields, version=F("version") + 1
    )
    report.refresh_from_db()
    if not done:
        raise Stale(ReportOut(**_whole(report)).model_dump(mode="json", by_alias=True))
    if body.style is not None:
        # Numbers written otherwise have not moved.
        page, _ = page_now(report, request.user)
        look_at(report, page.shows, page.shows)
    return _whole(report)


@router.delete("/{report_id}", response={204: None, **REFUSED})
def delete_report(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID]
) -> Status[None]:
    report = report_for(request.user, study_id, report_id, *MAY_CHANGE)
    Report.objects.filter(id=report.id).update(deleted_at=timezone.now())
    return Status(204, None)


@router.post("/{report_id}/restore", response={200: ReportOut, **REFUSED})
def restore_report(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID]
) -> dict[str, Any]:
    report = report_for(request.user, study_id, report_id, *MAY_CHANGE, deleted=True)
    Report.objects.filter(id=report.id).update(deleted_at=None)
    return _whole(report)


class Placed(Schema):
    """Right after this block; null is the top."""

    after: Name | None


class ChangeIn(Schema):
    """``version`` is the one that was seen, null for a new block; ``block`` null removes it; ``place``
    left out leaves it where it is (a new one at the end)."""

    name: Name
    version: int | None
    block: Block | None
    place: Placed | None = None


class ChangesIn(Schema):
    changes: Annotated[list[ChangeIn], Field(max_length=500)]


class ChangesOut(Schema):
    """New versions by block; ``stale`` stand otherwise than was thought, and were left so. ``before`` is
    the stamp the report had: another than the writer knows means that others have changed it."""

    versions: dict[str, int]
    stale: list[BlockOut]
    before: str
    stamp: str


@router.post("/{report_id}/changes", response={200: ChangesOut, **REFUSED})
def write(
    request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID], body: ChangesIn
) -> dict[str, Any]:
    """Blocks written, moved and removed. What somebody else has changed meanwhile is left alone."""
    report = report_for(request.user, study_id, report_id, *MAY_CHANGE)
    changes = [
        BlockChange(
            name=each.name,
            version=each.version,
            block=each.block,
            moved=each.place is not None,
            after=each.place.after if each.place is not None else None,
        )
        for each in body.changes
    ]
    # Nobody else writes between the stamps, so that the second is of what was known and sent.
    with transaction.atomic():
        report.refresh_from_db()
        before = stamp_of(report)
        versions, stale = change_blocks(report, request.user, changes)
        after = stamp_of(report)
    return {
        "before": before,
        "versions": versions,
        "stale": [_block(each) for each in stale],
        "stamp": after,
    }


class Stamp(Schema):
    stamp: str


@router.get("/{report_id}/stamp", response={200: Stamp, 404: Problem})
def read_stamp(request: HttpRequest, study_id: Path[UUID], report_id: Path[UUID]) -> dict[str, Any]:
    """Asked for again and again: whether anything has changed."""
    return {"stamp": stamp_of(report_for(request.user, study_id, report_id))}
