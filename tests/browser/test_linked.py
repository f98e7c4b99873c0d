"""A table that stays where it is: linked, banded, asked, away and back."""

from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from playwright.sync_api import Page, expect

from hobrix.web.studies.models import Place
from web.test_linked import people

pytestmark = pytest.mark.django_db(transaction=True)


def work() -> None:
    call_command(
        "db_worker", batch=True, interval=0, startup_delay=False, reload=False, verbosity=0
    )


def test_a_register_is_linked_and_asked_where_it_is(
    enter_demo: Any, page: Page, tmp_path: Path, no_serious_findings: Any
) -> None:
    folder = tmp_path / "registers"
    (folder / "flood").mkdir(parents=True)
    people().write_parquet(folder / "flood" / "part-0.parquet")
    Place.objects.create(name="Registers", where=str(folder))
    Place.objects.create(name="Archive", where=str(tmp_path / "archive"))

    enter_demo(page, "data")
    page.get_by_role("button", name="Link data that stay elsewhere").click()
    places = page.get_by_role("region", name="Places")
    expect(places).to_contain_text("The place “Archive” cannot be reached now")
    no_serious_findings(page)
    places.get_by_role("button", name="Link it: flood").press("Enter")
    jobs = page.get_by_label("Files being read")
    expect(jobs).to_contain_text("flood")
    work()
    listed = page.get_by_role("list", name="Data sets")
    expect(listed.get_by_role("link", name="flood")).to_have_attribute("aria-current", "page")
    expect(listed).to_contain_text("1,200 rows · stays in Registers")
    expect(page.get_by_role("table", name="Rows of the data set")).to_contain_text("piped")

    # A question, by pointing; how it was counted stands among the checks.
    study = page.url.split("/studies/")[1].split("/")[0]
    page.goto(f"/studies/{study}/ask?about={page.url.rsplit('/', 1)[1]}")
    page.wait_for_url("**/ask/*-*")
    expect(page.get_by_title("Among")).to_contain_text("every row")
    page.get_by_role("option", name="ill").first.click()
    page.get_by_title("Vary with, and its reference").click()
    page.get_by_role("option", name="source").first.click()
    expect(page.get_by_label("Who is counted")).to_contain_text("1,200 surveyed")
    expect(page.get_by_text("Counted in “Registers”, where the rows")).to_be_attached()

    # The place goes away: what was counted is answered all the same, anything else says so until it is back.
    away = folder.rename(tmp_path / "elsewhere")
    page.get_by_role("tab", name="Proportions").click()
    expect(page.get_by_text("Answered from what was kept")).to_be_attached()
    page.get_by_title("Vary with, and its reference").click()
    page.get_by_role("option", name="trust").first.click()
    expect(page.get_by_role("alert")).to_contain_text("cannot be reached now")
    away.rename(folder)
    page.reload()
    expect(page.get_by_text("checks hold")).to_be_visible()
