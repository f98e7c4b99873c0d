"""The Proportions lens in the browser: shares, reference, margins, strata, the first table."""

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect


@pytest.fixture
def shares(page: Page, enter_demo: Callable[..., Page]) -> Page:
    """Illness by water source, seen through the Proportions lens."""
    enter_demo(page)
    page.get_by_role("tab", name="Proportions").click()
    expect(page.get_by_label("Answer", exact=True)).to_contain_text("16.6 percentage points more")
    return page


def test_shares_by_group_and_turning_round(
    shares: Page, no_serious_findings: Callable[[Page], None]
) -> None:
    page = shares
    answer = page.get_by_label("Answer", exact=True)
    river = answer.get_by_role("row").filter(has_text="River").first
    expect(river).to_contain_text("11.6 to 21.9")
    no_serious_findings(page)
    page.get_by_role("button", name="Compare the others against River").click()
    expect(answer).to_contain_text("Piped minus River")
    expect(answer.get_by_role("row").filter(has_text="Piped").first).to_contain_text("−16.6")
    answer.get_by_role("button", name="share", exact=True).click()
    expect(answer.get_by_role("row").nth(1)).to_contain_text("River")


def test_margin_statement_and_planning(shares: Page) -> None:
    page = shares
    answer = page.get_by_label("Answer", exact=True)
    page.get_by_text("Within a margin").click()
    page.get_by_label("Margin, percentage points").fill("5")
    page.get_by_label("Margin, percentage points").press("Enter")
    expect(answer).to_contain_text("Protected well is shown to be equivalent to Piped")
    page.get_by_label("Margin, percentage points").fill("0")
    page.get_by_label("Margin, percentage points").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("above 0")
    page.locator("body").press("Control+z")
    page.get_by_text("Hypothesis statement").click()
    expect(answer).to_contain_text("Reject the null hypothesis at the 5% level.")
    page.get_by_text("Planning", exact=True).click()
    page.get_by_label("Number per group").fill("50")
    page.get_by_label("Number per group").press("Enter")
    expect(answer).to_contain_text("With 50 per group")


def test_strata_standardisation_and_the_first_table(shares: Page) -> None:
    page = shares
    page.keyboard.press("w")
    page.get_by_role("combobox", name="Within each").fill("district")
    page.keyboard.press("Enter")
    within = page.get_by_label("Within strata")
    expect(within.get_by_role("row").filter(has_text="standardised")).to_contain_text("28.0")
    expect(page.get_by_label("Answer", exact=True)).to_contain_text("Within strata, pooled")
    for name in ("age of head", "flooded"):
        page.get_by_title("And with another variable").click()
        page.get_by_role("combobox", name="And with").fill(name)
        page.keyboard.press("Enter")
    page.get_by_label("with tests").check()
    table = page.get_by_role("table").filter(has_text="n = ").first
    expect(table.get_by_role("row").filter(has_text="Age of head")).to_contain_text("46.")
    expect(table.get_by_role("row").filter(has_text="Home flooded")).to_contain_text("<")


def test_a_case_control_study_leads_with_odds(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    page.get_by_text("Outbreak: the harbour pump?").click()
    page.get_by_role("tab", name="Proportions").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("the odds of “Case” (Outbreak status) have a ratio of 4.87")
    expect(answer.get_by_role("columnheader", name="difference, points")).to_have_count(0)
    expect(page.get_by_label("Beside the answer")).to_contain_text("compare odds")


def test_the_same_question_as_a_model(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    expect(page.locator("dl.figures")).to_contain_text("3.00")
    page.get_by_role("tab", name="Odds model").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer.get_by_role("row").filter(has_text="River")).to_contain_text("3.00")
    page.keyboard.press("l")
    page.get_by_role("combobox", name="Allowing for").fill("age of head")
    page.keyboard.press("Enter")
    expect(answer).to_contain_text("Allowing for Age of head, the odds of “Yes”")
    expect(answer.get_by_role("columnheader", name="adjusted odds ratio")).to_be_visible()
    page.locator("summary").filter(has_text="Step by step").click()
    expect(answer.get_by_role("row").filter(has_text="vary with Water source")).to_be_visible()
    page.get_by_role("button", name="Without Age of head").click()
    expect(answer.get_by_role("columnheader", name="adjusted odds ratio")).to_have_count(0)
