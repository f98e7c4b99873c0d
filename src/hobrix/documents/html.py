"""A report as one HTML file: no script, nothing from elsewhere, readable aloud."""

from html import escape

from hobrix import figures
from hobrix.core.questions.number_style import NumberStyle
from hobrix.core.questions.printed import Row, Table, text_of
from hobrix.documents import pictures
from hobrix.documents.page import Page, PagePart, Run, Runs

_POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:"
_STYLE = """
body{font:17px/1.55 Newsreader,Georgia,serif;color:#1d2b28;background:#fff;max-width:44rem;
margin:3rem auto;padding:0 1.2rem;overflow-wrap:anywhere}
h1,h2,h3{line-height:1.2;font-weight:600;margin:1.8em 0 .5em}
table{border-collapse:collapse;font:14px/1.4 'Source Sans 3',system-ui,sans-serif;min-width:100%}
caption,figcaption{text-align:left;font:italic 15px/1.4 Newsreader,Georgia,serif;color:#4c5b57;padding:.3em 0}
caption b,figcaption b{font-style:normal}
th,td{padding:.3em .6em;text-align:right;vertical-align:top}
th:first-child,td.words,th.words{text-align:left}
thead th{border-bottom:1.5px solid #1d2b28;vertical-align:bottom}
tbody tr{border-bottom:1px solid #dfe4e0}tbody th{font-weight:400}tbody tr.head th{font-weight:600}
tr.in th{padding-left:1.6em}.notes{font:13px/1.4 'Source Sans 3',system-ui,sans-serif;color:#4c5b57}
.scroll{overflow-x:auto}figure{margin:1.6em 0}figure svg{max-width:100%;height:auto}
.trouble{background:#fbe9d7}
"""


def write_html(page: Page) -> str:
    """The page as one file."""
    title = page.title or "Report"
    body = "\n".join(_part(part, page.style) for part in page.parts)
    return (
        '<!doctype html>\n<html lang="en"><head><meta charset="utf-8">'
        f'<meta http-equiv="Content-Security-Policy" content="{_POLICY}">'
        '<meta name="viewport" content="width=device-width, initial-scale=1">'
        f"<title>{escape(title)}</title><style>{_STYLE}</style></head><body><main>"
        f"<h1>{escape(title)}</h1>\n{body}\n</main></body></html>\n"
    )


def _part(part: PagePart, style: NumberStyle) -> str:
    if part.trouble:
        return f'<p class="trouble">{escape(part.trouble)}</p>'
    if part.table is not None:
        return html_table(part.table, part.label, part.caption)
    if part.picture is not None:
        return html_picture(part.picture, part.description, part.label, part.caption_in_full, style)
    lines = [_runs(line) for line in part.lines]
    if part.kind == "heading":
        level = min(part.level + 1, 4)
        return f"<h{level}>{lines[0]}</h{level}>"
    if part.kind == "list":
        tag = "ol" if part.is_numbered else "ul"
        items = "".join(f'<li dir="auto">{line}</li>' for line in lines)
        return f"<{tag}>{items}</{tag}>"
    return "".join(f'<p dir="auto">{line}</p>' for line in lines)


def _runs(runs: Runs) -> str:
    return "".join(_run(run) for run in runs)


def _run(run: Run) -> str:
    if run.breaks:
        return "<br>"
    text = escape(run.text)
    if run.trouble:
        text = f'<span class="trouble" title="{escape(run.trouble)}">{text}</span>'
    if run.refers_to:
        text = f'<a href="#{_anchor(run.refers_to)}">{text}</a>'
    if run.bold:
        text = f"<strong>{text}</strong>"
    return f"<em>{text}</em>" if run.italic else text


def _anchor(label: str) -> str:
    return label.lower().replace(" ", "-")


def _named(label: str, caption: str) -> str:
    return f"<b>{escape(label)}.</b> {escape(caption)}" if label else escape(caption)


def html_table(table: Table, label: str = "", caption: str = "") -> str:
    """A table that can be read aloud: heads with their scope, notes below."""
    is_number = [column.is_number for column in table.columns]
    heads = "".join(
        f'<th scope="col"{"" if number else " class=words"}>{escape(column.heading)}</th>'
        for column, number in zip(table.columns, is_number, strict=True)
    )
    rows = "".join(_row(row, is_number) for row in table.rows)
    notes = "".join(f"<div>{escape(note)}</div>" for note in table.notes)
    named = _named(label, caption or table.title)
    anchor = f' id="{_anchor(label)}"' if label else ""
    return (
        f'<figure{anchor}><div class="scroll" tabindex="0" role="group" '
        f'aria-label="{escape(label or table.title)}">'
        f"<table><caption>{named}</caption><thead><tr>{heads}</tr></thead>"
        f"<tbody>{rows}</tbody></table></div>"
        f"{f'<div class=notes>{notes}</div>' if notes else ''}</figure>"
    )


def _row(row: Row, is_number: list[bool]) -> str:
    mark = ' class="head"' if row.is_head else ' class="in"' if row.indented else ""
    scope = "rowgroup" if row.is_head else "row"
    first, *others = [escape(text_of(cell)) for cell in row.cells]
    if row.spans:
        return f'<tr{mark}><th scope="{scope}" colspan="{len(is_number)}">{first}</th></tr>'
    cells = "".join(
        f"<td{'' if number else ' class=words'}>{text}</td>"
        for text, number in zip(others, is_number[1:], strict=True)
    )
    return f'<tr{mark}><th scope="row">{first}</th>{cells}</tr>'


def html_picture(
    spec: figures.Spec, description: str, label: str, caption: str, style: NumberStyle
) -> str:
    """A picture with its words for those who do not see it."""
    # Vega numbers what it clips; several pictures share this document.
    drawn = pictures.svg(spec, style)
    own = _anchor(label or caption[:20])
    drawn = drawn.replace('id="clip', f'id="{own}-clip').replace("url(#clip", f"url(#{own}-clip")
    described = f"<title>{escape(caption)}</title><desc>{escape(description)}</desc>"
    start = drawn.index("<svg")
    at = drawn.index(">", start) + 1
    opening = drawn[start : at - 1].replace("<svg", '<svg role="img"', 1)
    named = _named(label, caption)
    return (
        f'<figure id="{own}">{opening}>{described}{drawn[at:]}'
        f"<figcaption>{named}</figcaption></figure>"
    )
