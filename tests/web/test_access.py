"""Nothing of a study is visible to anyone else, and readers change nothing: every route."""

import json
import re
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from hobrix.web.api import api
from hobrix.web.jobs.models import Job
from hobrix.web.people.inviting import invite
from hobrix.web.people.models import Invitation
from hobrix.web.reports.models import Report, ReportBlock
from hobrix.web.studies.models import (
    CodebookEntry,
    DataSet,
    Lender,
    Membership,
    NamedSubset,
    PreparationStep,
    SavedQuestion,
    Study,
)
from web.conftest import QUESTION

BODIES: dict[str, Any] = {
    "StudyChange": {"name": "x", "version": 1},
    "DataSetChange": {"version": 1, "name": "x"},
    "TypedTable": {"name": "x", "row_title": "x", "rows": ["a"], "columns": ["n"], "counts": [[1]]},
    "Reread": {"delimiter": ",", "encoding": "utf-8", "decimal_comma": False},
    "StepIn": {"step": {"step": "describe", "variable": "ill", "label": "x"}, "seen": {}},
    "WeightsRequest": {"step": {"step": "network_weights", "variable": "age", "name": "x"}},
    "SubsetIn": {"name": "x", "rule": {"all": [{"variable": "ill", "missing": True}]}},
    "StepChange": {"is_active": False},
    "QuestionChange": {"version": 1, "title": "x"},
    "Move": {"before": None},
    "Cases": {"rows": "several", "case": "source"},
    "TermsAccepted": {"texts": ["x"]},
    "ReportIn": {"title": "x"},
    "ReportChange": {"version": 1, "title": "x"},
    "ChangesIn": {
        "changes": [{"name": "x", "version": None, "block": {"type": "paragraph", "content": []}}]
    },
    "LookedAt": {"names": ["a"]},
    "InvitationIn": {"role": "reader"},
    "Link": {"place": "x", "table": "x"},
    "RoleIn": {"role": "reader"},
    "PulseIn": {"window": "w", "screen": "ask"},
    "RecipeChange": {"version": 1, "recipe": {"recipe": "one_per_case"}},
}
# Asking is reading: these take a body but change nothing.
DATASET = "/api/studies/{study_id}/datasets/{dataset_id}"
STUDY = "/api/studies/{study_id}"
READING = {
    ("POST", f"{STUDY}/answer"),
    ("DELETE", f"{STUDY}/answer/under-way/{{token}}"),
    ("POST", f"{STUDY}/answer/panels/{{panel}}"),
    ("POST", f"{STUDY}/answer/lenses"),
    ("POST", f"{STUDY}/answer/set-aside"),
    ("POST", f"{STUDY}/answer/at-a-glance"),
    ("POST", f"{STUDY}/answer/screening"),
    ("POST", f"{STUDY}/answer/first-table"),
    ("POST", f"{STUDY}/subsets/count"),
    ("POST", f"{DATASET}/steps/preview"),
    ("POST", f"{DATASET}/steps/weights"),
    ("POST", f"{DATASET}/cases"),
    ("POST", f"{STUDY}/pulse"),
    ("POST", f"{STUDY}/compare"),
    ("POST", f"{STUDY}/compare/spread"),
    # Each person accepts terms for herself.
    ("POST", f"{DATASET}/terms"),
    ("POST", f"{STUDY}/bring/look"),
    ("POST", f"{STUDY}/bring/alike"),
    ("POST", f"{STUDY}/bring/proposed"),
    ("POST", f"{STUDY}/bring/taken"),
}


def routes() -> list[tuple[str, str, str | None]]:
    """Every method and path below a study, with the name of its body's schema."""
    found = []
    for path, operations in api.get_openapi_schema()["paths"].items():
        if "{study_id}" not in path:
            continue
        for method, operation in operations.items():
            content = operation.get("requestBody", {}).get("content", {})
            schema = content.get("application/json", {}).get("schema", {}).get("$ref", "")
            found.append((method.upper(), path, schema.rsplit("/", 1)[-1] or None))
    return found


ROUTES = routes()


@pytest.fixture
def call(study: Study, members: Any, dataset: DataSet, saved: SavedQuestion) -> Any:
    ids = {"study_id": study.id, "dataset_id": dataset.id, "question_id": saved.id, "name": "age"}
    ids |= {"kind": "csv", "token": "abc", "panel": "tests"}
    rule = BODIES["SubsetIn"]["rule"]
    ids["subset_id"] = NamedSubset.objects.create(study=study, name="kept", rule=rule).id
    lender = Lender.objects.create(name="Valley", url="http://127.0.0.1:1")
    ids |= {"lender_id": lender.pk, "offer": "visits"}
    report = Report.objects.create(study=study, title="kept")
    ReportBlock.objects.create(
        report=report, name="a", position=1, block={"type": "paragraph", "content": []}
    )
    ids["report_id"] = report.id
    ids["job_id"] = Job.objects.create(study=study, kind="import", file_name="large.csv").id
    owner = study.memberships.get(role="owner").user
    ids["user_id"] = owner.pk
    ids["invitation_id"] = invite(study, owner, "reader", 7)[0].id
    step = PreparationStep.objects.create(dataset=dataset, words="x", step=BODIES["StepIn"]["step"])
    ids["step_id"] = step.id
    bodies = {
        **BODIES,
        "QuestionIn": {"dataset": str(dataset.id), "question": QUESTION},
        "CountRequest": {"dataset": str(dataset.id), "rule": BODIES["SubsetIn"]["rule"]},
        "AsideRequest": {"dataset": str(dataset.id), "question": QUESTION},
        "GlanceRequest": {"dataset": str(dataset.id), "question": QUESTION},
        "FirstTableRequest": {"dataset": str(dataset.id), "question": QUESTION},
        "ManyRequest": {"dataset": str(dataset.id), "question": QUESTION},
        "LensesRequest": {"dataset": str(dataset.id), "question": QUESTION},
        **of_several(str(dataset.id)),
        "CompareRequest": {
            "questions": [{"dataset": str(dataset.id), "question": QUESTION, "title": "x"}] * 2
        },
        "SpreadRequest": {"dataset": str(dataset.id), "question": QUESTION, "by": "source"},
        "AnswerRequest": {"dataset": str(dataset.id), "question": QUESTION},
    }

    def run(client: Client, method: str, path: str, schema: str | None) -> Any:
        url = re.sub(r"{(\w+)}", lambda match: str(ids[match[1]]), path)
        if path.endswith("/cuts"):
            url += "?how=equal_width&bands=3"
        if path.endswith("/values"):
            url += "?value=yes"
        body = bodies[schema] if schema else None
        if body is None:
            return client.generic(method, url)
        return client.generic(method, url, data=json.dumps(body), content_type="application/json")

    return run


