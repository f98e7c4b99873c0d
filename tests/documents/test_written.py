"""The documents opened again: the same numbers in each, and what makes them usable."""

import csv
import io
import re
import zipfile
from html.parser import HTMLParser
from itertools import pairwise

import pytest
from docx import Document
from docx.enum.section import WD_ORIENT
from docx.oxml.ns import qn
from pypdf import PdfReader
from python_calamine import CalamineWorkbook

from documents.conftest import LABEL, ODD, report_of, text
from hobrix.core.data import Frame
from hobrix.core.questions.number_style import NumberStyle
from hobrix.core.questions.printed import Column, Number, Row, Table, columns, text_of
from hobrix.documents import Page
from hobrix.documents.alone import page_alone
from hobrix.documents.pictures import png, svg
from hobrix.documents.shape import is_right_to_left, is_wide
from hobrix.documents.writing import FORMATS


@pytest.fixture(scope="module")
def docx(page: Page) -> object:
    return Document(io.BytesIO(FORMATS["docx"].write(page)))


@pytest.fixture(scope="module")
def pdf(page: Page) -> PdfReader:
    return PdfReader(io.BytesIO(FORMATS["pdf"].write(page)))


@pytest.fixture(scope="module")
def html(page: Page) -> str:
    return FORMATS["html"].write(page).decode()


def squeezed(words: str) -> str:
    """Without blanks: lines break elsewhere in each document."""
    return re.sub(r"\s+", "", words)


def words_of_docx(document: object) -> str:
    body = document.element.body
    return "".join(node.text or "" for node in body.iter(qn("w:t")))


