"""Signing in and out, throttling, forged requests, headers and limits."""

from typing import Any

import pytest
from django.test import Client

from hobrix.web.sign_in_link import sign_in_link


def sign_in(client: Client, password: str, **headers: str) -> Any:
    return client.post(
        "/api/session",
        {"username": "mira", "password": password},
        content_type="application/json",
        **headers,  # type: ignore[arg-type]
    )


def test_sign_in_and_out(person: Any) -> None:
    person("mira")
    client = Client()
    assert client.get("/api/session").json()["user"] is None
    assert sign_in(client, "a long password").json()["user"] == "mira"
    assert client.get("/api/session").json()["user"] == "mira"
    assert client.delete("/api/session").status_code == 204
    assert client.get("/api/studies").status_code == 401


def test_a_wrong_password_says_so_beside_the_field(person: Any) -> None:
    person("mira")
    response = sign_in(Client(), "wrong")
    assert response.status_code == 401
    assert response.json()["where"] == {"field": "password"}


def test_guessing_is_stopped_even_when_the_last_guess_is_right(person: Any) -> None:
    person("mira")
    client = Client()
    answers = [sign_in(client, "wrong").status_code for _ in range(5)]
    assert answers[-1] == 429
    assert sign_in(client, "a long password").status_code == 429
    assert "Wait" in sign_in(client, "a long password").json()["detail"]


def test_requests_without_the_token_are_refused(person: Any) -> None:
    user = person("mira")
    client = Client(enforce_csrf_checks=True)
    assert sign_in(client, "a long password").status_code in (401, 403)
    client.force_login(user)
    made = client.post("/api/studies", {"name": "x"}, content_type="application/json")
    assert made.status_code == 403


def test_requests_with_the_token_are_taken(person: Any) -> None:
    person("mira")
    client = Client(enforce_csrf_checks=True)
    client.get("/sign-in")
    token = client.cookies["csrftoken"].value
    assert sign_in(client, "a long password", HTTP_X_CSRFTOKEN=token).status_code == 200
    token = client.cookies["csrftoken"].value
    made = client.post(
        "/api/studies", {"name": "x"}, content_type="application/json", HTTP_X_CSRFTOKEN=token
    )
    assert made.status_code == 201


def test_the_link_signs_in_once(person: Any) -> None:
    user = person("mira")
    link = f"/enter/mira/{sign_in_link.make_token(user)}"
    first = Client()
    assert first.get(link)["Location"] == "/"
    assert first.get("/api/session").json()["user"] == "mira"
    second = Client()
    assert second.get(link)["Location"] == "/sign-in?link=used"
    assert second.get("/api/session").json()["user"] is None


@pytest.mark.parametrize("link", ["/enter/nobody/abc-def", "/enter/mira/abc-def"])
def test_invented_links_do_nothing(person: Any, link: str) -> None:
    person("mira")
    assert Client().get(link)["Location"] == "/sign-in?link=used"


def test_pages_carry_a_strict_content_security_policy(db: None) -> None:
    policy = Client().get("/")["Content-Security-Policy"]
    assert "unsafe-inline" not in policy
    assert "unsafe-eval" not in policy
    assert "script-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy


def test_what_the_api_does_not_know_is_a_problem_too(db: None) -> None:
    response = Client().get("/api/nothing/here")
    assert response.status_code == 404
    assert response["Content-Type"] == "application/problem+json"


def test_a_file_that_is_too_large_is_refused_before_it_is_read(settings: Any, db: None) -> None:
    settings.UPLOAD_LIMIT = 1000
    response = Client().generic("POST", "/api/studies/x/datasets", data=b"x" * 2000)
    assert response.status_code == 413
    assert "takes files up to" in response.json()["detail"]
