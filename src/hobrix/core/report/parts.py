"""Parts of a report that rest on several questions: variables, preparation, answers side by side."""

from collections.abc import Sequence

from hobrix.core.data import Variable
from hobrix.core.questions import printed as p
from hobrix.core.questions.comparing import ComparedCell, ComparedRow, SideBySide
from hobrix.core.questions.lenses import lens_of
from hobrix.core.questions.wording import count, listed, number, plain, points, ratio
from hobrix.core.report.answers import Source

_KINDS = {
    "nominal": "categories",
    "ordinal": "ordered categories",
    "numeric": "number",
    "text": "free text",
    "date": "date",
}


def variables_used(sources: Sequence[Source]) -> dict[str, dict[str, Variable]]:
    """By data set, in order of first use, what the questions name."""
    found: dict[str, dict[str, Variable]] = {}
    for source in sources:
        question, known = source.question, source.frame.variables
        names = [*lens_of(question).needs(question)]
        names += [term.variable for term in (*question.vary_with, *question.allowing_for)]
        names += question.within
        used = found.setdefault(source.data_set, {})
        used |= {name: known[name] for name in dict.fromkeys(names) if name in known}
    return found


def codebook_table(sources: Sequence[Source]) -> p.Table:
    """What the variables of a report are called, how they are answered, and what counts as missing."""
    used = variables_used(sources)
    rows: list[p.Row] = []
    for data_set, variables in used.items():
        if len(used) > 1:
            rows.append(p.Row(cells=((data_set,), (), (), ()), is_head=True))
        rows += [_variable(each, len(used) > 1) for each in variables.values()]
    heads = ("Variable", "Name", "Answers", "Missing")
    return p.Table(
        name="codebook",
        title="Variables used",
        columns=tuple(p.Column(heading=head, is_number=False) for head in heads),
        rows=tuple(rows),
        notes=("Event: marked *. Reference: marked †.",),
    )


def _variable(variable: Variable, indented: bool) -> p.Row:
    marks = dict.fromkeys(variable.event, "*")
    base = variable.default_reference()
    answers = [
        f"{category.label}{marks.get(category.value, '')}{'†' if category.value == base else ''}"
        for category in variable.categories
    ]
    said = _KINDS[variable.kind]
    if variable.is_categorical:
        said = ", ".join(answers) + (" (ordered)" if variable.kind == "ordinal" else "")
    elif variable.unit:
        said += f", {variable.unit}"
    missing = ", ".join(code.label or code.value for code in variable.missing) or "blank"
    return p.plain_row([variable.title, variable.name, said, missing], indented=indented)


def preparation_table(sources: Sequence[Source]) -> p.Table:
    """What was done to each data set, in order."""
    by_set = {source.data_set: source.preparation for source in sources}
    rows = []
    for data_set, steps in by_set.items():
        rows.append(p.Row(cells=((data_set,), ()), is_head=True))
        lines = steps or ("Nothing was changed.",)
        rows += [p.plain_row([f"{i + 1}.", step], indented=True) for i, step in enumerate(lines)]
    return p.Table(
        name="preparation",
        title="Preparation of the data",
        columns=(
            p.Column(heading="Step", is_number=False),
            p.Column(heading="What was done", is_number=False),
        ),
        rows=tuple(rows),
    )


def comparison_table(found: SideBySide) -> p.Table:
    """What is estimated down, answers across."""
    heads = [
        answer.title + (f" (n = {count(answer.counted)})" if answer.counted else "")
        for answer in found.answers
    ]
    rows: list[p.Row] = []
    measure = ""
    for at, row in enumerate(found.rows):
        title = f"{row.measure} of {row.of}"
        if title != measure:
            measure = title
            empty: list[p.Cell] = [() for _ in found.answers]
            rows.append(p.Row(cells=((title[0].upper() + title[1:],), *empty), is_head=True))
        rows.append(_compared(at, row))
    return p.Table(
        name="comparison",
        title="Answers side by side",
        columns=p.columns("", *heads),
        rows=tuple(rows),
        notes=tuple(_said(found)),
    )


def _compared(at: int, row: ComparedRow) -> p.Row:
    cells: list[p.Cell | p.Part] = [row.label]
    for i, cell in enumerate(row.cells):
        cells.append(_compared_cell(f"comparison/{at}/{i}", row, cell))
    return p.plain_row(cells, indented=True)


def _compared_cell(key: str, row: ComparedRow, cell: ComparedCell) -> p.Cell:
    if cell.estimate is None:
        return (cell.why_not or p.NONE,)
    words = {"share": points, "ratio": ratio}.get(row.unit, number)
    made = {"share": p.share, "ratio": p.ratio_number}.get(row.unit, p.measurement)
    if row.unit == "strength":
        return p.with_limits(
            key,
            row.label,
            p.two_decimals(key, row.label, cell.estimate),
            cell.ci,
            lambda x: plain(x, 2),
        )
    return p.with_limits(key, row.label, made(key, row.label, cell.estimate), cell.ci, words)


def _said(found: SideBySide) -> list[str]:
    """What sets the questions apart, and what was tested between them."""
    notes = [
        f"“{answer.title}”: {listed(answer.differs)}." for answer in found.answers if answer.differs
    ]
    for row in found.rows:
        for i, contrast in enumerate(row.contrasts):
            if contrast is None or contrast.ci is None or contrast.estimate is None:
                continue
            words = {"share": points, "ratio": ratio}.get(row.unit, number)
            low, high = (words(limit) for limit in contrast.ci)
            notes.append(
                f"{row.label}, {found.answers[i].title} against {found.answers[0].title}: "
                f"{words(contrast.estimate)} ({low} to {high}); {contrast.says}."
            )
    return [*notes, *(each.says for each in found.nested)]