def of_several(dataset: str) -> dict[str, Any]:
    """Bodies that name data sets."""
    recipe = {"recipe": "one_per_case", "row": "last"}
    common = {"name": "x", "kind": "numeric", "taken": [None]}
    return {
        "RecipeIn": {"sources": [dataset], "recipe": recipe},
        "NewMade": {"sources": [dataset], "recipe": recipe, "name": "x"},
        "AlikeRequest": {"sources": [dataset]},
        "ProposalRequest": {"sources": [dataset], "variables": ["age"], "name": "x"},
        "TakeRequest": {"sources": [dataset], "common": common, "at": 0, "variable": "age"},
    }


def test_all_routes_of_the_api_are_walked() -> None:
    assert len(ROUTES) == 92


@pytest.mark.parametrize(("method", "path", "schema"), ROUTES)
def test_to_a_stranger_a_study_does_not_exist(
    members: dict[str, Client], call: Any, method: str, path: str, schema: str | None
) -> None:
    response = call(members["stranger"], method, path, schema)
    if (
        path.endswith(("/datasets", "/codebook-file", "/codebook-file/look", "/replace"))
        and method == "POST"
    ):
        # The file is asked for before anything is looked up; nothing of the study is told.
        assert response.status_code in (404, 422)
        return
    assert response.status_code == 404, response.content
    assert response["Content-Type"] == "application/problem+json"


@pytest.mark.parametrize(("method", "path", "schema"), ROUTES)
def test_nobody_who_is_not_signed_in_gets_anything(
    call: Any, method: str, path: str, schema: str | None
) -> None:
    assert call(Client(), method, path, schema).status_code == 401


@pytest.mark.parametrize(
    ("method", "path", "schema"),
    [route for route in ROUTES if route[0] != "GET" and route[:2] not in READING],
)
def test_a_reader_cannot_change_anything(
    members: dict[str, Client],
    call: Any,
    study: Study,
    method: str,
    path: str,
    schema: str | None,
) -> None:
    before = everything(study)
    response = call(members["reader"], method, path, schema)
    assert response.status_code in (403, 404, 422), response.content
    if not path.endswith(
        ("restore", "/datasets", "/codebook-file", "/codebook-file/look", "/replace")
    ):
        assert response.status_code == 403
    assert everything(study) == before


def everything(study: Study) -> list[Any]:
    return [
        list(Study.objects.values()),
        list(DataSet.objects.filter(study=study).values()),
        list(CodebookEntry.objects.filter(dataset__study=study).values()),
        list(SavedQuestion.objects.filter(study=study).values()),
        list(PreparationStep.objects.values()),
        list(NamedSubset.objects.values()),
        list(Job.objects.values()),
        list(Report.objects.values()),
        list(ReportBlock.objects.values()),
        list(Membership.objects.values()),
        list(Invitation.objects.values()),
    ]


def test_a_reader_cannot_bring_a_file(members: dict[str, Client], study: Study) -> None:
    from web.conftest import CSV, bring

    assert bring(members["reader"], study, CSV).status_code == 403
    assert bring(members["stranger"], study, CSV).status_code == 404


@pytest.mark.parametrize("role", ["owner", "analyst", "reader"])
def test_every_member_may_ask(members: dict[str, Client], call: Any, role: str) -> None:
    response = call(members[role], "POST", "/api/studies/{study_id}/answer", "AnswerRequest")
    assert response.status_code == 200
    assert response.json()["answer"]["counted"]["counted"] == 86


def test_a_question_of_one_study_is_not_reached_through_another(
    owner: Client, members: dict[str, Client], saved: SavedQuestion, study: Study
) -> None:
    mine = members["stranger"].post(
        "/api/studies", {"name": "Mine"}, content_type="application/json"
    )
    own = mine.json()["id"]
    stranger = members["stranger"]
    url = f"/api/studies/{own}/questions/{saved.id}"
    assert (
        stranger.patch(
            url, {"version": 1, "title": "x"}, content_type="application/json"
        ).status_code
        == 404
    )
    body = {"dataset": str(saved.dataset_id), "question": QUESTION}
    answer = stranger.post(f"/api/studies/{own}/answer", body, content_type="application/json")
    assert answer.status_code == 404
    assert owner.get(f"/api/studies/{study.id}").status_code == 200


def test_a_study_that_never_was_looks_like_one_of_somebody_else(owner: Client) -> None:
    assert owner.get(f"/api/studies/{uuid4()}").json()["status"] == 404
