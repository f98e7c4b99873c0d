"""Data sets of a study: bring a file, check its preview, confirm, look at its rows."""

from dataclasses import replace
from typing import Annotated, Any, Literal
from uuid import UUID

from django.conf import settings
from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.utils.http import content_disposition_header
from ninja import File, Path, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from hobrix.core.data import (
    Cases,
    CasesLook,
    Counting,
    Design,
    DesignLook,
    look_at,
    look_at_cases,
    row_counts,
)
from hobrix.core.errors import RecipeError
from hobrix.core.formats import ReadOptions, Written
from hobrix.core.questions.sampling.drawn import drawn_by
from hobrix.web.api.dataset_out import DataSetOut, StudyDesignName, seen_by
from hobrix.web.api.jobs import JobOut
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.api.studies import Name
from hobrix.web.jobs.models import Job
from hobrix.web.jobs.running import follow, start_import
from hobrix.web.people.allowance import refuse_more_bytes
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, study_for
from hobrix.web.studies.dependence import frame_about
from hobrix.web.studies.exporting import MEDIA_TYPES, export
from hobrix.web.studies.frames import frame_of
from hobrix.web.studies.importing import import_file, options_of, reread
from hobrix.web.studies.linking import refuse_linked
from hobrix.web.studies.models import DataSet
from hobrix.web.studies.replacing import put_back, replace_file
from hobrix.web.studies.rows import rows_page
from hobrix.web.studies.terms import accept, bind, pending_in
from hobrix.web.studies.typing_in import typed_table

router = Router(by_alias=True)


class DataSetChange(Schema):
    """What is left out stays as it is."""

    version: int
    name: Name | None = None
    noun_one: Name | None = None
    noun_many: Name | None = None
    counted_by: Counting | None = None
    study_design: StudyDesignName | None = None
    # The variable that tells cases from controls; blank: not said.
    case_status: str | None = None
    # The variable that tells matched sets; blank: not matched.
    matched_on: str | None = None
    cases: Cases | None = None
    terms: Annotated[str | None, Field(max_length=20_000)] = None
    note: Annotated[str | None, Field(max_length=200)] = None
    confirmed: bool | None = None


class Reread(Schema):
    """How to read a draft's file again. What is left out stays as it is."""

    delimiter: Literal[",", ";", "\t", "|"] | None = None
    encoding: str | None = None
    decimal_comma: bool | None = None
    sheet: str | None = None
    header_row: Annotated[int, Field(ge=1)] | None = None


class TypedTable(Schema):
    """Counts by rows and columns; without ``column_title`` the counts of one variable."""

    name: Name
    row_title: Name
    column_title: Name | None = None
    rows: Annotated[list[str], Field(min_length=1, max_length=200)]
    columns: Annotated[list[str], Field(min_length=1, max_length=200)]
    counts: list[list[float]]


class RowsPage(Schema):
    """Cells as text, row by row; ``missing`` gives the columns of each row without an answer."""

    total: int
    offset: int
    names: list[str]
    rows: list[list[str]]
    missing: list[list[int]]


@router.get("", response={200: list[DataSetOut], 404: Problem})
def list_datasets(request: HttpRequest, study_id: Path[UUID]) -> list[DataSet]:
    study = study_for(request.user, study_id)
    datasets = study.datasets.filter(deleted_at__isnull=True).select_related("imported_by")
    asked = pending_in(request.user, study.id)
    return [
        seen_by(request.user, each, asked.get(each.id, []))
        for each in datasets.prefetch_related("made_from__source")
    ]


@router.post("", response={201: DataSetOut, 202: JobOut, 404: Problem, 413: Problem, 422: Problem})
def bring_file(
    request: HttpRequest, study_id: Path[UUID], file: File[UploadedFile]
) -> Status[DataSet] | Status[Job]:
    """A data set at once, or the job that will make it where the file is large."""
    study = study_for(request.user, study_id, *MAY_CHANGE)
    refuse_more_bytes(request.user, file.size or 0)
    if (file.size or 0) > settings.IMPORTED_AT_ONCE:
        return Status(202, start_import(study, request.user, file))
    return Status(201, import_file(study, request.user, file))


@router.post("/typed", response={201: DataSetOut, 404: Problem, 422: Problem})
def type_table(request: HttpRequest, study_id: Path[UUID], body: TypedTable) -> Status[DataSet]:
    study = study_for(request.user, study_id, *MAY_CHANGE)
    return Status(201, typed_table(study, request.user, **body.model_dump()))


