"""Studies, files, codebook and rows through the API."""

from typing import Any

import numpy as np
import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from hobrix.core.data import Coded, Measured
from hobrix.web.studies.blobs import pack, pack_all, unpack
from hobrix.web.studies.models import DataSet, Study
from web.conftest import CSV, bring

JSON: dict[str, Any] = {"content_type": "application/json"}


def base(dataset: DataSet) -> str:
    return f"/api/studies/{dataset.study_id}/datasets/{dataset.id}"


def entry(client: Client, dataset: DataSet, name: str) -> Any:
    codebook = client.get(f"{base(dataset)}/codebook").json()
    return next(each for each in codebook if each["variable"]["name"] == name)


def step(
    client: Client, dataset: DataSet, on: str, /, seen: int | None = None, **fields: Any
) -> Any:
    """Make a step on a variable as it stands (or as an older version was seen)."""
    version = entry(client, dataset, on)["version"] if seen is None else seen
    body = {"step": fields, "seen": {on: version}}
    return client.post(f"{base(dataset)}/steps", body, **JSON)


def describe(client: Client, dataset: DataSet, name: str, **fields: Any) -> Any:
    return step(client, dataset, name, step="describe", variable=name, **fields)


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
        (b"a,b\n1,2\n", "table.xlsx", "not a workbook"),
        (b"a,b\n1,2\n", "package.zip", "not a Data Package"),
    ],
)
def test_files_that_cannot_be_read_leave_nothing_behind(
    owner: Client, study: Study, data: bytes, name: str, message: str, settings: Any
) -> None:
    response = bring(owner, study, data, name)
    assert response.status_code == 422
    assert message in response.json()["detail"]
    assert not DataSet.objects.exists()
    assert [path for path in settings.MEDIA_ROOT.rglob("*") if path.is_file()] == []


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
    codes = [{"value": "refused", "label": "did not say"}]
    step(owner, dataset, "ill", step="declare_missing", variables=["ill"], codes=codes)
    labels = [
        {"value": "no", "label": "Not ill"},
        {"value": "yes", "label": "Ill"},
    ]
    assert describe(owner, dataset, "ill", categories=labels).status_code == 201
    page = owner.get(f"{base(dataset)}/rows?offset=84&limit=10").json()
    assert (page["total"], page["offset"], len(page["rows"])) == (88, 84, 4)
    assert page["rows"][0][:3] == ["river", "Ill", "36"]
    assert page["rows"][3][:2] == ["river", "did not say"]
    assert page["missing"][3] == [1]
    as_coded = owner.get(f"{base(dataset)}/rows?offset=87&limit=1&codes=true").json()
    assert as_coded["rows"][0][:2] == ["river", "refused"]


def test_the_codebook_tells_kinds_counts_and_reasons(owner: Client, dataset: DataSet) -> None:
    ill = entry(owner, dataset, "ill")
    assert ill["variable"]["event"] == ["yes"]
    assert ill["summary"]["counts"] == [60, 26]
    assert ill["summary"]["missing"] == [{"value": "refused", "label": "", "n": 2}]
    age = entry(owner, dataset, "age")
    assert age["variable"]["kind"] == "numeric"
    assert sum(age["summary"]["counts"]) == 88


def test_a_step_is_made_on_the_version_one_saw(owner: Client, dataset: DataSet) -> None:
    old = entry(owner, dataset, "ill")["version"]
    assert describe(owner, dataset, "ill", label="Stomach illness").status_code == 201
    fields = {"step": "describe", "variable": "ill", "label": "Something else"}
    stale = step(owner, dataset, "ill", seen=old, **fields)
    assert stale.status_code == 409
    current = stale.json()["current"]["entries"][0]
    assert current["variable"]["label"] == "Stomach illness"
    assert entry(owner, dataset, "ill")["variable"]["label"] == "Stomach illness"


def test_a_change_of_another_variable_is_no_hindrance(owner: Client, dataset: DataSet) -> None:
    old = entry(owner, dataset, "source")["version"]
    describe(owner, dataset, "ill", label="Stomach illness")
    fields = {"step": "describe", "variable": "source", "label": "Water source"}
    assert step(owner, dataset, "source", seen=old, **fields).status_code == 201


def test_every_kind_of_step_can_be_undone_and_redone(owner: Client, dataset: DataSet) -> None:
    steps = [
        {"step": "describe", "variable": "ill", "label": "Stomach illness"},
        {"step": "declare_missing", "variables": ["source"], "codes": [{"value": "river"}]},
        {"step": "count_as_answer", "variables": ["source"], "values": ["river"]},
        {"step": "yes_no", "variable": "source", "name": "from_river", "event": ["river"]},
        {"step": "band", "variable": "age", "name": "age_band", "cuts": [30, 40]},
        {
            "step": "regroup",
            "variable": "age_band",
            "name": "young",
            "groups": [{"label": "young", "values": ["under 30"]}],
        },
        {"step": "calculate", "how": "difference", "variables": ["age", "n"], "name": "less"},
    ]
    states = [owner.get(f"{base(dataset)}/codebook").json()]
    for fields in steps:
        made = owner.post(f"{base(dataset)}/steps", {"step": fields, "seen": {}}, **JSON)
        assert made.status_code == 201, made.content
        states.append(owner.get(f"{base(dataset)}/codebook").json())
    for state in reversed(states[:-1]):
        assert owner.post(f"{base(dataset)}/steps/undo").status_code == 200
        assert owner.get(f"{base(dataset)}/codebook").json() == state
    assert owner.post(f"{base(dataset)}/steps/undo").status_code == 404
    for state in states[1:]:
        assert owner.post(f"{base(dataset)}/steps/redo").status_code == 200
        assert owner.get(f"{base(dataset)}/codebook").json() == state


