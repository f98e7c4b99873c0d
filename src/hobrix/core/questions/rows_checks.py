"""Checks on whose rows are counted together: cases with controls, several of one case, several data
sets."""

import numpy as np

from hobrix.core.data import CategoricalColumn, Design, EachRow, Frame, NumericColumn
from hobrix.core.data.cases_look import look_at_cases
from hobrix.core.data.subset import variables_of
from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.lens import Work
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.slots import event_in_words, event_of
from hobrix.core.questions.wording import count, listed, number, percent

# The outcome in each data set is told for so many of them.
MOST_TOLD = 6


def rows_checks(work: Work) -> list[Check]:
    """What is to be known of rows that are counted together."""
    return [*_cases_mixed(work), *_matched(work), *_repeated_rows(work), *_pooled(work)]


def _matched(work: Work) -> list[Check]:
    """People who were matched are alike in their sets: without regard to that, odds ratios lean towards 1."""
    question, frame = work.question, work.frame
    outcome = None if question.outcome is None else question.outcome.variable
    named = {term.variable for term in (*question.vary_with, *question.allowing_for)}
    if not frame.matched_on or outcome is None or not question.vary_with:
        return []
    if question.matched or frame.matched_on in named or not frame.was_set(outcome):
        return []
    sets = frame.variable(frame.matched_on, "matched").title
    text = (
        f"People were matched in sets ({sets}), which is not heeded here: odds ratios are likely nearer to 1 than they "
        "are within sets."
    )
    remedies: tuple[Remedy, ...] = ()
    if isinstance(question.counted_by, EachRow) and not question.within:
        within = question.changed(matched=frame.matched_on)
        remedies = (
            Remedy(
                label=f"Compare within {sets}", question=within, through="model of matched sets"
            ),
        )
    return [Check(id="matched", status="care", text=text, remedies=remedies)]


def _cases_mixed(work: Work) -> list[Check]:
    """Cases and controls counted together are a sample of nobody."""
    question, frame = work.question, work.frame
    named = [question.outcome.variable] if question.outcome else []
    named += [term.variable for term in (*question.vary_with, *question.allowing_for)]
    named += question.within
    if question.among is not None or not frame.mixes_cases(named):
        return []
    status = frame.variable(frame.case_status, "within")
    text = (
        f"Cases and controls are counted together here. As cases were sampled, what they have in "
        f"common describes nobody: look within {status.title}."
    )
    apart = question.changed(within=(*question.within, status.name))
    remedy = Remedy(label=f"Look within {status.title}", question=apart)
    return [Check(id="cases_mixed", status="care", text=text, remedies=(remedy,))]


def _repeated_rows(work: Work) -> list[Check]:
    """Rows of one case are alike: they tell less than as many rows of as many cases."""
    question, frame = work.question, work.frame
    if not frame.cases.is_repeated or not isinstance(question.counted_by, EachRow):
        return []
    case = frame.cases.case or ""
    look = frame.once(("cases", case), lambda: look_at_cases(frame, frame.cases))
    title = frame.variable(case, "counted_by").title
    text = (
        f"Rows are not independent: {count(look.rows)} rows are of {count(look.cases)} cases "
        f"({title}). Taken as independent, intervals are likely too narrow and p-values too small."
    )
    clustered = question.changed(counted_by=Design(clusters=case))
    remedies = (
        Remedy(label=f"Take the rows of a {title} as a cluster", question=clustered),
        Remedy(label=f"Make one row per {title}", data="one-per-case"),
    )
    return [Check(id="repeated_rows", status="care", text=text, remedies=remedies)]


def _pooled(work: Work) -> list[Check]:
    """Rows of several data sets counted together without a word about which they are from."""
    question, frame = work.question, work.frame
    named = {term.variable for term in (*question.vary_with, *question.allowing_for)}
    if not frame.pooled_by or question.outcome is None:
        return []
    if question.among is not None:
        named |= set(variables_of(question.among))
    if frame.pooled_by in named | {*question.within, question.outcome.variable}:
        return []
    source = frame.column(frame.pooled_by)
    if not isinstance(source, CategoricalColumn):
        return []
    text = f"Rows of {count(len(source.categories))} data sets are counted together.{_in_each(question, frame, source)}"
    within = question.changed(within=(*question.within, frame.pooled_by))
    allowing = question.changed(
        allowing_for=(*question.allowing_for, Term(variable=frame.pooled_by))
    )
    remedies = [Remedy(label="Look within each data set", question=within)]
    if question.vary_with:
        label = "Allow for the data set"
        remedies.append(Remedy(label=label, question=allowing, through="model"))
    return [Check(id="pooled", status="care", text=text, remedies=tuple(remedies))]


def _in_each(question: Question, frame: Frame, source: CategoricalColumn) -> str:
    """The event or the mean in each data set, where rows count once and all are asked about."""
    assert question.outcome is not None
    if question.among is not None or not isinstance(question.counted_by, EachRow):
        return ""
    variable = frame.variables[question.outcome.variable]
    outcome = frame.column(variable.name)
    told = []
    for at, category in enumerate(source.categories):
        rows = (source.codes == at) & ~outcome.is_missing
        if not rows.any():
            told.append(f"not asked in {category.label}")
        elif isinstance(outcome, NumericColumn):
            told.append(f"mean {number(float(outcome.values[rows].mean()))} in {category.label}")
        elif event := event_of(question, variable):
            yes = [i for i, c in enumerate(outcome.categories) if c.value in event]
            share = float(np.isin(outcome.codes[rows], yes).mean())
            told.append(f"{percent(share)} in {category.label}")
    if not 1 < len(told) <= MOST_TOLD:
        return ""
    what = variable.title if variable.kind == "numeric" else event_in_words(question, variable)
    return f" {what}: {listed(told)}, each of all its rows that answered."
