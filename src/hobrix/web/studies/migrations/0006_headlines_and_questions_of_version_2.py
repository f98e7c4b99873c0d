"""Keeps headlines with their questions, and brings stored questions to version 2."""

import hashlib
from typing import Any

from django.db import migrations, models


def to_version_2(apps: Any, _schema_editor: Any) -> None:
    saved_question = apps.get_model("studies", "SavedQuestion")
    if not saved_question.objects.exists():
        return
    # Here, or whoever looks which migrations there are would load all statistics.
    from pydantic import ValidationError

    from hobrix.core.questions import Question

    for saved in saved_question.objects.all().iterator():
        try:
            question = Question.model_validate(saved.question)
        except ValidationError:
            continue  # it was unreadable before and stays as it is
        text = question.model_dump_json(by_alias=True)
        saved.question = question.model_dump(mode="json", by_alias=True)
        saved.fingerprint = hashlib.sha256(text.encode()).hexdigest()
        saved.save(update_fields=["question", "fingerprint"])


class Migration(migrations.Migration):
    dependencies = [("studies", "0005_replacing")]

    operations = [
        migrations.AddField(
            "savedquestion", "fingerprint", models.CharField(blank=True, default="", max_length=64)
        ),
        migrations.AddField("savedquestion", "headline", models.TextField(blank=True, default="")),
        migrations.AddField(
            "savedquestion", "answered_for", models.CharField(blank=True, default="", max_length=60)
        ),
        migrations.RunPython(to_version_2, migrations.RunPython.noop),
    ]
