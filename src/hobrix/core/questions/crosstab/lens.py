"""The Crosstab lens: how does one outcome vary with one explanatory variable, and within whom?"""

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.questions.answer import Answer, NextStep
from hobrix.core.questions.crosstab import strata as stratified
from hobrix.core.questions.crosstab.checks import crosstab_checks
from hobrix.core.questions.crosstab.estimate import crosstab_table, unavailable
from hobrix.core.questions.crosstab.options import CrosstabOptions, options_of
from hobrix.core.questions.crosstab.reading import crosstab_reading, crosstab_write_up, furthest
from hobrix.core.questions.crosstab.results import (
    CrosstabResults,
    CrosstabTable,
    Stratum,
)
from hobrix.core.questions.crosstab.several import one_of_several
from hobrix.core.questions.question import Outcome, Question, Term
from hobrix.core.questions.two_way import TwoWay, count_two_way
from hobrix.core.questions.wording import listed
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import drop_empty

MAX_CATEGORIES = 200


def answer_crosstab(question: Question, frame: Frame) -> Answer:
    """Answer through the Crosstab lens.

    Raises:
        QuestionError: a slot is empty, names something that cannot be cross-tabulated, or
            leaves nobody to count.
    """
    options = options_of(question)
    asked = count_two_way(question, frame, options.categories, MAX_CATEGORIES)
    whole = _table(asked, options, asked.table)
    pooled = None
    if np.count_nonzero(asked.tables.sum(axis=(1, 2))) > 1:
        kept = (list(whole.kept_rows), list(whole.kept_columns))
        pooled = stratified.pooled(asked.tables, whole, kept, question.confidence)
    several = len(question.vary_with) > 1
    results = CrosstabResults(
        whole=whole,
        strata=tuple(
            _stratum(asked, options, *label, table)
            for label, table in zip(asked.labels, asked.tables, strict=True)
        ),
        pooled=pooled,
        several=one_of_several(question, frame, asked.rows, asked.outcome) if several else (),
        unavailable=unavailable(whole, options),
    )
    used = asked.explanatory.variable, asked.outcome.variable
    level = question.confidence
    within = [frame.variables[name] for name in question.within]
    titles = listed([variable.title for variable in within])
    counted, full = asked.counted, asked.full
    return Answer(
        lens="crosstab",
        question=question,
        counted=counted,
        results=results,
        checks=crosstab_checks(question, frame, results, counted, full, *used),
        reading=crosstab_reading(results, *used, counted, level, titles),
        next_steps=tuple(_next_steps(question, whole, *asked.original)),
        write_up=crosstab_write_up(results, *used, level, within),
    )


def _table(asked: TwoWay, options: CrosstabOptions, counts: FloatArray) -> CrosstabTable:
    return crosstab_table(
        counts,
        asked.explanatory.variable,
        asked.outcome.variable,
        event=asked.event,
        reference=asked.reference,
        confidence=asked.question.confidence,
        options=options,
        shares_have_meaning=asked.frame.study_design != "case_control",
    )


def _stratum(
    asked: TwoWay,
    options: CrosstabOptions,
    values: tuple[str, ...],
    label: str,
    counts: FloatArray,
) -> Stratum:
    n = float(counts.sum())
    left_out = None
    if not n:
        left_out = "nobody is in it"
    elif min(drop_empty(counts).counts.shape) < 2:
        left_out = "all gave the same answer to one of the two, so there is nothing to compare"
    table = None if left_out else _table(asked, options, counts)
    return Stratum(values=values, label=label, n=n, table=table, left_out=left_out)


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
