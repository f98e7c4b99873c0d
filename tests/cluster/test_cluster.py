"""A cluster counts what the embedded engine counts; what dies on it is said or made good."""

import os
import signal
import threading
import time
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from cluster.conftest import LocalCluster
from hobrix.linked.asked import ROWS, SQUARES, SUM, Bands, Bounds, Field, Nearest
from hobrix.linked.cluster import Cluster
from hobrix.linked.embedded import Embedded
from hobrix.linked.engine import engine_for
from hobrix.linked.expression import counted, rounded
from hobrix.linked.patterns import in_order
from hobrix.linked.place import Place, PlaceError

MANY = 400_000


def register(seed: int, rows: int) -> pl.DataFrame:
    """Words with all that words can have in them, numbers that are none, weights, yes and no."""
    random = np.random.default_rng(seed)
    words = ["piped", "o'x", 'say "a"', "tab\there", "back\\slash", "", "NULL", "ď🙂", None]
    return pl.DataFrame(
        {
            "source": [words[i] for i in random.integers(0, len(words), rows)],
            "year": random.integers(2020, 2024, rows),
            "age": np.where(random.random(rows) < 0.1, np.nan, random.integers(0, 90, rows)),
            "income": random.lognormal(6, 1, rows),
            "flooded": random.random(rows) < 0.3,
            "w": np.where(random.random(rows) < 0.1, 0.0, random.uniform(0.1, 4, rows)),
        }
    )


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    found = tmp_path_factory.mktemp("registers")
    (found / "flood").mkdir()
    for i in range(4):
        register(i, MANY // 4).write_parquet(found / "flood" / f"part-{i}.parquet")
    return found


@pytest.fixture
def engines(cluster: LocalCluster, folder: Path) -> tuple[Embedded, Cluster]:
    place = Place("Registers", folder)
    return Embedded(place, Bounds()), Cluster(place, cluster.address, Bounds(seconds=300))


def fields_of(engine: Any) -> list[Field]:
    return [Field(c.name, c.holds) for c in engine.columns("flood") if c.holds]


QUESTIONS: list[tuple[list[str], dict[str, Bands | Nearest], str | None]] = [
    (["source"], {}, None),
    (["source", "year", "flooded"], {}, None),
    (["age", "flooded"], {}, None),
    (
        ["source", "incomes"],
        {"incomes": Bands("income", (200.0, 800.0), ("a", "b", "c"), (9.0,))},
        None,
    ),
    (["income", "flooded"], {"income": Nearest("income", 50.0, (9.0,))}, None),
    (
        ["ages", "year"],
        {"ages": Bands("age", (18.0, 65.0), ("under", "mid", "over"), (7.0, 77.0))},
        "w",
    ),
]


@pytest.mark.parametrize(("names", "bands", "weights"), QUESTIONS)
def test_both_engines_count_the_same(
    engines: tuple[Embedded, Cluster],
    names: list[str],
    bands: dict[str, Bands | Nearest],
    weights: str | None,
) -> None:
    here, there = engines
    fields = fields_of(here)
    assert fields_of(there) == fields
    asked = counted(fields, names, bands, 100_000, weights)
    keys = [*names, *([weights] if weights else [])]
    one, other = (in_order(e.ask("flood", fields, asked), keys).table for e in (here, there))
    columns = [c for c in one.columns if c not in (SUM, SQUARES)]
    assert other.select(columns).rows() == one.select(columns).rows()
    assert int(one[ROWS].sum()) == MANY
    for sums in (SUM, SQUARES) if weights else ():
        np.testing.assert_allclose(
            other[sums].fill_null(np.nan).to_numpy(),
            one[sums].fill_null(np.nan).to_numpy(),
            rtol=1e-11,
        )


@st.composite
def asked(draw: st.DrawFn) -> tuple[list[str], dict[str, Bands | Nearest], str | None]:
    """Any of the variables together, some in bands or rounded, with or without weights."""
    names = draw(
        st.lists(st.sampled_from(["source", "year", "flooded", "age"]), unique=True, min_size=1)
    )
    made: dict[str, Bands | Nearest] = {}
    if draw(st.booleans()):
        cuts = tuple(sorted(draw(st.sets(st.integers(1, 3000), min_size=1, max_size=4))))
        labels = tuple(f"band {i}" for i in range(len(cuts) + 1))
        made["bands"] = Bands("income", tuple(map(float, cuts)), labels, (9.0,))
        names = [*names, "bands"]
    if "age" in names and draw(st.booleans()):
        made["age"] = Nearest("age", draw(st.sampled_from([0.1, 2.5, 10.0])), (7.0, 77.0))
    return names, made, draw(st.sampled_from([None, "w"]))


@settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(what=asked())
def test_both_engines_count_the_same_of_anything(
    engines: tuple[Embedded, Cluster],
    what: tuple[list[str], dict[str, Bands | Nearest], str | None],
) -> None:
    test_both_engines_count_the_same(engines, *what)


def test_rounding_and_rows(engines: tuple[Embedded, Cluster]) -> None:
    here, there = engines
    fields = fields_of(here)
    asked = rounded(fields, "income", 2, 100_000)
    one, other = (in_order(e.ask("flood", fields, asked), ["income"]).table for e in engines)
    np.testing.assert_allclose(one["c0"].to_numpy(), other["c0"].to_numpy(), rtol=1e-12)
    assert one[ROWS].to_list() == other[ROWS].to_list()
    assert there.rows("flood") == here.rows("flood") == MANY
    # A cluster promises no order, so its pages are rows of the table and no more than that.
    every = {tuple(map(str, row)) for row in here.page("flood", fields, 0, MANY).rows()}
    page = there.page("flood", fields, 5, 3).rows()
    assert len(page) == 3
    assert {tuple(map(str, row)) for row in page} <= every


def test_a_place_is_named_by_the_address_of_its_cluster(folder: Path) -> None:
    found = engine_for("x", f"spark://127.0.0.1:7077?folder={folder}", Bounds())
    assert isinstance(found, Cluster)
    assert (found.master, found.tables()) == ("spark://127.0.0.1:7077", ["flood"])
    with pytest.raises(PlaceError, match="with the folder it reads"):
        engine_for("x", "spark://127.0.0.1:7077", Bounds())
    with pytest.raises(PlaceError, match="does not answer now"):
        engine_for("x", f"spark://127.0.0.1:1?folder={folder}", Bounds()).rows("flood")


def test_a_query_is_stopped_on_the_cluster(engines: tuple[Embedded, Cluster]) -> None:
    _, there = engines
    fields = fields_of(there)

    class Enough(Exception):
        pass

    def stop(_share: float) -> None:
        raise Enough

    began = time.monotonic()
    with pytest.raises(Enough):
        there.ask("flood", fields, counted(fields, ["income", "age"], {}, 10**7), stop)
    assert time.monotonic() - began < 10
    assert there.rows("flood") == MANY


def test_an_executor_that_is_killed_is_made_good(
    engines: tuple[Embedded, Cluster], cluster: LocalCluster
) -> None:
    here, there = engines
    fields = fields_of(there)
    asked = counted(fields, ["income"], {}, 10**7)
    victim = cluster.executors()[0]

    def kill() -> None:
        time.sleep(0.3)
        os.kill(victim, signal.SIGKILL)

    threading.Thread(target=kill).start()
    found = there.ask("flood", fields, asked)
    assert found.height == here.ask("flood", fields, asked).height
    assert victim not in cluster.executors()


def test_a_cluster_that_is_gone_is_said(
    engines: tuple[Embedded, Cluster], cluster: LocalCluster
) -> None:
    _, there = engines
    fields = fields_of(there)
    short = Cluster(there.place, there.master, Bounds(seconds=15))
    threading.Timer(0.4, cluster.stop).start()
    began = time.monotonic()
    with pytest.raises(PlaceError, match=r"stopped|went away|does not answer"):
        short.ask("flood", fields, counted(fields, ["income", "age", "source"], {}, 10**7))
    assert time.monotonic() - began < 40
    with pytest.raises(PlaceError, match="does not answer now"):
        there.rows("flood")
