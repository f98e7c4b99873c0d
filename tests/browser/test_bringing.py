"""Two follow-ups under other names and codes, on their way to odds ratios; matching; and back."""

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from browser.conftest import sign_in
from hobrix.web.demo.load import bring_later, demo_user
from hobrix.web.studies.models import Membership, Role, SavedQuestion

VISITS = ("Visits in the Ostra", "Visits in Vell valley")


@pytest.fixture
def at_bring(demo: Any, enter_demo: Callable[..., Page], page: Page) -> Page:
    bring_later(demo, demo_user(), *VISITS, "Villages")
    enter_demo(page, "data")
    page.get_by_role("link", name="Bring data sets together").click()
    return page


def option(page: Page, name: str) -> Locator:
    return page.get_by_role("option", name=re.compile(name))


def pick(page: Page, typed: str) -> None:
    """A variable in the picker that was opened."""
    field = page.get_by_role("dialog").get_by_role("combobox")
    field.fill(typed)
    field.press("Enter")


def settled(page: Page, label: str) -> None:
    """The common variable is in the list, and what was settled is kept."""
    expect(page.get_by_role("region", name="Common variables").get_by_text(label)).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="saving")).to_have_count(0)


def offer(page: Page, words: str) -> None:
    offers = page.get_by_role("region", name="May be the same").get_by_role("listitem")
    offers.filter(has_text=words).get_by_role("button", name="Look").click()


def test_two_follow_ups_on_their_way_to_odds_ratios(
    at_bring: Page, no_serious_findings: Callable[[Page], None]
) -> None:
    page = at_bring
    page.get_by_role("radio", name=re.compile("Stack")).click()
    for name in VISITS:
        page.get_by_label(name).check()
    # Rows that count differently do not come together: the reason, and the way out.
    expect(page.get_by_role("alert")).to_contain_text(
        "Make one row per case of Visits in the Ostra"
    )
    page.get_by_role("checkbox", name="Round one").uncheck()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_label("Name of the new data set").fill("All visits")
    page.get_by_role("button", name="Stack them").click()
    expect(page.get_by_role("heading", name="All visits")).to_be_visible()
    expect(page.get_by_text("Nothing is common yet")).to_be_visible()

    # Found by words in labels and answers, taken from each data set, or as what may be the same.
    page.get_by_role("textbox", name="Search all data sets").fill("since the last visit")
    page.keyboard.press("Enter")
    settled(page, "Stomach illness since the last visit")
    page.get_by_role("button", name="Variable of Visits in Vell valley").click()
    pick(page, "sick")
    table = page.get_by_role("table")
    expect(table.get_by_role("button", name=re.compile("^Yes, "))).to_have_count(2)
    for words in ("chlorine · cl", "boils · boiling", "seen_on · date"):
        offer(page, words)
        expect(page.get_by_role("region", name="May be the same")).not_to_contain_text(words)

    # Water: answers by their number keys, one dragged, one set aside.
    page.get_by_role("textbox", name="Search all data sets").fill("protected well")
    page.keyboard.press("Enter")
    settled(page, "Water source")
    page.get_by_role("button", name="Variable of Visits in Vell valley").click()
    pick(page, "supply")
    for answer, key in (("Network", "1"), ("Own well", "2"), ("Surface", "4")):
        chip = table.get_by_role("button", name=re.compile(f"^{answer}, "))
        chip.focus()
        page.keyboard.press(key)
        expect(chip).not_to_have_class(re.compile("open"))
    shared = table.get_by_role("button", name=re.compile("^Shared well, "))
    shared.drag_to(
        table.get_by_role("row", name=re.compile("Open well")).get_by_role("cell").nth(1)
    )
    expect(shared).not_to_have_class(re.compile("open"))
    expect(
        page.get_by_text(re.compile("Not placed yet in Visits in Vell valley: “Tanker”"))
    ).to_be_visible()
    table.get_by_role("button", name=re.compile("^Tanker, ")).focus()
    page.keyboard.press("0")
    expect(page.get_by_text(re.compile("Not placed yet"))).to_have_count(0)
    settled(page, "Water source")
    no_serious_findings(page)

    # Chlorine is in other units there: seen, and put right with a factor.
    page.get_by_role("button", name=re.compile("^Free chlorine")).click()
    page.get_by_label("Factor for Visits in Vell valley").fill("0.001")
    page.keyboard.press("Tab")
    settled(page, "Free chlorine")
    page.reload()
    page.get_by_role("button", name=re.compile("^Free chlorine")).click()
    expect(page.get_by_label("Factor for Visits in Vell valley")).to_have_value("0.001")
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Factor for Visits in Vell valley")).to_have_value("1")
    page.keyboard.press("Control+Shift+Z")
    expect(page.get_by_label("Factor for Visits in Vell valley")).to_have_value("0.001")

    groups(page)
    no_serious_findings(page)


