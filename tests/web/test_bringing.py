"""Data sets made of others over HTTP: made, changed, made again, kept whole."""

from typing import Any

import pandas as pd
import pytest
from django.core.management import call_command
from django.test import Client

from hobrix.core.errors import RecipeError
from hobrix.web.jobs.models import Job, JobState
from hobrix.web.studies import bringing
from hobrix.web.studies.frames import frame_of
from hobrix.web.studies.models import DataSet, Study
from web.conftest import bring

ROUNDS: dict[str, Any] = {
    "one": "household,visit,ill,source\na,1,yes,piped\na,2,no,well\nb,1,no,well\nb,2,no,well\nc,1,no,piped\n",
    "two": "household,visit,q7,water\nd,1,Yes,tap\nd,2,No,tap\ne,1,No,tanker\n",
}
CASES: dict[str, Any] = {"rows": "several", "case": "household", "order": "visit"}


@pytest.fixture
def rounds(owner: Client, study: Study) -> list[DataSet]:
    made = []
    for name, text in ROUNDS.items():
        id_ = bring(owner, study, text, f"{name}.csv").json()["id"]
        body = {"version": 1, "confirmed": True, "cases": CASES}
        answer = patch(owner, study, id_, body)
        assert answer.status_code == 200, answer.content
        made.append(DataSet.objects.get(id=id_))
    return made


def patch(client: Client, study: Study, dataset: Any, body: Any) -> Any:
    url = f"/api/studies/{study.id}/datasets/{dataset}"
    return client.patch(url, body, content_type="application/json")


def post(client: Client, study: Study, path: str, body: Any) -> Any:
    return client.post(f"/api/studies/{study.id}/{path}", body, content_type="application/json")


def common(name: str, *taken: Any, answers: tuple[str, ...]) -> dict[str, Any]:
    return {
        "name": name,
        "kind": "nominal",
        "categories": [{"value": answer, "label": answer.title()} for answer in answers],
        "taken": list(taken),
    }


def stacked(owner: Client, study: Study, rounds: list[DataSet], **changes: Any) -> dict[str, Any]:
    ill = common(
        "ill",
        {"variable": "ill", "placed": {"yes": "yes", "no": "no"}},
        {"variable": "q7", "placed": {"Yes": "yes", "No": "no"}},
        answers=("yes", "no"),
    )
    water = common(
        "water",
        {"variable": "source", "placed": {"piped": "piped", "well": "well"}},
        {"variable": "water", "placed": {"tap": "piped"}},
        answers=("piped", "well"),
    )
    recipe = {"recipe": "stack", "names": ["one", "two"], "variables": [ill, water], **changes}
    body = {"sources": [str(each.id) for each in rounds], "name": "Both rounds", "recipe": recipe}
    answer = post(owner, study, "bring", body)
    assert answer.status_code == 201, answer.content
    found: dict[str, Any] = answer.json()
    return found


def column(id_: str, name: str) -> list[str | None]:
    frame = frame_of(DataSet.objects.get(id=id_))
    found = frame.categorical(name, "")
    return [found.categories[code].label if code >= 0 else None for code in found.codes.tolist()]


def test_two_rounds_are_stacked_and_say_what_they_are_made_from(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    assert made["rows"] == 8
    assert made["made"]["recipe"] == "stack"
    assert made["made"]["sources"] == [str(each.id) for each in rounds]
    assert made["cases"] == {"rows": "several", "case": "case", "order": "order"}
    assert column(made["id"], "ill") == ["Yes", "No", "No", "No", "No", "Yes", "No", "No"]
    assert column(made["id"], "water")[-1] is None
    looked = post(
        owner,
        study,
        "bring/look",
        {"sources": made["made"]["sources"], "recipe": read(owner, study, made)["recipe"]},
    ).json()
    assert looked["common"][1]["not_placed"] == 1
    # It is asked, listed and taken out as any other.
    question = {
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "water"}],
    }
    answered = post(owner, study, "answer", {"dataset": made["id"], "question": question})
    assert answered.status_code == 200, answered.content
    ids = [check["id"] for check in answered.json()["answer"]["checks"]]
    assert {"pooled", "repeated_rows"} <= set(ids)
    exported = owner.get(f"/api/studies/{study.id}/datasets/{made['id']}/export/csv")
    assert exported.status_code == 200
    assert len(exported.content.decode().splitlines()) == 9


def read(client: Client, study: Study, made: dict[str, Any]) -> Any:
    return client.get(f"/api/studies/{study.id}/datasets/{made['id']}/recipe").json()


