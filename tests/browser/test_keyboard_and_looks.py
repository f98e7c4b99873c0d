"""Keyboard only, accessibility of every screen, narrow windows, readers."""

from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from hobrix.web.studies.models import Membership

SCREENS = ("ask", "codebook", "data")


@pytest.mark.usefixtures("each_household_once")
def test_a_question_by_keyboard_alone(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    expect(page.get_by_label("Answer", exact=True)).to_be_visible()
    press = page.keyboard.press
    sentence = page.get_by_label("Question", exact=True)

    press("n")  # a new question opens its outcome
    expect(page.get_by_role("combobox", name="Outcome")).to_be_focused()
    page.keyboard.type("stomach ill")
    press("Enter")
    expect(sentence).to_contain_text("distributed + vary with")
    press("v")
    expect(page.get_by_role("combobox", name="Vary with")).to_be_focused()
    page.keyboard.type("flood")
    press("Enter")
    expect(sentence).to_contain_text("Stomach illness: Yes")
    expect(sentence).to_contain_text("Home flooded in spring against No")
    expect(page.locator("dl.figures")).to_contain_text("Odds ratio")

    press("a")  # among
    expect(page.get_by_role("combobox", name="Among those with")).to_be_focused()
    page.keyboard.type("district")
    press("Enter")
    page.wait_for_timeout(100)
    press("Space")
    press("Enter")
    expect(page.get_by_label("Who is counted")).to_contain_text("District: Norrin")
    press("Escape")

    press("v")  # another reference
    expect(page.get_by_role("combobox", name="Vary with")).to_be_focused()
    press("Enter")
    press("ArrowDown")
    expect(sentence).to_contain_text("against Yes")

    press("t")
    expect(sentence).to_contain_text("Stomach illness: No")
    press("x")
    expect(page.get_by_role("rowheader", name="No", exact=True)).to_be_visible()
    press("Control+z")
    expect(sentence).to_contain_text("Stomach illness: Yes")
    press("Control+Shift+z")
    expect(sentence).to_contain_text("Stomach illness: No")


def test_moving_a_category_by_keyboard(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page, "codebook")
    page.keyboard.press("/")
    page.keyboard.type("water source")
    page.get_by_role("button", name="Water source").press("Enter")
    labels = page.locator("ol.categories input.name")
    expect(labels.nth(0)).to_have_value("Piped")
    page.get_by_role("button", name="Move Piped").press("Alt+ArrowDown")
    expect(labels.nth(0)).to_have_value("Protected well")
    expect(labels.nth(1)).to_have_value("Piped")


def test_the_command_field_finds_variables_questions_and_screens(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page)
    expect(page.get_by_label("Answer", exact=True)).to_be_visible()
    for typed, address in (
        ("trust and", "/ask/"),
        ("soap", "variable=soap"),
        ("data", "/data"),
    ):
        page.keyboard.press("Control+k")
        field = page.get_by_role("combobox", name="Find a variable, question or screen")
        expect(field).to_be_focused()
        field.fill(typed)
        page.keyboard.press("Enter")
        page.wait_for_url(f"**{address}**")


def test_shortcuts_are_listed(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    expect(page.get_by_label("Answer", exact=True)).to_be_visible()
    page.keyboard.press("?")
    listed = page.get_by_label("Shortcuts")
    for words in ("Turn the event round", "Codebook", "Ctrl K"):
        expect(listed).to_contain_text(words)


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_no_serious_accessibility_findings(
    open_page: Callable[..., Page],
    enter_demo: Callable[..., Page],
    no_serious_findings: Callable[[Page], None],
    scheme: str,
) -> None:
    page = open_page(scheme=scheme)
    page.goto("/sign-in")
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    no_serious_findings(page)
    enter_demo(page)
    expect(page.locator(".tiles_marks path")).to_have_count(10)
    no_serious_findings(page)
    page.keyboard.press("v")
    expect(page.get_by_role("combobox", name="Vary with")).to_be_focused()
    no_serious_findings(page)
    page.keyboard.press("Escape")
    page.keyboard.press("2")
    page.get_by_role("button", name="Water source source").click()
    no_serious_findings(page)
    page.keyboard.press("1")
    expect(page.get_by_role("cell", name="H0001")).to_be_visible()
    no_serious_findings(page)
    page.goto("/")
    expect(page.get_by_role("heading", name="Studies")).to_be_visible()
    no_serious_findings(page)


@pytest.mark.parametrize("screen", SCREENS)
def test_nothing_runs_out_of_a_narrow_window(
    open_page: Callable[..., Page], enter_demo: Callable[..., Page], screen: str
) -> None:
    page = enter_demo(open_page(width=390, height=760), screen)
    page.wait_for_load_state("networkidle")
    for width in (390, 1024):
        page.set_viewport_size({"width": width, "height": 760})
        # What follows the width of the window has done so by the frame after the next.
        page.evaluate(
            "() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))"
        )
        wide = page.evaluate("document.documentElement.scrollWidth")
        assert wide <= width


def test_a_reader_sees_answers_and_no_way_to_change(
    page: Page, enter_demo: Callable[..., Page], demo: Any
) -> None:
    Membership.objects.filter(study=demo).update(role="reader")
    enter_demo(page)
    expect(page.locator("dl.figures")).to_contain_text("Odds ratio")
    expect(page.get_by_role("button", name="New question")).to_have_count(0)
    expect(page.get_by_role("button", name="Delete this question")).to_have_count(0)
    page.keyboard.press("2")
    page.get_by_role("button", name="Water source source").click()
    expect(page.get_by_label("Label of 4")).to_be_disabled()
    expect(page.get_by_role("button", name="Reverse order")).to_have_count(0)


def test_the_rows_can_be_scrolled_to_the_last(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page, "data")
    expect(page.get_by_role("cell", name="H0001")).to_be_visible()
    page.get_by_role("table", name="Rows").evaluate("table => table.scrollTo(0, 1e7)")
    expect(page.get_by_role("cell", name="H2412")).to_be_visible()
    expect(page.get_by_role("columnheader", name="Village")).to_be_in_viewport()
    page.get_by_role("button", name="codes as in the file").click()
    expect(page.get_by_role("columnheader", name="village")).to_be_visible()
