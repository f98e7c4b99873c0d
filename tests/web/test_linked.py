"""Data that stay where they are: the same answers as the same data brought in, and words for all that can
go wrong with a place."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
import polars as pl
import pytest
from django.core.management import call_command
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from core.test_counted_elsewhere import alike, without_single_rows
from hobrix.web.jobs.models import Job, JobState
from hobrix.web.studies.models import DataSet, KeptPatterns, Place, Study
from web.conftest import bring

pytestmark = pytest.mark.django_db(transaction=True)

ROWS = 1200


def people(seed: int = 5) -> pl.DataFrame:
    """What a register holds: words with blanks and quotes, whole numbers with codes, yes/no, weights."""
    random = np.random.default_rng(seed)
    village = random.integers(0, 24, ROWS)
    source = np.array(["piped", "river", " well ", "o'x \"q\"", "", None])[
        random.choice(6, ROWS, p=[0.4, 0.3, 0.15, 0.05, 0.05, 0.05])
    ]
    lean = 0.4 * (source == "river") + random.normal(0, 0.3, 24)[village]
    ill = random.random(ROWS) < 1 / (1 + np.exp(0.8 - lean))
    age = random.integers(18, 80, ROWS).astype(float)
    age[random.random(ROWS) < 0.05] = np.nan
    return pl.DataFrame(
        {
            "ill": np.where(ill, "yes", "no"),
            "source": source,
            "persons": np.where(random.random(ROWS) < 0.04, 99, random.integers(1, 8, ROWS)),
            "flooded": random.random(ROWS) < 0.3,
            "age": age,
            "trust": random.choice(["low", "middle", "high"], ROWS),
            "district": (village % 4).astype(str),
            "village": np.char.add("V", village.astype(str)),
            "w": np.round(random.uniform(0.5, 3, 24), 1)[village],
            "income": random.lognormal(6, 1, ROWS),
        },
        strict=False,
    )


@pytest.fixture
def place(tmp_path: Path) -> Path:
    """A place with one table in three files."""
    folder = tmp_path / "registers"
    (folder / "flood").mkdir(parents=True)
    table = people()
    for i in range(3):
        table.slice(i * 400, 400).write_parquet(folder / "flood" / f"part-{i}.parquet")
    Place.objects.create(name="Registers", where=str(folder))
    return folder


def work() -> None:
    call_command(
        "db_worker", batch=True, interval=0, startup_delay=False, reload=False, verbosity=0
    )


def link(client: Client, study: Study, table: str = "flood", name: str = "Registers") -> Any:
    body = {"place": name, "table": table}
    return client.post(f"/api/studies/{study.id}/places", body, content_type="application/json")


@pytest.fixture
def linked(owner: Client, study: Study, place: Path) -> DataSet:
    response = link(owner, study)
    assert response.status_code == 202, response.content
    work()
    job = Job.objects.get(id=response.json()["id"])
    assert (job.state, job.message) == (JobState.DONE, "")
    return DataSet.objects.get(id=job.id)


@pytest.fixture
def brought(owner: Client, study: Study, tmp_path: Path) -> DataSet:
    file = tmp_path / "flood.parquet"
    people().write_parquet(file)
    made = bring(owner, study, file.read_bytes(), "flood.parquet")
    return DataSet.objects.get(id=made.json()["id"])


@pytest.fixture
def ask(owner: Client, study: Study) -> Callable[..., Any]:
    def asked(dataset: DataSet, question: dict[str, Any]) -> Any:
        body = {"dataset": str(dataset.id), "question": question}
        return owner.post(
            f"/api/studies/{study.id}/answer", body, content_type="application/json"
        )

    return asked


def step(client: Client, dataset: DataSet, **fields: Any) -> Any:
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/steps"
    return client.post(url, {"step": fields, "seen": {}}, content_type="application/json")


def described(variable: str, kind: str, *values: str) -> dict[str, Any]:
    """Answers in an order that somebody gave: that of a file is not known where it stays."""
    categories = [{"value": value, "label": value} for value in values]
    return {"step": "describe", "variable": variable, "kind": kind, "categories": categories}


STEPS: list[dict[str, Any]] = [
    described("ill", "nominal", "yes", "no"),
    described("source", "nominal", "piped", "river", "well", "o'x \"q\""),
    described("trust", "ordinal", "low", "middle", "high"),
    described("flooded", "nominal", "true", "false"),
    described("district", "nominal", "0", "1", "2", "3"),
    {"step": "describe", "variable": "persons", "kind": "numeric"},
    {
        "step": "declare_missing",
        "codes": [{"value": "99", "label": "not said"}],
        "variables": ["persons"],
    },
    {"step": "band", "variable": "age", "name": "ages", "cuts": [30, 45, 60]},
    {"step": "yes_no", "variable": "trust", "name": "trusts", "event": ["high"]},
    {
        "step": "regroup",
        "variable": "source",
        "name": "water",
        "groups": [
            {"label": "safe", "values": ["piped"]},
            {"label": "unsafe", "values": ["river", "well"]},
        ],
    },
]
DESIGN = {"kind": "design", "weights": "w", "strata": "district", "clusters": "village"}
CATEGORICAL = ["source", "trust", "flooded", "district", "ages", "trusts", "water"]


@st.composite
def questions(draw: st.DrawFn) -> dict[str, Any]:
    lens = draw(st.sampled_from(["distribution", "crosstab", "proportions", "odds"]))
    others = list(draw(st.permutations(CATEGORICAL)))
    vary = [others.pop()] if lens != "distribution" else []
    allowing = [draw(st.sampled_from([others.pop(), "age", "persons"]))] if lens == "odds" else []
    outcome = draw(st.sampled_from(["ill", "age", "persons"])) if lens == "distribution" else "ill"
    return {
        "lens": lens,
        "outcome": {"variable": outcome, "event": ["yes"] if outcome == "ill" else []},
        "vary_with": [{"variable": name} for name in vary],
        "allowing_for": [{"variable": name} for name in allowing],
        "within": [others.pop()] if draw(st.integers(0, 3)) == 0 else [],
        "among": draw(
            st.sampled_from(
                [
                    None,
                    {"all": [{"variable": "trust", "is": ["low", "high"]}]},
                    {"all": [{"variable": "age", "from": 30, "to": 60}]},
                ]
            )
        ),
        "counted_by": draw(
            st.sampled_from([{"kind": "each"}, DESIGN, {"kind": "design", "weights": "w"}])
        ),
    }


def prepared_alike(client: Client, *datasets: DataSet) -> None:
    for dataset in datasets:
        for each in STEPS:
            response = step(client, dataset, **each)
            assert response.status_code == 201, response.content


def test_answers_are_those_of_the_same_data_brought_in(
    owner: Client, linked: DataSet, brought: DataSet, ask: Callable[..., Any]
) -> None:
    prepared_alike(owner, linked, brought)

    @settings(
        max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
    )
    @given(questions())
    def same(question: dict[str, Any]) -> None:
        here, there = (ask(dataset, question) for dataset in (brought, linked))
        assert here.status_code == there.status_code, there.content
        if here.status_code == 200:
            told = [without_single_rows(r.json()["answer"]) for r in (there, here)]
            alike(*told)
        else:
            assert there.json()["where"] == here.json()["where"]

    same()
