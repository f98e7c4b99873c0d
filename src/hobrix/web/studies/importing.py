"""Bringing a file into a study: read it, propose a codebook, store its columns."""

import hashlib
from pathlib import PurePath
from typing import Any

from django.core.files.base import File
from django.db import transaction

from hobrix.core.data import Proposal, Source, Variable, propose
from hobrix.core.errors import FormatError
from hobrix.core.formats import Codebook, DelimitedOptions, Table, read_delimited, variables_of
from hobrix.web.studies.blobs import pack
from hobrix.web.studies.models import Blob, CodebookEntry, DataSet, Study

READABLE = (".csv", ".tsv", ".tab", ".txt")


def import_file(study: Study, user: Any, file: File, codebook: Codebook | None = None) -> DataSet:
    """Read a file and keep it as a draft data set of the study.

    Raises:
        FormatError: the file cannot be read; nothing is kept then.
    """
    name = PurePath(file.name or "data.csv").name
    if PurePath(name).suffix.lower() not in READABLE:
        raise FormatError(
            f"“{name}” is not a file Hobrix can read yet. It reads text tables: "
            f"{', '.join(READABLE)}."
        )
    data = file.read()
    table, used = read_delimited(data)
    columns = _proposed(table, codebook)
    file.seek(0)
    dataset = DataSet(
        study=study,
        name=PurePath(name).stem[:200],
        file_name=name[:255],
        size=len(data),
        sha256=hashlib.sha256(data).hexdigest(),
        imported_by=user,
        counted_by={"kind": "each"},
        **_as_read(table, used),
    )
    if codebook is not None:
        dataset.noun_one, dataset.noun_many = codebook.noun.one, codebook.noun.many
    dataset.file.save(hashlib.sha256(data).hexdigest()[:16], file, save=False)
    with transaction.atomic():
        dataset.save()
        _store(dataset, columns)
    return dataset


def reread(dataset: DataSet, options: DelimitedOptions) -> None:
    """Read the file of a draft again in another way; its codebook starts afresh."""
    with dataset.file.open("rb") as file:
        table, used = read_delimited(file.read(), options)
    columns = _proposed(table, None)
    for field, value in _as_read(table, used).items():
        setattr(dataset, field, value)
    dataset.version += 1
    with transaction.atomic():
        dataset.entries.all().delete()
        dataset.steps.all().delete()
        dataset.save()
        _store(dataset, columns)


def _as_read(table: Table, used: DelimitedOptions) -> dict[str, Any]:
    return {
        "rows": table.rows,
        "remarks": list(table.remarks),
        "delimiter": used.delimiter,
        "encoding": used.encoding,
        "decimal_comma": used.decimal_comma,
    }


def _proposed(table: Table, codebook: Codebook | None) -> list[tuple[Proposal, Source]]:
    if codebook is None:
        return [(propose(name, source), source) for name, source in table.columns.items()]
    variables: list[Variable] = variables_of(table, codebook)
    return [
        (Proposal(variable=variable, reason="as the codebook says"), table.columns[variable.name])
        for variable in variables
    ]


def _store(dataset: DataSet, columns: list[tuple[Proposal, Source]]) -> None:
    entries = CodebookEntry.objects.bulk_create(
        CodebookEntry(
            dataset=dataset,
            position=position,
            name=proposal.variable.name,
            variable=proposal.variable.model_dump(mode="json"),
            reason=proposal.reason,
            to_look_at=list(proposal.to_look_at),
        )
        for position, (proposal, _) in enumerate(columns)
    )
    for entry, (_, source) in zip(entries, columns, strict=True):
        data, sha256 = pack(source)
        Blob.objects.create(entry=entry, sha256=sha256, data=data)
