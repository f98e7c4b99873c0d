"""Rows of a data set as text, a page at a time."""

from dataclasses import dataclass

import numpy as np

from hobrix.core.data import Coded, Source, Variable
from hobrix.core.data.column import as_number, as_text
from hobrix.core.data.dates import date_of, day_of, day_of_number
from hobrix.web.studies.frames import workspace_of
from hobrix.web.studies.linking import page_of
from hobrix.web.studies.models import DataSet


@dataclass(frozen=True)
class Page:
    """Cells row by row; ``missing`` lists the columns of each row that hold no answer."""

    names: list[str]
    rows: list[list[str]]
    missing: list[list[int]]


def rows_page(dataset: DataSet, offset: int, limit: int, *, codes: bool) -> Page:
    """Rows offset .. offset + limit, as labels or (``codes``) as they stand in the file."""
    workspace = workspace_of(dataset)
    variables = list(workspace.state.variables.values())
    part = slice(offset, offset + limit)
    if dataset.is_linked:
        part, workspace = slice(None), workspace.on(page_of(dataset, offset, limit))
    columns = []
    for variable in variables:
        texts = _texts(workspace.source(variable.name), part)
        columns.append(_cells(texts, variable, codes=codes))
    rows = [[cell for cell, _ in row] for row in zip(*columns, strict=True)]
    missing = [[k for k, (_, gone) in enumerate(row) if gone] for row in zip(*columns, strict=True)]
    return Page(names=[variable.name for variable in variables], rows=rows, missing=missing)


def picked_rows(dataset: DataSet, rows: list[int]) -> tuple[list[str], list[list[str]]]:
    """Names of the variables, and the given rows as labels."""
    workspace = workspace_of(dataset)
    variables = list(workspace.state.variables.values())
    columns = [
        _cells(_texts(workspace.source(variable.name), np.array(rows, int)), variable, codes=False)
        for variable in variables
    ]
    cells = [[text for text, _ in row] for row in zip(*columns, strict=True)]
    return [variable.title for variable in variables], cells


def _texts(source: Source, part: "slice | np.ndarray") -> list[str]:
    if isinstance(source, Coded):
        return [source.values[code] if code >= 0 else "" for code in source.codes[part].tolist()]
    return [
        as_text(number) if not np.isnan(number) else source.word_values[word] if word >= 0 else ""
        for number, word in zip(
            source.numbers[part].tolist(), source.words[part].tolist(), strict=True
        )
    ]


def _cells(texts: list[str], variable: Variable, *, codes: bool) -> list[tuple[str, bool]]:
    labels = {category.value: category.label for category in variable.categories}
    reasons = {code.value: code.label or code.value for code in variable.missing}
    cells = []
    for text in texts:
        gone = text == "" or text in reasons
        if variable.kind == "date" and not gone and not codes:
            cells.append((_as_date(text, variable), False))
            continue
        shown = text if codes else reasons.get(text, text) if gone else labels.get(text, text)
        cells.append((shown, gone))
    return cells


def _as_date(text: str, variable: Variable) -> str:
    """Year-month-day however it was written; as it stands where it is no date."""
    number = as_number(text)
    form = variable.date_form or "ymd"
    day = day_of(text, form) if number is None else day_of_number(number)
    return text if day is None else date_of(day).isoformat()
