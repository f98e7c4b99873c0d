"""Two variables counted together, overall and within strata: what several lenses start from."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.data.column import IntArray
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Counted
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.recast import Recast, Used, use
from hobrix.core.questions.slots import event_of, reference_of
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.tables.counts import FloatArray, count_table


@dataclass(frozen=True)
class TwoWay:
    """Explanatory variable (rows) by outcome (columns) as the question uses them.

    ``original`` are both as the codebook has them. ``full``, shape (R + 1, C + 1), keeps missing
    at index 0; ``tables``, shape (K, R, C), are the strata named by ``labels`` (values, label),
    none without stratifying variables.
    """

    question: Question
    frame: Frame
    rows: Rows
    original: tuple[Variable, Variable]
    explanatory: Used
    outcome: Used
    event: tuple[str, ...]
    reference: str
    full: FloatArray
    tables: FloatArray
    labels: list[tuple[tuple[str, ...], str]]
    counted: Counted

    @property
    def table(self) -> FloatArray:
        """Those who answered both, shape (R, C)."""
        return self.full[1:, 1:]


def count_two_way(
    question: Question, frame: Frame, recasts: Mapping[str, Recast], most_categories: int
) -> TwoWay:
    """Count the question's first explanatory variable by its outcome.

    Raises:
        QuestionError: a slot is empty or names what cannot be counted in categories, too many
            categories or strata, or nobody and nothing left to compare.
    """
    named = as_used(question, frame, recasts, most_categories)
    explanatory, outcome = named.original
    uses = [named.explanatory, named.outcome]
    rows = Rows(question, frame)
    groups, labels = strata_codes(question, frame)
    everything, left_out = _count(question, frame, rows, uses, groups, len(labels))
    full = everything[1:].sum(axis=0) if question.within else everything[0]
    _refuse_nothing_to_compare(full[1:, 1:], uses[0].variable, uses[1].variable, frame)
    without_stratum = float(everything[0].sum()) if question.within else 0.0
    return TwoWay(
        question=question,
        frame=frame,
        rows=rows,
        original=(explanatory, outcome),
        explanatory=uses[0],
        outcome=uses[1],
        event=named.event,
        reference=named.reference,
        full=full,
        tables=everything[1:, 1:, 1:] if question.within else everything[:0, 1:, 1:],
        labels=labels,
        counted=_counted(question, frame, rows, uses, full, left_out, without_stratum),
    )


@dataclass(frozen=True)
class Named:
    """The two variables as the question uses them, the explanatory one first; not counted yet."""

    original: tuple[Variable, Variable]
    explanatory: Used
    outcome: Used
    event: tuple[str, ...]
    reference: str


def as_used(
    question: Question, frame: Frame, recasts: Mapping[str, Recast], most_categories: int
) -> Named:
    """Read the slots; raises QuestionError as ``count_two_way`` does."""
    outcome, explanatory, term = _variables(question, frame, most_categories)
    uses = [
        use(variable, frame.categorical(variable.name, slot), recasts.get(variable.name))
        for variable, slot in ((explanatory, "vary_with"), (outcome, "outcome"))
    ]
    event = [uses[1].into[v] for v in event_of(question, outcome) if v in uses[1].into]
    return Named(
        original=(explanatory, outcome),
        explanatory=uses[0],
        outcome=uses[1],
        event=tuple(dict.fromkeys(event)),
        reference=uses[0].into.get(reference_of(term, explanatory), ""),
    )


def _count(
    question: Question,
    frame: Frame,
    rows: Rows,
    uses: list[Used],
    groups: IntArray | None,
    strata: int,
) -> tuple[FloatArray, dict[str, float]]:
    """Counts of shape (strata + 1, R + 1, C + 1), the first of each axis for missing, and the
    cases left out of this question by variable title. Without strata all is in the first."""
    where, left_out = rows.mask, {}
    for used in uses:
        if used.left_out is None:
            continue
        aside = used.left_out if where is None else used.left_out & where
        n = np.count_nonzero(aside) if rows.weights is None else rows.weights[aside].sum()
        left_out[used.variable.title] = float(n)
        where = ~used.left_out if where is None else where & ~used.left_out
    codes = [used.codes for used in uses]
    sizes = [len(used.variable.categories) for used in uses]
    if groups is not None:
        codes, sizes = [groups, *codes], [strata, *sizes]
    counts = count_table(codes, sizes, weights=rows.weights, where=where)
    if groups is None:
        return counts[None], left_out
    refuse_too_many(question, frame, int(np.count_nonzero(counts[1:].sum(axis=(1, 2)))))
    return counts, left_out


def _counted(
    question: Question,
    frame: Frame,
    rows: Rows,
    uses: list[Used],
    full: FloatArray,
    left_out: dict[str, float],
    without_stratum: float,
) -> Counted:
    """The strip: also those left out of this question, and those in no stratum."""
    extra = [(f"left out of this question by {title}", n) for title, n in left_out.items()]
    if without_stratum:
        titles = " and ".join(frame.variables[n].title for n in question.within)
        extra.append((f"no answer to {titles}", without_stratum))
    answered = "answered both"
    if extra:
        answered = "answered all" if question.within else "counted"
    return rows.counted(full, uses[1].variable, uses[0].variable, extra, answered)


def _variables(question: Question, frame: Frame, most: int) -> tuple[Variable, Variable, Term]:
    if question.outcome is None:
        raise QuestionError("Choose the outcome: what is the question about?", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose what the outcome may vary with.", slot="vary_with")
    term = question.vary_with[0]
    outcome = frame.variable(question.outcome.variable, "outcome")
    explanatory = frame.variable(term.variable, "vary_with")
    if outcome.name == explanatory.name:
        message = f"{outcome.title} cannot vary with itself. Choose another variable here."
        raise QuestionError(message, slot="vary_with")
    for variable, slot in ((outcome, "outcome"), (explanatory, "vary_with")):
        if len(frame.categorical(variable.name, slot).categories) > most:
            raise QuestionError(
                f"{variable.title} has {len(variable.categories):,} categories, more than a table "
                f"can show ({most}). Combine categories in the Codebook first.",
                slot=slot,
            )
    return outcome, explanatory, term


def _refuse_nothing_to_compare(
    table: FloatArray, explanatory: Variable, outcome: Variable, frame: Frame
) -> None:
    if table.sum() == 0:
        raise QuestionError(
            f"No {frame.noun.one} answered both {outcome.title} and {explanatory.title}.",
            slot="vary_with",
        )
    for variable, axis, slot in ((explanatory, 1, "vary_with"), (outcome, 0, "outcome")):
        present = [
            category.label
            for category, n in zip(variable.categories, table.sum(axis=axis), strict=True)
            if n > 0
        ]
        if len(present) < 2:
            raise QuestionError(
                f"Everyone counted gave the same answer to {variable.title}: “{present[0]}”. "
                "There is nothing to compare.",
                slot=slot,
            )
