"""The rows a question sets aside: which they are, why, and whether they differ from the counted."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import CategoricalColumn, Design, Frame
from hobrix.core.errors import QuestionError
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.lenses import lens_of
from hobrix.core.questions.question import Question
from hobrix.core.tables import independence


@dataclass(frozen=True)
class AsideRows:
    """Row numbers (0-based) that are set aside, with the variables each has no answer to."""

    rows: NDArray[np.int64]
    unanswered: tuple[tuple[str, ...], ...]
    total: int


@dataclass(frozen=True)
class Comparison:
    """One answer's share among the counted and among those set aside (who gave an answer)."""

    variable: str
    title: str
    p: float | None
    answers: tuple[tuple[str, float | None, float | None], ...]


def _masks(
    question: Question, frame: Frame
) -> tuple[NDArray[np.bool_], NDArray[np.bool_], dict[str, NDArray[np.bool_]]]:
    """Rows in the subset, rows that are set aside from it, and who lacks which variable."""
    rows = Rows(question, frame)
    inside = np.ones(frame.rows, dtype=bool) if rows.subset is None else rows.subset
    lacking = {}
    design = question.counted_by
    if isinstance(design, Design) and design.weights and (weighted := rows.weighted()) is not None:
        lacking[design.weights] = ~weighted
    for name in lens_of(question).needs(question):
        frame.variable(name, "outcome")
        lacking[name] = frame.column(name).is_missing
    aside = np.zeros(frame.rows, dtype=bool)
    for missing in lacking.values():
        aside |= missing
    return inside, inside & aside, lacking


def rows_set_aside(question: Question, frame: Frame, offset: int, limit: int) -> AsideRows:
    """A page of the rows that are in the subset but lack an answer the question needs."""
    _, aside, lacking = _masks(question, frame)
    _refuse_to_list(frame)
    rows = np.flatnonzero(aside)
    page = rows[offset : offset + limit]
    titles = {name: frame.variables[name].title for name in lacking}
    unanswered = tuple(
        tuple(titles[name] for name, missing in lacking.items() if missing[row]) for row in page
    )
    return AsideRows(rows=page, unanswered=unanswered, total=len(rows))


def _refuse_to_list(frame: Frame) -> None:
    if not frame.has_own_rows:
        raise QuestionError(
            "Rows of data that stay where they are were counted there: they cannot be listed one by one.",
            slot="outcome",
        )


def compare_set_aside(question: Question, frame: Frame) -> tuple[Comparison, ...]:
    """Counted against set aside on the question's own categorical variables, row by row.

    p is Pearson's chi-square of being set aside by the answer, among those who gave one; None
    where nobody set aside answered it.
    """
    inside, aside, lacking = _masks(question, frame)
    return tuple(
        _compared(frame, name, inside & ~aside, aside)
        for name in lacking
        if isinstance(frame.column(name), CategoricalColumn)
    )


def _compared(
    frame: Frame, name: str, counted: NDArray[np.bool_], aside: NDArray[np.bool_]
) -> Comparison:
    column = frame.column(name)
    assert isinstance(column, CategoricalColumn)
    size = len(column.categories)

    def tally(where: NDArray[np.bool_]) -> NDArray[np.float64]:
        own = where & ~column.is_missing
        weights = None if frame.stands_for is None else frame.stands_for[own]
        return np.bincount(column.codes[own], weights, minlength=size).astype(np.float64)

    both = np.column_stack([tally(counted), tally(aside)])
    totals = both.sum(axis=0)
    kept = independence.drop_empty(both).counts
    p = independence.pearson_test(kept).p if min(kept.shape, default=0) >= 2 else None
    answers = tuple(
        (
            category.label,
            float(both[i, 0] / totals[0]) if totals[0] else None,
            float(both[i, 1] / totals[1]) if totals[1] else None,
        )
        for i, category in enumerate(column.categories)
    )
    return Comparison(name, frame.variables[name].title, p, answers)
