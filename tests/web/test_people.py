"""Inviting, roles, leaving, sessions, the log, who is here, and what the operator sees."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.db import DatabaseError, connection
from django.test import Client
from django.utils import timezone

from hobrix.web.api.happened import SENTENCES
from hobrix.web.people import presence
from hobrix.web.people.models import Happening, Invitation, SignIn
from hobrix.web.studies.models import DataSet, Membership, SavedQuestion, Study
from web.conftest import CSV, QUESTION, bring
from web.test_access import READING, ROUTES

JSON: dict[str, Any] = {"content_type": "application/json"}


@pytest.fixture
def at(study: Study) -> str:
    return f"/api/studies/{study.id}"


def invited(owner: Client, at: str, role: str = "analyst") -> str:
    made = owner.post(f"{at}/people/invitations", {"role": role}, **JSON)
    assert made.status_code == 201, made.content
    return str(made.json()["secret"])


def roles(study: Study) -> dict[str, str]:
    return {m.user.get_username(): m.role for m in study.memberships.select_related("user")}


def test_an_invitation_makes_an_account_and_works_once(
    owner: Client, study: Study, at: str
) -> None:
    link = f"/api/invitations/{invited(owner, at)}"
    somebody = Client()
    assert somebody.get(link).json() == {"study": "Ostra Basin", "role": "analyst", "by": "owner"}
    joined = somebody.post(link, {"username": "Ida", "password": "river and well"}, **JSON)
    assert joined.status_code == 200, joined.content
    assert joined.json()["session"]["user"] == "Ida"
    assert roles(study)["Ida"] == "analyst"
    assert somebody.get(at).status_code == 200
    for again in (Client(), somebody):
        assert again.get(link).status_code == 404
        assert (
            again.post(link, {"username": "Jon", "password": "river and well"}, **JSON).status_code
            == 404
        )


def test_who_has_an_account_joins_with_it_and_loses_no_rights(
    owner: Client, members: dict[str, Client], study: Study, at: str
) -> None:
    for name in ("stranger", "analyst", "reader"):
        assert (
            members[name]
            .post(f"/api/invitations/{invited(owner, at, 'analyst')}", {}, **JSON)
            .status_code
            == 200
        )
    assert roles(study) == {
        "owner": "owner",
        "analyst": "analyst",
        "reader": "analyst",
        "stranger": "analyst",
    }
    members["analyst"].post(f"/api/invitations/{invited(owner, at, 'reader')}", {}, **JSON)
    assert roles(study)["analyst"] == "analyst"


@pytest.mark.parametrize(
    ("body", "field", "says"),
    [
        ({"username": "owner", "password": "river and well"}, "username", "already an account"),
        ({"username": "OWNER", "password": "river and well"}, "username", "already an account"),
        ({"username": " ", "password": "river and well"}, "username", ""),
        ({"username": "a b/c", "password": "river and well"}, "username", ""),
        ({"username": "ida", "password": "short"}, "password", "too short"),
        ({}, "username", ""),
    ],
)
def test_a_new_account_that_cannot_be_made_leaves_the_invitation_open(
    owner: Client, at: str, body: dict[str, str], field: str, says: str
) -> None:
    link = f"/api/invitations/{invited(owner, at)}"
    refused = Client().post(link, body, **JSON)
    assert refused.status_code == 422
    assert refused.json()["where"]["field"] == field
    assert says in refused.json()["detail"]
    assert Client().get(link).status_code == 200


def test_invitations_end_and_are_taken_back_and_their_secret_is_not_kept(
    owner: Client, at: str
) -> None:
    secret = invited(owner, at)
    assert secret not in str(list(Invitation.objects.values()))
    Invitation.objects.update(ends_at=timezone.now() - timedelta(seconds=1))
    assert Client().get(f"/api/invitations/{secret}").status_code == 404
    other = invited(owner, at)
    kept = owner.get(f"{at}/people").json()["invitations"]
    assert len(kept) == 2
    for each in kept:
        assert owner.delete(f"{at}/people/invitations/{each['id']}").status_code == 204
    assert Client().get(f"/api/invitations/{other}").status_code == 404


def test_roles_change_and_a_study_always_has_an_owner(
    owner: Client, members: dict[str, Client], study: Study, at: str
) -> None:
    ids = {each["user"]: each["id"] for each in owner.get(f"{at}/people").json()["members"]}
    assert set(ids) == {"owner", "analyst", "reader"}
    me = f"{at}/people/{ids['owner']}"
    for refused in (owner.delete(me), owner.patch(me, {"role": "reader"}, **JSON)):
        assert refused.status_code == 422
        assert "needs an owner" in refused.json()["detail"]
    # Handed over: somebody else owns it, then one may go.
    other = owner.patch(f"{at}/people/{ids['analyst']}", {"role": "owner"}, **JSON)
    assert other.json()["role"] == "owner"
    assert owner.delete(me).status_code == 204
    assert owner.get(at).status_code == 404
    assert roles(study) == {"analyst": "owner", "reader": "reader"}


def test_everybody_may_leave_and_only_owners_take_others_out(
    members: dict[str, Client], study: Study, at: str
) -> None:
    ids = {m.user.get_username(): m.user_id for m in study.memberships.select_related("user")}
    reader = members["reader"]
    assert reader.delete(f"{at}/people/{ids['analyst']}").status_code == 403
    assert reader.get(f"{at}/people").json()["invitations"] == []
    assert reader.delete(f"{at}/people/{ids['reader']}").status_code == 204
    assert reader.get(at).status_code == 404
    assert members["owner"].delete(f"{at}/people/{ids['analyst']}").status_code == 204
    assert set(roles(study)) == {"owner"}


def test_sessions_are_seen_and_ended(person: Callable[[str], Any]) -> None:
    person("ida")
    body = {"username": "ida", "password": "a long password"}
    here, there = Client(headers={"user-agent": "Mozilla Firefox/128.0 Linux"}), Client()
    for client in (here, there):
        assert client.post("/api/session", body, **JSON).status_code == 200
    listed = here.get("/api/account/sessions").json()
    assert sorted(each["is_this"] for each in listed) == [False, True]
    mine = next(each for each in listed if each["is_this"])
    assert mine["browser"] == "Firefox on Linux"
    other = next(each for each in listed if not each["is_this"])
    assert here.delete(f"/api/account/sessions/{other['id']}").status_code == 204
    assert there.get("/api/session").json()["user"] is None
    assert here.get("/api/session").json()["user"] == "ida"
    # Nobody ends those of somebody else.
    person("jon")
    stranger = Client()
    stranger.post("/api/session", {**body, "username": "jon"}, **JSON)
    stranger.delete(f"/api/account/sessions/{mine['id']}")
    assert here.get("/api/session").json()["user"] == "ida"
    here.delete("/api/session")
    assert list(SignIn.objects.values_list("user__username", flat=True)) == ["jon"]


def test_another_password_signs_one_out_elsewhere(person: Callable[[str], Any]) -> None:
    person("ida")
    body = {"username": "ida", "password": "a long password"}
    here, there = Client(), Client()
    for client in (here, there):
        client.post("/api/session", body, **JSON)
    change = {"old": "a long password", "new": "an even longer one"}
    for wrong, field in (({**change, "old": "x"}, "old"), ({**change, "new": "x"}, "new")):
        refused = here.post("/api/account/password", wrong, **JSON)
        assert (refused.status_code, refused.json()["where"]["field"]) == (422, field)
    assert here.post("/api/account/password", change, **JSON).status_code == 204
    assert here.get("/api/session").json()["user"] == "ida"
    assert there.get("/api/session").json()["user"] is None


def test_wrong_passwords_over_many_names_are_slowed(person: Callable[[str], Any]) -> None:
    person("ida")
    guesser = Client()
    statuses = [
        guesser.post("/api/session", {"username": f"name{i}", "password": "x"}, **JSON).status_code
        for i in range(45)
    ]
    assert statuses[:40] == [401] * 40
    assert set(statuses[40:]) == {429}


def test_every_change_and_every_export_has_its_sentence() -> None:
    """What changes or takes out something is written down; what only asks is not."""

    def plain(path: str) -> str:
        return path.replace("int:", "").replace("<", "{").replace(">", "}").removeprefix("api/")

    written = {(method, plain(route)) for method, route in SENTENCES}
    looks = ("/look", "/preview", "/weights", "/count", "/cases")
    for method, path, _ in ROUTES:
        if (method, path) in READING and not path.endswith("/terms"):
            continue
        if (method == "GET" and "export" not in path) or path.endswith(looks):
            continue
        assert (method, path.removeprefix("/api/")) in written, (method, path)


def test_the_log_says_who_did_what_and_is_for_owners(
    members: dict[str, Client], study: Study, at: str, dataset: DataSet
) -> None:
    analyst, owner = members["analyst"], members["owner"]
    step = {"step": "describe", "variable": "ill", "label": "Illness"}
    analyst.post(f"{at}/datasets/{dataset.id}/steps", {"step": step, "seen": {}}, **JSON)
    kept = {"dataset": str(dataset.id), "question": QUESTION, "title": "Does it vary?"}
    made = analyst.post(f"{at}/questions", kept, **JSON).json()
    analyst.delete(f"{at}/questions/{made['id']}")
    owner.get(f"{at}/datasets/{dataset.id}/export/csv")
    owner.post(f"{at}/people/invitations", {"role": "reader"}, **JSON)
    # Refused, and asked: not written down.
    members["reader"].delete(f"{at}/questions/{made['id']}")
    owner.post(f"{at}/answer", {"dataset": str(dataset.id), "question": QUESTION}, **JSON)
    told = [(each["who"], each["words"]) for each in reversed(owner.get(f"{at}/log").json())]
    assert told[-5:] == [
        ("analyst", "prepared: “ill: called “Illness””"),
        ("analyst", "kept the question “Does it vary?”"),
        ("analyst", "deleted the question “Does it vary?”"),
        ("owner", "took the data of “survey” out (csv)"),
        ("owner", "invited somebody as “reader”"),
    ]
    assert analyst.get(f"{at}/log").status_code == 403


def test_the_log_is_not_changed_afterwards(owner: Client, study: Study, at: str) -> None:
    bring(owner, study, CSV)
    assert Happening.objects.count() == 1
    with pytest.raises(DatabaseError, match="not changed"), connection.cursor() as cursor:
        cursor.execute("UPDATE people_happening SET words = 'nothing'")


def test_who_is_here_is_seen_by_the_others_and_soon_forgotten(
    members: dict[str, Client], at: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def pulse(who: str, **body: str) -> Any:
        return members[who].post(f"{at}/pulse", {"window": who, **body}, **JSON).json()

    assert pulse("owner", screen="codebook", editing="Stomach illness")["here"] == []
    seen = pulse("analyst", screen="ask")["here"]
    assert seen == [{"who": "owner", "screen": "codebook", "editing": "Stomach illness"}]
    assert [each["who"] for each in pulse("owner")["here"]] == ["analyst"]
    monkeypatch.setattr(presence, "GONE", 0.0)
    assert pulse("reader")["here"] == []


def test_marks_change_with_what_they_are_of(
    members: dict[str, Client], at: str, saved: SavedQuestion, dataset: DataSet
) -> None:
    def marks() -> dict[str, str]:
        told = members["reader"].post(f"{at}/pulse", {"window": "w"}, **JSON).json()
        return {name: told[name] for name in ("questions", "datasets", "reports", "people")}

    before = marks()
    assert marks() == before
    members["analyst"].patch(f"{at}/questions/{saved.id}", {"version": 1, "title": "New"}, **JSON)
    after = marks()
    assert [name for name in after if after[name] != before[name]] == ["questions"]
    step = {"step": "describe", "variable": "ill", "label": "Illness"}
    members["analyst"].post(f"{at}/datasets/{dataset.id}/steps", {"step": step, "seen": {}}, **JSON)
    assert marks()["datasets"] != after["datasets"]


def test_the_operator_sees_sizes_and_no_data(
    members: dict[str, Client], study: Study, dataset: DataSet
) -> None:
    assert members["owner"].get("/api/operator").status_code == 404
    get_user_model().objects.filter(username="stranger").update(is_staff=True)
    told = members["stranger"].get("/api/operator").json()
    assert {each["name"] for each in told["people"]} == {"owner", "analyst", "reader", "stranger"}
    (line,) = told["studies"]
    assert (line["name"], line["owners"], line["people"]) == ("Ostra Basin", "owner", 3)
    assert line["bytes"] == dataset.size
    # Running Hobrix gives no way into a study.
    assert members["stranger"].get(f"/api/studies/{study.id}").status_code == 404


def test_what_one_person_may_keep_is_bounded(
    owner: Client, study: Study, settings: Any, dataset: DataSet
) -> None:
    settings.MOST_STUDIES = 1
    refused = owner.post("/api/studies", {"name": "One more"}, **JSON)
    assert refused.status_code == 422
    assert "as many as one person may" in refused.json()["detail"]
    settings.MOST_BYTES = dataset.size + 10
    refused = bring(owner, study, CSV)
    assert refused.status_code == 422
    assert "one person may keep" in refused.json()["detail"]
    assert Membership.objects.filter(role="owner").count() == 1


def test_health_and_metrics(client: Client, db: None, settings: Any) -> None:
    assert client.get("/health").json()["ok"] is True
    told = client.get("/metrics").content.decode()
    assert "hobrix_studies 0\n" in told
    # Through a proxy, or with a token that is not shown, there is nothing.
    assert client.get("/metrics", headers={"x-forwarded-for": "10.0.0.9"}).status_code == 404
    settings.METRICS_TOKEN = "secret"
    assert client.get("/metrics").status_code == 404
    assert client.get("/metrics", headers={"authorization": "Bearer secret"}).status_code == 200


@pytest.mark.parametrize("key", ["-2.2e-313", "x", "9" * 30, "0", "-1"])
def test_keys_that_are_none_lead_nowhere(owner: Client, at: str, key: str) -> None:
    for path in (f"{at}/people/{key}", f"{at}/questions/{key}", f"{at}/datasets/{key}"):
        assert owner.delete(path).status_code in (404, 422), path
    assert owner.patch(f"/api/studies/{key}", {"name": "x", "version": 1}, **JSON).status_code in (
        404,
        422,
    )
