"""Outcomes that are not cut in two, and people who were matched, in the browser."""

from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from hobrix.web.demo.load import FEVER, bring_later, demo_user


def choose(page: Page, slot: str, typed: str, option: str) -> None:
    page.get_by_role("combobox", name=slot).fill(typed)
    page.get_by_role("option", name=option).first.wait_for()
    page.keyboard.press("Enter")


def test_an_ordered_outcome_is_turned_cut_and_taken_whole_again(
    page: Page, enter_demo: Callable[..., Page], no_serious_findings: Callable[[Page], None]
) -> None:
    enter_demo(page)
    page.get_by_title("Outcome and event").click()
    choose(page, "Outcome", "trust", "Trust in the water utility")
    # No answer is the event: all are compared.
    page.get_by_role("button", name="Done").click()
    page.get_by_role("tab", name="Odds model").click()
    answer = page.get_by_label("Answer", exact=True)
    sentence = page.get_by_label("Question", exact=True)
    expect(answer).to_contain_text("he odds of a higher answer to Trust in the water utility")
    expect(sentence).to_contain_text("every answer")
    page.get_by_role("button", name="Turn round: tell the odds of a lower answer").click()
    expect(answer).to_contain_text("he odds of a lower answer to Trust in the water utility")
    page.get_by_role("button", name="Turn round: tell the odds of a higher answer").click()
    expect(answer).to_contain_text("he odds of a higher answer")
    page.locator("summary").filter(has_text="The same at every cut?").click()
    expect(answer.get_by_text("Brant’s test").first).to_be_visible()
    page.locator("summary").filter(has_text="Predicted shares").click()
    bars = page.get_by_role("group", name="Predicted shares of the answers by Water source")
    expect(bars).to_be_visible()
    no_serious_findings(page)
    # The outcome is cut where the header says, and one click takes every answer again.
    answer.get_by_role("button", name="Some or A lot").click()
    expect(answer).to_contain_text("The odds of “Some or A lot” (Trust in the water utility)")
    page.get_by_role("button", name="Every answer to Trust in the water utility").click()
    expect(answer).to_contain_text("he odds of a higher answer")
    # Which is kept over a reload, as everything asked is.
    page.reload()
    expect(answer).to_contain_text("he odds of a higher answer")


def test_matched_sets_are_kept_to_with_a_click(
    page: Page,
    demo: Any,
    enter_demo: Callable[..., Page],
    no_serious_findings: Callable[[Page], None],
) -> None:
    bring_later(demo, demo_user(), FEVER)
    fever = demo.datasets.get(name=FEVER)
    enter_demo(page, f"ask?about={fever.id}")
    # A new question asks for its outcome first.
    choose(page, "Outcome", "fever", "Fever")
    page.keyboard.press("v")
    choose(page, "Vary with", "shell", "Shellfish eaten")
    page.get_by_role("tab", name="Odds model").click()
    margin = page.get_by_text("People were matched in sets (Matched set)")
    expect(margin).to_be_visible()
    page.get_by_role("button", name="Compare within Matched set").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("Within each Matched set, the odds of “Case” (Fever)")
    expect(answer).to_contain_text("of 110 sets (Matched set) tell something")
    no_serious_findings(page)
    page.get_by_role("button", name="Without matching within Matched set").click()
    expect(margin).to_be_visible()
