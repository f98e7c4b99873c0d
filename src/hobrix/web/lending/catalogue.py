"""What a lender offers, as JSON that is checked before anything is made of it."""

from typing import Annotated

from pydantic import Field

from hobrix.core.data import Frozen

# The name of a package is a part of an address.
OfferName = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,99}$")]


class OfferedVariable(Frozen):
    """A variable of what is offered."""

    name: Annotated[str, Field(max_length=255)]
    label: Annotated[str, Field(max_length=1000)] = ""


class Offer(Frozen):
    """A data set that is lent. ``case`` and ``order`` where it has several rows per case; ``version``
    changes with its content; ``size`` is that of the package, in bytes."""

    name: OfferName
    title: Annotated[str, Field(max_length=200)]
    description: Annotated[str, Field(max_length=5000)] = ""
    years: Annotated[str, Field(max_length=100)] = ""
    rows: Annotated[int, Field(ge=0)]
    case: Annotated[str, Field(max_length=255)] = ""
    order: Annotated[str, Field(max_length=255)] = ""
    terms: Annotated[str, Field(max_length=20_000)] = ""
    note: Annotated[str, Field(max_length=200)] = ""
    version: Annotated[str, Field(min_length=1, max_length=100)]
    size: Annotated[int, Field(ge=0)]
    variables: Annotated[tuple[OfferedVariable, ...], Field(max_length=5000)] = ()


class Catalogue(Frozen):
    """All that a lender offers."""

    title: Annotated[str, Field(max_length=200)]
    offers: Annotated[tuple[Offer, ...], Field(max_length=1000)]
