"""Reading any file by what its name says it is, and writing to any format."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path, PurePath
from typing import Literal

from hobrix.core.errors import FormatError
from hobrix.core.formats.codebook import Codebook, read_codebook
from hobrix.core.formats.damage import readable
from hobrix.core.formats.ddi import read_ddi, write_ddi
from hobrix.core.formats.delimited import DelimitedOptions, read_delimited, write_delimited
from hobrix.core.formats.dictionary import Dictionary, Part
from hobrix.core.formats.package import DESCRIPTOR, read_descriptor, read_package, write_package
from hobrix.core.formats.parquet import parquet_codebook, read_parquet, write_parquet
from hobrix.core.formats.table import Table
from hobrix.core.formats.workbook import WorkbookOptions, read_workbook
from hobrix.core.formats.workbook_out import CODEBOOK_SHEET, write_workbook

DELIMITED = (".csv", ".tsv", ".tab", ".txt")
WORKBOOKS = (".xlsx", ".xlsm", ".ods")
READABLE = (*DELIMITED, *WORKBOOKS, ".parquet", ".zip")
WRITABLE = ("csv", "xlsx", "parquet", "zip", "xml")
Written = Literal["csv", "xlsx", "parquet", "zip", "xml"]


@dataclass(frozen=True)
class ReadOptions:
    """How a file is to be read, as far as its kind leaves a choice; None is detected."""

    delimited: DelimitedOptions = field(default_factory=DelimitedOptions)
    workbook: WorkbookOptions = field(default_factory=WorkbookOptions)


@dataclass(frozen=True)
class FileRead:
    """A table, the codebook that came with it (if any), how it was read, the sheets to choose."""

    table: Table
    codebook: Codebook | None = None
    used: ReadOptions = field(default_factory=ReadOptions)
    sheets: tuple[str, ...] = ()


def read_file(name: str, data: bytes, options: ReadOptions | None = None) -> FileRead:
    """Read a file by the ending of its name; raises FormatError."""
    options = options or ReadOptions()
    ending = PurePath(name).suffix.lower()
    if ending in DELIMITED:
        table, delimited = read_delimited(data, options.delimited)
        return FileRead(table, used=ReadOptions(delimited=delimited))
    if ending in WORKBOOKS:
        with readable("a workbook that can be read"):
            read = read_workbook(data, options.workbook)
        sheets = tuple(sheet for sheet in read.sheets if sheet != CODEBOOK_SHEET)
        used = ReadOptions(workbook=read.used)
        return FileRead(read.table, read.codebook, used, sheets)
    if ending == ".parquet":
        with readable("a Parquet file"):
            return FileRead(read_parquet(data), parquet_codebook(data))
    if ending == ".zip":
        with readable("a Data Package"):
            table, codebook = read_package(data)
        return FileRead(table, codebook)
    kinds = ", ".join(READABLE)
    raise FormatError(f"“{PurePath(name).name}” is not a file Hobrix can read. It reads {kinds}.")


def read_path(path: Path) -> FileRead:
    """Read a file from disk, a Data Package also as its folder or its descriptor."""
    if path.is_dir():
        path = path / DESCRIPTOR
    if path.name != DESCRIPTOR:
        return read_file(path.name, path.read_bytes())
    table, codebook = read_descriptor(
        path.read_bytes(), lambda inside: (path.parent / inside).read_bytes()
    )
    return FileRead(table, codebook)


def read_any_codebook(
    name: str, data: bytes, told: Mapping[tuple[str, str], Part | None] | None = None
) -> Codebook | Dictionary:
    """A codebook file: DDI-Codebook XML, JSON, a workbook that Hobrix wrote, or a data dictionary in a
    table, of which ``told`` may say what its columns are."""
    ending = PurePath(name).suffix.lower()
    if ending in DELIMITED:
        return Dictionary.of({"": read_delimited(data)[0]}, told)
    if ending in WORKBOOKS:
        with readable("a workbook that can be read"):
            first = read_workbook(data)
        return first.codebook or Dictionary.of(_sheets(data, first.sheets), told)
    return read_ddi(data) if ending == ".xml" else read_codebook(data)


def _sheets(data: bytes, names: Sequence[str]) -> dict[str, Table]:
    """All sheets that hold a table."""
    found = {}
    for name in names:
        try:
            with readable("a workbook that can be read"):
                found[name] = read_workbook(data, WorkbookOptions(sheet=name)).table
        except FormatError:
            continue
    return found


def write_file(kind: Written, table: Table, codebook: Codebook, name: str) -> bytes:
    """The data (or, as xml, the codebook) in an open format; raises FormatError."""
    match kind:
        case "csv":
            return write_delimited(table)
        case "xlsx":
            return write_workbook(table, codebook)
        case "parquet":
            return write_parquet(table, codebook)
        case "zip":
            return write_package(table, codebook, name)
        case "xml":
            return write_ddi(codebook, name)
