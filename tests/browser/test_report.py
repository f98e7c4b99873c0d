"""From answers to a paper: written with live numbers, taken along, followed when the data change, and
written by two people at once."""

import html as markup
import io
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from docx import Document
from docx.oxml.ns import qn
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from hobrix.web.demo.generate import CSV_FILE
from hobrix.web.demo.load import demo_user
from hobrix.web.reports.models import Report
from hobrix.web.studies.models import Membership, Role

SOURCE = "Does illness vary with water source?"
MODEL = "Does schooling matter, allowing for source and income?"


@pytest.fixture
def at_report(enter_demo: Callable[..., Page], page: Page) -> Page:
    enter_demo(page, "report")
    page.get_by_role("button", name="Begin a report").click()
    expect(sheet(page)).to_be_visible()
    return page


def sheet(page: Page) -> Any:
    return page.get_by_role("textbox", name="Report", exact=True)


def number(page: Page, words: str, question: str = "") -> None:
    """ "/" where the caret is, and the number found by its name."""
    page.keyboard.type("/")
    picker = page.get_by_role("dialog", name="Put in a number")
    if question:
        picker.get_by_label("Of the answer to").select_option(label=question)
    field = picker.get_by_role("combobox", name="Find a number")
    field.fill(words)
    expect(picker.get_by_role("listbox").get_by_role("option").first).to_be_visible()
    field.press("Enter")
    expect(picker).to_have_count(0)


def saved(page: Page) -> None:
    expect(page.get_by_role("navigation", name="Reports")).to_contain_text("saved")
    expect(page.get_by_role("navigation", name="Reports")).not_to_contain_text("saving")


def taken(page: Page, words: str) -> bytes:
    with page.expect_download() as coming:
        page.get_by_role("button", name=words, exact=True).click()
    return Path(coming.value.path()).read_bytes()


def squeezed(text: str) -> str:
    return re.sub(r"\s+", "", text)


def test_from_answers_to_a_paper_and_after_the_data_have_changed(
    at_report: Page, demo: Any, no_serious_findings: Callable[[Page], None]
) -> None:
    page = at_report
    page.get_by_label("Title of the report").fill("Stomach illness after the flood")
    sheet(page).click()
    page.keyboard.type("# Illness and water source")
    page.keyboard.press("Enter")
    page.keyboard.type("Of ")
    number(page, "counted", SOURCE)
    page.keyboard.type(" households, ")
    number(page, "river yes share")
    page.keyboard.type(" (")
    number(page, "river interval of the share")
    page.keyboard.type(") on river water were ill, ")
    number(page, "piped yes share")
    page.keyboard.type(" on piped; the odds were ")
    number(page, "river odds ratio")
    page.keyboard.type(" (")
    number(page, "river odds ratio interval")
    page.keyboard.type(") times as high.")
    page.keyboard.press("Enter")
    page.keyboard.type("Adjusted, it was ")
    number(page, "water source: river: odds ratio", MODEL)
    page.keyboard.type(" (")
    number(page, "water source: river: odds ratio, interval")
    page.keyboard.type("; ")
    number(page, "water source: river: p")
    page.keyboard.type(") in ")
    number(page, "counted")
    page.keyboard.type(" households.")
    expect(page.locator(".live")).to_have_count(10)
    expect(page.locator(".live").nth(1)).to_have_text("28.1%")

    # Tables and pictures, from the list of questions.
    put_in = page.get_by_role("region", name="Put in")
    put_in.get_by_role("button", name=MODEL).click()
    put_in.get_by_role("button", name=SOURCE).click()
    put_in.get_by_role("button", name="Table: “Yes” (Stomach illness) by Water source").click()
    put_in.get_by_role("button", name="Picture: mosaic").click()
    put_in.get_by_role("button", name="Who was counted").click()
    put_in.get_by_role("button", name=MODEL).click()
    put_in.get_by_role("button", name="Table: Odds ratios of").click()
    put_in.get_by_role("button", name="Picture: forest").click()
    outline = page.get_by_role("navigation", name="Reports")
    for label in ("Table 1", "Table 2", "Table 3", "Figure 1", "Figure 2"):
        expect(outline.get_by_role("button", name=label, exact=True)).to_be_visible()
    put_in.get_by_role("button", name="Methods", exact=True).click()
    expect(sheet(page)).to_contain_text(
        "Logistic regression models were fitted by maximum likelihood"
    )

    # A table is referred to in the text.
    page.locator(".ProseMirror > p").first.click()
    page.keyboard.press("Control+End")
    outline.get_by_role("button", name="Illness and water source").click()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Home")
    number(page, "Table 1")
    expect(page.locator(".reference")).to_have_text("Table 1")
    saved(page)
    no_serious_findings(page)

    # The three documents hold what the page shows.
    shown = page.locator(".live").all_inner_texts()
    docx = Document(io.BytesIO(taken(page, "DOCX")))
    words = "".join(node.text or "" for node in docx.element.body.iter(qn("w:t")))
    pdf = PdfReader(io.BytesIO(taken(page, "PDF")))
    html = markup.unescape(taken(page, "HTML").decode())
    for document in (words, "".join(each.extract_text() for each in pdf.pages), html):
        for text in [*shown, "3.00 (2.20 to 4.09)"]:
            assert squeezed(text.strip()) in squeezed(document)
    assert len(docx.tables) == 3
    assert len(docx.inline_shapes) == 2

    # A tenth of those on piped water was ill after all.
    lines = CSV_FILE.read_text().splitlines()
    head = lines[0].split(",")
    ill, source = head.index("ill"), head.index("source")
    for i, line in enumerate(lines[1:400], 1):
        cells = line.split(",")
        if cells[source] == "1" and cells[ill] == "0":
            cells[ill] = "1"
            lines[i] = ",".join(cells)
    client = Client()
    client.force_login(demo_user())
    dataset = demo.datasets.get(name="Round one")
    newer = SimpleUploadedFile("newer.csv", "\n".join(lines).encode())
    replaced = client.post(f"/api/studies/{demo.id}/datasets/{dataset.id}/replace", {"file": newer})
    assert replaced.status_code in (200, 201)

    # Without a reload: the numbers are others, and what moved is marked.
    expect(page.locator(".live.moved").first).to_be_visible()
    expect(outline).to_contain_text("numbers moved")
    expect(outline).to_contain_text("has changed")
    marked = page.locator(".moved-block").first
    expect(marked).to_contain_text("They were")
    expect(page.locator(".live").nth(1)).to_have_text("28.1%")
    expect(page.locator(".live").nth(3)).not_to_have_text(shown[3])
    marked.get_by_role("button", name="Looked at").click()
    expect(page.locator(".moved-block")).to_have_count(1)
    outline.get_by_role("button", name="Looked at all of them").click()
    expect(page.locator(".moved-block")).to_have_count(0)
    page.reload()
    expect(page.locator(".live")).to_have_count(10)
    expect(page.locator(".live.moved")).to_have_count(0)