@router.get("/{dataset_id}", response={200: DataSetOut, 404: Problem})
def read_dataset(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> DataSet:
    return dataset_for(request.user, study_id, dataset_id)


@router.patch("/{dataset_id}", response={200: DataSetOut, 404: Problem, 409: Problem, 422: Problem})
def change_dataset(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: DataSetChange
) -> DataSet:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    changes: dict[str, Any] = body.model_dump(
        exclude={"version", "confirmed"}, exclude_none=True, mode="json"
    )
    if isinstance(body.counted_by, Design):
        frame = frame_about(dataset, body.counted_by)
        look_at(body.counted_by, frame)
        # Replicates that would take too long are refused before a question meets them.
        if body.counted_by.errors != "linearised":
            drawn_by(body.counted_by, frame, None)
    elif body.counted_by is not None:
        row_counts(body.counted_by, frame_about(dataset, body.counted_by))
    if body.case_status:
        frame_of(dataset, [body.case_status]).categorical(body.case_status, "case_status")
    if body.matched_on:
        refuse_linked(dataset, "matched sets are looked at row by row.")
        frame_of(dataset, [body.matched_on]).variable(body.matched_on, "matched_on")
    if body.cases is not None:
        refuse_linked(dataset, "which rows are of one case cannot be looked at here.")
        look_at_cases(frame_of(dataset), body.cases)
    if body.confirmed:
        changes["is_draft"] = False
    changed = DataSet.objects.filter(id=dataset.id, version=body.version).update(
        **changes, version=F("version") + 1
    )
    dataset.refresh_from_db()
    if not changed:
        raise Stale(DataSetOut.from_orm(dataset).model_dump(mode="json"))
    if body.terms is not None:
        bind(dataset)
        # Whoever writes terms knows them.
        accept(request.user, [dataset] if body.terms else [])
        dataset.refresh_from_db()
    follow(dataset, request.user)
    return dataset


@router.post("/{dataset_id}/cases", response={200: CasesLook, 404: Problem, 422: Problem})
def look_at_its_cases(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: Cases
) -> CasesLook:
    """What the rows say of cases that are told apart so; nothing is kept."""
    return look_at_cases(frame_of(dataset_for(request.user, study_id, dataset_id)), body)


@router.post(
    "/{dataset_id}/reread", response={200: DataSetOut, 404: Problem, 409: Problem, 422: Problem}
)
def reread_draft(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: Reread
) -> DataSet:
    """Read the file of a draft again, with another separator, encoding or decimal sign."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    if not dataset.is_draft:
        raise Stale(DataSetOut.from_orm(dataset).model_dump(mode="json"))
    known = options_of(dataset)
    changes = body.model_dump(exclude_none=True)
    other_sheet = body.sheet is not None and body.sheet != dataset.sheet
    sheet = {k: changes[k] for k in ("sheet", "header_row") if k in changes}
    if other_sheet:
        sheet.setdefault("header_row", None)
    text = {k: changes[k] for k in ("delimiter", "encoding", "decimal_comma") if k in changes}
    options = ReadOptions(replace(known.delimited, **text), replace(known.workbook, **sheet))
    reread(dataset, options)
    return dataset


@router.post(
    "/{dataset_id}/replace",
    response={201: DataSetOut, 202: JobOut, 404: Problem, 413: Problem, 422: Problem},
)
def replace_by_newer(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], file: File[UploadedFile]
) -> Status[DataSet] | Status[Job]:
    """Put a newer file in the place of this one; steps are replayed, questions move along."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    refuse_linked(dataset, "it is read again there, and no file takes its place.")
    if dataset.recipe:
        raise RecipeError(
            "This was made of other data sets: replace one of those, or change how it is made.",
            field="file",
        )
    refuse_more_bytes(request.user, file.size or 0)
    if (file.size or 0) > settings.IMPORTED_AT_ONCE:
        return Status(202, start_import(dataset.study, request.user, file, dataset))
    newer = replace_file(dataset, request.user, file)
    follow(newer, request.user)
    return Status(201, newer)


@router.post("/{dataset_id}/put-back", response={200: DataSetOut, 404: Problem})
def put_older_back(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> DataSet:
    """Undo the replacement: the older data set comes back, with its questions."""
    older = put_back(dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE))
    follow(older, request.user)
    return older


@router.get("/{dataset_id}/counting", response={200: DesignLook, 404: Problem, 422: Problem})
def read_counting(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> DesignLook:
    dataset = dataset_for(request.user, study_id, dataset_id)
    if dataset.counted_by.get("kind") != "design":
        return DesignLook(findings=(), single=(), strata=())
    design = Design.model_validate(dataset.counted_by)
    return look_at(design, frame_about(dataset, design))


@router.get("/{dataset_id}/export/{kind}", response={404: Problem, 422: Problem})
def take_out(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], kind: Path[Written]
) -> HttpResponse:
    """The prepared data in an open format, as a file to keep."""
    dataset = dataset_for(request.user, study_id, dataset_id)
    response = HttpResponse(export(dataset, kind), content_type=MEDIA_TYPES[kind])
    called = f"{dataset.name} ({dataset.note})" if dataset.note else dataset.name
    name = "".join(c if c.isalnum() or c in "-_ ()" else "-" for c in called)
    response["Content-Disposition"] = content_disposition_header(True, f"{name}.{kind}")
    return response


@router.delete("/{dataset_id}", response={204: None, 404: Problem})
def delete_dataset(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]
) -> Status[None]:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE, unread=True)
    DataSet.objects.filter(id=dataset.id).update(deleted_at=timezone.now())
    return Status(204, None)


@router.post("/{dataset_id}/restore", response={200: DataSetOut, 404: Problem})
def restore_dataset(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> DataSet:
    dataset = dataset_for(
        request.user, study_id, dataset_id, *MAY_CHANGE, deleted=True, unread=True
    )
    DataSet.objects.filter(id=dataset.id).update(deleted_at=None)
    return dataset


@router.get("/{dataset_id}/rows", response={200: RowsPage, 404: Problem})
def read_rows(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    offset: Annotated[int, Field(ge=0)] = 0,
    limit: Annotated[int, Field(ge=1, le=500)] = 100,
    codes: bool = False,
) -> RowsPage:
    dataset = dataset_for(request.user, study_id, dataset_id)
    page = rows_page(dataset, offset, limit, codes=codes)
    return RowsPage(
        total=dataset.rows,
        offset=offset,
        names=page.names,
        rows=page.rows,
        missing=page.missing,
    )
