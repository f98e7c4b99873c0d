"""Places: what can be linked there, linking it, and reading it again."""

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix.linked.place import PlaceError
from hobrix.web.api.jobs import JobOut
from hobrix.web.api.problems import Problem
from hobrix.web.jobs.models import Job
from hobrix.web.jobs.running import start_linking, start_reading_again
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, study_for
from hobrix.web.studies.linking import engine_at, refuse_kept_here
from hobrix.web.studies.models import Place

router = Router(by_alias=True)
of_dataset = Router(by_alias=True)

REFUSED = {404: Problem, 422: Problem}


class PlaceOut(Schema):
    """A place by its name, with the tables in it, or why they cannot be seen now."""

    name: str
    tables: list[str]
    why_not: str


class Link(Schema):
    """A table of a place; both by their names."""

    place: Annotated[str, Field(min_length=1, max_length=100)]
    table: Annotated[str, Field(min_length=1, max_length=255)]


@router.get("", response={200: list[PlaceOut], 404: Problem})
def list_places(request: HttpRequest, study_id: Path[UUID]) -> list[PlaceOut]:
    """Where data may be linked. Where that is on this machine is not told."""
    study_for(request.user, study_id)
    return [_place(name) for name in Place.objects.values_list("name", flat=True)]


def _place(name: str) -> PlaceOut:
    try:
        return PlaceOut(name=name, tables=engine_at(name).tables(), why_not="")
    except PlaceError as error:
        return PlaceOut(name=name, tables=[], why_not=error.message)


@router.post("", response={202: JobOut, **REFUSED})
def link_table(request: HttpRequest, study_id: Path[UUID], body: Link) -> Status[Job]:
    """A data set whose rows stay where they are; its codebook is read there, which takes a while."""
    study = study_for(request.user, study_id, *MAY_CHANGE)
    if body.table not in engine_at(body.place).tables():
        raise PlaceError(f"There is no table “{body.table}” in the place “{body.place}”.")
    return Status(202, start_linking(study, request.user, body.place, body.table))


@of_dataset.post("", response={202: JobOut, **REFUSED})
def read_again(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> Status[Job]:
    """Read the codebook of a linked data set again, as its data are now."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    refuse_kept_here(dataset)
    return Status(202, start_reading_again(dataset, request.user))
