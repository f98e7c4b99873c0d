"""Bringing a file into a study: read it, propose a codebook, store its columns."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import PurePath
from typing import Any
from uuid import UUID, uuid4

from django.core.files.base import File
from django.db import transaction

from hobrix.core.data import (
    Look,
    Proposal,
    Source,
    counts_candidate,
    missing_in_many,
    propose,
    total_row,
)
from hobrix.core.formats import (
    Codebook,
    DelimitedOptions,
    Describes,
    FileRead,
    ReadOptions,
    Table,
    WorkbookOptions,
    variables_of,
)
from hobrix.core.questions.wording import first_of
from hobrix.web.studies.blobs import pack_all
from hobrix.web.studies.models import Blob, CodebookEntry, DataSet, Study
from hobrix.web.studies.reading_apart import read_outside

TellDoing = Callable[[float, str], None]


def quiet(_progress: float, _doing: str) -> None:
    """For imports nobody watches."""


@dataclass(frozen=True)
class FileUnderstood:
    """A file read and packed, ready to be kept; nothing of it is stored yet."""

    fields: dict[str, Any]
    columns: list["PackedColumn"]


@dataclass(frozen=True)
class PackedColumn:
    proposal: Proposal
    data: bytes
    sha256: str


def import_file(
    study: Study,
    user: Any,
    file: File,
    codebook: Codebook | None = None,
    dataset_id: UUID | None = None,
    tell: TellDoing = quiet,
) -> DataSet:
    """Read a file and keep it as a draft data set of the study.

    ``tell`` hears how far it is (0 to 1, and in words) and may raise to stop it.

    Raises:
        FormatError: the file cannot be read; nothing is kept then.
    """
    understood = understand(file, described_by=codebook, tell=tell)
    with transaction.atomic():
        return keep(study, user, file, understood, dataset_id)


def understand(
    file: File,
    options: ReadOptions | None = None,
    described_by: Describes | None = None,
    tell: TellDoing = quiet,
) -> FileUnderstood:
    """Read a file, propose its codebook and pack its columns, without storing anything.

    Raises:
        FormatError: the file cannot be read.
    """
    name = PurePath(file.name or "data.csv").name
    tell(0.0, "Reading the file")
    data = file.read()
    fields: dict[str, Any] = {
        "file_name": name[:255],
        "size": len(data),
        "sha256": hashlib.sha256(data).hexdigest(),
    }
    tell(0.05, "Reading its cells")
    read = read_outside(name, data, options, lambda: tell(0.05, "Reading its cells"))
    del data
    tell(0.6, "Understanding its variables")
    codebook = described_by.describing(read.table) if described_by else read.codebook
    if codebook is not None:
        fields |= {"noun_one": codebook.noun.one, "noun_many": codebook.noun.many}
    proposed = _proposed(read.table, codebook)
    fields |= _as_read(read)
    if (total := total_row(read.table.columns, read.table.rows)) is not None:
        fields["remarks"].append(total)
    fields["remarks"] += missing_in_many(proposal for proposal, _ in proposed)
    many = len(proposed)
    packed = pack_all(
        [source for _, source in proposed],
        lambda done: tell(0.7 + 0.25 * done / many, f"Packing {done + 1} of {many} variables"),
    )
    columns = [
        PackedColumn(proposal, *each) for (proposal, _), each in zip(proposed, packed, strict=True)
    ]
    tell(0.95, "Keeping it")
    return FileUnderstood(fields, columns)


def keep(
    study: Study,
    user: Any,
    file: File,
    understood: FileUnderstood,
    dataset_id: UUID | None = None,
    **fields: Any,
) -> DataSet:
    """Store a file that was understood as a data set; call it inside a transaction."""
    dataset = DataSet(
        id=dataset_id or uuid4(),
        study=study,
        imported_by=user,
        **{
            "name": PurePath(understood.fields["file_name"]).stem[:200],
            "counted_by": {"kind": "each"},
            **understood.fields,
            **fields,
        },
    )
    file.seek(0)
    dataset.file.save(dataset.sha256[:16], file, save=False)
    dataset.save(force_insert=True)
    store(dataset, understood.columns)
    return dataset


def reread(dataset: DataSet, options: ReadOptions, described_by: Describes | None = None) -> None:
    """Read the file of a draft again in another way; its codebook starts afresh."""
    with dataset.file.open("rb") as stored:
        understood = understand(File(stored, name=dataset.file_name), options, described_by)
    for field, value in understood.fields.items():
        setattr(dataset, field, value)
    dataset.version += 1
    with transaction.atomic():
        dataset.entries.all().delete()
        dataset.steps.all().delete()
        dataset.save()
        store(dataset, understood.columns)


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
    described = {variable.name: variable for variable in codebook.variables}
    proposed = []
    for variable in variables_of(table, codebook):
        source = table.columns[variable.name]
        proposal = propose(variable.name, source)
        if variable.name in described:
            listed = len(described[variable.name].categories)
            more = [category.value for category in variable.categories[listed:]] if listed else []
            text = f"Not listed in the codebook: {first_of(more, 5)}."
            look = Look(text=text, values=tuple(more), asks="is_answer")
            proposal = Proposal(variable, "as the codebook says", (look,) if more else ())
        proposed.append((proposal, source))
    return proposed


def store(dataset: DataSet, columns: list[PackedColumn]) -> None:
    """Keep columns as the variables of a data set; call it inside a transaction."""
    entries = CodebookEntry.objects.bulk_create(
        CodebookEntry(
            dataset=dataset,
            position=position,
            name=column.proposal.variable.name,
            variable=column.proposal.variable.model_dump(mode="json"),
            reason=column.proposal.reason,
            to_look_at=[look.model_dump() for look in column.proposal.to_look_at],
        )
        for position, column in enumerate(columns)
    )
    for entry, column in zip(entries, columns, strict=True):
        Blob.objects.create(entry=entry, sha256=column.sha256, data=column.data)