def groups(page: Page) -> None:
    """Affected at their first such row, unaffected at their last; n per condition; odds ratios."""
    page.get_by_role("link", name="Groups to compare").click()
    for name, answer in (("affected", "Yes"), ("unaffected", "No")):
        page.get_by_role("button", name=f"Who is in {name}").click()
        pick(page, "since the last")
        page.get_by_label(re.compile(f"^{answer}")).check()
        page.get_by_role("button", name="Among these").click()
        page.keyboard.press("Escape")
    page.get_by_label("Cases of two groups").select_option("first")
    page.get_by_label("Study design").select_option("cohort")
    found = page.get_by_text(re.compile("cases are in a group"))
    expect(found).to_contain_text("of 690 cases")
    page.get_by_role("button", name="Compare by").click()
    pick(page, "water")
    left = page.get_by_role("region", name="How many are left").get_by_role("table")
    expect(left.get_by_role("row", name=re.compile("^River"))).to_be_visible()
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("navigation", name="What is made from what")).to_contain_text(
        re.compile("All visits.*Groups of All visits", re.DOTALL)
    )
    page.get_by_role("button", name="Odds ratios of each condition").click()
    expect(page.get_by_text(re.compile("odds of “affected”")).first).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("River"))).to_be_visible()


def test_facts_of_villages_are_matched_and_what_finds_none_is_said(
    at_bring: Page, no_serious_findings: Callable[[Page], None]
) -> None:
    page = at_bring
    page.get_by_role("radio", name=re.compile("Match")).click()
    page.get_by_role("checkbox", name="Round one").check()
    page.get_by_role("checkbox", name="Villages").check()
    page.get_by_role("button", name="Key 1 in Round one").click()
    pick(page, "village")
    page.get_by_role("button", name="Key 1 in Villages").click()
    pick(page, "village_code")
    page.get_by_role("button", name=re.compile("^All")).click()
    expect(page.get_by_text(re.compile("find no key in Villages; they stay"))).to_be_visible()
    no_serious_findings(page)
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("link", name="See its rows").click()
    expect(page.get_by_text("matched from Round one and Villages")).to_be_visible()

    # The other way round a village stands in many rows: refused beside the key, with rows named.
    page.get_by_role("link", name="Bring data sets together").click()
    page.get_by_role("radio", name=re.compile("Match")).click()
    page.get_by_role("checkbox", name="Round one with Villages").uncheck()
    page.get_by_role("checkbox", name=re.compile("^Villages")).check()
    page.get_by_role("checkbox", name=re.compile("^Round one 2,412")).check()
    page.get_by_role("button", name="Key 1 in Villages").click()
    pick(page, "village_code")
    page.get_by_role("button", name="Key 1 in Round one").click()
    pick(page, "village")
    page.get_by_label("Has a treatment plant").or_(page.get_by_label("Weight")).first.check()
    expect(page.get_by_text(re.compile("stand in more than one row"))).to_be_visible()


def test_terms_are_read_before_anything_is_shown(
    demo: Any, mira: Any, page: Page, no_serious_findings: Callable[[Page], None]
) -> None:
    bring_later(demo, demo_user(), "Visits in Vell valley")
    Membership.objects.create(study=demo, user=mira, role=Role.READER)
    lent = demo.datasets.get(name="Visits in Vell valley")
    sign_in(page)
    expect(page.get_by_text("Ostra Basin household water survey").first).to_be_visible()
    question = {"version": 2, "outcome": {"variable": "sick"}}
    asked = SavedQuestion.objects.create(
        study=demo,
        dataset=lent,
        position=500,
        title="Who is sick?",
        question=question,
        headline="19%",
    )
    page.goto(f"/studies/{demo.id}/ask/{asked.id}")
    expect(page.get_by_role("heading", name="Terms of use")).to_be_visible()
    expect(page.get_by_role("link", name="Who is sick?")).not_to_contain_text("19%")
    page.goto(f"/studies/{demo.id}/data/{lent.id}")
    expect(page.get_by_role("heading", name="Terms of use")).to_be_visible()
    expect(page.get_by_role("columnheader", name="Household")).to_have_count(0)
    no_serious_findings(page)
    page.get_by_role("button", name="Accept and go on").click()
    expect(page.get_by_role("columnheader", name="Household")).to_be_visible()
    page.reload()
    expect(page.get_by_role("columnheader", name="Household")).to_be_visible()
    expect(page.get_by_text("preliminary, not for publication")).to_be_visible()
