"""The Odds model lens: does the outcome still vary with it, allowing for the others?"""

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Frame
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.answer import Answer, Check, Counted, NextStep
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.odds.model import Prepared, explain, model_terms, places_of, prepare
from hobrix.core.questions.odds.reading import odds_reading, odds_write_up
from hobrix.core.questions.odds.results import OddsModel, OddsResults
from hobrix.core.questions.quantities import Unavailable
from hobrix.core.questions.question import Question
from hobrix.core.questions.shared_checks import counting_check, passed_over_check
from hobrix.core.questions.slots import event_of, reference_of
from hobrix.core.questions.wording import count, listed, percent


def answer_odds(question: Question, frame: Frame) -> Answer:
    """Answer through the Odds model lens.

    Raises:
        QuestionError: a slot is empty or cannot be used, the outcome is separated by the terms,
            or some of them say the same.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome: what is the question about?", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose what the outcome may vary with.", slot="vary_with")
    outcome = frame.variable(question.outcome.variable, "outcome")
    column = frame.categorical(outcome.name, "outcome")
    event = event_of(question, outcome)
    if not event:
        message = (
            f"Odds are those of an event: choose which answer to {outcome.title} is the event."
        )
        raise QuestionError(message, slot="outcome")
    rows = Rows(question, frame)
    prepared = prepare(model_terms(question, frame), column, event, rows)
    data = ml.collapse(prepared.design, prepared.outcome, prepared.counts)
    try:
        found = ml.fit(data)
        model = explain(prepared, data, found, question.confidence)
    except ml.Collinear as refused:
        raise QuestionError(_says_the_same(prepared, refused), slot="vary_with") from None
    except ml.NotFinite:
        raise QuestionError(_separated(prepared, outcome.title), slot="vary_with") from None
    label = " or ".join(outcome.label_of(value) for value in event)
    results = OddsResults(whole=model, event_label=label, unavailable=_unavailable())
    counted = _counted(question, frame, rows, prepared, model)
    return Answer(
        lens="odds",
        question=question,
        counted=counted,
        results=results,
        checks=_checks(question, frame, results, counted),
        reading=odds_reading(results, outcome.title, question.confidence),
        next_steps=tuple(_next_steps(question)),
        write_up=odds_write_up(results, outcome.title, question.confidence),
    )


def _counted(
    question: Question, frame: Frame, rows: Rows, prepared: Prepared, model: OddsModel
) -> Counted:
    """Complete cases; the reasons name each variable by itself, a row may lack several."""
    weights = rows.weights
    inside = rows.mask

    def people(where: NDArray[np.bool_]) -> float:
        chosen = where if inside is None else where & inside
        return float(chosen.sum() if weights is None else weights[chosen].sum())

    names = [question.outcome.variable] if question.outcome else []
    names += [term.variable.name for term in prepared.terms]
    reasons = [
        (f"no answer to {frame.variables[name].title}", people(frame.column(name).is_missing))
        for name in names
    ]
    everyone = rows.surveyed if inside is None else people(inside)
    return rows.strip(everyone, model.n, reasons, "answered all")


def _says_the_same(prepared: Prepared, refused: ml.Collinear) -> str:
    names = _names(prepared, refused.columns)
    return (
        f"{listed(names)} can be worked out from the other variables of the model, so its odds "
        "ratio cannot be told apart. Leave one of them out."
    )


def _names(prepared: Prepared, columns: tuple[int, ...]) -> list[str]:
    found = []
    for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True):
        if set(at) & set(columns):
            found.append(term.variable.title)
    return found or ["One variable"]


def _separated(prepared: Prepared, outcome: str) -> str:
    """Name the categories in which all or none have the event, where that is the cause."""
    ends = []
    for term, at in zip(prepared.terms, places_of(prepared.terms), strict=True):
        for column, level in zip(at, term.levels, strict=True):
            inside = prepared.design[:, column] == 1
            if level is not None and inside.any():
                y = prepared.outcome[inside]
                if y.min() == y.max():
                    who = "everybody" if y[0] else "nobody"
                    label = term.variable.label_of(level)
                    ends.append(f"in “{label}” ({term.variable.title}) {who} has the event")
    why = f": {listed(ends[:3])}" if ends else " by several variables together"
    return (
        f"{outcome} is told apart completely{why}. The odds ratio would be infinite. Combine that "
        "category with another in the Codebook, or leave the variable out."
    )


def _unavailable() -> tuple[Unavailable, ...]:
    reason = "This part of the lens is not built yet."
    keys = (
        "ci_profile",
        "interactions",
        "hosmer_lemeshow",
        "auc",
        "residuals",
        "average_marginal_effects",
    )
    return tuple(Unavailable(quantity=key, reason=reason) for key in keys)


def _checks(
    question: Question, frame: Frame, results: OddsResults, counted: Counted
) -> tuple[Check, ...]:
    model = results.whole
    fewer = min(model.events, model.n - model.events)
    each = fewer / max(1, model.parameters - 1)
    text = (
        f"{each:.0f} of the rarer outcome for each coefficient ({count(fewer)} for "
        f"{model.parameters - 1})"
    )
    if each >= 10:
        enough = Check(id="events_per_coefficient", status="ok", text=f"{text}: enough.")
    else:
        text += ": below 10, so odds ratios tend to be too far from 1 and intervals unsure."
        enough = Check(id="events_per_coefficient", status="care", text=text)
    lost = counted.in_subset - counted.counted
    share = lost / counted.in_subset if counted.in_subset else 0.0
    noun = counted.noun_one if lost == 1 else counted.noun_many
    set_aside = Check(
        id="set_aside",
        status="care" if share > 0.1 else "ok",
        text=f"{count(lost)} {noun} ({percent(share)}) lack an answer the model needs.",
    )
    checks = [enough, set_aside, *_absent(question, frame, model)]
    if frame.study_design != "case_control":
        checks += _common(results)
    checks += [*_small(model), *_linear(model)]
    checks += [*passed_over_check(question, frame), counting_check(question, frame, counted)]
    order = {"fail": 0, "care": 1, "ok": 2}
    return tuple(sorted(checks, key=lambda check: order[check.status]))


def _absent(question: Question, frame: Frame, model: OddsModel) -> list[Check]:
    """Categories nobody counted is in are left out; another stands in for an absent reference."""
    checks = []
    asked = {t.variable: t for t in (*question.vary_with, *question.allowing_for)}
    for term in model.terms:
        variable = frame.variables[term.variable]
        if term.reference is None:
            continue
        present = {row.label for row in term.rows} | {term.reference}
        absent = [c.label for c in variable.categories if c.label not in present]
        if absent:
            text = f"Nobody counted is in {listed(absent, 'or')} ({term.title}): left out."
            checks.append(Check(id="empty_categories", status="care", text=text))
        wanted = variable.label_of(reference_of(asked[term.variable], variable))
        if wanted != term.reference:
            text = (
                f"Nobody counted is in the reference of {term.title}, “{wanted}”: the others are "
                f"compared against “{term.reference}” instead."
            )
            checks.append(Check(id="reference", status="care", text=text))
    return checks


def _common(results: OddsResults) -> list[Check]:
    share = results.whole.events / results.whole.n
    if share < 0.1:
        return []
    text = (
        f"“{results.event_label}” is common ({percent(share)}), so an odds ratio is further from 1 "
        "than the ratio of shares: do not read it as “times as common”."
    )
    return [Check(id="common_event", status="care", text=text)]


def _small(model: OddsModel) -> list[Check]:
    few = [
        f"{term.title}: {row.label}"
        for term in model.terms
        for row in term.rows
        if row.n is not None and row.events is not None and min(row.events, row.n - row.events) < 5
    ]
    if not few:
        return []
    text = f"Fewer than 5 with or without the event in {listed(few[:4])}: its odds ratio is unsure."
    return [Check(id="small_categories", status="care", text=text)]


def _linear(model: OddsModel) -> list[Check]:
    numeric = [term.title for term in model.terms if term.reference is None]
    if not numeric:
        return []
    text = (
        f"{listed(numeric)}: each unit is taken to multiply the odds alike over the whole range. "
        "Band it in the Codebook to see whether that holds."
    )
    return [Check(id="linearity", status="care", text=text)]


def _next_steps(question: Question) -> list[NextStep]:
    steps = []
    if question.allowing_for:
        alone = question.model_copy(update={"allowing_for": ()})
        steps.append(NextStep(label="Without allowing for anything", question=alone))
    crossed = question.model_copy(update={"lens": "crosstab", "allowing_for": ()})
    steps.append(NextStep(label="Look at the table", question=crossed))
    return steps
