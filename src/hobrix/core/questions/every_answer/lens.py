"""The Odds model of an outcome that is not cut in two."""

import math

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Counted, NextStep
from hobrix.core.questions.estimates import NamedTest, Quantity, Unavailable
from hobrix.core.questions.every_answer import results as r
from hobrix.core.questions.every_answer.checks import every_answer_checks
from hobrix.core.questions.every_answer.coefficients_panel import coefficients
from hobrix.core.questions.every_answer.cuts_panel import can_be_cut, cuts
from hobrix.core.questions.every_answer.predicted_panel import has_shares, predicted
from hobrix.core.questions.every_answer.printed import PANELS, methods, model_table, tables
from hobrix.core.questions.every_answer.reading import (
    every_answer_reading,
    every_answer_write_up,
    moved,
)
from hobrix.core.questions.every_answer.rows import terms_of
from hobrix.core.questions.every_answer.steps_panel import steps
from hobrix.core.questions.every_answer.within import strata
from hobrix.core.questions.every_answer.work import EveryAnswerWork, is_in_order, work_on
from hobrix.core.questions.lens import (
    Found,
    Lens,
    Likelihood,
    Panel,
    Refusal,
    Sheet,
    has_replicates,
)
from hobrix.core.questions.modelling.steps import gained
from hobrix.core.questions.printed import PaperPanel
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import MISSING
from hobrix.core.questions.slots import event_of
from hobrix.core.questions.wording import against
from hobrix.core.tables.independence import chi_square_test

NAME = "every_answer"


def suits(question: Question, frame: Frame) -> bool:
    """An outcome with three answers or more and no event, or asked for by name."""
    if question.outcome is None or question.matched is not None:
        return False
    try:
        outcome = frame.variable(question.outcome.variable, "outcome")
        if not outcome.is_categorical or len(outcome.categories) < 3:
            return False
        return question.lens == NAME or not event_of(question, outcome)
    except QuestionError:
        return False


def refusal(question: Question, frame: Frame) -> Refusal | None:
    if question.outcome is None:
        return Refusal("Choose the outcome: what is the question about?", "outcome", is_open=True)
    if not question.vary_with:
        return Refusal("Choose what the outcome may vary with.", "vary_with", is_open=True)
    outcome = frame.variable(question.outcome.variable, "outcome")
    if not outcome.is_categorical:
        return Refusal(f"{outcome.title} has no answers to choose from.", "outcome")
    return None


def _results(work: EveryAnswerWork) -> r.EveryAnswerResults:
    """Worked out once: the sheet shows it, and the table for a paper prints it."""
    if work.kept:
        return work.kept[0]
    model = work.model
    columns = list(range(1, model.data.design.shape[1]))
    n_of, shares = model.data.counts.sum(axis=0), model.shares
    given = {category.value for category in model.prepared.answers}
    found = r.EveryAnswerResults(
        is_ordered=work.is_ordered,
        downward=work.is_ordered and work.options.downward,
        limits="profile" if model.is_profiled else "wald",
        answers=tuple(
            r.AnswerCount(value=each.value, label=each.label, n=float(n), share=float(share))
            for each, n, share in zip(model.prepared.answers, n_of, shares, strict=True)
        ),
        unused=tuple(each.label for each in work.asked.categories if each.value not in given),
        n=model.n,
        covariate_patterns=len(model.data.design),
        parameters=len(model.found.coefficients),
        terms=terms_of(work),
        test=_model_test(work, columns),
        likelihood=_likelihood(work),
        strata=strata(work),
    )
    work.kept.append(found)
    return found


def sheet(work: EveryAnswerWork) -> Sheet:
    model, results = work.model, _results(work)
    counted = _counted(work)
    return Sheet(
        counted=counted,
        results=results,
        checks=every_answer_checks(work, results, counted),
        reading=every_answer_reading(work, results),
        next_steps=_next_steps(work),
        write_up=every_answer_write_up(work, results),
        unavailable=_unavailable(work),
        moved=moved(results),
        replicates_lost=0 if model.weighted is None else model.weighted.replicates_lost,
    )


