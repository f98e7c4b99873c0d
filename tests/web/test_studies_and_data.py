"""Studies, files, codebook and rows through the API."""

from typing import Any

import numpy as np
import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from hobrix.core.data import Coded, Measured
from hobrix.web.studies.blobs import pack, unpack
from hobrix.web.studies.models import DataSet, Study
from web.conftest import CSV, bring

JSON = {"content_type": "application/json"}


def base(dataset: DataSet) -> str:
    return f"/api/studies/{dataset.study_id}/datasets/{dataset.id}"


def entry(client: Client, dataset: DataSet, name: str) -> Any:
    codebook = client.get(f"{base(dataset)}/codebook").json()
    return next(each for each in codebook if each["variable"]["name"] == name)


def change(client: Client, dataset: DataSet, name: str, **changes: Any) -> Any:
    changes.setdefault("version", entry(client, dataset, name)["version"])
    return client.patch(f"{base(dataset)}/codebook/{name}", changes, **JSON)


def test_create_rename_delete_and_bring_back_a_study(owner: Client) -> None:
    made = owner.post("/api/studies", {"name": "  Round two "}, **JSON).json()
    assert made["name"] == "Round two"
    assert made["role"] == "owner"
    url = f"/api/studies/{made['id']}"
    assert owner.patch(url, {"name": "Second", "version": 1}, **JSON).json()["version"] == 2
    stale = owner.patch(url, {"name": "Third", "version": 1}, **JSON)
    assert stale.status_code == 409
    assert stale.json()["current"]["name"] == "Second"
    assert owner.delete(url).status_code == 204
    assert owner.get(url).status_code == 404
    assert owner.post(f"{url}/restore").json()["name"] == "Second"
    assert owner.get(url).status_code == 200


def test_a_study_needs_a_name(owner: Client) -> None:
    response = owner.post("/api/studies", {"name": "  "}, **JSON)
    assert response.status_code == 422
    assert "name" in response.json()["where"]["field"]


def test_a_new_file_is_a_draft_until_it_is_confirmed(owner: Client, study: Study) -> None:
    made = bring(owner, study, CSV).json()
    assert made["is_draft"]
    assert (made["rows"], made["delimiter"], made["imported_by"]) == (88, ",", "owner")
    url = f"/api/studies/{study.id}/datasets/{made['id']}"
    confirmed = owner.patch(url, {"version": made["version"], "confirmed": True}, **JSON)
    assert not confirmed.json()["is_draft"]


def test_a_draft_can_be_read_in_another_way(owner: Client, study: Study) -> None:
    made = bring(owner, study, "a;b\n1,5;2\n2,5;3\n").json()
    assert made["decimal_comma"]
    url = f"/api/studies/{study.id}/datasets/{made['id']}"
    body = {"delimiter": ",", "encoding": "utf-8", "decimal_comma": False}
    wrong = owner.post(f"{url}/reread", body, **JSON)
    assert wrong.status_code == 422
    assert "Line 2" in wrong.json()["detail"]
    body["delimiter"] = ";"
    again = owner.post(f"{url}/reread", body, **JSON).json()
    assert not again["decimal_comma"]
    codebook = owner.get(f"{url}/codebook").json()
    assert [each["variable"]["name"] for each in codebook] == ["a", "b"]


@pytest.mark.parametrize(
    ("data", "name", "message"),
    [
        (b"", "empty.csv", "empty"),
        (b"a,b\n", "header.csv", "no rows"),
        (b"PK\x03\x04\x00\x00", "renamed.csv", "zip archive or a spreadsheet"),
        (b"a,b\n1\n", "ragged.csv", "Line 2 has 1 cells"),
        (b"a,b\n1,2\n", "table.xyz", "not a file Hobrix can read"),
    ],
)
def test_files_that_cannot_be_read_leave_nothing_behind(
    owner: Client, study: Study, data: bytes, name: str, message: str, settings: Any
) -> None:
    response = bring(owner, study, data, name)
    assert response.status_code == 422
    assert message in response.json()["detail"]
    assert not DataSet.objects.exists()
    assert not list(settings.MEDIA_ROOT.rglob("*.*")) if settings.MEDIA_ROOT.exists() else True


def test_deleting_a_data_set_can_be_undone(owner: Client, dataset: DataSet) -> None:
    assert owner.delete(base(dataset)).status_code == 204
    assert owner.get(base(dataset)).status_code == 404
    assert owner.post(f"{base(dataset)}/restore").status_code == 200
    assert owner.get(base(dataset)).status_code == 200


def test_counts_must_be_counts(owner: Client, dataset: DataSet) -> None:
    good = {"version": dataset.version, "counted_by": {"kind": "counts", "variable": "age"}}
    changed = owner.patch(base(dataset), good, **JSON)
    assert changed.json()["counted_by"] == {"kind": "counts", "variable": "age"}
    bad = {"version": 2, "counted_by": {"kind": "counts", "variable": "source"}}
    refused = owner.patch(base(dataset), bad, **JSON)
    assert refused.status_code == 422
    assert refused.json()["where"]["slot"] == "counted_by"


