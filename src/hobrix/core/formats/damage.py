"""What readers of other people raise at a file that is damaged: said in words."""

import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from xml.parsers import expat

import polars as pl
from python_calamine import CalamineError

from hobrix.core.errors import FormatError

# Beside what they announce: they seek before the beginning, meet compressions they do not know, and panic.
_UNREADABLE = (
    zipfile.BadZipFile,
    zlib.error,
    expat.ExpatError,
    CalamineError,
    pl.exceptions.PolarsError,
    pl.exceptions.PanicException,
    NotImplementedError,
    EOFError,
    OSError,
    ValueError,
)


@contextmanager
def readable(what: str) -> Iterator[None]:
    """Raise FormatError for a file that is not ``what`` (such as "a workbook"), or is damaged."""
    try:
        yield
    except _UNREADABLE as error:
        raise FormatError(f"This is not {what}, or it is damaged.") from error
