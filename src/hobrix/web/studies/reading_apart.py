"""Files from outside are read in a process of their own, within limits of memory and time."""

import json
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path, PurePath

from django.conf import settings

from hobrix.core.errors import FormatError
from hobrix.core.formats import FileRead, ReadOptions, read_file
from hobrix.core.formats.apart import read_back
from hobrix.core.formats.reading import DELIMITED

_LOOK = 0.1  # seconds between two looks at the reader
_TELL = 0.5


def read_outside(
    name: str, data: bytes, options: ReadOptions | None, tell: Callable[[], None]
) -> FileRead:
    """What a file holds. Text is read here, whose reading is ours; all else apart. ``tell`` is called
    again and again and may raise to end it.

    Raises:
        FormatError: it cannot be read, or takes more memory or time than any file may.
    """
    if not settings.READ_APART or PurePath(name).suffix.lower() in DELIMITED:
        return read_file(name, data, options)
    with tempfile.TemporaryDirectory(prefix="hobrix-read-") as folder:
        given, out = Path(folder) / "given", Path(folder) / "out"
        given.write_bytes(data)
        told = json.dumps(asdict(options or ReadOptions()))
        command = [sys.executable, "-m", "hobrix.core.formats.apart", name, told]
        reader = subprocess.Popen(
            [*command, str(given), str(out)], stdin=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        try:
            _watch(reader, tell)
        finally:
            reader.kill()
            reader.wait()
        if not out.exists():
            raise FormatError("This file could not be read: whatever reads it broke off.")
        return read_back(out.read_bytes())


def _watch(reader: subprocess.Popen[bytes], tell: Callable[[], None]) -> None:
    """Until it is done; one that takes too much is ended."""
    began = told = time.monotonic()
    while reader.poll() is None:
        now = time.monotonic()
        if now - began > settings.READ_SECONDS:
            raise FormatError(
                f"Reading this file takes longer than {settings.READ_SECONDS} seconds, so it was given "
                "up. Save it as text (.csv) or as Parquet."
            )
        if _memory(reader.pid) > settings.READ_MEMORY:
            raise FormatError(
                "Reading this file takes more memory than one file may, so it was given up. Save it as "
                "text (.csv), or take out what is not needed."
            )
        if now - told > _TELL:
            told = now
            tell()
        time.sleep(_LOOK if now - began > 1 else _LOOK / 5)


def _memory(process: int) -> int:
    """Bytes a process holds; 0 once it is gone."""
    try:
        fields = Path(f"/proc/{process}/statm").read_text().split()
    except OSError:
        return 0
    return int(fields[1]) * 4096
