"""The codebook of a data set: read it, change one entry at a time."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema

from hobrix.core.data import Category, Kind, MissingCode, Variable
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.studies.access import MAY_CHANGE, dataset_for
from hobrix.web.studies.codebook import change_entry
from hobrix.web.studies.frames import frame_of, source_of
from hobrix.web.studies.models import CodebookEntry, DataSet
from hobrix.web.studies.summaries import Summary, summary_of

router = Router()


class EntryOut(Schema):
    """A variable with the reasons for its reading, what to look at, and its miniature."""

    variable: Variable
    version: int
    reason: str
    to_look_at: list[str]
    summary: Summary


class EntryChange(Schema):
    """What is left out stays as it is; ``event`` and ``reference`` may be emptied."""

    version: int
    label: str | None = None
    kind: Kind | None = None
    categories: list[Category] | None = None
    missing: list[MissingCode] | None = None
    event: list[str] | None = None
    reference: str | None = None
    unit: str | None = None


@router.get("/codebook", response={200: list[EntryOut], 404: Problem})
def read_codebook(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]
) -> list[EntryOut]:
    dataset = dataset_for(request.user, study_id, dataset_id)
    return [_entry(dataset, entry) for entry in dataset.entries.all()]


@router.patch(
    "/codebook/{name}", response={200: EntryOut, 404: Problem, 409: Problem, 422: Problem}
)
def change_variable(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    name: Path[str],
    body: EntryChange,
) -> EntryOut:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    changes = body.model_dump(exclude={"version"}, exclude_unset=True, mode="json")
    outcome = change_entry(dataset, name, body.version, changes)
    dataset.refresh_from_db()
    entry = _entry(dataset, outcome.entry)
    if not outcome.was_made:
        raise Stale(entry.model_dump(mode="json"))
    return entry


def _entry(dataset: DataSet, entry: CodebookEntry) -> EntryOut:
    frame = frame_of(dataset)
    variable = frame.variables[entry.name]
    fields: dict[str, Any] = {
        "variable": variable,
        "version": entry.version,
        "reason": entry.reason,
        "to_look_at": entry.to_look_at,
        "summary": summary_of(frame, variable, source_of(dataset, entry.name)),
    }
    return EntryOut(**fields)
