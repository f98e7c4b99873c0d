"""What a backup holds: named, with sizes and hashes, so that it can be held against what is there."""

import hashlib
import json
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from importlib.metadata import version
from pathlib import Path

from hobrix.core.errors import HobrixError

NAME = "hobrix-backup.json"
DATABASE = "hobrix.sqlite3"
SOURCES = "sources"
_PIECE = 1024 * 1024


@dataclass(frozen=True)
class Manifest:
    """``files`` are paths within the backup with the SHA-256 of what they hold."""

    made_at: str
    made_by: str
    files: dict[str, str]
    # Files the database names that were gone when it was copied.
    gone: tuple[str, ...] = ()

    @classmethod
    def of(cls, folder: Path, gone: list[str]) -> "Manifest":
        files = sorted(file for file in folder.rglob("*") if file.is_file())
        return cls(
            made_at=datetime.now(UTC).isoformat(timespec="seconds"),
            made_by=f"hobrix {version('hobrix')}",
            files={file.relative_to(folder).as_posix(): sha256_of(file) for file in files},
            gone=tuple(gone),
        )

    def write(self, folder: Path) -> None:
        (folder / NAME).write_text(json.dumps(asdict(self), indent=1))


def read_manifest(folder: Path) -> Manifest:
    """
    Raises:
        HobrixError: this is no backup, or what it holds is not what was put into it.
    """
    try:
        told = json.loads((folder / NAME).read_text())
        found = Manifest(told["made_at"], told["made_by"], dict(told["files"]), tuple(told["gone"]))
    except (OSError, ValueError, KeyError, TypeError):
        raise HobrixError(f"{folder} is no backup of Hobrix: it has no {NAME}.") from None
    for path, sha256 in found.files.items():
        file = folder / path
        if not file.resolve().is_relative_to(folder.resolve()):
            raise HobrixError(f"{folder} names files outside it. It was not used.")
        if not file.is_file():
            raise HobrixError(f"The backup is incomplete: {path} is missing.")
        if sha256_of(file) != sha256:
            raise HobrixError(f"The backup is damaged: {path} is not what was put into it.")
    return found


def sha256_of(file: Path) -> str:
    told = hashlib.sha256()
    with file.open("rb") as opened:
        while piece := opened.read(_PIECE):
            told.update(piece)
    return told.hexdigest()
