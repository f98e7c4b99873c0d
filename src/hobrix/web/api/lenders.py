"""Lenders: which answer now, what they offer, and bringing it in."""

from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import UUID

from django.http import Http404, HttpRequest
from ninja import Path, Router, Schema, Status

from hobrix.web.api.dataset_out import DataSetOut, seen_by
from hobrix.web.api.problems import Problem
from hobrix.web.jobs.running import follow
from hobrix.web.lending.asking import LenderError, catalogue, offer_of
from hobrix.web.lending.borrowing import bring, bring_newer, newer
from hobrix.web.lending.catalogue import Offer
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, study_for
from hobrix.web.studies.models import DataSet, Lender

router = Router(by_alias=True)
of_dataset = Router(by_alias=True)

REFUSED = {404: Problem, 422: Problem}


class LenderOut(Schema):
    """A lender that answers with what it offers, or why it does not."""

    id: int
    name: str
    offers: list[Offer]
    why_not: str


class NewerOut(Schema):
    """What the lender offers now, where that is another version."""

    offer: Offer | None


@router.get("", response={200: list[LenderOut], 404: Problem})
def list_lenders(request: HttpRequest, study_id: Path[UUID]) -> list[LenderOut]:
    study_for(request.user, study_id)
    lenders = list(Lender.objects.all())
    with ThreadPoolExecutor(max_workers=8) as pool:
        return list(pool.map(_asked, lenders))


def _asked(lender: Lender) -> LenderOut:
    found: dict[str, Any] = {"id": lender.pk, "name": lender.name, "offers": [], "why_not": ""}
    try:
        found["offers"] = list(catalogue(lender).offers)
    except LenderError as error:
        found["why_not"] = error.message
    return LenderOut(**found)


@router.post("/{int:lender_id}/{offer}", response={201: DataSetOut, **REFUSED})
def bring_offer(
    request: HttpRequest, study_id: Path[UUID], lender_id: Path[int], offer: Path[str]
) -> Status[DataSet]:
    """Bring a data set in under its terms, which are asked of each person before it is shown."""
    study = study_for(request.user, study_id, *MAY_CHANGE)
    lender = Lender.objects.filter(pk=lender_id).first()
    if lender is None:
        raise Http404("There is no such lender.")
    dataset = bring(study, request.user, lender, offer_of(lender, offer))
    return Status(201, seen_by(request.user, dataset))


@of_dataset.get("", response={200: NewerOut, **REFUSED})
def look_for_newer(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> NewerOut:
    """Whether the lender has a newer version."""
    return NewerOut(offer=newer(dataset_for(request.user, study_id, dataset_id, unread=True)))


@of_dataset.post("", response={201: DataSetOut, **REFUSED})
def replace_by_newer_version(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]
) -> Status[DataSet]:
    """The newer version in the place of this one; steps are replayed, questions move along."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE, unread=True)
    replaced = bring_newer(dataset, request.user)
    follow(replaced, request.user)
    return Status(201, seen_by(request.user, replaced))
