"""The Crosstab lens in depth, in the browser: strata, exact tests, categories of one question, the
map, several variables, saving a picture."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect


@pytest.fixture
def crossed(page: Page, enter_demo: Callable[..., Page]) -> Page:
    """Illness by water source, the first question of the demo."""
    enter_demo(page)
    expect(page.get_by_label("Answer", exact=True)).to_contain_text("varies with Water source")
    return page


def test_within_each_district(crossed: Page, no_serious_findings: Callable[[Page], None]) -> None:
    page = crossed
    page.keyboard.press("w")
    page.get_by_role("combobox", name="Within each").fill("district")
    page.keyboard.press("Enter")
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("Within each District the pooled odds ratio")
    strata = page.get_by_label("Within each District")
    expect(strata.get_by_role("row").filter(has_text="Estuary").first).to_be_visible()
    expect(strata).to_contain_text("Pooled over strata (Mantel–Haenszel)")
    expect(strata.get_by_role("group", name="Mosaic plot within")).to_have_count(5)
    no_serious_findings(page)
    # Two stratifying variables: their combinations; taking one out again is a click.
    page.get_by_title("Within each", exact=True).click()
    page.get_by_role("combobox", name="Within each").fill("schooling")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Within each District and Schooling of head")).to_contain_text(
        "Estuary · Primary"
    )
    page.get_by_title("Within each", exact=True).click()
    page.get_by_role("button", name="Without Schooling of head").click()
    expect(strata.get_by_role("row").filter(has_text="Estuary").first).to_be_visible()


def test_categories_of_this_question_only(crossed: Page) -> None:
    page = crossed
    page.get_by_text("Categories for this question only").click()
    source = page.locator("[data-panel=categories] section").filter(has_text="Water source")
    source.get_by_role("checkbox", name="Bottled").check()
    source.get_by_role("button", name="Leave out").click()
    expect(page.get_by_label("Who is counted")).to_contain_text("140 set aside")
    expect(page.get_by_role("rowheader", name="Bottled")).to_have_count(0)
    source.get_by_role("checkbox", name="Open well").check()
    source.get_by_role("checkbox", name="River").check()
    source.get_by_role("button", name="Combine").click()
    expect(page.get_by_role("rowheader", name="Open well or River")).to_be_visible()
    page.get_by_role("button", name="As in the codebook").click()
    expect(page.get_by_role("rowheader", name="Bottled")).to_be_visible()
    # The codebook was not touched.
    page.get_by_role("link", name="Codebook").click()
    expect(page.get_by_role("button", name="Water source source")).to_be_visible()
    expect(page.get_by_label("Changes made")).to_have_count(0)


def test_measures_exact_test_and_where_it_lies(crossed: Page) -> None:
    page = crossed
    answer = page.get_by_label("Answer", exact=True)
    page.get_by_text("How strong").click()
    expect(
        answer.get_by_role("row").filter(has_text="uncertainty, Stomach illness from Water source")
    ).to_be_visible()
    page.get_by_text("Where it lies").click()
    expect(answer).to_contain_text("River: 43.7 more “Yes” than expected")
    expect(answer.get_by_role("row").filter(has_text="Piped and River")).to_contain_text(
        "p < 0.001"
    )
    page.get_by_text("Exact test", exact=True).click()
    expect(answer).to_contain_text("Not needed here")
    page.get_by_role("combobox", name="Exact test").press("ArrowDown")
    page.get_by_role("option", name="by drawing tables").click()
    expect(answer).to_contain_text("20,000 tables drawn with seed 1")
    page.get_by_label("Tables drawn").fill("9000000")
    page.get_by_label("Tables drawn").press("Enter")
    expect(answer).to_contain_text("From 1,000 to 1,000,000")


def test_several_variables_and_the_map(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    page.get_by_text("Do trust and boiling go together?").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer).to_contain_text("Nor do they clearly lean")
    page.get_by_title("And with another variable").click()
    page.get_by_role("combobox", name="And with").fill("schooling")
    page.keyboard.press("Enter")
    lines = page.get_by_label("with each variable")
    expect(lines.get_by_role("row")).to_have_count(3)
    lines.get_by_role("button", name="Schooling of head").click()
    expect(page.get_by_label("Question", exact=True)).to_contain_text("Schooling of head against")
    page.get_by_text("Map", exact=True).click()
    expect(page.get_by_role("group", name="Correspondence map")).to_be_visible()
    expect(answer).to_contain_text("Two axes carry")
    page.get_by_role("button", name="Without").click()
    expect(lines).to_have_count(0)


def test_a_picture_is_adjusted_and_saved(crossed: Page, tmp_path: Path) -> None:
    page = crossed
    page.get_by_text("Adjust or save this picture").first.click()
    page.get_by_label("Title").fill("Illness and water")
    page.get_by_label("Title").press("Enter")
    picture = page.get_by_role("group", name="Mosaic plot")
    expect(picture.locator("svg")).to_contain_text("Illness and water")
    page.get_by_label("Colours").select_option("grey")
    page.get_by_text("Other words for its labels").click()
    page.get_by_label("River", exact=True).fill("From the river")
    page.get_by_label("River", exact=True).press("Enter")
    expect(picture.locator("svg")).to_contain_text("From the river")
    for kind, start in (("SVG", b"<svg"), ("PNG", b"\x89PNG")):
        with page.expect_download() as taken:
            page.get_by_role("button", name=f"Save as {kind}").click()
        file: Any = tmp_path / taken.value.suggested_filename
        taken.value.save_as(file)
        assert file.suffix == f".{kind.lower()}"
        assert file.read_bytes().startswith(start)
        if kind == "SVG":
            assert "Illness and water" in file.read_text()
