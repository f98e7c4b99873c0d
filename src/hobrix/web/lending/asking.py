"""Asking a lender: only at the address the operator gave, never where a reply points to, and never
for longer or for more than one is ready to wait for."""

import http.client
import time
import urllib.error
import urllib.request
from typing import Any

from pydantic import ValidationError

from hobrix.core.errors import HobrixError
from hobrix.web.lending.catalogue import Catalogue, Offer
from hobrix.web.studies.models import Lender

# Seconds without a sign, and in all; bytes.
PATIENCE = 4.0
CATALOGUE_SECONDS, CATALOGUE_BYTES = 8.0, 4 * 1024 * 1024
PACKAGE_SECONDS, PACKAGE_BYTES = 120.0, 200 * 1024 * 1024
_PIECE = 64 * 1024


class LenderError(HobrixError):
    """A lender that does not answer as it should."""


class _NoOtherAddress(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_: Any, **__: Any) -> None:
        raise LenderError("It sends elsewhere, which is not followed.")


def catalogue(lender: Lender) -> Catalogue:
    """What it offers now; raises LenderError with why it does not tell."""
    body = _get(lender, "catalogue.json", CATALOGUE_SECONDS, CATALOGUE_BYTES)
    try:
        return Catalogue.model_validate_json(body)
    except ValidationError:
        raise LenderError(f"{lender.name} answers with something that is no catalogue.") from None


def offer_of(lender: Lender, name: str) -> Offer:
    """One of its offers; raises LenderError."""
    found = next((each for each in catalogue(lender).offers if each.name == name), None)
    if found is None:
        raise LenderError(f"{lender.name} does not offer this any more.")
    return found


def package(lender: Lender, offer: Offer) -> bytes:
    """The package of an offer, of the size that was said; raises LenderError."""
    if offer.size > PACKAGE_BYTES:
        raise LenderError(f"{offer.title} is larger than what is taken from a lender.")
    body = _get(lender, f"packages/{offer.name}.zip", PACKAGE_SECONDS, offer.size)
    if len(body) != offer.size:
        raise LenderError(
            f"{lender.name} sent {len(body):,} bytes of {offer.title} instead of {offer.size:,}. "
            "Nothing was kept."
        )
    return body


def _get(lender: Lender, path: str, seconds: float, most: int) -> bytes:
    opener = urllib.request.OpenerDirector()
    for handler in (
        urllib.request.HTTPHandler(),
        urllib.request.HTTPSHandler(),
        urllib.request.HTTPErrorProcessor(),
        urllib.request.HTTPDefaultErrorHandler(),
        _NoOtherAddress(),
    ):
        opener.add_handler(handler)
    end = time.monotonic() + seconds
    pieces, size = [], 0
    try:
        with opener.open(f"{lender.url.rstrip('/')}/{path}", timeout=PATIENCE) as reply:
            while piece := reply.read1(_PIECE):
                pieces.append(piece)
                size += len(piece)
                if size > most:
                    raise LenderError(f"{lender.name} sends more than it said. Nothing was kept.")
                if time.monotonic() > end:
                    raise LenderError(f"{lender.name} is too slow. Nothing was kept.")
    except urllib.error.HTTPError as error:
        raise LenderError(f"{lender.name} answers with error {error.code}.") from None
    except (OSError, http.client.HTTPException):
        raise LenderError(f"{lender.name} does not answer.") from None
    return b"".join(pieces)
