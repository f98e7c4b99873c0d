"""The Distribution lens in the browser: shares, what was expected, many at once, what goes with it."""

from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from hobrix.web.studies.models import Membership

pytestmark = pytest.mark.usefixtures("each_household_once")


def ask_about(page: Page, variable: str) -> None:
    page.get_by_role("button", name="+ New question").click()
    page.get_by_role("combobox", name="Outcome").fill(variable)
    page.keyboard.press("Enter")


def test_how_an_outcome_is_distributed(
    page: Page, enter_demo: Callable[..., Page], no_serious_findings: Callable[[Page], None]
) -> None:
    enter_demo(page)
    ask_about(page, "stomach illness")
    answer = page.get_by_label("Answer", exact=True)
    expect(page.get_by_role("tab", name="Distribution")).to_have_attribute("aria-selected", "true")
    expect(page.get_by_role("tab", name="Crosstab")).to_have_attribute("aria-disabled", "true")
    expect(answer).to_contain_text("“Yes” is 15.2%")
    expect(page.get_by_label("Who is counted")).to_contain_text("2,379 answered")
    rows = answer.get_by_role("row")
    expect(rows.filter(has_text="Yes").first).to_contain_text("362")

    # Against a stated share, one-sided, with both hypotheses in words.
    page.get_by_text("Intervals and a stated share").click()
    page.get_by_label("a stated share of, %").fill("13")
    page.get_by_label("a stated share of, %").press("Enter")
    expect(answer).to_contain_text("Null hypothesis: The share of “Yes” (Stomach illness) is 13%.")
    expect(answer).to_contain_text("differs from 13%")
    page.get_by_label("a stated share of, %").fill("130")
    page.get_by_label("a stated share of, %").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("between 0 and 100%")
    page.keyboard.press("Escape")
    page.locator("body").press("Control+z")
    expect(answer).to_contain_text("differs from 13%")
    no_serious_findings(page)


def test_shares_that_were_expected(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    ask_about(page, "water source")
    page.get_by_role("button", name="Done").click()
    answer = page.get_by_label("Answer", exact=True)
    page.get_by_text("Against expected shares").click()
    page.get_by_label("Expected share of Piped").fill("60")
    expect(answer).to_contain_text("each blank gets 10 of what is left of 100")
    page.get_by_role("button", name="Compare with these shares").click()
    expect(answer).to_contain_text("depart from the stated shares")
    expect(answer.get_by_role("row").filter(has_text="Piped")).to_contain_text("1,426.8")
    # What is no share is refused, and what was typed stays.
    page.get_by_label("Expected share of River").fill("a fifth")
    expect(answer).to_contain_text("A share is a number")
    page.get_by_role("button", name="Compare with these shares").click()
    expect(page.get_by_role("alert")).to_contain_text("Expected shares must be numbers")
    page.locator("body").press("Control+z")
    page.get_by_label("Ratios in order").fill("2 : 1 : 1 : 1 : 1")
    page.get_by_label("Ratios in order").press("Enter")
    expect(answer).to_contain_text("They sum to 6 and will be scaled")
    page.get_by_role("button", name="Compare with these shares").click()
    expect(answer).to_contain_text("The stated shares sum to 6; they were scaled")


def test_numbers_have_a_histogram_that_can_be_changed(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page)
    ask_about(page, "age of head")
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("between 35 and 56")
    bins = page.locator(".mark-rect path")
    expect(bins).to_have_count(16)
    page.get_by_label("Width of a bin").fill("10")
    page.get_by_label("Width of a bin").press("Enter")
    expect(bins).to_have_count(9)
    page.get_by_label("normal curve").check()
    expect(page.locator(".mark-line path")).to_have_count(1)
    page.locator("body").press("w")
    page.get_by_role("combobox", name="Within each").fill("district")
    page.keyboard.press("Enter")
    within = page.get_by_label("Age of head within each group")
    expect(within.get_by_role("columnheader", name="Estuary")).to_be_visible()


def test_many_at_once_and_what_goes_with_it(
    page: Page, enter_demo: Callable[..., Page], no_serious_findings: Callable[[Page], None]
) -> None:
    enter_demo(page)
    page.get_by_label("Answer", exact=True).wait_for()
    page.keyboard.press("g")
    glance = page.get_by_label("All variables at a glance", exact=True)
    expect(glance.get_by_role("row")).to_have_count(37)
    glance.get_by_role("button", name="departure from equal shares").click()
    expect(glance.get_by_role("row").nth(1)).to_contain_text("Vomiting")
    no_serious_findings(page)
    glance.get_by_label("Find a variable").fill("illness")
    glance.get_by_role("button", name="Stomach illness").click()
    expect(page.get_by_label("Question", exact=True)).to_contain_text("Stomach illness: Yes")
    page.get_by_text("What goes with it?").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("An exploration: 35 variables compared")
    answer.get_by_role("button", name="Water source").click()
    expect(page.get_by_role("tab", name="Crosstab")).to_have_attribute("aria-selected", "true")
    expect(page.get_by_label("Question", exact=True)).to_contain_text("vary with Water source")
    # And back through the other lens: the same question.
    page.get_by_role("tab", name="Crosstab").press("ArrowLeft")
    expect(page.get_by_role("tab", name="Distribution")).to_be_focused()
    expect(answer).to_contain_text("“Yes” is 15.2%")


def test_a_reader_may_look_too(page: Page, enter_demo: Callable[..., Page], demo: Any) -> None:
    Membership.objects.filter(study=demo).update(role="reader")
    enter_demo(page)
    page.get_by_text("Where does the water come from?").click()
    expect(page.get_by_label("Answer", exact=True)).to_contain_text("depart from equal shares")
    expect(page.get_by_role("button", name="+ New question")).to_have_count(0)
