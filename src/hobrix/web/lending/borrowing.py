"""Bringing in what a lender offers, and newer versions of it."""

from typing import Any

from django.core.files.base import ContentFile
from django.db import transaction
from django.db.models import F

from hobrix.core.errors import HobrixError
from hobrix.web.lending.asking import LenderError, offer_of, package
from hobrix.web.lending.catalogue import Offer
from hobrix.web.studies.importing import keep, understand
from hobrix.web.studies.models import DataSet, Lender, Study
from hobrix.web.studies.replacing import replace_file
from hobrix.web.studies.terms import bind


def bring(study: Study, user: Any, lender: Lender, offer: Offer) -> DataSet:
    """A data set of what is offered, under its terms.

    Raises:
        LenderError: it cannot be had.
        FormatError: what was sent is no Data Package; nothing is kept.
    """
    file = _file(lender, offer)
    understood = _understood(lender, offer, file)
    with transaction.atomic():
        dataset = keep(study, user, file, understood, is_draft=False, **_fields(lender, offer))
        bind(dataset)
    dataset.refresh_from_db()
    return dataset


def newer(dataset: DataSet) -> Offer | None:
    """What its lender offers now where that is another version; raises LenderError."""
    found = offer_of(_lender_of(dataset), dataset.offer)
    return found if found.version != dataset.offer_version else None


def bring_newer(dataset: DataSet, user: Any) -> DataSet:
    """The newer version in the place of this one; terms that changed are asked again.

    Raises:
        LenderError: there is none, or it cannot be had.
    """
    lender, found = _lender_of(dataset), newer(dataset)
    if found is None:
        raise LenderError(f"{lender.name} has no newer version.")
    file = _file(lender, found)
    _understood(lender, found, file)
    file.seek(0)
    replaced = replace_file(dataset, user, file)
    fields = _fields(lender, found)
    fields.pop("name")
    # What was said here about its cases stays.
    if dataset.cases:
        fields.pop("cases")
    DataSet.objects.filter(pk=replaced.pk).update(**fields, version=F("version") + 1)
    replaced.refresh_from_db()
    bind(replaced)
    replaced.refresh_from_db()
    return replaced


def _file(lender: Lender, offer: Offer) -> ContentFile:
    return ContentFile(package(lender, offer), name=f"{offer.name}.zip")


def _understood(lender: Lender, offer: Offer, file: ContentFile) -> Any:
    try:
        return understand(file)
    except HobrixError as error:
        raise LenderError(
            f"What {lender.name} sent for {offer.title} cannot be read: {error.message}"
        ) from None


def _fields(lender: Lender, offer: Offer) -> dict[str, Any]:
    cases = {"rows": "several", "case": offer.case, "order": offer.order or None}
    return {
        "name": offer.title,
        "terms": offer.terms,
        "note": offer.note,
        "lender": lender.name,
        "offer": offer.name,
        "offer_version": offer.version,
        "cases": cases if offer.case else {},
    }


def _lender_of(dataset: DataSet) -> Lender:
    lender = Lender.objects.filter(name=dataset.lender).first()
    if lender is None:
        raise LenderError(f"“{dataset.lender}” is no lender here any more.")
    return lender
