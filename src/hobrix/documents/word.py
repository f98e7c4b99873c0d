"""A report as a DOCX: real styles, tables whose head rows repeat, captions that number themselves."""

from datetime import datetime
from io import BytesIO
from typing import Any

from docx import Document
from docx.enum.section import WD_ORIENT, WD_SECTION
from docx.enum.style import WD_STYLE_TYPE
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from docx.shared import Cm, Pt, RGBColor

from hobrix.core.questions.printed import Row, Table, text_of
from hobrix.documents import pictures
from hobrix.documents.page import Page, PagePart, Run, Runs
from hobrix.documents.shape import is_right_to_left, is_wide, widths

# What any word processor has.
_SERIF, _SANS = "Georgia", "Arial"
# Fixed, so that the same report is the same file.
_WHEN = datetime(2000, 1, 1)
_TEXT_WIDTH, _TEXT_WIDTH_ACROSS = Cm(16), Cm(24.7)


def write_docx(page: Page) -> bytes:
    """The page as DOCX."""
    writing = _Writing(page)
    for part in page.parts:
        writing.add(part)
    out = BytesIO()
    writing.document.save(out)
    return out.getvalue()


class _Writing:
    def __init__(self, page: Page) -> None:
        self.page = page
        self.document: Any = Document()
        self.bookmarks = 0
        self._set_up()
        self.document.add_paragraph(page.title or "Report", style="Title")

    def _set_up(self) -> None:
        document = self.document
        properties = document.core_properties
        properties.title, properties.author = self.page.title or "Report", "Hobrix"
        properties.created = properties.modified = _WHEN
        properties.language = "en"
        section = document.sections[0]
        section.page_width, section.page_height = Cm(21), Cm(29.7)
        section.left_margin = section.right_margin = Cm(2.5)
        for name, size in (("Normal", 11.0), ("Title", 20.0), ("Caption", 10.0)):
            _font(document.styles[name], _SERIF, size)
        for level, size in ((1, 15.0), (2, 13.0), (3, 11.5)):
            _font(document.styles[f"Heading {level}"], _SERIF, size)
        border = document.styles["Title"].element.pPr.find(qn("w:pBdr"))
        if border is not None:
            document.styles["Title"].element.pPr.remove(border)
        document.styles["Caption"].font.italic = True
        document.styles["Caption"].font.bold = False
        for name, size in (("Table text", 9.0), ("Table note", 8.5)):
            style = document.styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH)
            _font(style, _SANS, size)
            style.paragraph_format.space_after = Pt(1)
            style.paragraph_format.space_before = Pt(1)

    def add(self, part: PagePart) -> None:
        if part.trouble:
            run = self.document.add_paragraph().add_run(part.trouble)
            run.font.highlight_color = 7
        elif part.table is not None:
            self._table(part, part.table)
        elif part.picture is not None:
            self._picture(part)
        else:
            self._text(part)

    def _text(self, part: PagePart) -> None:
        if part.kind == "heading":
            self._line(part.lines[0], f"Heading {part.level}")
            return
        style = "Normal"
        if part.kind == "list":
            style = "List Number" if part.is_numbered else "List Bullet"
        numbering = self._new_numbering() if part.kind == "list" and part.is_numbered else None
        for line in part.lines:
            paragraph = self._line(line, style)
            if numbering is not None:
                properties = paragraph._p.get_or_add_pPr().get_or_add_numPr()
                properties.get_or_add_ilvl().val = 0
                properties.get_or_add_numId().val = numbering

    def _new_numbering(self) -> int:
        """Every list begins at 1."""
        numbering = self.document.part.numbering_part.numbering_definitions._numbering
        used = self.document.styles["List Number"].element.pPr.numPr.numId.val
        abstract = next(n for n in numbering.num_lst if n.numId == used).abstractNumId.val
        made = numbering.add_num(abstract)
        made.add_lvlOverride(ilvl=0).add_startOverride(1)
        return int(made.numId)

    def _line(self, runs: Runs, style: str) -> Any:
        paragraph = self.document.add_paragraph(style=style)
        is_rtl = is_right_to_left("".join(run.text for run in runs))
        if is_rtl:
            paragraph._p.get_or_add_pPr().append(OxmlElement("w:bidi"))
        for run in runs:
            self._run(paragraph, run, is_rtl)
        return paragraph

    def _run(self, paragraph: Any, run: Run, is_rtl: bool) -> None:
        if run.refers_to:
            _field(paragraph, f"REF {_bookmark(run.refers_to)} \\h", run.text)
            return
        made = paragraph.add_run()
        if run.breaks:
            made.add_break()
            return
        made.text = run.text
        made.bold, made.italic = run.bold or None, run.italic or None
        if run.trouble:
            made.font.highlight_color = 7
        if is_rtl:
            made.font.rtl = True

    def _caption(self, label: str, caption: str) -> Any:
        """ "Table 1. …", the number a field, the label a bookmark that references name."""
        paragraph = self.document.add_paragraph(style="Caption")
        word, number = label.split(" ")
        start, end = OxmlElement("w:bookmarkStart"), OxmlElement("w:bookmarkEnd")
        for mark in (start, end):
            mark.set(qn("w:id"), str(self.bookmarks))
        self.bookmarks += 1
        start.set(qn("w:name"), _bookmark(label))
        paragraph._p.append(start)
        paragraph.add_run(f"{word} ").bold = True
        _field(paragraph, f"SEQ {word} \\* ARABIC", number, bold=True)
        paragraph._p.append(end)
        paragraph.add_run(f". {caption}")
        return paragraph

    def _picture(self, part: PagePart) -> None:
        assert part.picture is not None
        file = BytesIO(pictures.png(part.picture, self.page.style))
        paragraph = self.document.add_paragraph()
        paragraph.paragraph_format.keep_with_next = True
        drawn = paragraph.add_run().add_picture(file)
        if drawn.width > _TEXT_WIDTH:
            drawn.height = round(drawn.height * _TEXT_WIDTH / drawn.width)
            drawn.width = _TEXT_WIDTH
        drawn._inline.docPr.set("descr", part.description)
        drawn._inline.docPr.set("title", f"{part.label}. {part.caption}")
        self._caption(part.label, part.caption_in_full)

    def _table(self, part: PagePart, table: Table) -> None:
        wide = is_wide(table)
        if wide:
            self._turn(WD_ORIENT.LANDSCAPE)
        caption = self._caption(part.label, part.caption)
        caption.paragraph_format.keep_with_next = True
        made = self.document.add_table(rows=1, cols=len(table.columns))
        _describe(made, part)
        for cell, column in zip(made.rows[0].cells, table.columns, strict=True):
            _fill(cell, column.heading, bold=True, right=column.is_number)
        _repeats(made.rows[0])
        made.autofit = False
        needed = widths(table)
        room = _TEXT_WIDTH_ACROSS if wide else _TEXT_WIDTH
        for column, width in zip(made.columns, needed, strict=True):
            column.width = round(room * width / sum(needed))
        for row in table.rows:
            self._row(made, row, table)
        for note in table.notes:
            below = self.document.add_paragraph(note, style="Table note")
        if table.notes:
            below.paragraph_format.space_after = Pt(12)
        if wide:
            self._turn(WD_ORIENT.PORTRAIT)

    def _row(self, made: Any, row: Row, table: Table) -> None:
        cells = made.add_row().cells
        for cell, column in zip(cells, made.columns, strict=True):
            cell.width = column.width
        texts = [text_of(cell) for cell in row.cells]
        if row.spans:
            across = cells[0].merge(cells[-1])
            _fill(across, texts[0], bold=row.is_head)
            if row.indented:
                across.paragraphs[0].paragraph_format.left_indent = Cm(0.4)
            return
        for at, (cell, text) in enumerate(zip(cells, texts, strict=True)):
            _fill(cell, text, bold=row.is_head and not at, right=table.columns[at].is_number)
        if row.indented:
            cells[0].paragraphs[0].paragraph_format.left_indent = Cm(0.4)

    def _turn(self, orientation: Any) -> None:
        before = self.document.sections[-1]
        section = self.document.add_section(WD_SECTION.NEW_PAGE)
        if before.orientation != orientation:
            section.page_width, section.page_height = before.page_height, before.page_width
            section.orientation = orientation