def test_a_placement_is_changed_taken_back_and_made_again(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    url = f"/api/studies/{study.id}/datasets/{made['id']}/recipe"
    recipe = read(owner, study, made)["recipe"]
    recipe["variables"][1]["taken"][1]["placed"]["tanker"] = "well"
    body = {"version": made["version"], "recipe": recipe}
    changed = owner.put(url, body, content_type="application/json")
    assert changed.status_code == 200, changed.content
    assert column(made["id"], "water")[-1] == "Well"
    assert {"variable": "water", "before": 7, "after": 8} in changed.json()["report"]["answered"]
    assert owner.put(url, body, content_type="application/json").status_code == 409
    assert owner.post(f"{url}/undo").status_code == 200
    assert column(made["id"], "water")[-1] is None
    assert read(owner, study, made) | {"recipe": None} == {
        "recipe": None,
        "sources": made["made"]["sources"],
        "can_undo": False,
        "can_redo": True,
        "question": None,
    }
    assert owner.post(f"{url}/undo").status_code == 404
    assert owner.post(f"{url}/redo").status_code == 200
    assert column(made["id"], "water")[-1] == "Well"


def step(client: Client, study: Study, dataset: DataSet, body: dict[str, Any]) -> Any:
    return post(client, study, f"datasets/{dataset.id}/steps", {"step": body, "seen": {}})


def test_a_changed_codebook_makes_it_again_and_what_rests_on_it(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    body = {
        "sources": [made["id"]],
        "name": "Last visits",
        "recipe": {"recipe": "one_per_case", "row": "last"},
    }
    last = post(owner, study, "bring", body).json()
    assert (last["rows"], last["cases"]["rows"]) == (5, "one")
    assert column(last["id"], "ill") == ["No", "No", "No", "No", "No"]
    codes = [{"value": "no", "label": "not said"}]
    declared = {"step": "declare_missing", "variables": ["ill"], "codes": codes}
    assert step(owner, study, rounds[0], declared).status_code == 201
    assert column(made["id"], "ill") == ["Yes", None, None, None, None, "Yes", "No", "No"]
    assert column(last["id"], "ill") == [None, None, None, "No", "No"]
    listed = {each["id"]: each for each in owner.get(f"/api/studies/{study.id}/datasets").json()}
    assert listed[made["id"]]["made"]["behind"] == []
    assert listed[last["id"]]["report"]["answered"][0]["before"] == 5
    owner.post(f"/api/studies/{study.id}/datasets/{rounds[0].id}/steps/undo")
    assert column(last["id"], "ill") == ["No", "No", "No", "No", "No"]


def test_steps_that_no_longer_fit_wait_until_they_do(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    dataset = DataSet.objects.get(id=made["id"])
    yes_no = {"step": "yes_no", "variable": "water", "name": "piped", "event": ["piped"]}
    assert step(owner, study, dataset, yes_no).status_code == 201
    url = f"/api/studies/{study.id}/datasets/{made['id']}/recipe"
    recipe = read(owner, study, made)["recipe"]
    water = recipe["variables"].pop()
    dataset.refresh_from_db()
    body = {"version": dataset.version, "recipe": recipe}
    changed = owner.put(url, body, content_type="application/json").json()
    assert [each["words"] for each in changed["report"]["failed"]] == [
        "water made into yes or no, as piped"
    ]
    assert "piped" not in frame_of(DataSet.objects.get(id=made["id"])).variables
    recipe["variables"].append(water)
    body = {"version": changed["version"], "recipe": recipe}
    assert owner.put(url, body, content_type="application/json").status_code == 200
    assert column(made["id"], "piped")[:2] == ["Yes", "No"]


def test_a_newer_file_goes_through_to_what_rests_on_it_and_back(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    newer = ROUNDS["two"] + "f,1,Yes,tap\n"
    from django.core.files.uploadedfile import SimpleUploadedFile

    file = {"file": SimpleUploadedFile("two.csv", newer.encode())}
    url = f"/api/studies/{study.id}/datasets/{rounds[1].id}"
    answer = owner.post(f"{url}/replace", file)
    assert answer.status_code == 201, answer.content
    dataset = DataSet.objects.get(id=made["id"])
    assert dataset.rows == 9
    assert dataset.report["rows_before"] == 8
    back = f"/api/studies/{study.id}/datasets/{answer.json()['id']}/put-back"
    assert owner.post(back).status_code == 200
    dataset.refresh_from_db()
    assert dataset.rows == 8


def test_what_cannot_be_made_again_stays_and_says_why(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    villages = bring(owner, study, "code,fact\npiped,x\nwell,y\n", "facts.csv").json()["id"]
    patch(owner, study, villages, {"version": 1, "confirmed": True})
    recipe = {
        "recipe": "match",
        "keys": [{"here": "source", "there": "code"}],
        "take": ["fact"],
    }
    body = {"sources": [str(rounds[0].id), villages], "name": "With facts", "recipe": recipe}
    made = post(owner, study, "bring", body).json()
    assert column(made["id"], "fact") == ["x", "y", "y", "y", "x"]
    twice = DataSet.objects.get(id=villages)
    label = {"step": "describe", "variable": "code", "kind": "text"}
    assert step(owner, study, twice, label).status_code == 201
    from django.core.files.uploadedfile import SimpleUploadedFile

    file = {"file": SimpleUploadedFile("facts.csv", b"code,fact\npiped,x\npiped,z\nwell,y\n")}
    assert (
        owner.post(f"/api/studies/{study.id}/datasets/{villages}/replace", file).status_code == 201
    )
    dataset = DataSet.objects.get(id=made["id"])
    assert "piped (rows 1 and 2)" in dataset.trouble
    assert column(made["id"], "fact") == ["x", "y", "y", "y", "x"]


@pytest.mark.parametrize(
    ("recipe", "field", "says"),
    [
        ({"recipe": "stack", "names": ["one", "two", "three"]}, "sources", "takes 3 data sets"),
        (
            {"recipe": "match", "keys": [{"here": "x", "there": "household"}], "take": ["q7"]},
            "keys",
            "no variable called “x” in one",
        ),
        ({"recipe": "one_per_case"}, "sources", "takes 1 data sets"),
    ],
)
def test_what_does_not_come_together_is_said(
    owner: Client, study: Study, rounds: list[DataSet], recipe: Any, field: str, says: str
) -> None:
    body = {"sources": [str(each.id) for each in rounds], "name": "x", "recipe": recipe}
    for path in ("bring", "bring/look"):
        answer = post(owner, study, path, body)
        assert answer.status_code == 422
        assert answer.json()["where"] == {"field": field}
        assert says in answer.json()["detail"]
    assert DataSet.objects.count() == 2


def test_drafts_and_data_of_other_studies_are_not_brought_in(
    owner: Client, study: Study, rounds: list[DataSet], members: dict[str, Client]
) -> None:
    draft = bring(owner, study, "a,b\n1,2\n", "draft.csv").json()["id"]
    recipe = {"recipe": "stack", "names": ["one", "draft"]}
    body = {"sources": [str(rounds[0].id), draft], "name": "x", "recipe": recipe}
    answer = post(owner, study, "bring", body)
    assert answer.status_code == 422
    assert (
        "not confirmed yet" in answer.json()["detail"] or "several rows" in answer.json()["detail"]
    )
    stranger = members["stranger"]
    own = stranger.post("/api/studies", {"name": "Mine"}, content_type="application/json").json()
    body = {"sources": [str(each.id) for each in rounds], "name": "x", "recipe": recipe}
    url = f"/api/studies/{own['id']}/bring"
    assert stranger.post(url, body, content_type="application/json").status_code == 404


def test_variables_that_may_be_the_same_are_offered_and_taken(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    sources = [str(each.id) for each in rounds]
    found = post(owner, study, "bring/alike", {"sources": sources}).json()
    assert ["household", "household"] in [each["variables"] for each in found]
    proposal = {"sources": sources, "variables": ["ill", "q7"], "name": "ill"}
    common_ = post(owner, study, "bring/proposed", proposal).json()
    assert common_["taken"][1]["placed"] == {"Yes": "yes", "No": "no"}
    body = {"sources": sources, "common": common_, "at": 1, "variable": "water"}
    taken = post(owner, study, "bring/taken", body).json()
    assert taken["taken"][1] == {"variable": "water", "placed": {}, "factor": 1.0}
    nothing = {**proposal, "variables": [None, "x"]}
    assert post(owner, study, "bring/proposed", nothing).status_code == 422


def test_groups_from_the_stacked_rounds(owner: Client, study: Study, rounds: list[DataSet]) -> None:
    made = stacked(owner, study, rounds)

    def is_(answer: str) -> dict[str, Any]:
        return {"all": [{"variable": "ill", "is": [answer]}]}

    recipe = {
        "recipe": "groups",
        "groups": [
            {"name": "affected", "where": is_("yes"), "holds": "ever", "row": "first"},
            {"name": "unaffected", "where": is_("no"), "holds": "last", "row": "last"},
        ],
        "study_design": "case_control",
        "in_two": "first",
        "conditions": ["water"],
    }
    body = {"sources": [made["id"]], "name": "Groups", "recipe": recipe}
    looked = post(owner, study, "bring/look", body).json()["groups"]
    assert [group["n"] for group in looked["groups"]] == [2, 3]
    assert looked["in_two"] == 2
    assert looked["conditions"][0]["counts"] == [[2, 0], [1, 1]]
    groups = post(owner, study, "bring", body).json()
    assert (groups["study_design"], groups["case_status"]) == ("case_control", "group")
    question = read(owner, study, groups)["question"]
    assert question["outcome"] == {"variable": "group", "event": ["affected"]}
    assert [term["variable"] for term in question["vary_with"]] == ["water"]
    assert column(groups["id"], "group") == [
        "affected",
        "unaffected",
        "unaffected",
        "affected",
        "unaffected",
    ]


def test_what_is_deleted_leaves_what_rests_on_it_and_is_said(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    owner.delete(f"/api/studies/{study.id}/datasets/{rounds[1].id}")
    now = owner.get(f"/api/studies/{study.id}/datasets/{made['id']}").json()
    assert now["rows"] == 8
    assert now["made"]["behind"] == ["two"]


def test_nothing_is_half_done_when_it_breaks_off(
    owner: Client, study: Study, rounds: list[DataSet], monkeypatch: Any
) -> None:
    made = stacked(owner, study, rounds)

    def breaks(*_: Any) -> None:
        raise RecipeError("broken off", field="x")

    monkeypatch.setattr(bringing, "store", breaks)
    body = {"sources": [made["id"]], "name": "x", "recipe": {"recipe": "one_per_case"}}
    assert post(owner, study, "bring", body).status_code == 422
    assert DataSet.objects.count() == 3
    recipe = read(owner, study, made)["recipe"] | {"variables": []}
    url = f"/api/studies/{study.id}/datasets/{made['id']}/recipe"
    body = {"version": made["version"], "recipe": recipe}
    assert owner.put(url, body, content_type="application/json").status_code == 422
    assert column(made["id"], "ill") == ["Yes", "No", "No", "No", "No", "Yes", "No", "No"]
    assert read(owner, study, made)["recipe"]["variables"] != []


@pytest.mark.django_db(transaction=True)
def test_large_ones_are_made_and_made_again_in_the_background(
    owner: Client, study: Study, rounds: list[DataSet], settings: Any
) -> None:
    settings.MADE_AT_ONCE = 5

    def work() -> None:
        call_command(
            "db_worker", batch=True, interval=0, startup_delay=False, reload=False, verbosity=0
        )

    recipe = {"recipe": "one_per_case", "row": "last"}
    body = {"sources": [str(rounds[0].id)], "name": "Last", "recipe": recipe}
    answer = post(owner, study, "bring", body)
    assert answer.status_code == 202, answer.content
    work()
    made = DataSet.objects.get(id=answer.json()["id"])
    assert (made.rows, made.recipe) == (3, "one_per_case")
    for label in ("Household", "The household"):
        named = {"step": "describe", "variable": "household", "label": label}
        assert step(owner, study, rounds[0], named).status_code == 201
    waiting = Job.objects.filter(state=JobState.WAITING)
    assert waiting.count() == 1
    work()
    assert frame_of(DataSet.objects.get(id=made.id)).variables["household"].label == "The household"
    assert not Job.objects.filter(state=JobState.FAILED).exists()


def test_numbers_of_the_whole_road_are_those_of_pandas(
    owner: Client, study: Study, rounds: list[DataSet]
) -> None:
    made = stacked(owner, study, rounds)
    tables = [pd.read_csv(__import__("io").StringIO(text)) for text in ROUNDS.values()]
    tables[1] = tables[1].rename(columns={"q7": "ill"})
    every = pd.concat(
        [
            t.assign(ill=t["ill"].str.lower(), data_set=n)
            for t, n in zip(tables, ROUNDS, strict=True)
        ]
    )
    expected = every.groupby("data_set")["ill"].value_counts()
    question = {
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "data_set"}],
    }
    answer = post(owner, study, "answer", {"dataset": made["id"], "question": question})
    counts = answer.json()["answer"]["results"]["whole"]["counts"]
    assert counts == [
        [expected["one", "yes"], expected["one", "no"]],
        [expected["two", "yes"], expected["two", "no"]],
    ]
