"""The first table of a paper: characteristics by outcome, or outcome by characteristics.

A line for every category of every variable of the question, and one for every numeric variable,
across the answers to the outcome. Under a survey design counts are cases as they are; shares,
means and medians are those of the weighted population.
"""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from hobrix.core.data import CategoricalColumn, Frame, Frozen, NumericColumn, Variable
from hobrix.core.data.column import IntArray
from hobrix.core.errors import QuestionError
from hobrix.core.progress import Tell, quietly
from hobrix.core.questions.overview.tally import Tallies, Tally
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling.drawn import Drawn
from hobrix.core.survey.numbers import equal_means
from hobrix.core.survey.replicates import TooFewReplicates
from hobrix.core.survey.two_way import weighted_table
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import drop_empty, pearson_test

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
    """A column: an answer to the outcome, how many gave it, and their share of all (0 to 1)."""

    label: str
    n: float
    share: float


class FirstTable(Frozen):
    """``columns`` are the answers to the outcome with their numbers, the last one everyone;
    ``weighted`` tells whether shares and numbers are weighted."""

    outcome: str
    weighted: bool
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
    tell: Tell = quietly,
) -> FirstTable:
    """Percentages ``within`` each answer to the outcome, or within each characteristic.

    Tests are Pearson's chi-square for categories, one-way analysis of variance for means and
    Kruskal & Wallis (1952) for medians; under a survey design Rao & Scott's F (second order) for
    categories, the adjusted Wald F for means, and none for medians.

    Raises:
        QuestionError: no outcome in categories, nothing to list, nobody left.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome first.", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose the characteristics to list.", slot="vary_with")
    outcome = frame.variable(question.outcome.variable, "outcome")
    tallies = Tallies(question, frame, tell, len(question.vary_with) + 1)
    tally = tallies.of(outcome.name)
    column = tally.frame.categorical(outcome.name, "outcome")
    cells = tally.cells([column.codes], [len(column.categories)])
    n, share = cells.n[1:], cells.weigh[1:] / (cells.weigh[1:].sum() or 1)
    if not n.any():
        raise QuestionError(f"Nobody counted answered {outcome.title}.", slot="outcome")
    lines: list[Line] = []
    for term in question.vary_with:
        variable = frame.variable(term.variable, "vary_with")
        if variable.name == outcome.name or not variable.can_be_asked:
            why = "is the outcome" if variable.name == outcome.name else "holds free text or dates"
            raise QuestionError(f"{variable.title} {why}: it cannot be listed.", slot="vary_with")
        both = tallies.of(variable.name, outcome.name)
        other = both.frame.column(variable.name)
        answers = both.frame.categorical(outcome.name, "outcome")
        if isinstance(other, NumericColumn):
            lines.append(_of_numbers(variable, other, answers, both, numbers, tests=tests))
        else:
            assert isinstance(other, CategoricalColumn)
            lines += _of_categories(variable, other, answers, both, within, tests=tests)
    heads = [
        AnswerHead(label=category.label, n=float(n[i]), share=float(share[i]))
        for i, category in enumerate(column.categories)
    ]
    return FirstTable(
        outcome=outcome.title,
        weighted=tally.drawn is not None,
        columns=(*heads, AnswerHead(label="All", n=float(n.sum()), share=1.0)),
        within=within,
        numbers=numbers,
        lines=tuple(lines),
    )


def _of_categories(
    variable: Variable,
    column: CategoricalColumn,
    outcome: CategoricalColumn,
    tally: Tally,
    within: Within,
    *,
    tests: bool,
) -> list[Line]:
    codes = [column.codes, outcome.codes]
    sizes = (len(column.categories), len(outcome.categories))
    cells = tally.cells(codes, sizes)
    n, weigh = (np.column_stack([t[1:, 1:], t[1:, 1:].sum(axis=1)]) for t in (cells.n, cells.weigh))
    totals = weigh.sum(axis=0) if within == "outcome" else weigh[:, -1:]
    shares = np.divide(weigh, totals, out=np.full(weigh.shape, np.nan), where=totals > 0)
    test, p = "chi-square", None
    if tests and tally.drawn is None:
        p = _pearson(cells.n[1:, 1:])
    elif tests:
        test, p = "Rao–Scott F", _rao_scott(tally, codes, sizes)
    return [
        Line(
            variable=variable.name,
            title=variable.title,
            level=category.label,
            cells=tuple(
                Cell(n=float(n), share=None if np.isnan(share) else float(share))
                for n, share in zip(n[i], shares[i], strict=True)
            ),
            n_missing=float(cells.n[0, 1:].sum()),
            p=p if i == 0 else None,
            test=test if p is not None and i == 0 else None,
        )
        for i, category in enumerate(column.categories)
    ]


def _pearson(table: FloatArray) -> float | None:
    kept = drop_empty(table).counts
    return pearson_test(kept).p if min(kept.shape, default=0) > 1 else None


def _rao_scott(tally: Tally, codes: list[IntArray], sizes: tuple[int, int]) -> float | None:
    totals, rows, columns = tally.totals(codes, sizes).without_empty(sizes)
    if min(len(rows), len(columns)) < 2:
        return None
    test = weighted_table(totals, len(rows), len(columns)).rao_scott_pearson
    return None if test is None else test.second_order.p_f


def _of_numbers(
    variable: Variable,
    column: NumericColumn,
    outcome: CategoricalColumn,
    tally: Tally,
    numbers: Numbers,
    *,
    tests: bool,
) -> Line:
    mask = tally.rows.mask
    inside = outcome.codes >= 0 if mask is None else (outcome.codes >= 0) & mask
    answered = inside & ~column.is_missing
    groups = [answered & (outcome.codes == code) for code in range(len(outcome.categories))]
    cells = [_number(column.values, where, tally, numbers) for where in (*groups, answered)]
    p, test = None, None
    if tests and tally.drawn is not None and numbers == "mean":
        p, test = _equal_means(tally.drawn, column.values, groups), "Wald F, adjusted"
    elif tests and tally.drawn is None and tally.rows.weights is None:
        p = _compared([column.values[where] for where in groups], numbers)
        test = "ANOVA" if numbers == "mean" else "Kruskal–Wallis"
    return Line(
        variable=variable.name,
        title=variable.title + (f" ({variable.unit})" if variable.unit else ""),
        level=None,
        cells=tuple(cells),
        n_missing=tally.n_of(inside & column.is_missing),
        p=p,
        test=None if p is None else test,
    )


def _number(values: FloatArray, where: np.ndarray, tally: Tally, numbers: Numbers) -> Cell:
    n = tally.n_of(where)
    if not n:
        return Cell(n=0.0)
    if numbers == "median":
        low, middle, high = tally.quartiles(values, where)
        return Cell(n=n, middle=middle, spread=(low, high))
    mean, sd = tally.mean_and_sd(values, where)
    return Cell(n=n, middle=mean, spread=() if sd is None else (sd,))


def _compared(groups: Sequence[FloatArray], numbers: Numbers) -> float | None:
    used = [group for group in groups if len(group) > 1]
    if len(used) < 2 or len(np.unique(np.concatenate(used))) < 2:
        return None
    from scipy import stats  # half a second, once

    test = stats.f_oneway(*used) if numbers == "mean" else stats.kruskal(*used)
    return float(test.pvalue)


def _equal_means(drawn: Drawn, values: FloatArray, groups: Sequence[np.ndarray]) -> float | None:
    used = [drawn.of(group) for group in groups if group.any()]
    if not used:
        return None
    try:
        found = equal_means(drawn.design, drawn.of(values), np.column_stack(used))
    except TooFewReplicates:
        return None
    return None if found is None else found.adjusted_p