def test_steps_tell_what_they_did_in_words_and_counts(owner: Client, dataset: DataSet) -> None:
    codes = [{"value": "river", "label": "asked wrongly"}]
    fields: dict[str, Any] = {"step": "declare_missing", "variables": ["source"], "codes": codes}
    made = step(owner, dataset, "source", **fields).json()
    assert made["words"] == "“river” is not an answer, in source"
    assert made["effect"]["before"] == {"answered": 88, "categories": 2}
    assert made["effect"]["after"] == {"answered": 48, "categories": 1}
    assert made["made_by"] == "owner"


def test_a_step_others_rest_on_is_not_taken_back(owner: Client, dataset: DataSet) -> None:
    band: dict[str, Any] = {"step": "band", "variable": "age", "name": "age_band", "cuts": [30]}
    first = step(owner, dataset, "age", **band).json()
    describe(owner, dataset, "age_band", label="Age in two bands")
    url = f"{base(dataset)}/steps/{first['id']}"
    refused = owner.patch(url, {"is_active": False}, **JSON)
    assert refused.status_code == 422
    assert "rests on this one" in refused.json()["detail"]


def test_one_step_in_the_middle_can_be_taken_back(owner: Client, dataset: DataSet) -> None:
    first = describe(owner, dataset, "ill", label="One").json()
    describe(owner, dataset, "source", label="Two")
    owner.patch(f"{base(dataset)}/steps/{first['id']}", {"is_active": False}, **JSON)
    assert entry(owner, dataset, "ill")["variable"]["label"] == ""
    assert entry(owner, dataset, "source")["variable"]["label"] == "Two"


def test_a_made_variable_can_be_asked_about(owner: Client, dataset: DataSet) -> None:
    band: dict[str, Any] = {"step": "band", "variable": "age", "name": "age_band", "cuts": [30, 40]}
    step(owner, dataset, "age", **band)
    question = {"outcome": {"variable": "ill"}, "vary_with": [{"variable": "age_band"}]}
    body = {"dataset": str(dataset.id), "question": question}
    given = owner.post(f"/api/studies/{dataset.study_id}/answer", body, **JSON).json()
    labels = [row["label"] for row in given["answer"]["results"]["whole"]["rows"]]
    assert labels == ["under 30", "30 to under 40", "40 and over"]
    page = owner.get(f"{base(dataset)}/rows?limit=1").json()
    assert page["names"] == ["source", "ill", "age", "age_band", "n"]
    assert page["rows"][0][3] == "under 30"


def test_a_preview_keeps_nothing(owner: Client, dataset: DataSet) -> None:
    band: dict[str, Any] = {"step": "band", "variable": "age", "name": "age_band", "cuts": [25]}
    body = {"step": band, "seen": {}}
    shown = owner.post(f"{base(dataset)}/steps/preview", body, **JSON).json()
    assert sum(shown["summary"]["counts"]) == 88
    assert shown["summary"]["counts"][0] == 5 * 4 + 2
    assert owner.get(f"{base(dataset)}/steps").json() == []


def test_cuts_are_suggested(owner: Client, dataset: DataSet) -> None:
    url = f"{base(dataset)}/codebook/age/cuts?how=equal_count&bands=2"
    assert len(owner.get(url).json()) == 1
    text = owner.get(f"{base(dataset)}/codebook/ill/cuts?how=equal_count&bands=2")
    assert text.status_code == 422


def test_reading_numbers_as_categories_and_back(owner: Client, dataset: DataSet) -> None:
    assert describe(owner, dataset, "age", kind="ordinal").status_code == 201
    ordered = entry(owner, dataset, "age")["variable"]
    assert [c["value"] for c in ordered["categories"]][:3] == ["20", "21", "22"]
    describe(owner, dataset, "age", kind="numeric")
    assert entry(owner, dataset, "age")["summary"]["kind"] == "numbers"


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
    response = describe(owner, dataset, "ill", **changes)
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
    data, sha = pack(Coded(codes, tuple(values)))
    back = unpack(data, sha)
    assert isinstance(back, Coded)
    assert back.values == tuple(values)
    np.testing.assert_array_equal(back.codes, codes)


@given(arrays.arrays(np.float64, st.integers(0, 40)))
def test_measured_columns_survive_storage(numbers: np.ndarray) -> None:
    words = np.full(len(numbers), -1, np.int8)
    data, sha = pack(Measured(numbers, words, ("no",)))
    back = unpack(data, sha)
    assert isinstance(back, Measured)
    np.testing.assert_array_equal(back.numbers, numbers)
    assert pack(back)[1] == sha


def test_columns_packed_side_by_side_are_those_packed_one_by_one_until_somebody_stops() -> None:
    columns = [Coded(np.full(i, -1, np.int8), (str(i),)) for i in range(30)]
    told: list[int] = []
    assert pack_all(columns, told.append) == [pack(column) for column in columns]
    assert told == list(range(30))

    def stop(done: int) -> None:
        if done == 3:
            raise Stopped

    with pytest.raises(Stopped):
        pack_all(columns, stop)


class Stopped(Exception):
    """What whoever stops raises."""
