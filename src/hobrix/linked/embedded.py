"""The engine that comes with Hobrix: DuckDB, in this process, on files of a place.

Each query has a connection of its own that can reach the place and nothing else, with bounds of memory,
of room on the disk and of time; it is stopped in the engine when whoever asked goes away.
"""

import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import duckdb
import polars as pl

from hobrix.core.progress import Tell, quietly
from hobrix.linked.asked import Bounds, Column, Field, Holds
from hobrix.linked.expression import sql
from hobrix.linked.place import Place, PlaceError

_LOOK = 0.05  # seconds between looks at how far a query is
_NUMBERS = ("TINYINT", "SMALLINT", "INTEGER", "BIGINT", "HUGEINT", "UTINYINT", "USMALLINT", "UINTEGER",
            "UBIGINT", "UHUGEINT", "FLOAT", "DOUBLE", "DECIMAL")  # fmt: skip
_WORDS = ("VARCHAR", "ENUM")
_OTHERS = ("BOOLEAN", "DATE", "TIME", "TIMESTAMP", "UUID", "INTERVAL")


class Embedded:
    """Tables of one place."""

    def __init__(self, place: Place, bounds: Bounds) -> None:
        self.place = place
        self.bounds = bounds

    def tables(self) -> list[str]:
        """What can be linked.

        Raises:
            PlaceError: the place is away or damaged.
        """
        if not self.place.is_database:
            return self.place.folder_tables()
        with self._connected() as opened:
            return list(_tables_of(opened))

    def columns(self, table: str) -> list[Column]:
        """
        Raises:
            PlaceError: there is no such table, or its files do not have the same columns.
        """
        with self._connected() as opened:
            whole = self._whole(opened, table)
            with _in_words(self.place, table):
                found = opened.execute(f"DESCRIBE {whole}").fetchall()
                self._refuse_other_files(opened, table)
        return [Column(name, type_, _holds(type_)) for name, type_, *_ in found]

    def rows(self, table: str) -> int:
        """How many rows a table has."""
        with self._connected() as opened:
            whole = self._whole(opened, table)
            with _in_words(self.place, table):
                found = opened.execute(f"SELECT count(*) FROM ({whole})").fetchone()
        return int(found[0]) if found else 0

    def ask(
        self, table: str, fields: Sequence[Field], expression: Any, tell: Tell = quietly
    ) -> pl.DataFrame:
        """What an expression gives. ``tell`` hears how far it is and may raise, which stops the query in the
        engine.

        Raises:
            PlaceError: the place or a file is away, damaged or changed in kind; out of memory or time.
        """
        words = sql(expression, "duckdb")
        with self._connected() as opened, _in_words(self.place, table):
            opened.execute(f"CREATE TEMP VIEW data AS {self._as_fields(opened, table, fields)}")
            return _watched(opened, words, tell, self.bounds.seconds)

    def page(self, table: str, fields: Sequence[Field], offset: int, limit: int) -> pl.DataFrame:
        """Rows as they stand in the table, in its own order."""
        with self._connected() as opened, _in_words(self.place, table):
            whole = self._as_fields(opened, table, fields)
            words = f"SELECT * FROM ({whole}) LIMIT {int(limit)} OFFSET {int(offset)}"
            return _watched(opened, words, quietly, self.bounds.seconds)

    def _as_fields(self, opened: Any, table: str, fields: Sequence[Field]) -> str:
        """The table with its fields as the expressions want them."""
        kinds = {"number": "DOUBLE", "text": "VARCHAR", "other": "VARCHAR"}
        columns = ", ".join(
            f"CAST({_quoted(field.name)} AS {kinds[field.holds]}) AS c{i}"
            for i, field in enumerate(fields)
        )
        return f"SELECT {columns} FROM ({self._whole(opened, table)})"

    def _whole(self, opened: Any, table: str) -> str:
        if self.place.is_database:
            found = _tables_of(opened)
            if table not in found:
                raise PlaceError(
                    f"There is no table “{table}” in the place “{self.place.name}” any more."
                )
            return f"SELECT * FROM {'.'.join(map(_quoted, found[table]))}"
        files = ", ".join(_text(str(path)) for path in self.place.files(table))
        return f"SELECT * FROM read_parquet([{files}], hive_partitioning = true)"

    def _refuse_other_files(self, opened: Any, table: str) -> None:
        """A file with other columns than the rest is named."""
        if self.place.is_database:
            return
        files = self.place.files(table)
        listed = ", ".join(_text(str(path)) for path in files)
        found = opened.execute(
            f"SELECT file_name, list(name || ' ' || coalesce(type, '') ORDER BY name) "
            f"FROM parquet_schema([{listed}]) WHERE num_children IS NULL GROUP BY 1 ORDER BY 1"
        ).fetchall()
        usual = found[0][1]
        for path, columns in found[1:]:
            if columns != usual:
                extra = [c for c in columns if c not in usual] or [
                    c for c in usual if c not in columns
                ]
                raise PlaceError(
                    f"The files of “{table}” do not have the same columns: {Path(path).name} differs from "
                    f"{Path(found[0][0]).name} in {extra[0].split(' ')[0]}."
                )

    @contextmanager
    def _connected(self) -> Iterator[Any]:
        self.place.check()
        bounds = self.bounds
        config: dict[str, Any] = {
            "threads": bounds.threads,
            "memory_limit": f"{bounds.memory // 1_000_000}MB",
            "max_temp_directory_size": f"{bounds.spill // 1_000_000}MB",
            "autoinstall_known_extensions": "false",
            "autoload_known_extensions": "false",
            "allow_community_extensions": "false",
        }
        if bounds.folder is not None:
            config["temp_directory"] = str(bounds.folder)
        with _in_words(self.place, ""):
            if self.place.is_database:
                opened = duckdb.connect(str(self.place.where), read_only=True, config=config)
            else:
                opened = duckdb.connect(config=config)
        try:
            if not self.place.is_database:
                folder = _text(f"{self.place.where}/")
                opened.execute(f"SET allowed_directories = [{folder}]")
            opened.execute("SET enable_external_access = false")
            opened.execute("SET enable_progress_bar = true")
            opened.execute("SET enable_progress_bar_print = false")
            opened.execute("SET lock_configuration = true")
            yield opened
        finally:
            opened.close()


