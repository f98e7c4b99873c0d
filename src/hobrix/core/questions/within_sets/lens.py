"""The Odds model of people who were matched in sets."""

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import matched
from hobrix.core.questions.answer import Counted, NextStep
from hobrix.core.questions.estimates import NamedTest, Quantity
from hobrix.core.questions.lens import Found, Lens, Likelihood, Panel, Refusal, Sheet
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.printed import PaperPanel
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import refuse_without_event
from hobrix.core.questions.within_sets import results as r
from hobrix.core.questions.within_sets.checks import matched_checks
from hobrix.core.questions.within_sets.coefficients_panel import coefficients
from hobrix.core.questions.within_sets.printed import methods, model_table, tables
from hobrix.core.questions.within_sets.reading import matched_reading, matched_write_up
from hobrix.core.questions.within_sets.rows import terms_of
from hobrix.core.questions.within_sets.steps_panel import steps
from hobrix.core.questions.within_sets.work import SLOT, MatchedWork, refuse_counting, work_on
from hobrix.core.questions.wording import against
from hobrix.core.tables import paired
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import chi_square_test


def suits(question: Question, _frame: Frame) -> bool:
    return question.matched is not None


def refusal(question: Question, frame: Frame) -> Refusal | None:
    if question.outcome is None:
        return Refusal("Choose the outcome: what is the question about?", "outcome", is_open=True)
    if not question.vary_with:
        return Refusal("Choose what the outcome may vary with.", "vary_with", is_open=True)
    if question.matched is None:
        return Refusal("Choose the variable that tells the matched sets.", SLOT, is_open=True)
    outcome = frame.variable(question.outcome.variable, "outcome")
    if not outcome.is_categorical:
        return Refusal(f"{outcome.title} has no answer that could be the event.", "outcome")
    missing = refuse_without_event(question, frame, "Within sets people are compared by an event")
    if missing is not None:
        return Refusal(missing, "outcome", is_open=True)
    try:
        refuse_counting(question, frame)
    except QuestionError as error:
        return Refusal(error.message, error.slot, remedies=error.remedies)
    return None


def _results(work: MatchedWork) -> r.MatchedResults:
    """Worked out once: the sheet shows it, and the table for a paper prints it."""
    if work.kept:
        return work.kept[0]
    model = work.model
    sets, k = model.sets, len(model.kept)
    every = list(model.kept)
    gain = max(0.0, 2 * (model.found.log_likelihood - sets.null))
    ll = model.found.log_likelihood
    found = r.MatchedResults(
        event_label=work.asked.event_label,
        set_title=work.set_title,
        limits="profile" if model.is_profiled else "wald",
        sets=_sets(work),
        parameters=k,
        terms=terms_of(work),
        constant=_constant(work),
        test=NamedTest.chi_square("likelihood-ratio test", chi_square_test(gain, k)),
        score=matched.score_test(sets, np.zeros(k), list(range(k))),
        wald=model.wald(every),
        likelihood=r.MatchedLikelihood(
            log_likelihood=ll,
            log_likelihood_null=sets.null,
            deviance=-2 * ll,
            aic=-2 * ll + 2 * k,
            mcfadden=1 - ll / sets.null,
        ),
        pairs=_pairs(work),
    )
    work.kept.append(found)
    return found


def sheet(work: MatchedWork) -> Sheet:
    results = _results(work)
    counted = _counted(work)
    return Sheet(
        counted=counted,
        results=results,
        checks=matched_checks(work, results, counted),
        reading=matched_reading(work, results),
        next_steps=_next_steps(work),
        write_up=matched_write_up(work, results),
    )


def paper(work: MatchedWork) -> Found:
    title = work.asked.outcome.title
    return Found(PaperPanel(table=model_table(_results(work), title, work.question.confidence)))


def _sets(work: MatchedWork) -> r.Sets:
    sets, inside = work.model.sets, work.set_of >= 0
    mask = work.sampling.rows.mask
    asked = inside if mask is None else inside & mask
    many = len(np.unique(work.set_of[asked]))
    events, people = sets.events_of, sets.people_of
    silent = ~sets.tells
    return r.Sets(
        sets=many,
        lost=many - len(people),
        events_only=int(np.count_nonzero(silent & (events > 0))),
        no_events=int(np.count_nonzero(silent & (events == 0))),
        people_without_contrast=int(people[silent].sum()),
        informative=int(np.count_nonzero(sets.tells)),
        people=int(people[sets.tells].sum()),
        events=int(events[sets.tells].sum()),
        shapes=tuple(
            r.SetShape(events=m, others=others, sets=n) for (m, others), n in sets.shapes.items()
        ),
        alike=sets.alike,
    )


def _constant(work: MatchedWork) -> tuple[str, ...]:
    """What of the terms does not vary within any set: whole variables by their titles, categories by their own."""
    model, named = work.model, column_names(work.model.laid.terms)
    found: dict[str, None] = {}
    for term, at in zip(model.laid.terms, model.places, strict=True):
        gone = [column for column in at if column not in model.kept]
        if len(gone) == len(at):
            found[term.title] = None
        else:
            found |= dict.fromkeys(named[column][2] for column in gone)
    return tuple(found)