class Words(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.found: list[str] = []
        self.tags: list[tuple[str, dict[str, str | None]]] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append((tag, dict(attrs)))

    def handle_data(self, data: str) -> None:
        self.found.append(data)


def read_html(document: str) -> Words:
    words = Words()
    words.feed(document)
    return words


def test_the_three_documents_say_the_same_numbers(
    page: Page, docx: object, pdf: PdfReader, html: str
) -> None:
    cells = [
        text_of(cell)
        for part in page.parts
        if part.table is not None
        for row in part.table.rows
        for cell in row.cells
        if any(isinstance(piece, Number) for piece in cell)
    ]
    runs = [run.text for part in page.parts for line in part.lines for run in line if run.number]
    assert len(cells) > 100
    in_pdf = squeezed("".join(sheet.extract_text() for sheet in pdf.pages))
    documents = {
        "docx": squeezed(words_of_docx(docx)),
        "html": squeezed("".join(read_html(html).found)),
        "pdf": in_pdf,
    }
    for name, words in documents.items():
        for said in {*cells, *runs}:
            assert squeezed(said) in words, (name, said)
    # Whole rows, in their order.
    for part in page.parts:
        for row in part.table.rows if part.table is not None else ():
            line = squeezed("".join(text_of(cell) for cell in row.cells))
            assert line in documents["docx"]
            assert line in documents["html"]


def test_odd_text_comes_out_as_it_was_written(docx: object, pdf: PdfReader, html: str) -> None:
    assert ODD in words_of_docx(docx)
    assert ODD in "".join(read_html(html).found)
    in_pdf = squeezed("".join(sheet.extract_text() for sheet in pdf.pages))
    for piece in ('a<b&"c"$x$#let*stars*_under_`code`\\', "🙂"):
        assert piece in in_pdf
    assert "שלום" in in_pdf or "םולש" in in_pdf
    for words in (words_of_docx(docx), "".join(read_html(html).found)):
        assert LABEL in words


def test_labels_are_no_markup(frame: Frame) -> None:
    evil = '<script>alert(1)</script> #panic("x") ${x} <w:p/>'
    report = report_of({"type": "paragraph", "content": [text(evil)]}, title=evil)
    page = page_alone(report, {"survey": frame})
    html = FORMATS["html"].write(page).decode()
    assert "<script" not in html
    assert evil in "".join(read_html(html).found)
    assert evil in words_of_docx(Document(io.BytesIO(FORMATS["docx"].write(page))))
    found = PdfReader(io.BytesIO(FORMATS["pdf"].write(page)))
    assert "#panic" in found.pages[0].extract_text()
    assert found.metadata is not None
    assert found.metadata.title == evil


def test_a_docx_has_styles_captions_with_fields_and_heads_that_repeat(
    page: Page, docx: object
) -> None:
    paragraphs = list(docx.paragraphs)
    by_style = {paragraph.style.name for paragraph in paragraphs}
    assert {"Title", "Heading 1", "Caption", "List Number", "List Bullet", "Table note"} <= by_style
    fields = [field.get(qn("w:instr")) for field in docx.element.body.iter(qn("w:fldSimple"))]
    tables = sum(part.table is not None for part in page.parts)
    assert fields.count("SEQ Table \\* ARABIC") == tables == len(docx.tables)
    assert fields.count("SEQ Figure \\* ARABIC") == 2
    assert "REF Table_1 \\h" in fields
    marks = [mark.get(qn("w:name")) for mark in docx.element.body.iter(qn("w:bookmarkStart"))]
    assert "Table_1" in marks
    for table in docx.tables:
        properties = table.rows[0]._tr.trPr
        assert properties.find(qn("w:tblHeader")) is not None
        assert table._tbl.tblPr.find(qn("w:tblDescription")) is not None
    described = [shape._inline.docPr.get("descr") for shape in docx.inline_shapes]
    assert len(described) == 2
    assert all("Stomach illness" in words for words in described)
    assert docx.core_properties.title == "Illness"


def test_every_numbered_list_of_a_docx_begins_at_one(docx: object) -> None:
    numbered = [
        paragraph._p.pPr.numPr.numId.val
        for paragraph in docx.paragraphs
        if paragraph.style.name == "List Number"
    ]
    assert numbered[0] == numbered[1] != numbered[2]


def test_a_wide_table_lies_on_a_page_on_its_side(frame: Frame) -> None:
    names = ("source", "model")
    titles = {name: f"{name} " + "with a long title " * 3 for name in names}
    from documents.conftest import QUESTIONS

    questions = {
        f"{name}{i}": {**QUESTIONS[name], "title": f"{titles[name]} {i}"}
        for name in names
        for i in range(4)
    }
    report = report_of(
        {"type": "comparison", "questions": list(questions)},
        {"type": "table", "question": "source0"},
        questions=questions,
    )
    page = page_alone(report, {"survey": frame})
    wide, narrow = [part.table for part in page.parts]
    assert wide is not None
    assert narrow is not None
    assert is_wide(wide)
    assert not is_wide(narrow)
    made = Document(io.BytesIO(FORMATS["docx"].write(page)))
    turns = [section.orientation for section in made.sections]
    assert turns == [WD_ORIENT.PORTRAIT, WD_ORIENT.LANDSCAPE, WD_ORIENT.PORTRAIT]
    sizes = [sheet.mediabox for sheet in PdfReader(io.BytesIO(FORMATS["pdf"].write(page))).pages]
    assert any(size.width > size.height for size in sizes)


def structure(pdf: PdfReader) -> list[str]:
    """The kinds of all elements in the order they are read."""
    found: list[str] = []

    def walk(node: object) -> None:
        node = getattr(node, "get_object", lambda: node)()
        if isinstance(node, list):
            for each in node:
                walk(each)
        elif isinstance(node, dict):
            if "/S" in node:
                found.append(str(node["/S"]))
            walk(node.get("/K"))

    walk(pdf.trailer["/Root"]["/StructTreeRoot"]["/K"])
    return found


def test_a_pdf_is_tagged_and_has_its_fonts(page: Page, pdf: PdfReader) -> None:
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"] == True  # noqa: E712 (a PDF boolean)
    assert str(root["/Lang"]).startswith("en")
    kinds = structure(pdf)
    tables = sum(part.table is not None for part in page.parts)
    assert kinds.count("/Table") == kinds.count("/THead") == tables
    assert kinds.count("/Caption") == tables + 2
    assert {"/H1", "/TH", "/TD", "/Figure", "/L", "/LI"} <= set(kinds)
    fonts = {
        str(font.get_object()["/BaseFont"])
        for sheet in pdf.pages
        for font in sheet["/Resources"]["/Font"].values()
    }
    assert any("Newsreader" in name for name in fonts)
    assert any("SourceSans3" in name for name in fonts)
    assert any("Hebrew" in name for name in fonts)


def test_an_html_needs_nothing_from_elsewhere_and_can_be_read_aloud(html: str) -> None:
    words = read_html(html)
    for tag, attributes in words.tags:
        assert tag not in ("script", "link", "iframe")
        for name in ("src", "href"):
            assert (attributes.get(name) or "#").startswith(("#", "data:"))
    assert "default-src 'none'" in html
    heads = [attributes for tag, attributes in words.tags if tag == "th"]
    assert all(head.get("scope") in ("col", "row", "rowgroup") for head in heads)
    pictures = [attributes for tag, attributes in words.tags if tag == "svg"]
    assert [picture["role"] for picture in pictures] == ["img", "img"]
    names = [attributes["id"] for _, attributes in words.tags if attributes.get("id")]
    assert len(names) == len(set(names))
    levels = [int(tag[1]) for tag, _ in words.tags if re.fullmatch(r"h\d", tag)]
    assert levels[0] == 1
    assert all(after - before <= 1 for before, after in pairwise(levels))


def test_tables_leave_as_sheets_with_numbers_and_as_csv(page: Page) -> None:
    table = page.parts[2].table
    assert table is not None
    data = FORMATS["xlsx"].write(page)
    sheet = CalamineWorkbook.from_filelike(io.BytesIO(data)).get_sheet_by_name("Table 1")
    rows = sheet.to_python()
    assert rows[0][0] == f"Table 1. {page.parts[2].caption}"
    assert rows[2] == [head.heading for head in table.columns]
    counts = [row.cells[1][0].value for row in table.rows if isinstance(row.cells[1][0], Number)]
    assert [row[1] for row in rows[3 : 3 + len(counts)]] == counts
    shares = [row.cells[3][0].value for row in table.rows if isinstance(row.cells[3][0], Number)]
    assert [row[3] for row in rows[3 : 3 + len(shares)]] == pytest.approx(shares, rel=1e-12)
    with zipfile.ZipFile(io.BytesIO(FORMATS["csv"].write(page))) as archive:
        lines = list(csv.reader(io.StringIO(archive.read("table-1.csv").decode("utf-8-sig"))))
    assert lines[0] == [head.heading for head in table.columns]
    assert lines[1] == [text_of(cell) for cell in table.rows[0].cells]


def test_pictures_leave_as_svg_and_png_with_their_labels(page: Page) -> None:
    with zipfile.ZipFile(io.BytesIO(FORMATS["pictures"].write(page))) as archive:
        assert sorted(archive.namelist()) == [
            "figure-1.png",
            "figure-1.svg",
            "figure-2.png",
            "figure-2.svg",
        ]
        assert b"Protected well" in archive.read("figure-1.svg")
        assert archive.read("figure-1.png").startswith(b"\x89PNG")
    spec = page.parts[3].picture
    assert spec is not None
    # The same picture is the same file.
    assert svg(spec, NumberStyle()) == svg(spec, NumberStyle())
    assert png(spec, NumberStyle()) == png(spec, NumberStyle())


def test_axes_follow_the_decimal_comma(page: Page) -> None:
    spec = page.parts[5].picture
    assert spec is not None
    point, comma = re.compile(r">\d+\.\d+<"), re.compile(r">\d+,\d+<")
    usual, other = svg(spec, NumberStyle()), svg(spec, NumberStyle(decimal_comma=True))
    assert point.search(usual)
    assert not comma.search(usual)
    assert comma.search(other)
    assert not point.search(other)


def test_formulas_stay_text_in_sheets(frame: Frame) -> None:
    row = Row(cells=(("=1+1",), ("2",)))
    columns = page_columns()
    table = Table(name="t", title="=cmd", columns=columns, rows=(row,))
    page = page_alone(report_of({"type": "flow", "question": "source"}), {"survey": frame})
    changed = page.parts[0].model_copy(update={"table": table, "caption": "=cmd"})
    page = page.model_copy(update={"parts": (changed,)})
    data = FORMATS["xlsx"].write(page)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        sheet = archive.read("xl/worksheets/sheet1.xml").decode()
    assert "<f>" not in sheet


def page_columns() -> tuple[Column, ...]:
    return columns("a", "b")


@pytest.mark.parametrize(
    ("words", "is_rtl"), [("שלום", True), ("abc שלום", False), ("123 مرحبا", True), ("", False)]
)
def test_which_way_text_runs(words: str, is_rtl: bool) -> None:
    assert is_right_to_left(words) is is_rtl
