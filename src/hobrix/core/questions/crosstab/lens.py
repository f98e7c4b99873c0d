"""The Crosstab lens: how does one outcome vary with one explanatory variable, and within whom?"""

from dataclasses import dataclass

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.data.column import IntArray
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Answer, Counted, NextStep
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.crosstab import strata as stratified
from hobrix.core.questions.crosstab.checks import crosstab_checks
from hobrix.core.questions.crosstab.estimate import crosstab_table, group_name, unavailable
from hobrix.core.questions.crosstab.options import CrosstabOptions, options_of
from hobrix.core.questions.crosstab.reading import crosstab_reading, crosstab_write_up, furthest
from hobrix.core.questions.crosstab.recast import Used, use
from hobrix.core.questions.crosstab.results import (
    CrosstabResults,
    CrosstabTable,
    Several,
    Stratum,
)
from hobrix.core.questions.crosstab.several import one_of_several
from hobrix.core.questions.question import Outcome, Question, Term
from hobrix.core.questions.slots import event_of, reference_of
from hobrix.core.questions.wording import listed
from hobrix.core.tables.counts import FloatArray, count_table
from hobrix.core.tables.independence import drop_empty

MAX_CATEGORIES = 200
MOST_COMBINATIONS = 5000


@dataclass(frozen=True)
class _Asked:
    """The question with its variables as it uses them."""

    question: Question
    frame: Frame
    rows: Rows
    options: CrosstabOptions
    explanatory: Used
    outcome: Used
    event: tuple[str, ...]
    reference: str

    def table(self, counts: FloatArray) -> CrosstabTable:
        return crosstab_table(
            counts,
            self.explanatory.variable,
            self.outcome.variable,
            event=self.event,
            reference=self.reference,
            confidence=self.question.confidence,
            options=self.options,
            shares_have_meaning=self.frame.study_design != "case_control",
        )


def answer_crosstab(question: Question, frame: Frame) -> Answer:
    """Answer through the Crosstab lens.

    Raises:
        QuestionError: a slot is empty, names something that cannot be cross-tabulated, or
            leaves nobody to count.
    """
    options = options_of(question)
    outcome, explanatory, term = _variables(question, frame)
    uses = [
        use(variable, frame.categorical(variable.name, slot), options.categories.get(variable.name))
        for variable, slot in ((explanatory, "vary_with"), (outcome, "outcome"))
    ]
    asked_event = [uses[1].into[v] for v in event_of(question, outcome) if v in uses[1].into]
    reference = reference_of(term, explanatory)
    asked = _Asked(
        question=question,
        frame=frame,
        rows=Rows(question, frame),
        options=options,
        explanatory=uses[0],
        outcome=uses[1],
        event=tuple(dict.fromkeys(asked_event)),
        reference=uses[0].into.get(reference, ""),
    )
    groups, labels = _strata(asked)
    everything, left_out = _count(asked, groups, len(labels))
    full = everything[1:].sum(axis=0) if question.within else everything[0]
    _refuse_nothing_to_compare(full[1:, 1:], uses[0].variable, uses[1].variable, frame)
    whole = asked.table(full[1:, 1:])
    tables = everything[1:, 1:, 1:] if question.within else everything[:0, 1:, 1:]
    pooled = None
    if question.within and np.count_nonzero(tables.sum(axis=(1, 2))) > 1:
        kept = (list(whole.kept_rows), list(whole.kept_columns))
        pooled = stratified.pooled(tables, whole, kept, question.confidence)
    results = CrosstabResults(
        whole=whole,
        strata=tuple(_stratum(asked, *label, t) for label, t in zip(labels, tables, strict=True)),
        pooled=pooled,
        several=_several(asked),
        unavailable=unavailable(whole),
    )
    without_stratum = float(everything[0].sum()) if question.within else 0.0
    counted = _counted(asked, full, left_out, without_stratum)
    used = uses[0].variable, uses[1].variable
    level = question.confidence
    within = [frame.variables[name] for name in question.within]
    titles = listed([variable.title for variable in within])
    return Answer(
        lens="crosstab",
        question=question,
        counted=counted,
        results=results,
        checks=crosstab_checks(question, frame, results, counted, full, *used),
        reading=crosstab_reading(results, *used, counted, level, titles),
        next_steps=tuple(_next_steps(question, whole, explanatory, outcome)),
        write_up=crosstab_write_up(results, *used, level, within),
    )


def _strata(asked: _Asked) -> tuple[IntArray | None, list[tuple[tuple[str, ...], str]]]:
    """One code per row for the combination of stratifying answers (-1: not answered), and the
    values and label of each combination."""
    within = asked.question.within
    if not within:
        return None, []
    columns = [asked.frame.categorical(name, "within") for name in within]
    for name in within:
        if name in (asked.outcome.variable.name, asked.explanatory.variable.name):
            title = asked.frame.variables[name].title
            raise QuestionError(f"{title} is in the sentence already.", slot="within")
    combinations = np.prod([len(column.categories) for column in columns], dtype=np.float64)
    if combinations > MOST_COMBINATIONS:
        raise QuestionError(_too_many(asked, int(combinations)), slot="within")
    codes = np.zeros(asked.frame.rows, dtype=np.int64)
    lacking = np.zeros(asked.frame.rows, dtype=bool)
    labels: list[tuple[tuple[str, ...], str]] = [((), "")]
    for name, column in zip(within, columns, strict=True):
        variable = asked.frame.variables[name]
        codes = codes * len(column.categories) + column.codes
        lacking |= column.codes < 0
        labels = [
            (
                (*values, c.value),
                " · ".join(part for part in (label, group_name(variable, c)) if part),
            )
            for values, label in labels
            for c in column.categories
        ]
    codes[lacking] = -1
    return codes, labels


