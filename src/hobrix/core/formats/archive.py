"""Opening zip archives from outside: nothing that grows beyond bounds, nothing that climbs out."""

import io
import zipfile

from hobrix.core.errors import FormatError
from hobrix.core.formats.damage import readable

MAX_UNPACKED = 2 * 1024**3
MAX_RATIO = 300
MAX_MEMBERS = 10_000


def open_archive(data: bytes, what: str) -> zipfile.ZipFile:
    """A zip archive that is safe to read.

    Raises:
        FormatError: it is no zip archive, is damaged or encrypted, unpacks to more than 2 GB or
            by more than 300 times, or holds paths that leave it.
    """
    with readable(what):
        archive = zipfile.ZipFile(io.BytesIO(data))
        members = archive.infolist()
    if any(member.flag_bits & 1 for member in members):
        raise FormatError(f"This is {what} with a password. Save it without one.")
    unpacked = sum(member.file_size for member in members)
    if len(members) > MAX_MEMBERS or unpacked > MAX_UNPACKED or unpacked > MAX_RATIO * len(data):
        raise FormatError(
            f"This file unpacks to {unpacked / 2**20:,.0f} MB from {len(data) / 2**20:,.1f} MB, "
            "which no honest table does. It was not opened."
        )
    for member in members:
        refuse_path(member.filename)
    return archive


def refuse_path(path: str) -> None:
    """Raise FormatError for a path that is absolute, climbs out, or is an address."""
    parts = path.replace("\\", "/").split("/")
    if path.startswith(("/", "\\", "~")) or ".." in parts or ":" in path:
        raise FormatError(f"The path “{path[:80]}” leads out of the file. It was not opened.")
