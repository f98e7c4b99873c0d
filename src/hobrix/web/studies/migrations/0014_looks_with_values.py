"""What to look at says which values it is about, so that it goes once that is decided."""

import re
from typing import Any

from django.db import migrations

# Sentences as they were kept so far, with what is to be decided of the value in them.
SENTENCES = (
    (r"“(.*)” is counted as an answer\. Is it one\?", "is_answer"),
    (r"“(.*)” stands among words and is counted as an answer\. Is it one\?", "is_answer"),
    (r"(\S+) lies outside the other numbers\. Is it an answer\?", "is_answer"),
    (r"“.*” and “(.*)” differ only in capitals or spaces\.", "is_same"),
)


def look_of(text: str) -> dict[str, Any]:
    for sentence, asks in SENTENCES:
        if found := re.fullmatch(sentence, text):
            return {"text": text, "values": [found[1]], "asks": asks}
    return {"text": text, "values": [], "asks": None}


def with_values(apps: Any, schema_editor: Any) -> None:
    entries = apps.get_model("studies", "CodebookEntry")
    changed = []
    for entry in entries.objects.exclude(to_look_at=[]).only("to_look_at").iterator():
        entry.to_look_at = [look_of(text) for text in entry.to_look_at]
        changed.append(entry)
    entries.objects.bulk_update(changed, ["to_look_at"], batch_size=500)


def as_texts(apps: Any, schema_editor: Any) -> None:
    entries = apps.get_model("studies", "CodebookEntry")
    for entry in entries.objects.exclude(to_look_at=[]).only("to_look_at").iterator():
        entry.to_look_at = [look["text"] for look in entry.to_look_at]
        entry.save(update_fields=["to_look_at"])


class Migration(migrations.Migration):
    dependencies = [("studies", "0013_matched_sets")]

    operations = [migrations.RunPython(with_values, as_texts)]