def paper(work: EveryAnswerWork) -> Found:
    title = work.asked.outcome.title
    return Found(PaperPanel(table=model_table(_results(work), title, work.question.confidence)))


def _model_test(work: EveryAnswerWork, columns: list[int]) -> NamedTest | None:
    model = work.model
    if model.weighted is not None:
        return model.whole_test(columns)
    gain = max(0.0, 2 * (model.found.log_likelihood - model.data.null))
    found = chi_square_test(gain, len(model.coefficients_at(columns)))
    return NamedTest.chi_square("likelihood-ratio test", found)


def _likelihood(work: EveryAnswerWork) -> r.AnswersLikelihood | None:
    model = work.model
    if model.weighted is not None:
        return None
    n, k = model.n, len(model.found.coefficients)
    ll, null = model.found.log_likelihood, model.data.null
    cox_snell = -math.expm1(2 * (null - ll) / n)
    return r.AnswersLikelihood(
        log_likelihood=ll,
        log_likelihood_null=null,
        deviance=-2 * ll,
        aic=-2 * ll + 2 * k,
        bic=-2 * ll + k * math.log(n),
        mcfadden=1 - ll / null,
        cox_snell=cox_snell,
        nagelkerke=-cox_snell / math.expm1(2 * null / n),
    )


def _counted(work: EveryAnswerWork) -> Counted:
    """Complete cases; the reasons name each variable by itself, a row may lack several."""
    rows, asked, frame = work.sampling.rows, work.asked, work.frame
    inside = np.ones(frame.rows, dtype=bool) if rows.mask is None else rows.mask

    def people(where: Mask) -> float:
        return float(asked.trials[where & inside].sum())

    gone = np.zeros(frame.rows, dtype=bool)
    for mask in asked.left_out.values():
        gone |= mask
    reasons = [(f"no answer to {asked.outcome.title}", people(~asked.answered & ~gone))]
    for name, missing in asked.missing.items():
        reasons.append((f"no answer to {asked.variables[name].title}", people(missing & ~gone)))
    if work.strata is not None:
        titles = " and ".join(frame.variables[name].title for name in work.question.within)
        reasons.append((f"no answer to {titles}", people(work.strata < 0)))
    reasons += [
        (f"left out of this question by {title}", people(mask))
        for title, mask in asked.left_out.items()
    ]
    return rows.strip(people(inside), work.model.n, reasons, "answered all")


def _unavailable(work: EveryAnswerWork) -> list[Unavailable]:
    found = []
    if not work.has_shares:
        reason = "In a case–control study the shares of the answers were set by the design."
        found.append(("predictions", reason))
    if work.question.is_designed:
        found += [
            ("likelihood_ratio", "A weighted sample has no likelihood: terms have Wald tests."),
            ("likelihood", "It needs a likelihood, which a weighted sample has not."),
        ]
    return [Unavailable(quantity=key, reason=reason) for key, reason in found]


def _next_steps(work: EveryAnswerWork) -> list[NextStep]:
    question, model, steps = work.question, work.model, []
    alone = tuple(t for t in question.vary_with if t.together_with is None)
    title = work.asked.outcome.title
    if work.is_ordered:
        way = "higher" if work.options.downward else "lower"
        turned = question.with_options("every_answer", downward=not work.options.downward)
        steps.append(NextStep(label=f"Tell the odds of a {way} answer", question=turned))
    else:
        most = max(range(1, len(work.words)), key=lambda i: float(model.data.counts[:, i].sum()))
        other = model.prepared.answers[most]
        turned = question.with_options("every_answer", base=other.value)
        steps.append(NextStep(label=f"Compare with “{other.label}” instead", question=turned))
    steps += _cut(work)
    if question.allowing_for:
        unadjusted = question.changed(allowing_for=(), vary_with=alone)
        steps.append(NextStep(label="Without allowing for anything", question=unadjusted))
    apart = [[i] for i in range(len(work.words))]
    if is_in_order(question, work.asked.outcome.kind) and work.can_be_taken(apart):
        taken = question.with_options("every_answer", taken="in_no_order")
        steps.append(NextStep(label=f"Take the answers to {title} in no order", question=taken))
    lead = next((t for t in model.terms if t.role == "vary_with" and not t.is_interaction), None)
    if lead is not None and not lead.parts[0].is_numeric:
        crossed = question.changed(allowing_for=(), vary_with=alone)
        steps.append(NextStep(label="Look at the table", question=crossed, through="table"))
    return steps


