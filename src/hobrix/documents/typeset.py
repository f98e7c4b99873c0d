"""A report as PDF, tagged for reading aloud (PDF/UA-1), set by typst. All text goes in as strings, so
that nothing of it is taken for markup."""

import json
import tempfile
from pathlib import Path

import typst

from hobrix.core.questions.printed import Table, text_of
from hobrix.documents import pictures
from hobrix.documents.page import Page, PagePart, Run, Runs
from hobrix.documents.shape import is_right_to_left, is_wide, widths

_FALLBACK = '"Noto Sans Hebrew", "Noto Sans Arabic", "Noto Emoji"'
_PREAMBLE = f"""
#set page(paper: "a4", margin: (x: 2.4cm, y: 2.4cm), numbering: "1")
#set text(font: ("Newsreader", {_FALLBACK}), size: 10.5pt, lang: "en")
#set par(leading: 0.72em, spacing: 1.1em)
#show heading: set text(weight: 600)
#show heading: set block(above: 1.6em, below: 0.8em)
#show figure: set align(left)
#show figure: set block(breakable: true, above: 1.6em, below: 1.6em)
#show figure.where(kind: table): set figure.caption(position: top)
#set figure.caption(separator: [. ])
#show figure.caption: it => block(sticky: true, width: 100%, align(left, text(size: 9.5pt, style: "italic", it)))
#show table: set text(font: ("Source Sans 3", {_FALLBACK}), size: 8.5pt)
#show table.cell.where(y: 0): set text(weight: 600)
#set table(stroke: (x, y) => (bottom: if y == 0 {{ 0.8pt }} else {{ 0.3pt + luma(210) }}), inset: (x: 4pt, y: 3.5pt))
#show title: set text(size: 19pt, weight: 600)
#let notes(body) = block(above: 0.6em, text(font: ("Source Sans 3", {_FALLBACK}), size: 8pt, fill: luma(80), body))
"""


def write_pdf(page: Page) -> bytes:
    """The page as PDF."""
    with tempfile.TemporaryDirectory(prefix="hobrix-pdf-") as folder:
        made = _Setting(Path(folder))
        text = made.document(page)
        (Path(folder) / "main.typ").write_text(text)
        return bytes(
            typst.compile(
                str(Path(folder) / "main.typ"),
                root=folder,
                font_paths=[str(pictures.FONTS)],
                ignore_system_fonts=True,
                pdf_standards=["ua-1"],
            )
        )


class _Setting:
    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.drawn = 0

    def document(self, page: Page) -> str:
        title = page.title or "Report"
        head = f"#set document(title: {_string(title)}, date: none)\n{_PREAMBLE}\n#title[#{_string(title)}]\n"
        return head + "\n\n".join(self._part(part, page) for part in page.parts) + "\n"

    def _part(self, part: PagePart, page: Page) -> str:
        if part.trouble:
            return f"#highlight[#{_string(part.trouble)}]"
        if part.table is not None:
            return self._table(part, part.table)
        if part.picture is not None:
            self.drawn += 1
            file = f"picture{self.drawn}.svg"
            (self.folder / file).write_text(pictures.svg(part.picture, page.style))
            picture = f"image({_string(file)}, width: 100%, alt: {_string(part.description)})"
            return (
                f"#figure({picture}, kind: image, supplement: [Figure], alt: {_string(part.description)}, "
                f"caption: [#{_string(part.caption_in_full)}]){_label(part.label)}"
            )
        return _text(part)

    def _table(self, part: PagePart, table: Table) -> str:
        align = ", ".join("right" if column.is_number else "left" for column in table.columns)
        across = ", ".join(f"{width}fr" for width in widths(table))
        heads = ", ".join(_cell(column.heading) for column in table.columns)
        lines = []
        for row in table.rows:
            texts = [text_of(cell) for cell in row.cells]
            first = _inline(texts[0])
            if row.indented:
                first = f"#h(8pt){first}"
            elif row.is_head:
                first = f"#strong[{first}]"
            if row.spans:
                lines.append(f"table.cell(colspan: {len(texts)})[{first}]")
                continue
            lines.append(", ".join([f"[{first}]", *(_cell(text) for text in texts[1:])]))
        notes = "".join(f"[{_inline(note)}] + linebreak() + " for note in table.notes)
        below = f"#notes({notes}[])" if notes else ""
        made: str = (
            f"#figure(kind: table, supplement: [Table], caption: [#{_string(part.caption)}], "
            f"[#table(columns: ({across},), align: ({align},), table.header(repeat: true, {heads}),\n"
            + ",\n".join(lines)
            + f")\n{below}]){_label(part.label)}"
        )
        return f"#page(flipped: true)[\n{made}\n]" if is_wide(table) else made


def _text(part: PagePart) -> str:
    lines = [_runs(line) for line in part.lines]
    if part.kind == "heading":
        return f"#heading(level: {part.level})[{lines[0]}]"
    if part.kind == "list":
        made = "enum" if part.is_numbered else "list"
        return f"#{made}({', '.join(f'[{line}]' for line in lines)})"
    text = "".join(run.text for line in part.lines for run in line)
    made = "\n\n".join(f"#par[{line}]" for line in lines if line)
    return f"#[#set text(dir: rtl);{made}]" if is_right_to_left(text) else made


def _runs(runs: Runs) -> str:
    return "".join(_run(run) for run in runs)


def _run(run: Run) -> str:
    if run.breaks:
        return "#linebreak();"
    text = _inline(run.text)
    if run.trouble:
        text = f"#highlight[{text}]"
    if run.refers_to:
        text = f"#link({_label(run.refers_to)})[{text}]"
    if run.bold:
        text = f"#strong[{text}]"
    return f"#emph[{text}]" if run.italic else text


def _label(label: str) -> str:
    return f"<{label.lower().replace(' ', '-')}>" if label else ""


def _cell(text: str) -> str:
    return f"[{_inline(text)}]"


def _inline(text: str) -> str:
    return f"#{_string(text)};" if text else ""


def _string(text: str) -> str:
    """A string as typst writes it: as JSON does, but for characters by number."""
    plain = json.dumps(text, ensure_ascii=False)
    return plain.replace("\\b", "").replace("\\f", "")
