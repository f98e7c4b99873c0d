"""Readers and writers of files. Readers give a Table of source columns."""

from hobrix.core.formats.codebook import (
    Codebook,
    Describes,
    Noun,
    frame_of,
    read_codebook,
    variables_of,
)
from hobrix.core.formats.delimited import DelimitedOptions, read_delimited
from hobrix.core.formats.dictionary import Dictionary, DictionaryColumn, Part
from hobrix.core.formats.reading import (
    READABLE,
    FileRead,
    ReadOptions,
    Written,
    read_any_codebook,
    read_file,
    read_path,
    write_file,
)
from hobrix.core.formats.table import Table
from hobrix.core.formats.workbook import WorkbookOptions

__all__ = [
    "READABLE",
    "Codebook",
    "DelimitedOptions",
    "Describes",
    "Dictionary",
    "DictionaryColumn",
    "FileRead",
    "Noun",
    "Part",
    "ReadOptions",
    "Table",
    "WorkbookOptions",
    "Written",
    "frame_of",
    "read_any_codebook",
    "read_codebook",
    "read_delimited",
    "read_file",
    "read_path",
    "variables_of",
    "write_file",
]
