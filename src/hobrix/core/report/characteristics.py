"""The first table of a paper, for print."""

from hobrix.core.questions import printed as p
from hobrix.core.questions.overview.first_table import Cell, FirstTable, Line
from hobrix.core.questions.wording import count, listed, number, percent


def characteristics_table(found: FirstTable) -> p.Table:
    """A line per category or number, a column per answer to the outcome and one for everybody."""
    heads = [
        f"{column.label}, n = {count(column.n)}"
        + ("" if column.label == "All" else f" ({percent(column.share)})")
        for column in found.columns
    ]
    has_tests = any(line.p is not None for line in found.lines)
    rows: list[p.Row] = []
    for line in found.lines:
        if line.level is not None and (line.test or not rows or _title(rows) != line.title):
            rows.append(_head(line, len(heads), has_tests))
        rows.append(_row(line, has_tests))
    return p.Table(
        name="characteristics",
        title=f"Characteristics by {found.outcome}",
        columns=p.columns("Characteristic", *heads, *(["p"] if has_tests else [])),
        rows=tuple(rows),
        notes=tuple(_notes(found)),
    )


def _title(rows: list[p.Row]) -> str:
    """Of the variable that the last rows are of."""
    heads = (row for row in reversed(rows) if row.is_head or not row.indented)
    return p.text_of(next(heads).cells[0])


def _head(line: Line, width: int, has_tests: bool) -> p.Row:
    cells: list[p.Cell] = [(line.title,), *(() for _ in range(width))]
    if has_tests:
        cells.append(_p(line))
    return p.Row(cells=tuple(cells), is_head=True)


def _p(line: Line) -> p.Cell:
    if line.p is None:
        return ()
    key = f"characteristics/{line.variable}/p"
    return (p.probability(key, f"{line.title}: p ({line.test})", line.p),)


def _row(line: Line, has_tests: bool) -> p.Row:
    label = line.title if line.level is None else line.level
    cells: list[p.Cell | p.Part] = [label]
    for i, cell in enumerate(line.cells):
        key = f"characteristics/{line.variable}/{line.level or ''}/{i}"
        cells.append(_cell(key, f"{line.title}: {label}", cell))
    if has_tests:
        cells.append(_p(line) if line.level is None else "")
    return p.plain_row(cells, indented=line.level is not None)


def _cell(key: str, label: str, cell: Cell) -> p.Cell:
    n = p.cases(f"{key}/n", f"{label}: n", cell.n)
    if cell.share is not None:
        return (n, " (", p.share(f"{key}/share", f"{label}: share", cell.share), ")")
    if cell.middle is None:
        return (n,)
    middle = p.measurement(f"{key}/middle", label, cell.middle)
    if not cell.spread:
        return (middle,)
    return (middle, f" ({' to '.join(number(value) for value in cell.spread)})")


def _notes(found: FirstTable) -> list[str]:
    within = "down each column" if found.within == "outcome" else "along each row"
    notes = [f"n (%), percentages {within}"]
    if any(line.level is None for line in found.lines):
        notes.append("mean (SD)" if found.numbers == "mean" else "median (quartiles)")
    text = "; ".join(notes) + "."
    if found.weighted:
        text += " Counts are cases; percentages and numbers are weighted."
    missing = [
        f"{title} {count(n)}"
        for title, n in {line.title: line.n_missing for line in found.lines}.items()
        if n
    ]
    tests = list(dict.fromkeys(line.test for line in found.lines if line.test))
    lines = [text]
    if missing:
        lines.append(f"No answer: {listed(missing)}.")
    if tests:
        lines.append(f"p from {listed(tests)}.")
    return lines
