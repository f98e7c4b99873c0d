"""Readers of files that come from outside. All give a Table of source columns."""

from hobrix.core.formats.codebook import Codebook, Noun, frame_of, read_codebook, variables_of
from hobrix.core.formats.delimited import DelimitedOptions, read_delimited
from hobrix.core.formats.table import Table

__all__ = [
    "Codebook",
    "DelimitedOptions",
    "Noun",
    "Table",
    "frame_of",
    "read_codebook",
    "read_delimited",
    "variables_of",
]
