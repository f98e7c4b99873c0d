"""Files from outside are read in a process of their own: the same comes of it, and a reader that
breaks, hangs or swells is a sentence."""

import sys
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import polars as pl
import pytest
from django.test import Client

from hobrix.core.data import Coded, Measured
from hobrix.core.errors import FormatError
from hobrix.core.formats import Codebook, Table, read_file, write_file
from hobrix.core.progress import Stopped
from hobrix.web.studies import reading_apart
from hobrix.web.studies.models import DataSet, Study
from hobrix.web.studies.reading_apart import read_outside
from made_files import open_document, workbook
from web.conftest import bring

TWO: list[list[Any]] = [["Vale", "yes", 1.5], ["Port", None, "."]]
ROWS: list[list[Any]] = [["town", "ill", "x"], *(TWO * 4)]


def parquet() -> bytes:
    import io

    file = io.BytesIO()
    many = np.random.default_rng(1).normal(size=3000)
    pl.DataFrame({"x": many, "town": ["Vale", "Port", None] * 1000}).write_parquet(file)
    return file.getvalue()


def package() -> bytes:
    table = read_file("a.csv", b"town,ill\nVale,yes\nPort,no\n").table
    return write_file("zip", Table(table.columns, table.rows), Codebook(note="preliminary"), "a")


FILES: list[tuple[str, Callable[[], bytes]]] = [
    ("a.xlsx", lambda: workbook({"Data": ROWS, "More": ROWS})),
    ("a.ods", lambda: open_document(ROWS)),
    ("a.parquet", parquet),
    ("a.zip", package),
]


@pytest.fixture(autouse=True)
def _apart(settings: Any) -> None:
    settings.READ_APART = True


@pytest.mark.parametrize(("name", "data"), FILES)
def test_the_same_comes_of_it(name: str, data: Callable[[], bytes]) -> None:
    made = data()
    here, apart = read_file(name, made), read_outside(name, made, None, lambda: None)
    assert (apart.used, apart.sheets, apart.codebook) == (here.used, here.sheets, here.codebook)
    assert (apart.table.rows, apart.table.remarks) == (here.table.rows, here.table.remarks)
    assert list(apart.table.columns) == list(here.table.columns)
    for one, other in zip(apart.table.columns.values(), here.table.columns.values(), strict=True):
        assert type(one) is type(other)
        if isinstance(one, Measured) and isinstance(other, Measured):
            np.testing.assert_array_equal(one.numbers, other.numbers)
        if isinstance(one, Coded) and isinstance(other, Coded):
            np.testing.assert_array_equal(one.codes, other.codes)
            assert one.values == other.values


def test_what_cannot_be_read_says_why_as_it_would_here() -> None:
    with pytest.raises(FormatError, match="not a workbook"):
        read_outside("a.xlsx", b"nothing", None, lambda: None)


BREAKS = "import os; os.abort()"
HANGS = "import time; time.sleep(60)"
SWELLS = "x = bytearray(600_000_000); import time; time.sleep(60)"


@pytest.mark.parametrize(
    ("code", "says"),
    [(BREAKS, "broke off"), (HANGS, "longer than 1 seconds"), (SWELLS, "more memory")],
)
def test_a_reader_that_breaks_hangs_or_swells_is_a_sentence(
    owner: Client, study: Study, settings: Any, monkeypatch: Any, code: str, says: str
) -> None:
    settings.READ_SECONDS, settings.READ_MEMORY = (1 if code == HANGS else 20), 300_000_000
    run = reading_apart.subprocess.Popen
    monkeypatch.setattr(
        reading_apart.subprocess,
        "Popen",
        lambda _command, **more: run([sys.executable, "-c", code], **more),
    )
    began = time.monotonic()
    refused = bring(owner, study, workbook({"Data": ROWS}), "a.xlsx")
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert time.monotonic() - began < 15
    assert not DataSet.objects.exists()
    assert owner.get(f"/api/studies/{study.id}/datasets").json() == []


def test_reading_can_be_stopped(monkeypatch: Any) -> None:
    run = reading_apart.subprocess.Popen
    monkeypatch.setattr(
        reading_apart.subprocess,
        "Popen",
        lambda _command, **more: run([sys.executable, "-c", HANGS], **more),
    )

    def stop() -> None:
        raise Stopped

    began = time.monotonic()
    with pytest.raises(Stopped):
        read_outside("a.xlsx", b"x", None, stop)
    assert time.monotonic() - began < 5
