"""Whole questions over HTTP, counted on a cluster: the answers are those of the same data brought in; and people who ask
at once do not wait for each other's answers alone."""

import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.test import Client
from hypothesis import HealthCheck, given, settings

from cluster.conftest import LocalCluster
from core.test_counted_elsewhere import alike
from hobrix.web.jobs.models import Job, JobState
from hobrix.web.studies.models import DataSet, Place, Study
from web import test_linked as linked_as_usual
from web.conftest import *  # noqa: F403
from web.test_linked import ask, brought  # noqa: F401

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def on_cluster(owner: Client, study: Study, cluster: LocalCluster, tmp_path: Path) -> DataSet:
    folder = tmp_path / "registers"
    (folder / "flood").mkdir(parents=True)
    table = linked_as_usual.people()
    for i in range(3):
        table.slice(i * 400, 400).write_parquet(folder / "flood" / f"part-{i}.parquet")
    Place.objects.create(name="Cluster", where=f"{cluster.address}?folder={folder}")
    response = linked_as_usual.link(owner, study, name="Cluster")
    assert response.status_code == 202, response.content
    linked_as_usual.work()
    job = Job.objects.get(id=response.json()["id"])
    assert (job.state, job.message) == (JobState.DONE, "")
    return DataSet.objects.get(id=job.id)


def test_answers_are_those_of_the_same_data_brought_in(
    owner: Client,
    on_cluster: DataSet,
    brought: DataSet,  # noqa: F811
    ask: Callable[..., Any],  # noqa: F811
) -> None:
    linked_as_usual.prepared_alike(owner, on_cluster, brought)
    answered = []

    @settings(
        max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
    )
    @given(linked_as_usual.questions())
    def same(question: dict[str, Any]) -> None:
        here, there = (ask(dataset, question) for dataset in (brought, on_cluster))
        assert here.status_code == there.status_code, there.content
        if here.status_code == 200:
            alike(linked_as_usual.answer_of(there), linked_as_usual.answer_of(here))
            answered.append(question)
        else:
            assert there.json()["where"] == here.json()["where"]

    same()
    assert len(answered) > 5


def test_several_people_ask_at_once(
    owner: Client,
    on_cluster: DataSet,
    ask: Callable[..., Any],  # noqa: F811
) -> None:
    """Different questions at once all come back, and none starves."""
    names = ["source", "trust", "flooded", "district"]
    took: dict[str, float] = {}
    replies: dict[str, Any] = {}

    def asks(name: str) -> None:
        began = time.monotonic()
        question = {
            "lens": "crosstab",
            "outcome": {"variable": "ill", "event": ["yes"]},
            "vary_with": [{"variable": name}],
        }
        replies[name] = ask(on_cluster, question)
        took[name] = time.monotonic() - began

    threads = [threading.Thread(target=asks, args=(name,)) for name in names]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    assert {name: replies[name].status_code for name in names} == dict.fromkeys(names, 200)
    assert max(took.values()) < 60