def _font(style: Any, name: str, size: float) -> None:
    style.font.name, style.font.size = name, Pt(size)
    style.font.color.rgb = RGBColor(0x1D, 0x2B, 0x28)
    fonts = style.element.get_or_add_rPr().get_or_add_rFonts()
    # The theme's fonts would win.
    for key in ("asciiTheme", "hAnsiTheme", "eastAsiaTheme", "cstheme"):
        fonts.attrib.pop(qn(f"w:{key}"), None)
    for key in ("ascii", "hAnsi", "cs"):
        fonts.set(qn(f"w:{key}"), name)


def _bookmark(label: str) -> str:
    return label.replace(" ", "_")


def _field(paragraph: Any, instruction: str, shown: str, *, bold: bool = False) -> None:
    """A field with what it showed last."""
    field = OxmlElement("w:fldSimple")
    field.set(qn("w:instr"), instruction)
    run = paragraph.add_run(shown)
    run.bold = bold or None
    field.append(run._r)
    paragraph._p.append(field)


def _fill(cell: Any, text: str, *, bold: bool = False, right: bool = False) -> None:
    paragraph = cell.paragraphs[0]
    paragraph.style = "Table text"
    if right:
        paragraph.alignment = WD_ALIGN_PARAGRAPH.RIGHT
    run = paragraph.add_run(text)
    run.bold = bold or None
    if is_right_to_left(text):
        run.font.rtl = True


def _repeats(row: Any) -> None:
    """On every page the table goes on to."""
    properties = row._tr.get_or_add_trPr()
    for name in ("w:cantSplit", "w:tblHeader"):
        properties.append(OxmlElement(name))


def _describe(made: Any, part: PagePart) -> None:
    """Its words for those who do not see it, and thin lines between rows."""
    properties = made._tbl.tblPr
    borders = OxmlElement("w:tblBorders")
    for side, width, colour in (
        ("top", "8", "1D2B28"),
        ("bottom", "8", "1D2B28"),
        ("insideH", "2", "C9D1CC"),
    ):
        line = OxmlElement(f"w:{side}")
        for key, value in (("val", "single"), ("sz", width), ("color", colour)):
            line.set(qn(f"w:{key}"), value)
        borders.append(line)
    properties.append(borders)
    for name, text in (("w:tblCaption", part.label), ("w:tblDescription", part.caption)):
        element = OxmlElement(name)
        element.set(qn("w:val"), text)
        properties.append(element)
