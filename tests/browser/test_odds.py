"""The Odds model lens in the browser: from the table to the adjusted model, and all behind it."""

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect


@pytest.fixture
def model(page: Page, enter_demo: Callable[..., Page]) -> Page:
    """Illness by water source, allowing for age."""
    enter_demo(page)
    page.get_by_role("tab", name="Odds model").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("The odds of “Yes”")
    page.keyboard.press("l")
    page.get_by_role("combobox", name="Allowing for").fill("age")
    page.get_by_role("option", name="Age of head").first.wait_for()
    page.keyboard.press("Enter")
    expect(answer).to_contain_text("Allowing for Age of head")
    return page


def panel(page: Page, heading: str) -> None:
    page.locator("summary").filter(has_text=heading).first.click()


def test_a_term_is_told_how_to_enter(
    model: Page, no_serious_findings: Callable[[Page], None]
) -> None:
    page = model
    answer = page.get_by_label("Answer", exact=True)
    page.get_by_title("How Age of head enters").click()
    units = page.get_by_label("Odds ratio per so many years")
    units.fill("often")
    units.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("From ")
    units.fill("10")
    units.press("Enter")
    expect(answer.get_by_role("rowheader", name="per 10 years")).to_be_visible()
    page.keyboard.press("Escape")
    # What is closing must not be taken for what opens next.
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_label("Question", exact=True)).to_contain_text("Age of head per 10 years")
    # The first variable and age act together; the odds ratios stand within ages then.
    page.get_by_title("How Age of head enters").click()
    expect(units).to_have_value("10")
    page.get_by_role("combobox", name="Let it act together with").press("ArrowDown")
    page.get_by_role("option", name="Water source").click()
    expect(answer).to_contain_text("No clear sign that the odds ratios of Age of head differ by")
    no_serious_findings(page)
    page.get_by_role("button", name="Without Age of head with Water source").click()
    expect(answer).not_to_contain_text("differ by")


def test_profiles_cut_off_and_unusual_rows(
    model: Page, no_serious_findings: Callable[[Page], None]
) -> None:
    page = model
    panel(page, "Try a profile")
    page.get_by_role("button", name="Try a profile").click()
    page.get_by_label("Age of head, profile A").fill("30")
    page.get_by_label("Age of head, profile A").press("Enter")
    chance = page.get_by_role("row", name="probability of Yes")
    expect(chance).to_contain_text("%")
    before = chance.inner_text()
    page.get_by_label("Water source, profile A").select_option(label="River")
    expect(chance).not_to_have_text(before)
    page.get_by_label("Age of head, profile A").fill("300")
    page.get_by_label("Age of head, profile A").press("Enter")
    expect(page.get_by_text("beyond 18 to")).to_be_visible()
    panel(page, "How well it sorts")
    page.get_by_role("slider", name="Cut-off").fill("0.2")
    expect(page.get_by_text("predicted from a probability of 0.2")).to_be_visible()
    panel(page, "Unusual rows")
    page.get_by_role("checkbox", name="Leave out row").first.check()
    expect(page.get_by_role("columnheader", name="without the rows")).to_be_visible()
    panel(page, "How well it fits")
    expect(page.get_by_role("group", name="Observed share against predicted")).to_be_visible()
    panel(page, "Step by step")
    expect(page.get_by_role("rowheader", name="allowing for Age of head")).to_be_visible()
    no_serious_findings(page)


def test_within_each_the_same_model_side_by_side(model: Page) -> None:
    page = model
    page.keyboard.press("w")
    page.get_by_role("combobox", name="Within each").fill("flooded")
    page.get_by_role("option", name="Home flooded").first.wait_for()
    page.keyboard.press("Enter")
    strata = page.get_by_label("Within each Home flooded in spring")
    expect(strata).to_contain_text("Are the coefficients the same everywhere?")
    expect(strata.get_by_role("columnheader", name="flooded in spring: Yes").first).to_be_visible()


def test_a_number_first_is_asked_through_the_model(model: Page) -> None:
    page = model
    page.get_by_role("button", name="Without Age of head").click()
    page.keyboard.press("v")
    page.get_by_role("combobox", name="Vary with").fill("household size")
    page.get_by_role("option", name="Household size").first.wait_for()
    page.keyboard.press("Enter")
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("Household size, per")
    expect(page.get_by_role("tab", name="Crosstab")).to_be_disabled()


def test_no_answer_as_a_category_and_firth_by_a_click(model: Page) -> None:
    page = model
    panel(page, "Categories for this question only")
    source = page.get_by_role("heading", name="Water source").locator("..")
    source.get_by_role("checkbox", name="no answer as a category").check()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer.get_by_role("rowheader", name="No answer").first).to_be_visible()
    source.get_by_role("button", name="As in the codebook").click()
    expect(answer.get_by_role("rowheader", name="No answer")).to_have_count(0)
    panel(page, "Coefficients")
    page.get_by_role("combobox", name="Estimated by").press("ArrowDown")
    page.get_by_role("option", name="Firth").click()
    expect(answer).to_contain_text("Firth’s penalised likelihood: 95% profile intervals")
    panel(page, "Table for a paper")
    expect(
        page.get_by_role("columnheader", name="Adjusted odds ratio (95% CI)", exact=True)
    ).to_be_visible()