def test_rows_as_labels_and_as_codes(owner: Client, dataset: DataSet) -> None:
    change(owner, dataset, "ill", missing=[{"value": "refused", "label": "did not say"}])
    labels = [
        {"value": "no", "label": "Not ill"},
        {"value": "yes", "label": "Ill"},
    ]
    assert change(owner, dataset, "ill", categories=labels).status_code == 200
    page = owner.get(f"{base(dataset)}/rows?offset=84&limit=10").json()
    assert (page["total"], page["offset"], len(page["rows"])) == (88, 84, 4)
    assert page["rows"][0][:3] == ["river", "Ill", "36"]
    assert page["rows"][3][:2] == ["river", "did not say"]
    assert page["missing"][3] == [1]
    codes = owner.get(f"{base(dataset)}/rows?offset=87&limit=1&codes=true").json()
    assert codes["rows"][0][:2] == ["river", "refused"]


def test_the_codebook_tells_kinds_counts_and_reasons(owner: Client, dataset: DataSet) -> None:
    ill = entry(owner, dataset, "ill")
    assert ill["variable"]["event"] == ["yes"]
    assert ill["summary"]["counts"] == [60, 26]
    assert ill["summary"]["missing"] == [{"value": "refused", "label": "", "n": 2}]
    age = entry(owner, dataset, "age")
    assert age["variable"]["kind"] == "numeric"
    assert sum(age["summary"]["counts"]) == 88


def test_a_codebook_change_is_made_on_the_version_one_saw(owner: Client, dataset: DataSet) -> None:
    assert change(owner, dataset, "ill", label="Stomach illness").json()["version"] == 2
    stale = change(owner, dataset, "ill", label="Something else", version=1)
    assert stale.status_code == 409
    assert stale.json()["current"]["variable"]["label"] == "Stomach illness"
    assert entry(owner, dataset, "ill")["variable"]["label"] == "Stomach illness"


def test_declaring_a_code_missing_and_taking_it_back(owner: Client, dataset: DataSet) -> None:
    missing = [{"value": "refused", "label": "refused"}, {"value": "yes", "label": ""}]
    changed = change(owner, dataset, "ill", missing=missing).json()
    assert [c["value"] for c in changed["variable"]["categories"]] == ["no"]
    assert changed["variable"]["event"] == []
    back = change(owner, dataset, "ill", missing=[]).json()
    values = [c["value"] for c in back["variable"]["categories"]]
    assert values == ["no", "yes", "refused"]


def test_reading_numbers_as_categories_and_back(owner: Client, dataset: DataSet) -> None:
    ordered = change(owner, dataset, "age", kind="ordinal").json()
    assert [c["value"] for c in ordered["variable"]["categories"]][:3] == ["20", "21", "22"]
    assert change(owner, dataset, "age", kind="numeric").json()["summary"]["kind"] == "numbers"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"event": ["maybe"]}, "event"),
        ({"reference": "maybe"}, "reference"),
        (
            {"categories": [{"value": "no", "label": "a"}, {"value": "no", "label": "b"}]},
            "categories",
        ),
    ],
)
def test_a_codebook_that_would_contradict_itself(
    owner: Client, dataset: DataSet, changes: Any, field: str
) -> None:
    response = change(owner, dataset, "ill", **changes)
    assert response.status_code == 422
    assert response.json()["where"]["field"] == field


LABELS = ["<script>alert(1)</script>", 'a "quoted" one', "🚱 water", "مياه النهر", "x" * 200]


def test_labels_of_every_kind_come_back_as_they_are(owner: Client, study: Study) -> None:
    quoted = [label.replace('"', '""') for label in LABELS]
    text = "x,y\n" + "".join(f'"{label}",{i % 2}\n' * 3 for i, label in enumerate(quoted))
    made = bring(owner, study, text).json()
    codebook = owner.get(f"/api/studies/{study.id}/datasets/{made['id']}/codebook").json()
    assert [c["label"] for c in codebook[0]["variable"]["categories"]] == LABELS


integers = arrays.arrays(np.int16, st.integers(0, 40), elements=st.integers(-1, 3))


@given(integers, st.lists(st.text(max_size=5), min_size=4, max_size=4))
def test_coded_columns_survive_storage(codes: np.ndarray, values: list[str]) -> None:
    data, _ = pack(Coded(codes, tuple(values)))
    back = unpack(data)
    assert isinstance(back, Coded)
    assert back.values == tuple(values)
    np.testing.assert_array_equal(back.codes, codes)


@given(arrays.arrays(np.float64, st.integers(0, 40)))
def test_measured_columns_survive_storage(numbers: np.ndarray) -> None:
    words = np.full(len(numbers), -1, np.int8)
    data, sha = pack(Measured(numbers, words, ("no",)))
    back = unpack(data)
    assert isinstance(back, Measured)
    np.testing.assert_array_equal(back.numbers, numbers)
    assert pack(back)[1] == sha
