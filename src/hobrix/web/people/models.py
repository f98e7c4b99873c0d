"""What is kept of people beside their accounts."""

import uuid

from django.conf import settings
from django.db import models

from hobrix.web.studies.models import Role, Study


class Invitation(models.Model):
    """A link that lets one person into a study, once. Only the hash of its secret is kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=Role.choices)
    secret = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    ends_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-made_at"]

    def __str__(self) -> str:
        return f"an invitation to {self.study}"


class SignIn(models.Model):
    """Where somebody is signed in: a session, from which browser, and when it was last used."""

    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sign_ins"
    )
    session = models.CharField(max_length=40, unique=True)
    browser = models.CharField(max_length=200, default="", blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-seen_at"]

    def __str__(self) -> str:
        return f"{self.user} in {self.browser}"


class Happening(models.Model):
    """Somebody did something in a study. Written once: the database refuses changes, and nothing deletes
    it but the purge of its study."""

    study = models.ForeignKey(
        Study, on_delete=models.DO_NOTHING, db_constraint=False, related_name="happenings"
    )
    at = models.DateTimeField(auto_now_add=True)
    # A name, which outlives the account.
    who = models.CharField(max_length=150)
    words = models.CharField(max_length=400)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["study", "-id"], name="newest_of_a_study")]

    def __str__(self) -> str:
        return f"{self.who} {self.words}"
