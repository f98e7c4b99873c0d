"""Two people write a report at the same moment: neither's page takes the other's change for known."""

import threading
from collections.abc import Callable
from typing import Any

import pytest
from django.db import connection
from django.test import Client

from hobrix.web.api import reports as routes
from hobrix.web.studies.models import Study
from web.test_reports import Reports, paragraph

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def both(owner: Client, signed_in: Callable[[Any], Client], study: Study) -> tuple[Reports, str]:
    reports = Reports(owner, study)
    report = reports.make()
    reports.write(
        report, {"name": "a", "block": paragraph("one")}, {"name": "b", "block": paragraph("two")}
    )
    return reports, report


def change(reports: Reports, report: str, name: str, text: str) -> Any:
    return reports.write(report, {"name": name, "version": 1, "block": paragraph(text)})


def stamp(reports: Reports, report: str) -> str:
    return str(reports.send("GET", f"/{report}/stamp").json()["stamp"])


def test_a_change_that_comes_while_blocks_are_written_is_not_in_their_stamp(
    both: tuple[Reports, str], monkeypatch: pytest.MonkeyPatch
) -> None:
    reports, report = both
    first, original = stamp(reports, report), routes.change_blocks
    done: list[Any] = []

    def theirs() -> None:
        done.append(change(reports, report, "b", "two, by another"))
        connection.close()

    other = threading.Thread(target=theirs)

    def at_once(*arguments: Any) -> Any:
        monkeypatch.setattr(routes, "change_blocks", original)
        other.start()
        other.join(1)
        return original(*arguments)

    monkeypatch.setattr(routes, "change_blocks", at_once)
    mine = change(reports, report, "a", "one, by me")
    other.join(20)
    (theirs_then,) = done
    assert reports.texts(report) == ["one, by me", "two, by another"]
    # One came first, and only the other knows of both.
    assert mine["before"] == first
    assert theirs_then["before"] == mine["stamp"] != theirs_then["stamp"]
    assert stamp(reports, report) == theirs_then["stamp"]


def test_a_change_that_comes_while_the_report_is_read_makes_its_stamp_old(
    both: tuple[Reports, str], monkeypatch: pytest.MonkeyPatch
) -> None:
    reports, report = both
    original = routes.blocks_of

    def then_changed(of: Any) -> Any:
        monkeypatch.setattr(routes, "blocks_of", original)
        found = original(of)
        change(reports, report, "a", "one, meanwhile")
        return found

    monkeypatch.setattr(routes, "blocks_of", then_changed)
    read = reports.read(report)
    assert [block["version"] for block in read["blocks"]] == [1, 1]
    assert read["stamp"] != stamp(reports, report)