def _tables_of(opened: Any) -> dict[str, tuple[str, str]]:
    """Tables and views of a database by the name that people see, with schema and name."""
    found = opened.execute(
        "SELECT table_schema, table_name FROM information_schema.tables "
        "WHERE table_catalog = current_database() ORDER BY 1, 2"
    ).fetchall()
    return {
        name if schema == "main" else f"{schema}.{name}": (schema, name) for schema, name in found
    }


def _watched(opened: Any, words: str, tell: Tell, seconds: float) -> pl.DataFrame:
    """The result of a query in a thread of its own, which is interrupted when ``tell`` raises or the time
    is up."""
    found: dict[str, Any] = {}

    def work() -> None:
        try:
            found["table"] = pl.DataFrame(opened.sql(words))
        except BaseException as error:  # told to whoever waits
            found["error"] = error

    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    end = time.monotonic() + seconds
    try:
        while thread.is_alive():
            thread.join(_LOOK)
            tell(max(0.0, float(opened.query_progress())) / 100)
            if time.monotonic() > end:
                raise PlaceError(
                    f"This took more than {seconds / 60:.0f} minutes, and was stopped."
                )
    except BaseException:
        while thread.is_alive():
            opened.interrupt()
            thread.join(_LOOK)
        raise
    if "error" in found:
        raise found["error"]
    table: pl.DataFrame = found["table"]
    return table


@contextmanager
def _in_words(place: Place, table: str) -> Iterator[None]:
    """What the engine says is for people who know it."""
    what = f"“{table}” in the place “{place.name}”" if table else f"The place “{place.name}”"
    try:
        yield
    except duckdb.OutOfMemoryException:
        raise PlaceError(
            f"{what}: counting this takes more memory and room on the disk than it may. Ask about fewer "
            "variables, or about variables with fewer answers."
        ) from None
    except duckdb.PermissionException:
        raise PlaceError(f"{what} points outside its place, which is not read.") from None
    except (duckdb.IOException, duckdb.InvalidInputException):
        place.check()
        raise PlaceError(
            f"{what} cannot be read: a file is gone, damaged, or no longer what it was."
        ) from None
    except duckdb.ConversionException:
        raise PlaceError(
            f"{what} holds something else than it did when it was linked, such as words among numbers. "
            "Read it again on Data."
        ) from None
    except duckdb.Error:
        raise PlaceError(
            f"{what} is not what it was when it was linked: a column is gone or has another type. Read it "
            "again on Data."
        ) from None


def _holds(type_: str) -> Holds | None:
    if "[" in type_:
        return None
    if type_.startswith(_NUMBERS):
        return "number"
    if type_.startswith(_WORDS):
        return "text"
    return "other" if type_.startswith(_OTHERS) else None


def _quoted(name: str) -> str:
    return '"' + name.replace('"', '""') + '"'


def _text(words: str) -> str:
    return "'" + words.replace("'", "''") + "'"
