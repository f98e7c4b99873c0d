"""The log of a study: who did what."""

from datetime import timedelta
from typing import Any
from uuid import UUID

from django.utils import timezone

from hobrix.web.people.models import Happening

# Who does the same again and again (typing in a report) is written down once in this time.
AGAIN = timedelta(minutes=10)
_LONGEST = 400


def write_down(study_id: UUID, user: Any, words: str) -> None:
    """Somebody did this, now."""
    who, words = user.get_username(), words[:_LONGEST]
    last = Happening.objects.filter(study_id=study_id, who=who).first()
    if last is not None and last.words == words and timezone.now() - last.at < AGAIN:
        return
    Happening.objects.create(study_id=study_id, who=who, words=words)
