"""Answers side by side: chosen, refused and mended; one question in every group; a kept question."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect


def test_answers_stand_side_by_side(
    demo: Any,
    enter_demo: Callable[..., Page],
    page: Page,
    no_serious_findings: Callable[[Page], None],
) -> None:
    enter_demo(page)
    expect(page.get_by_role("heading", name="Line of questions")).to_be_visible()
    page.get_by_role("textbox", name="Find a question").fill("schooling")
    page.get_by_role("link", name=re.compile("Does schooling matter")).click()
    page.get_by_role("button", name="Note").click()
    page.get_by_label("Note", exact=True).fill("For **table 2**.")
    page.keyboard.press("Tab")
    expect(page.locator(".note strong")).to_have_text("table 2")
    page.get_by_label("Standing").select_option("kept")
    expect(page.get_by_role("button", name="1 kept")).to_be_visible()
    page.keyboard.press("Escape")

    page.get_by_role("link", name="Compare", exact=True).click()
    expect(page.get_by_text("Choose two to eight answers")).to_be_visible()
    page.get_by_label(re.compile("^Does illness vary with water source")).check()
    page.get_by_label(re.compile("weighted, villages as clusters")).check()
    table = page.get_by_role("table")
    expect(table.get_by_text("the same people: shown as change, not tested")).to_be_visible()
    expect(table.get_by_text("with the design")).to_be_visible()
    row = table.get_by_role("row", name=re.compile("River against Piped"))
    expect(row).to_contain_text("3.00")
    expect(page.get_by_role("group", name="odds ratio, answer by answer")).to_be_visible()
    no_serious_findings(page)

    # What cannot stand there says why; a click makes it comparable.
    page.get_by_label(re.compile("^Where does the water come from")).check()
    offer = table.get_by_role("button", name="Ask about “Yes” (Stomach illness)").first
    expect(offer).to_be_visible()
    offer.click()
    expect(page.get_by_text("Not as they stand in the line of questions")).to_be_visible()
    page.get_by_role("button", name="Back to those chosen").click()
    page.reload()
    expect(table.get_by_role("columnheader")).to_have_count(4)

    # The first of them in every district: independent people, tested.
    page.get_by_label("In every group of").select_option("district")
    expect(table.get_by_role("columnheader", name=re.compile("District: Norrin"))).to_be_visible()
    expect(table.get_by_text("no clear difference").first).to_be_visible()
    no_serious_findings(page)
