"""Terms of use of a data set: read by each person once, accepted, and kept who did."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from hobrix.web.api.dataset_out import DataSetOut, seen_by
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.studies.access import dataset_for
from hobrix.web.studies.models import Acceptance, DataSet
from hobrix.web.studies.terms import accept, pending

router = Router(by_alias=True)


class TermsAccepted(Schema):
    """The texts a person has read and accepts."""

    texts: Annotated[list[str], Field(min_length=1, max_length=50)]


class AcceptanceOut(Schema):
    """Who accepted which text, and when."""

    user: str
    text: str
    accepted_at: datetime

    @staticmethod
    def resolve_user(acceptance: Acceptance) -> str:
        return str(acceptance.user.get_username())


@router.get("", response={200: list[AcceptanceOut], 404: Problem})
def read_acceptances(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> Any:
    """Who accepted the terms of a data set."""
    dataset = dataset_for(request.user, study_id, dataset_id, unread=True)
    return dataset.acceptances.select_related("user")


@router.post("", response={200: DataSetOut, 404: Problem, 409: Problem})
def accept_terms(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: TermsAccepted
) -> DataSet:
    """Accept the terms of a data set and of what it is made from, as they were read."""
    dataset = dataset_for(request.user, study_id, dataset_id, unread=True)
    asked = pending(request.user, dataset)
    if {each.terms for each in asked} - set(body.texts):
        shown = DataSetOut.from_orm(seen_by(request.user, dataset))
        raise Stale(shown.model_dump(mode="json"))
    accept(request.user, asked)
    return seen_by(request.user, dataset)
