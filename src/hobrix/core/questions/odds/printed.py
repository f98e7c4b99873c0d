"""Odds models as papers print them: unadjusted beside adjusted, and what the model is worth."""

from hobrix.core.data import Frame
from hobrix.core.questions import printed as p
from hobrix.core.questions.answer import Answered
from hobrix.core.questions.odds.opened import FitPanel, OddsPanels, SortingPanel
from hobrix.core.questions.odds.printed_beside import (
    coefficients_table,
    steps_table,
    worth_table,
)
from hobrix.core.questions.odds.results import OddsModel, OddsResults, OddsRow, OddsTerm
from hobrix.core.questions.slots import event_in_words
from hobrix.core.questions.wording import count, level, percent, plain, ratio

# What is opened for print.
PANELS = ("steps", "fit", "sorting", "coefficients")
_FITTED = {
    "maximum_likelihood": "Maximum likelihood",
    "firth": "Firth’s penalised likelihood",
}


def tables(answer: Answered[OddsResults, OddsPanels], frame: Frame) -> list[p.Table]:
    """The model, and its steps where they were opened and there are several."""
    question, model, opened = answer.question, answer.results.whole, answer.opened
    assert question.outcome is not None
    event = event_in_words(question, frame.variables[question.outcome.variable])
    terms = sorted(model.terms, key=lambda term: term.role != "vary_with")
    at = level(question.confidence)
    found = [
        p.Table(
            name="model",
            title=f"Odds ratios of {event}",
            columns=p.columns(
                "Characteristic",
                "n",
                "With event",
                f"Unadjusted odds ratio ({at} CI)",
                f"{'Adjusted odds' if len(terms) > 1 else 'Odds'} ratio ({at} CI)",
                "p",
            ),
            rows=tuple(row for term in terms for row in _rows(term)),
            notes=tuple(_notes(event, answer, opened)),
        )
    ]
    if opened.steps is not None and len(opened.steps.steps) > 1:
        found.append(steps_table(opened.steps))
    found.append(worth_table(model, opened))
    if opened.coefficients is not None:
        found.append(coefficients_table(opened.coefficients, at))
    return found


def _rows(term: OddsTerm) -> list[p.Row]:
    """A term under its name; a number stands in one line."""
    test: p.Cell = ()
    key = f"model/{term.term}"
    if term.test is not None and not term.part_of_interaction and len(term.rows) > 1:
        test = (p.reported(f"{key}/test", f"{term.title} as a whole", term.test),)
    if term.is_numeric and len(term.rows) == 1 and term.rows[0].given is None:
        return [_row(term, term.rows[0], f"{term.title}: {term.rows[0].label}")]
    title = f"{term.title} (at {term.holds_at})" if term.holds_at else term.title
    rows = [p.Row(cells=((title,), (), (), (), (), ()), is_head=True)]
    if term.reference is not None:
        rows.append(_reference(term, key))
    rows += [_row(term, row, row.label, indented=True) for row in term.rows]
    if test:
        cells: list[p.Cell | p.Part] = [("As a whole: ", *test), "", "", "", "", ""]
        rows.append(p.plain_row(cells, indented=True))
    return rows


def _reference(term: OddsTerm, key: str) -> p.Row:
    n, events = term.reference_n, term.reference_events
    counts: list[p.Cell | p.Part] = [p.NONE, p.NONE]
    if n is not None and events is not None:
        label = f"{term.title}: {term.reference}"
        counts = [
            p.cases(f"{key}//n", f"{label}: n", n),
            p.cases(f"{key}//events", f"{label}: with event", events),
        ]
    return p.plain_row([f"{term.reference} (reference)", *counts, "1", "1", ""], indented=True)


def _row(term: OddsTerm, row: OddsRow, label: str, *, indented: bool = False) -> p.Row:
    key = f"model/{term.term}/{row.level or ''}/{row.given or ''}"
    words = f"{term.title}: {row.label}" + (f" ({row.given})" if row.given else "")
    shown = f"{label} ({row.given})" if row.given else label
    n: p.Part = p.NONE if row.n is None else p.cases(f"{key}/n", f"{words}: n", row.n)
    events: p.Part = p.NONE
    if row.events is not None:
        events = p.cases(f"{key}/events", f"{words}: with event", row.events)
    return p.plain_row(
        [
            shown,
            n,
            events,
            _odds(
                f"{key}/unadjusted",
                f"{words}: unadjusted odds ratio",
                row.unadjusted,
                row.unadjusted_ci,
            ),
            _odds(f"{key}/odds_ratio", f"{words}: odds ratio", row.odds_ratio, row.ci),
            p.NONE if row.p is None else p.probability(f"{key}/p", f"{words}: p", row.p),
        ],
        indented=indented,
    )


def _odds(key: str, label: str, value: float | None, ci: tuple[float, float] | None) -> p.Cell:
    number = None if value is None else p.ratio_number(key, label, value)
    return p.with_limits(key, label, number, ci, ratio)


def _notes(event: str, answer: Answered[OddsResults, OddsPanels], opened: OddsPanels) -> list[str]:
    model = answer.results.whole
    people = answer.counted.people(model.n)
    notes = [
        f"Event: {event}, {count(model.events)} of {people}. Odds ratios above 1: higher odds of the "
        "event than in the reference, or with a larger value."
    ]
    limits = {"wald": "Wald", "profile": "profile-likelihood"}.get(model.limits, model.limits)
    notes.append(f"{_FITTED[model.method]}, {limits} intervals.")
    if model.test is not None:
        notes.append(f"Model: {p.reported('model', 'Model', model.test).text}.")
    notes += _worth(model, opened.sorting)
    notes += _fit(opened.fit)
    return notes


def _worth(model: OddsModel, sorting: SortingPanel | None) -> list[str]:
    notes = []
    likelihood = model.likelihood
    if likelihood is not None and likelihood.nagelkerke is not None:
        assert likelihood.cox_snell is not None
        notes.append(
            f"R²: {plain(likelihood.cox_snell, 2)} (Cox and Snell), "
            f"{plain(likelihood.nagelkerke, 2)} (Nagelkerke)."
        )
    at = None
    if sorting is not None:
        at = next((c for c in sorting.classification if c.cutoff == sorting.cutoff), None)
    if sorting is not None and at is not None:
        notes.append(
            f"Sorted rightly: {percent(at.baseline_accuracy)} without the model (all taken for the commoner "
            f"answer), {percent(at.accuracy)} with it, cut at {plain(at.cutoff, 2)}, in the rows it "
            "was fitted to."
        )
    return notes


def _fit(fit: FitPanel | None) -> list[str]:
    if fit is None or fit.test is None:
        return []
    return [f"Fit: {p.reported('fit', 'Fit', fit.test).text}."]


def methods(answer: Answered[OddsResults, OddsPanels]) -> list[str]:
    """How models were fitted, and what stands beside them."""
    model = answer.results.whole
    if answer.sample is not None:
        how = "by pseudo-maximum likelihood under the design (Binder 1983)"
    elif model.method == "firth":
        how = "by Firth’s penalised likelihood (Firth 1993), which stays finite where data separate"
    else:
        how = "by maximum likelihood"
    limits = "Wald"
    if model.limits == "profile":
        limits = "profile-likelihood"
    said = [f"Logistic regression models were fitted {how}; odds ratios have {limits} intervals."]
    if len(model.terms) > 1:
        said.append(
            "Adjusted odds ratios are from the model with all terms; unadjusted ones from models with one "
            "term, fitted to the same people."
        )
    if any(len(term.rows) > 1 for term in model.terms):
        said.append("Terms of several categories were tested as a whole.")
    return said
