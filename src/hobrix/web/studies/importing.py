"""Bringing a file into a study: read it, propose a codebook, store its columns."""

import hashlib
from pathlib import PurePath
from typing import Any

from django.core.files.base import File
from django.db import transaction

from hobrix.core.data import Proposal, Source, Variable, counts_candidate, propose
from hobrix.core.formats import (
    Codebook,
    DelimitedOptions,
    FileRead,
    ReadOptions,
    Table,
    WorkbookOptions,
    read_file,
    variables_of,
)
from hobrix.web.studies.blobs import pack
from hobrix.web.studies.models import Blob, CodebookEntry, DataSet, Study


def import_file(study: Study, user: Any, file: File, codebook: Codebook | None = None) -> DataSet:
    """Read a file and keep it as a draft data set of the study.

    Raises:
        FormatError: the file cannot be read; nothing is kept then.
    """
    name = PurePath(file.name or "data.csv").name
    data = file.read()
    read = read_file(name, data)
    codebook = codebook or read.codebook
    columns = _proposed(read.table, codebook)
    file.seek(0)
    dataset = DataSet(
        study=study,
        name=PurePath(name).stem[:200],
        file_name=name[:255],
        size=len(data),
        sha256=hashlib.sha256(data).hexdigest(),
        imported_by=user,
        counted_by={"kind": "each"},
        **_as_read(read),
    )
    if codebook is not None:
        dataset.noun_one, dataset.noun_many = codebook.noun.one, codebook.noun.many
    dataset.file.save(hashlib.sha256(data).hexdigest()[:16], file, save=False)
    with transaction.atomic():
        dataset.save()
        _store(dataset, columns)
    return dataset


def reread(dataset: DataSet, options: ReadOptions, codebook: Codebook | None = None) -> None:
    """Read the file of a draft again in another way; its codebook starts afresh."""
    with dataset.file.open("rb") as file:
        read = read_file(dataset.file_name, file.read(), options)
    codebook = codebook or read.codebook
    columns = _proposed(read.table, codebook)
    for field, value in _as_read(read).items():
        setattr(dataset, field, value)
    dataset.version += 1
    with transaction.atomic():
        dataset.entries.all().delete()
        dataset.steps.all().delete()
        dataset.save()
        _store(dataset, columns)


def options_of(dataset: DataSet) -> ReadOptions:
    """How the file of a data set was read."""
    return ReadOptions(
        delimited=DelimitedOptions(
            delimiter=dataset.delimiter or None,  # type: ignore[arg-type]
            encoding=dataset.encoding or None,
            decimal_comma=dataset.decimal_comma,
        ),
        workbook=WorkbookOptions(sheet=dataset.sheet or None, header_row=dataset.header_row),
    )


def _as_read(read: FileRead) -> dict[str, Any]:
    delimited, workbook = read.used.delimited, read.used.workbook
    return {
        "rows": read.table.rows,
        "remarks": list(read.table.remarks),
        "delimiter": delimited.delimiter or "",
        "encoding": delimited.encoding or "",
        "decimal_comma": bool(delimited.decimal_comma),
        "sheet": workbook.sheet or "",
        "header_row": workbook.header_row or 1,
        "sheets": list(read.sheets),
        "counts_candidate": counts_candidate(read.table.columns, read.table.rows) or "",
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
