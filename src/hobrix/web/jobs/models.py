"""A piece of long work, as its study sees it."""

import uuid

from django.conf import settings
from django.db import models


class JobState(models.TextChoices):
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    STOPPED = "stopped"


class JobKind(models.TextChoices):
    IMPORT = "import"
    REPLACE = "replace"
    MAKE = "make"
    MAKE_AGAIN = "make_again"
    LINK = "link"
    READ_AGAIN = "read_again"


class Job(models.Model):
    """Long work for a study. A data set it makes has the id of the job, so that work taken up
    again after a crash is never done twice."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey("studies.Study", on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=10, choices=JobKind.choices)
    # The file it works on, and the name people gave it.
    file = models.FileField(upload_to="jobs", blank=True)
    file_name = models.CharField(max_length=255)
    # What it makes of which data sets: recipe, sources and name, or the data set to make again.
    work = models.JSONField(default=dict, blank=True)
    # The data set that the file is to replace.
    replaces = models.ForeignKey(
        "studies.DataSet", on_delete=models.CASCADE, null=True, blank=True, related_name="+"
    )
    state = models.CharField(max_length=10, choices=JobState.choices, default=JobState.WAITING)
    # From 0 to 1, and in words.
    progress = models.FloatField(default=0.0)
    doing = models.CharField(max_length=100, default="", blank=True)
    # Why it failed, until somebody has put the message away.
    message = models.TextField(default="", blank=True)
    stop_requested = models.BooleanField(default=False)
    # A running job whose heart has not beaten for a while was killed.
    heartbeat_at = models.DateTimeField(null=True, blank=True)
    attempts = models.PositiveIntegerField(default=0)
    # The queued task that does it.
    task = models.CharField(max_length=64, default="", blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta:
        ordering = ["made_at"]

    def __str__(self) -> str:
        return f"{self.kind} of {self.file_name}: {self.state}"