def test_two_people_write_at_once(
    at_report: Page, open_page: Callable[..., Page], demo: Any, mira: Any, live_server: Any
) -> None:
    page = at_report
    Membership.objects.create(study=demo, user=mira, role=Role.ANALYST)
    sheet(page).click()
    page.keyboard.type("First paragraph.")
    page.keyboard.press("Enter")
    page.keyboard.type("Second paragraph.")
    saved(page)
    report = Report.objects.get()
    other = open_page()
    client = Client()
    client.force_login(mira)
    session = client.cookies["sessionid"].value
    other.context.add_cookies([{"name": "sessionid", "value": session, "url": live_server.url}])
    other.goto(f"/studies/{demo.id}/report/{report.id}")
    expect(sheet(other)).to_contain_text("Second paragraph.")

    # Each in a paragraph of their own: both stand there, on both screens.
    page.locator(".ProseMirror > p").first.click()
    page.keyboard.press("End")
    other.locator(".ProseMirror > p").nth(1).click()
    other.keyboard.press("End")
    for i in range(6):
        page.keyboard.type(f" one{i}")
        other.keyboard.type(f" two{i}")
    for each in (page, other):
        expect(each.locator(".ProseMirror > p").first).to_have_text(
            "First paragraph. one0 one1 one2 one3 one4 one5"
        )
        expect(each.locator(".ProseMirror > p").nth(1)).to_have_text(
            "Second paragraph. two0 two1 two2 two3 two4 two5"
        )

    # Both in the same: nothing is overwritten, both versions are there to choose from.
    held: list[Any] = []
    other.route("**/changes", lambda route: held.append(route))
    other.locator(".ProseMirror > p").first.click()
    other.keyboard.press("End")
    other.keyboard.type(" Mira.")
    expect(other.get_by_role("navigation", name="Reports")).to_contain_text("saving")
    with page.expect_response("**/changes"):
        page.keyboard.type(" Demo.")
    # Only now does it leave.
    other.unroute("**/changes")
    choice = other.get_by_role("alert").filter(has_text="has changed this meanwhile")
    expect(choice).to_contain_text("First paragraph. one0 one1 one2 one3 one4 one5 Demo.")
    choice.get_by_role("button", name="Keep mine").click()
    for each in (page, other):
        expect(each.locator(".ProseMirror > p").first).to_contain_text("one5 Mira.")
    expect(other.get_by_role("alert")).to_have_count(0)


def test_by_keys_alone_with_undo_and_a_reload(at_report: Page) -> None:
    page = at_report
    sheet(page).focus()
    page.keyboard.type("## Heading")
    page.keyboard.press("Enter")
    page.keyboard.type("- one")
    page.keyboard.press("Enter")
    page.keyboard.type("two")
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")
    page.keyboard.type("Some ")
    page.keyboard.press("Control+b")
    page.keyboard.type("bold")
    page.keyboard.press("Control+b")
    page.keyboard.type(" and/or nothing.")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.type(" ")
    page.keyboard.type("/")
    expect(page.get_by_role("dialog", name="Put in a number")).to_be_visible()
    # Left again, what was typed stands there.
    page.keyboard.press("Escape")
    expect(sheet(page)).to_contain_text("nothing. /")
    page.keyboard.type(" ")
    number(page, "piped yes share")
    expect(page.locator(".live")).to_have_count(1)
    # What is done within half a second is taken back together.
    page.wait_for_timeout(600)
    page.keyboard.press("Backspace")
    page.keyboard.press("Backspace")
    expect(page.locator(".live")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.locator(".live")).to_have_count(1)
    saved(page)
    page.wait_for_timeout(900)
    saved(page)
    page.reload()
    expect(page.locator(".ProseMirror h2")).to_have_text("Heading")
    expect(page.locator(".ProseMirror li")).to_have_text(["one", "two"])
    expect(page.locator(".ProseMirror strong")).to_have_text("bold")
    expect(page.locator(".live")).to_have_count(1)

    # A report is deleted and brought back.
    page.get_by_role("navigation", name="Reports").get_by_role("button", name="Delete").click()
    expect(page.get_by_role("button", name="Begin a report")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".live")).to_have_count(1)
