"""A Spark cluster that counts: the same expressions, in its words. Needs ``pip install`` of
``requirements/spark.txt`` and Java; nothing else in Hobrix does.

A session is started when it is first needed and kept. Every query has a name by which it can be ended on the
cluster and a time after which it is: a cluster that dies in the middle would otherwise be waited for without
end.
"""

import socket
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit
from uuid import uuid4

import polars as pl

from hobrix.core.progress import Tell, quietly
from hobrix.linked.asked import Bounds, Column, Field, Holds
from hobrix.linked.expression import sql
from hobrix.linked.place import Place, PlaceError

_LOOK = 0.1  # seconds between looks at how far a query is
_ANSWERS = 3.0  # seconds within which a cluster answers the telephone
_KINDS: dict[str, Holds] = {
    "tinyint": "number", "smallint": "number", "int": "number", "bigint": "number",
    "float": "number", "double": "number", "decimal": "number",
    "string": "text", "boolean": "other", "date": "other", "timestamp": "other",
    "timestamp_ntz": "other",
}  # fmt: skip

_starting = threading.Lock()
_sessions: dict[str, Any] = {}


class Cluster:
    """Tables of a place whose files a cluster reads; they are seen from this machine under the same path."""

    def __init__(self, place: Place, master: str, bounds: Bounds) -> None:
        self.place = place
        self.master = master
        self.bounds = bounds

    def tables(self) -> list[str]:
        """Raises PlaceError as the others."""
        return self.place.folder_tables()

    def columns(self, table: str) -> list[Column]:
        files = self._files(table)
        with self._in_words(table):
            read = self._session().read
            fields, usual = read.parquet(*files).dtypes, read.parquet(files[0]).dtypes
            for file in files[1:]:
                if odd := set(read.parquet(file).dtypes) ^ set(usual):
                    raise PlaceError(
                        f"The files of “{table}” do not have the same columns: {Path(file).name} differs from "
                        f"{Path(files[0]).name} in {min(odd)[0]}."
                    )
        return [Column(name, type_, _KINDS.get(type_.split("(")[0])) for name, type_ in fields]

    def rows(self, table: str) -> int:
        files = self._files(table)

        def count(session: Any) -> int:
            return int(session.read.parquet(*files).count())

        with self._in_words(table):
            found: int = self._watched(count, quietly)
        return found

    def ask(
        self, table: str, fields: Sequence[Field], expression: Any, tell: Tell = quietly
    ) -> pl.DataFrame:
        """What an expression gives; as the embedded engine's."""
        words, files = sql(expression, "pyspark"), self._files(table)

        def found(session: Any) -> pl.DataFrame:
            # A session of its own, so that the view of another query does not take the place of this one's.
            own = session.newSession()
            own.read.parquet(*files).selectExpr(*_as_fields(fields)).createOrReplaceTempView("data")
            return pl.DataFrame(pl.from_arrow(own.sql(words).toArrow()))

        with self._in_words(table):
            table_: pl.DataFrame = self._watched(found, tell)
        return table_

    def page(self, table: str, fields: Sequence[Field], offset: int, limit: int) -> pl.DataFrame:
        """Rows as they stand; a cluster promises no order beyond that of the files."""
        files = self._files(table)

        def found(session: Any) -> pl.DataFrame:
            rows = session.read.parquet(*files).selectExpr(*_as_fields(fields))
            return pl.DataFrame(pl.from_arrow(rows.offset(offset).limit(limit).toArrow()))

        with self._in_words(table):
            table_: pl.DataFrame = self._watched(found, quietly)
        return table_

    def _files(self, table: str) -> list[str]:
        return [str(path) for path in self.place.files(table)]

    def _session(self) -> Any:
        """
        Raises:
            PlaceError: the cluster does not answer, or what is needed to ask it is not installed.
        """
        self._call()
        with _starting:
            if self.master not in _sessions:
                _sessions[self.master] = _started(self.master, self.bounds)
            return _sessions[self.master]

    def _call(self) -> None:
        parts = urlsplit(self.master)
        if parts.scheme != "spark":
            return
        try:
            with socket.create_connection((parts.hostname or "", parts.port or 7077), _ANSWERS):
                pass
        except OSError:
            raise PlaceError(
                f"The cluster behind the place “{self.place.name}” does not answer now. Nothing is lost; "
                "questions answer again once it is back."
            ) from None

    def _watched(self, work: Any, tell: Tell) -> Any:
        """The result of work on the session, ended on the cluster when ``tell`` raises or the time is up."""
        session = self._session()
        context, name = session.sparkContext, uuid4().hex
        found: dict[str, Any] = {}

        def run() -> None:
            try:
                context.setJobGroup(name, "Hobrix", True)
                found["result"] = work(session)
            except BaseException as error:  # told to whoever waits
                found["error"] = error

        thread = threading.Thread(target=run, daemon=True)
        thread.start()
        end = time.monotonic() + self.bounds.seconds
        try:
            while thread.is_alive():
                thread.join(_LOOK)
                tell(_share(context, name))
                if time.monotonic() > end:
                    raise PlaceError(
                        f"This took more than {self.bounds.seconds / 60:.0f} minutes, and was stopped. Perhaps "
                        "the cluster went away."
                    )
        except BaseException:
            context.cancelJobGroup(name)
            thread.join(5)
            raise
        if "error" in found:
            raise found["error"]
        return found["result"]

    @contextmanager
    def _in_words(self, table: str) -> Iterator[None]:
        what = f"“{table}” in the place “{self.place.name}”"
        try:
            yield
        except (PlaceError, KeyboardInterrupt):
            raise
        except Exception as error:
            if not type(error).__module__.startswith(("pyspark", "py4j")):
                raise
            _forget(self.master)
            self.place.check()
            self._call()
            raise PlaceError(
                f"{what} cannot be counted: a file is gone or damaged, a column is not what it was when it was "
                "linked, or the cluster went away. Ask again, or read it again on Data."
            ) from None


