"""Subsets: how many a rule takes in, and rules kept under a name."""

from typing import Annotated, Any
from uuid import UUID

from django.http import Http404, HttpRequest
from ninja import Path, Router, Schema, Status
from pydantic import StringConstraints

from hobrix.core.data import AllOf, AnyOf
from hobrix.web.api.problems import Problem
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, study_for
from hobrix.web.studies.dependence import frame_about
from hobrix.web.studies.models import NamedSubset

router = Router(by_alias=True)

SubsetName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=100)]


class CountRequest(Schema):
    dataset: UUID
    rule: AllOf | AnyOf


class SubsetCount(Schema):
    """Rows the rule takes in, of all rows, and the rule in words."""

    rows: int
    of: int
    words: str


class SubsetIn(Schema):
    name: SubsetName
    rule: AllOf | AnyOf


class SubsetOut(Schema):
    id: int
    name: str
    rule: AllOf | AnyOf


@router.get("", response={200: list[SubsetOut], 404: Problem})
def list_subsets(request: HttpRequest, study_id: Path[UUID]) -> Any:
    return study_for(request.user, study_id).subsets.all()


@router.post("", response={201: SubsetOut, 404: Problem, 422: Problem})
def keep_subset(request: HttpRequest, study_id: Path[UUID], body: SubsetIn) -> Status[NamedSubset]:
    """Keep a rule under a name; the same name again takes the new rule."""
    study = study_for(request.user, study_id, *MAY_CHANGE)
    kept, _ = NamedSubset.objects.update_or_create(
        study=study, name=body.name, defaults={"rule": body.rule.model_dump(mode="json")}
    )
    return Status(201, kept)


@router.delete("/{int:subset_id}", response={204: None, 404: Problem})
def delete_subset(request: HttpRequest, study_id: Path[UUID], subset_id: Path[int]) -> Status[None]:
    study = study_for(request.user, study_id, *MAY_CHANGE)
    if not study.subsets.filter(id=subset_id).delete()[0]:
        raise Http404("There is no such subset.")
    return Status(204, None)


@router.post("/count", response={200: SubsetCount, 404: Problem, 422: Problem})
def count_subset(request: HttpRequest, study_id: Path[UUID], body: CountRequest) -> SubsetCount:
    dataset = dataset_for(request.user, study_id, body.dataset)
    frame = frame_about(dataset, body.rule)
    rows = frame.how_many(body.rule.mask(frame))
    return SubsetCount(rows=rows, of=frame.size, words=body.rule.words(frame))
