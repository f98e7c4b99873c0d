"""The whole journey of a researcher who brings a messy file of her own."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from browser.conftest import FILE, bring, sign_in

MESSY = """Respondent;Town;;Age (years);Got ill?;Tap water;Score;Town
""" + "".join(
    f"{i:03d};{town};x;{20 + i % 50};{ill};{tap};{1 + i % 4},5;A\n"
    for i, (town, ill, tap) in enumerate(
        [
            ("Norrin Harbour", "yes", "often"),
            ("Estuary", "no", "never"),
            ("<b>Vale</b>", "no", "never"),
        ]
        * 12
        + [
            ("Norrin Harbour", "no", "often"),
            ("Estuary", "yes", "sometimes"),
            ("Estuary", "refused", "."),
        ]
        * 8
    )
)


@pytest.fixture
def messy(tmp_path: Path) -> Path:
    file = tmp_path / "my survey.csv"
    file.write_bytes(MESSY.encode("latin-1"))
    return file


def test_from_a_file_to_an_answer(
    page: Page, mira: Any, messy: Path, no_serious_findings: Callable[[Page], None]
) -> None:
    sign_in(page)
    expect(page.get_by_text("A study holds your data")).to_be_visible()
    bring(page, messy)

    # The preview tells what was understood, and why.
    expect(page.get_by_text("60 rows and 8 variables")).to_be_visible()
    expect(page.get_by_text("Column 3 has no name; it is called column_3.")).to_be_visible()
    expect(page.get_by_text("“Town” names more than one column")).to_be_visible()
    no_serious_findings(page)
    page.get_by_role("button", name="Use this data").click()

    # The codebook: a label, an event, an order.
    page.get_by_role("button", name="Got ill?").click()
    # The panel follows the click a moment later.
    expect(page.get_by_label("Variable Got ill?")).to_be_visible()
    label = page.get_by_label("Label", exact=True)
    label.fill("Stomach illness")
    label.press("Enter")
    expect(page.get_by_role("status").get_by_text("called “Stomach illness”")).to_be_visible()
    expect(page.get_by_role("button", name="two answers Stomach illness")).to_be_visible()

    # A question, by pointing.
    page.get_by_role("link", name="Ask").click()
    page.get_by_title("Outcome and event").click()
    page.get_by_role("option", name="Stomach illness").click()
    page.get_by_title("Vary with, and its reference").click()
    page.get_by_role("option", name="unordered Town Norrin").click()
    answer = page.get_by_label("Answer", exact=True)
    expect(answer.get_by_text("Odds ratio")).to_be_visible()
    expect(page.get_by_label("Who is counted")).to_contain_text("52 answered both")
    expect(page.get_by_label("Who is counted")).to_contain_text("8 set aside")

    # Labels are text, whatever they hold.
    expect(page.get_by_role("rowheader", name="<b>Vale</b>")).to_be_visible()

    # The line of questions outlives the page.
    page.reload()
    expect(page.get_by_label("Question", exact=True)).to_contain_text("Stomach illness: yes")
    expect(page.get_by_label("Answer", exact=True).get_by_text("Odds ratio")).to_be_visible()


def test_turning_the_event_round_is_one_click(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    figures = page.locator("dl.figures")
    expect(figures).to_contain_text("Odds ratio, River against Piped")
    before = figures.locator("b").nth(2).inner_text()
    page.get_by_role("button", name="Turn round").click()
    expect(page.get_by_label("Question", exact=True)).to_contain_text("Stomach illness: No")
    expect(figures.locator("b").nth(2)).not_to_have_text(before)
    assert float(figures.locator("b").nth(2).inner_text()) == pytest.approx(
        1 / float(before), abs=0.01
    )
    page.wait_for_load_state("networkidle")
    page.reload()
    expect(page.get_by_label("Question", exact=True)).to_contain_text("Stomach illness: No")


def test_deleting_a_question_can_be_undone(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    lines = page.get_by_label("Line of questions")
    lines.get_by_text("Does a filter help?").click()
    lines.get_by_role("button", name="Delete this question").click()
    expect(lines.get_by_text("Does a filter help?")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(lines.get_by_text("Does a filter help?")).to_be_visible()


def test_a_cell_of_the_picture_marks_the_cell_of_the_table(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page)
    tiles = page.locator(".tiles_marks path")
    expect(tiles).to_have_count(10)
    tiles.nth(6).click()
    words = "Water source: River."
    expect(page.get_by_text(words)).to_be_visible()
    row = page.get_by_role("row").filter(has_text="River")
    expect(row.locator("td.marked")).to_have_count(1)
    # The keyboard walks the picture too.
    tiles.nth(0).focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("Water source: Piped.")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.locator("td.marked")).to_have_count(1)
    expect(page.get_by_role("row").filter(has_text="Piped").locator("td.marked")).to_have_count(1)


def test_a_change_of_the_codebook_reaches_the_answer_and_can_be_undone(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page, "codebook")
    page.get_by_role("button", name="Water source").click()
    page.get_by_label("Label of 4").fill("Straight from the river")
    page.get_by_label("Label of 4").press("Enter")
    expect(page.get_by_role("status")).to_contain_text("categories named")
    page.get_by_role("link", name="Ask").click()
    expect(page.get_by_role("rowheader", name="Straight from the river")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("rowheader", name="River", exact=True)).to_be_visible()


def test_two_people_editing_the_same_entry(
    open_page: Callable[..., Page], enter_demo: Callable[..., Page]
) -> None:
    first, second = open_page(), open_page()
    for page in (first, second):
        enter_demo(page, "codebook")
        page.get_by_role("button", name="Water source").click()
        expect(page.get_by_label("Label of 4")).to_have_value("River")
    # Within two seconds the second would hear of it, see it and change what is new: here it has not yet.
    second.route("**/pulse", lambda route: route.fulfill(status=404))
    first.get_by_label("Label of 4").fill("The river")
    first.get_by_label("Label of 4").press("Enter")
    expect(first.get_by_role("status")).to_contain_text("categories named")
    second.get_by_label("Label of 5").fill("From bottles")
    second.get_by_label("Label of 5").press("Enter")
    expect(second.get_by_role("alert")).to_contain_text("changed since you opened it")
    expect(second.get_by_label("Label of 4")).to_have_value("The river")
    expect(second.get_by_label("Label of 5")).to_have_value("Bottled")
    second.unroute("**/pulse")
    first.get_by_label("Label of 3").fill("A well that is open")
    first.get_by_label("Label of 3").press("Enter")
    expect(second.get_by_label("Label of 3")).to_have_value("A well that is open")
    second.get_by_label("Label of 5").fill("From bottles")
    second.get_by_label("Label of 5").press("Enter")
    expect(first.get_by_label("Label of 5")).to_have_value("From bottles")
    expect(second.get_by_label("Label of 3")).to_have_value("A well that is open")


UNREADABLE = [
    ("empty.csv", b"", "The file is empty"),
    ("header.csv", b"a,b\n", "no rows"),
    ("picture.csv", b"\x89PNG\r\n\x1a\n" + bytes(200), "This is a picture"),
    ("ragged.csv", b"a,b,c\n1,2,3\n1,2\n", "Line 3 has 2 cells where the header has 3"),
    ("notes.docx", b"x", "not a file Hobrix can read"),
]


def test_files_that_cannot_be_read(page: Page, mira: Any, tmp_path: Path) -> None:
    sign_in(page)
    for at, (name, data, message) in enumerate(UNREADABLE):
        file = tmp_path / name
        file.write_bytes(data)
        if at == 0:
            bring(page, file)
        else:
            # Another try is possible at once.
            page.set_input_files(FILE, file)
        expect(page.get_by_role("alert")).to_contain_text(message)
        expect(page.get_by_role("alert")).to_contain_text(name)
    good = tmp_path / "good.csv"
    good.write_text("a,b\n1,x\n2,y\n")
    page.set_input_files(FILE, good)
    expect(page.get_by_text("2 rows and 2 variables")).to_be_visible()


def test_a_question_that_cannot_be_answered_says_so_beside_the_slot(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page)
    page.locator("button.slot").first.click()
    page.locator("input[role=combobox]").fill("age")
    page.get_by_role("option", name="Age of head").click()
    page.get_by_label("from").fill("60")
    page.get_by_label("to", exact=True).fill("30")
    page.get_by_role("button", name="Among these").click()
    expect(page.get_by_role("alert")).to_contain_text("From is above to")
    page.get_by_label("from").fill("200")
    page.get_by_label("to", exact=True).fill("")
    page.get_by_role("button", name="Among these").click()
    expect(page.get_by_role("alert")).to_contain_text("No household is left")
    expect(page.locator("button.slot.problem")).to_have_count(1)
    # The way back.
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Answer", exact=True)).to_be_visible()


def test_preparing_variables_with_undo_and_redo(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page, "codebook")
    changes = page.get_by_label("Changes made")
    page.get_by_role("button", name="Age of head age").click()
    page.get_by_role("button", name="Band…").click()
    counts = page.get_by_label("Counts per band")
    expect(counts.locator("li")).to_have_count(4)
    # Lines are dragged on the histogram, and by the arrow keys; the counts follow.
    line = page.get_by_role("slider", name="Cut 2")
    before = counts.inner_text()
    line.press("ArrowRight")
    expect(counts).not_to_have_text(before)
    page.get_by_label("Cuts", exact=True).fill("45; 30")
    expect(page.get_by_role("alert")).to_contain_text("Cuts must rise")
    page.get_by_label("Cuts", exact=True).fill("30; 60")
    expect(counts.locator("li")).to_have_count(3)
    page.get_by_role("button", name="Make the banded variable").click()
    expect(page.get_by_role("button", name="Age of head, banded")).to_be_visible()
    expect(changes).to_contain_text("Age of head banded at 30, 60 into age_band")

    # Dropped in its middle, one category goes into another; the original stays.
    page.get_by_role("button", name="Water source source").click()
    page.get_by_role("button", name="Move River").drag_to(page.locator("li.category").nth(2))
    expect(page.get_by_label("Label", exact=True)).to_have_value("Water source, combined")
    expect(page.get_by_label("Label of Open well or River")).to_be_visible()
    expect(page.get_by_role("button", name="Water source source")).to_be_visible()

    changes.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Water source, combined")).to_have_count(0)
    changes.get_by_role("button", name="Redo").click()
    expect(page.get_by_role("button", name="Water source, combined")).to_be_visible()
    changes.get_by_role("button", name="Take back: Age of head banded").click()
    expect(page.get_by_role("button", name="Age of head, banded")).to_have_count(0)


NEWER = "ill,source,age\n" + "".join(
    f"{'yes' if i % 4 else 'no'},{('piped', 'river', 'tanker')[i % 3]},{20 + i}\n"
    for i in range(48)
)
OLDER = "ill,source,age,note\n" + "".join(
    f"{'yes' if i % 3 else 'no'},{('piped', 'river')[i % 2]},{20 + i},x\n" for i in range(40)
)


def test_a_newer_file_takes_the_place_of_the_older_and_back(
    page: Page, mira: Any, tmp_path: Path
) -> None:
    for name, text in (("older.csv", OLDER), ("newer.csv", NEWER)):
        (tmp_path / name).write_text(text)
    sign_in(page)
    bring(page, tmp_path / "older.csv")
    page.get_by_role("button", name="Use this data").click()
    page.get_by_role("button", name="source").click()
    expect(page.get_by_label("Variable source")).to_be_visible()
    page.get_by_label("Label", exact=True).fill("Water source")
    page.get_by_label("Label", exact=True).press("Enter")
    page.get_by_role("link", name="Ask").click()
    page.get_by_title("Outcome and event").click()
    page.get_by_role("option", name="ill").click()
    page.get_by_title("Vary with, and its reference").click()
    page.get_by_role("option", name="Water source").click()
    expect(page.locator("dl.figures")).to_contain_text("Odds ratio")

    page.get_by_role("link", name="Data", exact=True).click()
    page.get_by_role("button", name="Replace by a newer file").click()
    page.set_input_files(FILE, tmp_path / "newer.csv")
    report = page.get_by_label("What the newer file changed")
    expect(report).to_contain_text("40 → 48")
    expect(report).to_contain_text("Water source: tanker")
    expect(report).to_contain_text("Variables that are gone")
    page.get_by_role("link", name="Ask").click()
    expect(page.get_by_role("rowheader", name="tanker")).to_be_visible()
    page.get_by_role("link", name="Data", exact=True).click()
    page.get_by_role("button", name="Put the older file back").click()
    expect(page.get_by_text("40 rows").first).to_be_visible()
    page.get_by_role("link", name="Ask").click()
    expect(page.get_by_role("rowheader", name="river")).to_be_visible()
    expect(page.get_by_role("rowheader", name="tanker")).to_have_count(0)


def test_a_pasted_table_is_asked_about_at_once(page: Page, mira: Any) -> None:
    sign_in(page)
    page.get_by_label("Name of a new study").fill("A published table")
    page.get_by_role("button", name="Create").click()
    page.get_by_role("button", name="Or type a table of counts").click()
    page.get_by_label("Label of column 1").focus()
    page.evaluate(
        """() => {
          const data = new DataTransfer()
          data.setData('text/plain', 'Water source\\tIll\\tWell\\nRiver\\t107\\t234\\nPiped\\t118\\t8x9')
          const paste = new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true})
          document.activeElement.dispatchEvent(paste)
        }"""
    )
    page.get_by_label("Columns are").fill("Illness")
    page.get_by_role("button", name="Use this table").click()
    expect(page.get_by_role("alert")).to_contain_text("“8x9” is not a count")
    page.get_by_label("Count in row 2, column 2").fill("849")
    page.get_by_role("button", name="Use this table").click()
    # Straight on to the question, its outcome open.
    expect(page.get_by_label("Questions to begin with")).to_contain_text("How is Illness")
    page.get_by_role("option", name="Illness").click()
    page.get_by_role("checkbox", name="Ill").check()
    page.get_by_role("button", name="Done").click()
    page.get_by_title("Vary with, and its reference").click()
    page.get_by_role("option", name="Water source").click()
    expect(page.get_by_label("Who is counted")).to_contain_text("1,308 answered both")


def test_who_is_set_aside_can_be_seen(page: Page, enter_demo: Callable[..., Page]) -> None:
    enter_demo(page)
    page.get_by_role("button", name="set aside").click()
    page.get_by_role("button", name="See who they are").click()
    panel = page.get_by_label("Those set aside")
    expect(panel).to_contain_text("1 to 50 of 66")
    expect(panel).to_contain_text("Among those who answered it: p < 0.001")
    panel.get_by_role("button", name="After").click()
    expect(panel).to_contain_text("51 to 66 of 66")


def test_a_code_is_declared_missing_in_many_variables_at_once(
    page: Page, enter_demo: Callable[..., Page]
) -> None:
    enter_demo(page, "codebook")
    page.get_by_role("button", name="Not an answer…").click()
    many = page.get_by_label("Not an answer, in many variables")
    many.get_by_label("Value").fill("4")
    many.get_by_role("button", name="Where is it?").click()
    many.get_by_role("button", name="Not an answer in").click()
    expect(page.get_by_label("Changes made")).to_contain_text("“4” is not an answer, in")
    page.get_by_role("button", name="Undo").first.click()
    expect(page.get_by_label("Changes made")).to_contain_text("make again")
