"""Places that the operator named: a folder of Parquet files, or a database file. Nothing outside them is
ever read, whatever somebody types."""

import hashlib
from dataclasses import dataclass
from pathlib import Path

from hobrix.core.errors import HobrixError

PARQUET = ".parquet"
DATABASES = (".duckdb", ".ddb")
# The table of all files that lie directly in a place.
ALL_FILES = "all files"


class PlaceError(HobrixError):
    """A place or what should be in it cannot be read now, in words."""


@dataclass(frozen=True)
class Place:
    """A name for people, and a folder or database file by its full path."""

    name: str
    where: Path

    @property
    def is_database(self) -> bool:
        return self.where.suffix.lower() in DATABASES

    def check(self) -> None:
        """
        Raises:
            PlaceError: there is nothing there that can be read.
        """
        try:
            there = self.where.is_file() if self.is_database else self.where.is_dir()
        except OSError:
            there = False
        if not there:
            what = "database file" if self.is_database else "folder"
            raise PlaceError(
                f"The place “{self.name}” cannot be reached now: its {what} is not there. Nothing is lost; "
                "questions answer again once it is back."
            )

    def files(self, table: str) -> list[Path]:
        """The Parquet files of a table, by name; a database is one file.

        Raises:
            PlaceError: there is no such table here any more, or the place is away.
        """
        self.check()
        if self.is_database:
            return [self.where]
        found = self._tables().get(table)
        if not found:
            raise PlaceError(f"There is no table “{table}” in the place “{self.name}” any more.")
        return found

    def folder_tables(self) -> list[str]:
        """Tables of a folder: each file directly in it, all of those together, and each folder that has
        Parquet files somewhere below.

        Raises:
            PlaceError: the place is away.
        """
        self.check()
        return list(self._tables())

    def _tables(self) -> dict[str, list[Path]]:
        directly = sorted(filter(_is_file, self.where.iterdir()))
        found = {ALL_FILES: directly} if len(directly) > 1 else {}
        found |= {path.name: [path] for path in directly}
        for folder in sorted(p for p in self.where.iterdir() if p.is_dir() and not p.is_symlink()):
            files = sorted(filter(_is_file, folder.rglob("*")))
            if files:
                found[folder.name] = files
        return found

    def mark(self, table: str) -> str:
        """Changes when the files of a table do: their names, sizes and times of change.

        Raises:
            PlaceError: the table or the place is gone.
        """
        told = []
        for path in self.files(table):
            try:
                state = path.stat()
            except OSError:
                raise PlaceError(
                    f"A file of “{table}” went away while it was being looked at: {path.name}."
                ) from None
            told.append(f"{path.name}|{state.st_size}|{state.st_mtime_ns}")
        return hashlib.sha256("\n".join(told).encode()).hexdigest()


def _is_file(path: Path) -> bool:
    """A Parquet file that lies here; links may lead out."""
    return path.suffix.lower() == PARQUET and not path.is_symlink() and path.is_file()
