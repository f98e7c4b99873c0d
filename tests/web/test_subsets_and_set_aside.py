"""Subsets counted live and kept under a name; who is set aside from an answer."""

from typing import Any

import pytest
from django.test import Client

from hobrix.web.studies.models import DataSet, Study
from web.conftest import QUESTION

JSON: dict[str, Any] = {"content_type": "application/json"}
RIVER: dict[str, Any] = {"variable": "source", "is": ["river"]}
OLD: dict[str, Any] = {"variable": "age", "from": 40, "to": None}


@pytest.fixture
def counted(owner: Client, study: Study, dataset: DataSet) -> Any:
    def run(rule: Any) -> Any:
        body = {"dataset": str(dataset.id), "rule": rule}
        return owner.post(f"/api/studies/{study.id}/subsets/count", body, **JSON)

    return run


@pytest.mark.parametrize(
    ("rule", "rows", "words"),
    [
        ({"all": [RIVER]}, 40, "source: river"),
        ({"all": [RIVER, OLD]}, 0, "source: river and age 40 or more"),
        ({"any": [RIVER, OLD]}, 60, "source: river or age 40 or more"),
        (
            {"all": [{"variable": "ill", "missing": False}, {"any": [RIVER, OLD]}]},
            58,
            "ill answered and (source: river or age 40 or more)",
        ),
    ],
)
def test_rules_are_counted_as_they_are_written(
    counted: Any, rule: Any, rows: int, words: str
) -> None:
    assert counted(rule).json() == {"rows": rows, "of": 88, "words": words}


def test_a_rule_that_names_nothing_is_refused(counted: Any) -> None:
    response = counted({"all": [{"variable": "nobody", "missing": True}]})
    assert response.status_code == 422
    assert response.json()["where"] == {"slot": "among"}


def test_subsets_are_kept_under_a_name(owner: Client, study: Study) -> None:
    url = f"/api/studies/{study.id}/subsets"
    first = owner.post(url, {"name": "River", "rule": {"all": [RIVER]}}, **JSON).json()
    again = owner.post(url, {"name": "River", "rule": {"any": [RIVER, OLD]}}, **JSON).json()
    assert first["id"] == again["id"]
    assert owner.get(url).json() == [
        {"id": first["id"], "name": "River", "rule": {"any": [RIVER, OLD]}}
    ]
    assert owner.delete(f"{url}/{first['id']}").status_code == 204
    assert owner.get(url).json() == []


def test_who_is_set_aside_and_whether_they_differ(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    body = {"dataset": str(dataset.id), "question": QUESTION}
    aside = owner.post(f"/api/studies/{study.id}/answer/set-aside", body, **JSON).json()
    assert aside["total"] == 2
    assert aside["names"] == ["source", "ill", "age", "n"]
    assert aside["rows"][0] == {
        "row": 87,
        "lacking": ["ill"],
        "cells": ["river", "refused", "20", "1"],
    }
    ill, source = aside["comparison"]
    assert ill["p"] is None
    assert ill["answers"][0]["set_aside"] is None
    assert source["answers"][1] == {"label": "river", "counted": 38 / 86, "set_aside": 1.0}
    assert 0 < source["p"] < 1


def test_those_outside_the_subset_are_not_set_aside(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    question = {**QUESTION, "among": {"all": [OLD]}}
    body = {"dataset": str(dataset.id), "question": question}
    aside = owner.post(f"/api/studies/{study.id}/answer/set-aside", body, **JSON).json()
    assert (aside["total"], aside["rows"]) == (0, [])