def _pairs(work: MatchedWork) -> r.Pairs | None:
    """Where all sets that tell something are pairs and there is one exposure of two answers."""
    model = work.model
    terms, sets = model.laid.terms, model.sets
    is_pairs = set(sets.shapes) == {(1, 1)}
    if not is_pairs or len(terms) != 1 or terms[0].parts[0].is_numeric or len(model.kept) != 1:
        return None
    if len(terms[0].column_levels) != 1:
        return None
    table: FloatArray = np.zeros((2, 2))
    order = np.lexsort((-sets.event, sets.set))
    order = order[sets.tells[sets.set[order]]]
    exposed = sets.columns[order, 0].astype(int).reshape(-1, 2)
    np.add.at(table, (1 - exposed[:, 0], 1 - exposed[:, 1]), 1.0)
    tested = paired.mcnemar(table)
    odds = paired.change_odds(table, work.question.confidence)
    part = terms[0].parts[0]
    (both, only_event), (only_other, neither) = table.astype(int).tolist()
    return r.Pairs(
        exposed=f"{part.variable.title}: {part.label_of(part.codes[0])}",
        both=both,
        only_event=only_event,
        only_other=only_other,
        neither=neither,
        odds_ratio=odds and odds.estimate,
        ci=None if odds is None else (odds.ci.low, odds.ci.high),
        mcnemar=tested.chi_square,
        exact_p=tested.exact_p,
    )


def _counted(work: MatchedWork) -> Counted:
    """Those in sets that tell something; a row may lack several."""
    rows, asked, frame = work.sampling.rows, work.asked, work.frame
    inside = np.ones(frame.rows, dtype=bool) if rows.mask is None else rows.mask

    def people(where: Mask) -> float:
        return float(np.count_nonzero(where & inside))

    gone = np.zeros(frame.rows, dtype=bool)
    for mask in asked.left_out.values():
        gone |= mask
    reasons = [(f"no answer to {asked.outcome.title}", people(~asked.answered))]
    for name, missing in asked.missing.items():
        reasons.append((f"no answer to {asked.variables[name].title}", people(missing & ~gone)))
    reasons.append((f"no answer to {work.set_title}", people(work.set_of < 0)))
    reasons += [
        (f"left out of this question by {title}", people(mask))
        for title, mask in asked.left_out.items()
    ]
    sets = work.model.sets
    silent = float(sets.people_of[~sets.tells].sum())
    reasons.append(("in a set with only one answer to the outcome", silent))
    told = float(sets.people_of[sets.tells].sum())
    return rows.strip(people(inside), told, reasons, "are compared within sets")


def _next_steps(work: MatchedWork) -> list[NextStep]:
    question, steps = work.question, []
    alone = tuple(t for t in question.vary_with if t.together_with is None)
    if question.allowing_for and _varies_alone(work):
        unadjusted = question.changed(allowing_for=(), vary_with=alone)
        steps.append(
            NextStep(label="Without allowing for anything but the sets", question=unadjusted)
        )
    return steps


def _varies_alone(work: MatchedWork) -> bool:
    model = work.model
    return any(
        term.role == "vary_with" and not term.is_interaction and model.at(at)
        for term, at in zip(model.laid.terms, model.places, strict=True)
    )


def needs(question: Question) -> tuple[str, ...]:
    names = [question.outcome.variable] if question.outcome else []
    names += [term.variable for term in (*question.vary_with, *question.allowing_for)]
    names += [question.matched] if question.matched else []
    return tuple(dict.fromkeys(names))


def quantities(results: r.MatchedResults) -> list[Quantity]:
    found = []
    for term in sorted(results.terms, key=lambda term: term.role != "vary_with"):
        for row in term.rows:
            label = against(row.label, term.reference) if term.reference else row.label
            found.append(
                Quantity(
                    label=f"{term.title}: {row.label}" + (f" ({row.given})" if row.given else ""),
                    unit="ratio",
                    estimate=row.odds_ratio,
                    ci=row.ci,
                    measure="odds ratio within sets",
                    about=f"{label} ({row.given})" if row.given else label,
                    variable=term.title,
                    n=row.n,
                    events=row.events,
                    p=row.p,
                )
            )
    return found


def likelihood(results: r.MatchedResults) -> Likelihood | None:
    return Likelihood(
        results.likelihood.log_likelihood,
        results.parameters,
        f"the event within {results.set_title}",
    )


MATCHED = Lens[MatchedWork](
    name="within_sets",
    title="Odds model",
    uses=frozenset({"vary_with", "allowing_for", SLOT}),
    gives="model of matched sets",
    results=r.MatchedResults,
    opened=r.MatchedPanels,
    refusal=refusal,
    work=work_on,
    sheet=sheet,
    panels=(
        Panel("steps", "Step by step", "what each step gains", steps),
        Panel("paper", "Table for a paper", "matched only and adjusted, to copy", paper),
        Panel(
            "categories",
            "Categories for this question only",
            "leave out, combine, no answer as a category",
        ),
        Panel("coefficients", "Coefficients", "log odds, intervals", coefficients),
    ),
    needs=needs,
    quantities=quantities,
    likelihood=likelihood,
    tables=tables,
    methods=methods,
    suits=suits,
)
