"""What is kept of a report: its blocks one by one, each with its version."""

import uuid

from django.conf import settings
from django.db import models

from hobrix.web.studies.models import Removable, Study


class Report(Removable):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="reports")
    title = models.CharField(max_length=300, default="", blank=True)
    # A core NumberStyle as JSON.
    style = models.JSONField(default=dict, blank=True)
    version = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["created_at"]

    def __str__(self) -> str:
        return self.title or str(self.id)


class ReportBlock(models.Model):
    """A paragraph, heading, list, table … of a report. Removed ones stay, so that taking the removal
    back is the same block again."""

    report = models.ForeignKey(Report, on_delete=models.CASCADE, related_name="blocks")
    # Named by the browser that made it.
    name = models.CharField(max_length=64)
    position = models.FloatField()
    # A core Block as JSON.
    block = models.JSONField()
    # What its numbers were when somebody last looked, by live number ("" for a table or picture).
    seen = models.JSONField(default=dict, blank=True)
    version = models.PositiveIntegerField(default=1)
    is_removed = models.BooleanField(default=False)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["report", "name"], name="one_block_per_name")
        ]

    def __str__(self) -> str:
        return f"{self.name} of {self.report}"
