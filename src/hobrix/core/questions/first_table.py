"""The first table of a paper: characteristics by outcome, or outcome by characteristics.

A line for every category of every variable of the question, and one for every numeric variable,
across the answers to the outcome.
"""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from scipy import stats

from hobrix.core.data import CategoricalColumn, Frame, Frozen, NumericColumn, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.question import Question
from hobrix.core.tables.counts import FloatArray, count_table
from hobrix.core.tables.independence import drop_empty, pearson_test
from hobrix.core.tables.numeric_summary import distinct, quantile, summarise

Within = Literal["outcome", "characteristic"]
Numbers = Literal["mean", "median"]


class Cell(Frozen):
    """Counts with a share (0 to 1), or a number with its spread (sd, or quartiles)."""

    n: float
    share: float | None = None
    middle: float | None = None
    spread: tuple[float, ...] = ()


class Line(Frozen):
    """One category, or a numeric variable; ``cells`` by answer, the last one for all. ``p`` stands
    on the first line of a variable only."""

    variable: str
    title: str
    level: str | None
    cells: tuple[Cell, ...]
    n_missing: float
    p: float | None
    test: str | None


class AnswerHead(Frozen):
    """A column: an answer to the outcome and how many gave it."""

    label: str
    n: float


class FirstTable(Frozen):
    """``columns`` are the answers to the outcome with their numbers, the last one everyone."""

    outcome: str
    columns: tuple[AnswerHead, ...]
    within: Within
    numbers: Numbers
    lines: tuple[Line, ...]


def first_table(
    question: Question,
    frame: Frame,
    *,
    within: Within = "outcome",
    numbers: Numbers = "mean",
    tests: bool = False,
) -> FirstTable:
    """Percentages ``within`` each answer to the outcome, or within each characteristic.

    Tests are Pearson's chi-square for categories, one-way analysis of variance for means and
    Kruskal & Wallis (1952) for medians.

    Raises:
        QuestionError: no outcome in categories, nothing to list, nobody left.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome first.", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose the characteristics to list.", slot="vary_with")
    outcome = frame.variable(question.outcome.variable, "outcome")
    column = frame.categorical(outcome.name, "outcome")
    rows = Rows(question, frame)
    size = len(column.categories)
    tally = count_table([column.codes], [size], weights=rows.weights, where=rows.mask)[1:]
    if not tally.any():
        raise QuestionError(f"Nobody counted answered {outcome.title}.", slot="outcome")
    lines: list[Line] = []
    for term in question.vary_with:
        variable = frame.variable(term.variable, "vary_with")
        if variable.name == outcome.name or variable.kind == "text":
            why = "is the outcome" if variable.name == outcome.name else "holds free text"
            raise QuestionError(f"{variable.title} {why}: it cannot be listed.", slot="vary_with")
        other = frame.column(variable.name)
        if isinstance(other, NumericColumn):
            lines.append(_of_numbers(variable, other, column, rows, numbers, tests=tests))
        else:
            assert isinstance(other, CategoricalColumn)
            lines += _of_categories(variable, other, column, rows, within, tests=tests)
    heads = [
        AnswerHead(label=c.label, n=float(n)) for c, n in zip(column.categories, tally, strict=True)
    ]
    return FirstTable(
        outcome=outcome.title,
        columns=(*heads, AnswerHead(label="All", n=float(tally.sum()))),
        within=within,
        numbers=numbers,
        lines=tuple(lines),
    )


def _of_categories(
    variable: Variable,
    column: CategoricalColumn,
    outcome: CategoricalColumn,
    rows: Rows,
    within: Within,
    *,
    tests: bool,
) -> list[Line]:
    full = count_table(
        [column.codes, outcome.codes],
        [len(column.categories), len(outcome.categories)],
        weights=rows.weights,
        where=rows.mask,
    )
    table = np.column_stack([full[1:, 1:], full[1:, 1:].sum(axis=1)])
    totals = table.sum(axis=0) if within == "outcome" else table[:, -1:]
    shares = np.divide(table, totals, out=np.full(table.shape, np.nan), where=totals > 0)
    p = _pearson(full[1:, 1:]) if tests else None
    return [
        Line(
            variable=variable.name,
            title=variable.title,
            level=category.label,
            cells=tuple(
                Cell(n=float(n), share=None if np.isnan(share) else float(share))
                for n, share in zip(table[i], shares[i], strict=True)
            ),
            n_missing=float(full[0, 1:].sum()),
            p=p if i == 0 else None,
            test="chi-square" if p is not None and i == 0 else None,
        )
        for i, category in enumerate(column.categories)
    ]


def _pearson(table: FloatArray) -> float | None:
    kept = drop_empty(table).counts
    return pearson_test(kept).p if min(kept.shape, default=0) > 1 else None


def _of_numbers(
    variable: Variable,
    column: NumericColumn,
    outcome: CategoricalColumn,
    rows: Rows,
    numbers: Numbers,
    *,
    tests: bool,
) -> Line:
    inside = outcome.codes >= 0 if rows.mask is None else (outcome.codes >= 0) & rows.mask
    answered = inside & ~column.is_missing
    groups = [answered & (outcome.codes == code) for code in range(len(outcome.categories))]
    cells = [_number(column.values, where, rows.weights, numbers) for where in (*groups, answered)]
    silent = inside & column.is_missing
    n_missing = np.count_nonzero(silent) if rows.weights is None else rows.weights[silent].sum()
    p, test = None, None
    if tests and rows.weights is None:
        p = _compared([column.values[where] for where in groups], numbers)
        test = None if p is None else ("ANOVA" if numbers == "mean" else "Kruskal–Wallis")
    return Line(
        variable=variable.name,
        title=variable.title + (f" ({variable.unit})" if variable.unit else ""),
        level=None,
        cells=tuple(cells),
        n_missing=float(n_missing),
        p=p,
        test=test,
    )


def _number(
    values: FloatArray, where: np.ndarray, weights: FloatArray | None, numbers: Numbers
) -> Cell:
    found = distinct(values[where], None if weights is None else weights[where])
    n = float(found.counts.sum())
    if not n:
        return Cell(n=0.0)
    if numbers == "median":
        ends = (quantile(found, 0.25), quantile(found, 0.75))
        return Cell(n=n, middle=quantile(found, 0.5), spread=ends)
    summary = summarise(found)
    return Cell(n=n, middle=summary.mean, spread=() if summary.sd is None else (summary.sd,))


def _compared(groups: Sequence[FloatArray], numbers: Numbers) -> float | None:
    used = [group for group in groups if len(group) > 1]
    if len(used) < 2 or len(np.unique(np.concatenate(used))) < 2:
        return None
    test = stats.f_oneway(*used) if numbers == "mean" else stats.kruskal(*used)
    return float(test.pvalue)
