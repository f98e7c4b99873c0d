"""How much one person may keep on this installation."""

from typing import Any

from django.conf import settings
from django.db.models import Sum

from hobrix.core.errors import HobrixError
from hobrix.web.studies.models import DataSet, Membership, Role


def refuse_more_studies(user: Any) -> None:
    """Raises HobrixError for one study more than is allowed."""
    owned = Membership.objects.filter(
        user=user, role=Role.OWNER, study__deleted_at__isnull=True
    ).count()
    if owned >= settings.MOST_STUDIES:
        raise HobrixError(
            f"You own {owned:,} studies, as many as one person may here. Delete one, or ask whoever runs "
            "Hobrix here for more."
        )


def refuse_more_bytes(user: Any, size: int) -> None:
    """Raises HobrixError for a file beyond what is allowed."""
    kept = bytes_of(user)
    if kept + size > settings.MOST_BYTES:
        raise HobrixError(
            f"The files you brought in take {kept / 1e9:,.1f} GB; one person may keep "
            f"{settings.MOST_BYTES / 1e9:,.1f} GB here. Delete some, or ask whoever runs Hobrix here for "
            "more."
        )


def bytes_of(user: Any) -> int:
    """Bytes of the files somebody brought in that are still kept."""
    files = DataSet.objects.filter(imported_by=user).exclude(file="")
    return int(files.aggregate(total=Sum("size"))["total"] or 0)
