"""Changing one codebook entry, on the version the person saw."""

from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import F
from django.http import Http404

from hobrix.core.data import Variable
from hobrix.core.data.column import Coded, as_coded, as_number
from hobrix.core.data.variable import Category
from hobrix.core.errors import CodebookError
from hobrix.web.studies.frames import source_of
from hobrix.web.studies.models import CodebookEntry, DataSet

MANY = 1000


@dataclass(frozen=True)
class Changed:
    """The entry as it stands now, and whether the change was made (not, when it was stale)."""

    entry: CodebookEntry
    was_made: bool


def change_entry(dataset: DataSet, name: str, version: int, changes: dict[str, Any]) -> Changed:
    """Change a variable and raise the data set's version with it.

    Raises:
        Http404: no such variable.
        CodebookError: the entry would contradict itself or name values the file does not hold.
    """
    entry = dataset.entries.filter(name=name).first()
    if entry is None:
        raise Http404("There is no such variable.")
    if entry.version != version:
        return Changed(entry, was_made=False)
    # Validated as a whole: a change of one field may contradict another.
    variable = Variable.model_validate({**entry.variable, **_settled(entry, changes)})
    variable = _with_all_values(dataset, variable)
    with transaction.atomic():
        made = CodebookEntry.objects.filter(pk=entry.pk, version=version).update(
            variable=variable.model_dump(mode="json"), version=F("version") + 1
        )
        if made:
            DataSet.objects.filter(pk=dataset.pk).update(version=F("version") + 1)
    entry.refresh_from_db()
    return Changed(entry, was_made=bool(made))


def _settled(entry: CodebookEntry, changes: dict[str, Any]) -> dict[str, Any]:
    """Let event and reference follow when the categories they name go away."""
    settled = dict(changes)
    missing = {code["value"] for code in changes.get("missing", entry.variable["missing"])}
    if "missing" in changes and "categories" not in changes:
        kept = [c for c in entry.variable["categories"] if c["value"] not in missing]
        settled["categories"] = kept
    if "categories" in settled:
        values = {category["value"] for category in settled["categories"]}
        settled.setdefault("event", [v for v in entry.variable["event"] if v in values])
        if entry.variable["reference"] not in values:
            settled.setdefault("reference", None)
    return settled


def _with_all_values(dataset: DataSet, variable: Variable) -> Variable:
    """Every value of the file is an answer or a missing code: add those that are neither."""
    if not variable.is_categorical:
        return variable
    source = source_of(dataset, variable.name)
    values = (source if isinstance(source, Coded) else as_coded(source)).values
    if len(values) > MANY:
        raise CodebookError(
            f"{variable.title} has {len(values):,} different values, too many for categories.",
            variable=variable.name,
            field="kind",
        )
    listed = {c.value for c in variable.categories} | {m.value for m in variable.missing}
    extra = [value for value in values if value not in listed]
    if all(as_number(value) is not None for value in extra):
        extra.sort(key=float)
    added = tuple(Category(value=value, label=value) for value in extra)
    return variable.model_copy(update={"categories": variable.categories + added})