def _cut(work: EveryAnswerWork) -> list[NextStep]:
    """The outcome cut in two: at the place nearest to the middle, or each answer against all others."""
    answers, counts = work.model.prepared.answers, work.model.data.counts.sum(axis=0)
    if work.is_ordered:
        above = np.cumsum(counts[::-1])[::-1][1:] / counts.sum()
        at = int(np.argmin(np.round(np.abs(above - 0.5), 9))) + 1
        label = f"Cut in two: “{answers[at].label}” or beyond as the event"
        event = tuple(each.value for each in answers[at:])
    else:
        at = int(np.argmax(counts[1:])) + 1
        label = f"“{answers[at].label}” against all other answers"
        event = (answers[at].value,)
    others = [i for i in range(len(answers)) if answers[i].value not in event]
    # Not having answered can be no event.
    if MISSING in event or not work.can_be_taken(
        [others, [i for i in range(len(answers)) if i not in others]]
    ):
        return []
    asked = work.question.with_event(*event)
    return [NextStep(label=label, question=asked, through="model")]


def needs(question: Question) -> tuple[str, ...]:
    names = [question.outcome.variable] if question.outcome else []
    names += [term.variable for term in (*question.vary_with, *question.allowing_for)]
    return tuple(dict.fromkeys([*names, *question.within]))


def quantities(results: r.EveryAnswerResults) -> list[Quantity]:
    way = "lower" if results.downward else "higher"
    found = []
    for term in sorted(results.terms, key=lambda term: term.role != "vary_with"):
        for row in term.rows:
            label = against(row.label, term.reference) if term.reference else row.label
            about = f"{label} ({row.given})" if row.given else label
            for each in row.ratios:
                measure = f"odds ratio of a {way} answer"
                if each.answer is not None:
                    measure = f"odds ratio of {each.answer} rather than {results.base.label}"
                shown = f"{term.title}: {row.label}" + (f" ({row.given})" if row.given else "")
                found.append(
                    Quantity(
                        label=shown if each.answer is None else f"{shown}, {each.answer}",
                        unit="ratio",
                        estimate=each.odds_ratio,
                        ci=each.ci,
                        measure=measure,
                        about=about,
                        variable=term.title,
                        n=row.n,
                        p=each.p,
                    )
                )
    return found


def likelihood(results: r.EveryAnswerResults) -> Likelihood | None:
    """That of the whole model, where nothing is stratified."""
    if results.likelihood is None or results.strata:
        return None
    return Likelihood(
        results.likelihood.log_likelihood,
        results.parameters,
        "answers in order" if results.is_ordered else "answers in no order",
    )


EVERY_ANSWER = Lens[EveryAnswerWork](
    name=NAME,
    title="Odds model",
    uses=frozenset({"vary_with", "allowing_for", "within", "matched"}),
    gives="model of every answer",
    results=r.EveryAnswerResults,
    opened=r.EveryAnswerPanels,
    refusal=refusal,
    work=work_on,
    sheet=sheet,
    panels=(
        Panel(
            "cuts",
            "The same at every cut?",
            "the odds ratio wherever the answers are cut in two",
            cuts,
            is_there=can_be_cut,
            checks=True,
        ),
        Panel(
            "predicted",
            "Predicted shares",
            "of every answer, for people like this",
            predicted,
            is_there=has_shares,
        ),
        Panel("steps", "Step by step", "what each step gains", steps),
        Panel("paper", "Table for a paper", "unadjusted and adjusted, to copy", paper),
        Panel(
            "categories",
            "Categories for this question only",
            "leave out, combine, no answer as a category",
        ),
        Panel("coefficients", "Coefficients", "log odds, thresholds, equation", coefficients),
    ),
    needs=needs,
    quantities=quantities,
    likelihood=likelihood,
    tables=tables,
    prints=PANELS,
    methods=methods,
    takes_long=has_replicates,
    gained=gained,
    suits=suits,
)
