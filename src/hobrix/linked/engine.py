"""What counts where data are: each kind of place has an engine, and all have the same methods."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any, Protocol
from urllib.parse import parse_qs, urlsplit

import polars as pl

from hobrix.core.progress import Tell, quietly
from hobrix.linked.asked import Bounds, Column, Field
from hobrix.linked.place import Place, PlaceError

CLUSTERS = ("spark", "local-cluster")


class Engine(Protocol):
    """Tables of one place; every method raises PlaceError with words for people."""

    place: Place

    def tables(self) -> list[str]: ...

    def columns(self, table: str) -> list[Column]: ...

    def rows(self, table: str) -> int: ...

    def ask(
        self, table: str, fields: Sequence[Field], expression: Any, tell: Tell = quietly
    ) -> pl.DataFrame: ...

    def page(
        self, table: str, fields: Sequence[Field], offset: int, limit: int
    ) -> pl.DataFrame: ...


def engine_for(name: str, where: str, bounds: Bounds) -> Engine:
    """The engine of a place: ``where`` is a folder, a database file, or the address of a cluster with the folder
    it reads, such as ``spark://host:7077?folder=/data/registers``.

    Raises:
        PlaceError: a cluster without a folder.
    """
    # Engines take half a second to load, which only they wait for who ask one.
    from hobrix.linked.cluster import Cluster
    from hobrix.linked.embedded import Embedded

    if not where.startswith(CLUSTERS):
        return Embedded(Place(name, Path(where)), bounds)
    master, _, query = where.partition("?")
    folder = parse_qs(query).get("folder", [""])[0]
    if not folder or (where.startswith("spark") and not urlsplit(master).hostname):
        raise PlaceError(
            "A cluster is named with the folder it reads: spark://host:7077?folder=/data/registers."
        )
    return Cluster(Place(name, Path(folder)), master, bounds)