def _too_many(asked: _Asked, n: int) -> str:
    titles = " and ".join(asked.frame.variables[name].title for name in asked.question.within)
    return (
        f"{titles} makes {n:,} strata; up to {stratified.MOST_STRATA} can be compared. Combine "
        "categories in the Codebook, or choose fewer variables."
    )


def _count(
    asked: _Asked, groups: IntArray | None, strata: int
) -> tuple[FloatArray, dict[str, float]]:
    """Counts of shape (strata + 1, R + 1, C + 1), the first of each axis for missing, and the
    cases left out of this question by variable title. Without strata all is in the first."""
    rows, where, left_out = asked.rows, asked.rows.mask, {}
    for used in (asked.explanatory, asked.outcome):
        if used.left_out is None:
            continue
        aside = used.left_out if where is None else used.left_out & where
        n = np.count_nonzero(aside) if rows.weights is None else rows.weights[aside].sum()
        left_out[used.variable.title] = float(n)
        where = ~used.left_out if where is None else where & ~used.left_out
    uses = (asked.explanatory, asked.outcome)
    codes = [used.codes for used in uses]
    sizes = [len(used.variable.categories) for used in uses]
    if groups is not None:
        codes, sizes = [groups, *codes], [strata, *sizes]
    counts = count_table(codes, sizes, weights=rows.weights, where=where)
    if groups is None:
        return counts[None], left_out
    present = int(np.count_nonzero(counts[1:].sum(axis=(1, 2))))
    if present > stratified.MOST_STRATA:
        raise QuestionError(_too_many(asked, present), slot="within")
    return counts, left_out


def _counted(
    asked: _Asked, full: FloatArray, left_out: dict[str, float], without_stratum: float
) -> Counted:
    """The strip: also those left out of this question, and those in no stratum."""
    counted = asked.rows.counted(full, asked.outcome.variable, asked.explanatory.variable)
    extra = [(f"left out of this question by {title}", n) for title, n in left_out.items()]
    if without_stratum:
        titles = " and ".join(asked.frame.variables[n].title for n in asked.question.within)
        extra.append((f"no answer to {titles}", without_stratum))
    if not extra:
        return counted
    reasons = [(aside.reason, aside.n) for aside in counted.set_aside] + extra
    in_subset = counted.in_subset + sum(n for _, n in extra)
    answered = "answered all" if asked.question.within else "counted"
    return asked.rows.strip(in_subset, counted.counted, reasons, answered)


def _stratum(asked: _Asked, values: tuple[str, ...], label: str, counts: FloatArray) -> Stratum:
    n = float(counts.sum())
    left_out = None
    if not n:
        left_out = "nobody is in it"
    elif min(drop_empty(counts).counts.shape) < 2:
        left_out = "all gave the same answer to one of the two, so there is nothing to compare"
    table = None if left_out else asked.table(counts)
    return Stratum(values=values, label=label, n=n, table=table, left_out=left_out)


def _several(asked: _Asked) -> tuple[Several, ...]:
    if len(asked.question.vary_with) < 2:
        return ()
    return one_of_several(asked.question, asked.frame, asked.rows, asked.outcome)


def _variables(question: Question, frame: Frame) -> tuple[Variable, Variable, Term]:
    if question.outcome is None:
        raise QuestionError("Choose the outcome: what is the question about?", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose what the outcome may vary with.", slot="vary_with")
    if question.allowing_for:
        message = "The Crosstab lens does not allow for other variables: use “within each”."
        raise QuestionError(message, slot="allowing_for")
    term = question.vary_with[0]
    outcome = frame.variable(question.outcome.variable, "outcome")
    explanatory = frame.variable(term.variable, "vary_with")
    if outcome.name == explanatory.name:
        message = f"{outcome.title} cannot vary with itself. Choose another variable here."
        raise QuestionError(message, slot="vary_with")
    for variable, slot in ((outcome, "outcome"), (explanatory, "vary_with")):
        if len(frame.categorical(variable.name, slot).categories) > MAX_CATEGORIES:
            raise QuestionError(
                f"{variable.title} has {len(variable.categories):,} categories, more than a table "
                f"can show ({MAX_CATEGORIES}). Combine categories in the Codebook first.",
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


def _next_steps(
    question: Question, whole: CrosstabTable, explanatory: Variable, outcome: Variable
) -> list[NextStep]:
    steps = []
    by_group = whole.event_by_group
    if by_group is None:
        if len(outcome.categories) == 2:
            steps += [
                NextStep(
                    label=f"Take “{c.label}” as the event", question=question.with_event(c.value)
                )
                for c in outcome.categories
            ]
    else:
        others = [c for c in outcome.categories if c.value not in by_group.event]
        label = " or ".join(category.label for category in others)
        turned = question.with_event(*(category.value for category in others))
        steps.append(NextStep(label=f"Turn it round: {outcome.title}: {label}", question=turned))
        far = furthest(by_group)
        steps.append(
            NextStep(
                label=f"Compare against {far.label}", question=question.with_reference(far.value)
            )
        )
    swapped = question.model_copy(
        update={
            "outcome": Outcome(variable=explanatory.name),
            "vary_with": (Term(variable=outcome.name),),
        }
    )
    label = f"Swap: how does {explanatory.title} vary with {outcome.title}?"
    steps.append(NextStep(label=label, question=swapped))
    return steps