def _as_fields(fields: Sequence[Field]) -> list[str]:
    kinds = {"number": "double", "text": "string", "other": "string"}
    return [
        f"cast(`{field.name.replace('`', '``')}` as {kinds[field.holds]}) as c{i}"
        for i, field in enumerate(fields)
    ]


def _share(context: Any, name: str) -> float:
    """How many of the tasks of a query are done, from 0 to 1."""
    tracker = context.statusTracker()
    done = many = 0
    for job in tracker.getJobIdsForGroup(name):
        told = tracker.getJobInfo(job)
        for stage in told.stageIds if told else ():
            known = tracker.getStageInfo(stage)
            if known:
                done, many = done + known.numCompletedTasks, many + known.numTasks
    return done / many if many else 0.0


def _started(master: str, bounds: Bounds) -> Any:
    try:
        import ibis

        _ = ibis.pyspark  # its dialect is known once it is touched
        from pyspark.sql import SparkSession
    except ImportError:
        raise PlaceError(
            "What is needed to ask a cluster is not installed here: requirements/spark.txt, and Java."
        ) from None
    settings = {
        "spark.driver.host": "127.0.0.1" if "local" in master or "127.0.0.1" in master else None,
        "spark.ui.enabled": "false",
        "spark.ui.showConsoleProgress": "false",
        "spark.sql.session.timeZone": "UTC",
        # Shorter pieces of the files, so that it can be told how far a query is.
        "spark.sql.files.maxPartitionBytes": "32m",
        "spark.driver.memory": f"{max(512, bounds.memory // 2_000_000)}m",
    }
    builder = SparkSession.builder.master(master).appName("Hobrix")
    for key, value in settings.items():
        if value is not None:
            builder = builder.config(key, value)
    try:
        session = builder.getOrCreate()
    except Exception:
        raise PlaceError("The cluster does not take questions now. Ask again later.") from None
    session.sparkContext.setLogLevel("OFF")
    return session


def _forget(master: str) -> None:
    """A session whose cluster is gone is of no use any more."""
    with _starting:
        session = _sessions.get(master)
        stopped = session is not None and session.sparkContext._jsc.sc().isStopped()
        if stopped:
            _sessions.pop(master, None)
