"""The model of matched sets as papers print it."""

from hobrix.core.data import Frame
from hobrix.core.questions import printed as p
from hobrix.core.questions.answer import Answered
from hobrix.core.questions.within_sets.results import (
    MatchedPanels,
    MatchedResults,
    MatchedRow,
    MatchedTerm,
)
from hobrix.core.questions.wording import count, level, ratio


def tables(answer: Answered[MatchedResults, MatchedPanels], frame: Frame) -> list[p.Table]:
    assert answer.question.outcome is not None
    title = frame.variables[answer.question.outcome.variable].title
    return [model_table(answer.results, title, answer.question.confidence)]


def model_table(results: MatchedResults, title: str, confidence: float) -> p.Table:
    """``title`` is that of the outcome."""
    at, sets = level(confidence), results.sets
    terms = sorted(results.terms, key=lambda term: term.role != "vary_with")
    notes = [
        f"Event: “{results.event_label}” ({title}). Conditional logistic regression within {count(sets.informative)} "
        f"matched sets ({results.set_title}), {count(sets.events)} with the event among {count(sets.people)}.",
        {"wald": "Wald intervals.", "profile": "Profile-likelihood intervals."}[results.limits],
    ]
    if results.test is not None:
        notes.append(f"Model: {p.reported('model', 'Model', results.test).text}.")
    if results.constant:
        notes.append(f"The same within every set: {', '.join(results.constant)}.")
    return p.Table(
        name="model",
        title=f"Odds ratios of “{results.event_label}” ({title}) within matched sets",
        columns=p.columns(
            "Characteristic",
            "n",
            "With event",
            f"Matched only ({at} CI)",
            f"{'Adjusted odds' if len(terms) > 1 else 'Odds'} ratio ({at} CI)",
            "p",
        ),
        rows=tuple(row for term in terms if term.rows for row in _rows(term)),
        notes=tuple(notes),
    )


def _rows(term: MatchedTerm) -> list[p.Row]:
    key = f"model/{term.term}"
    if term.is_numeric and len(term.rows) == 1 and term.rows[0].given is None:
        return [_row(term, term.rows[0], f"{term.title}: {term.rows[0].label}")]
    rows = [p.head_row(term.title, 6)]
    if term.reference is not None and term.reference_n is not None:
        label = f"{term.title}: {term.reference}"
        rows.append(
            p.plain_row(
                [
                    f"{term.reference} (reference)",
                    p.cases(f"{key}//n", f"{label}: n", term.reference_n),
                    p.cases(f"{key}//events", f"{label}: with event", term.reference_events or 0),
                    "1",
                    "1",
                    "",
                ],
                indented=True,
            )
        )
    rows += [_row(term, row, row.label, indented=True) for row in term.rows]
    if term.test is not None and not term.part_of_interaction and len(term.rows) > 1:
        test = p.reported(f"{key}/test", f"{term.title} as a whole", term.test)
        rows.append(p.plain_row([("As a whole: ", test), "", "", "", "", ""], indented=True))
    return rows


def _row(term: MatchedTerm, row: MatchedRow, label: str, *, indented: bool = False) -> p.Row:
    key = f"model/{term.term}/{row.level or ''}/{row.given or ''}"
    words = f"{term.title}: {row.label}" + (f" ({row.given})" if row.given else "")
    n: p.Part = p.NONE if row.n is None else p.cases(f"{key}/n", f"{words}: n", row.n)
    events: p.Part = p.NONE
    if row.events is not None:
        events = p.cases(f"{key}/events", f"{words}: with event", row.events)
    return p.plain_row(
        [
            f"{label} ({row.given})" if row.given else label,
            n,
            events,
            _odds(f"{key}/unadjusted", f"{words}: matched only", row.unadjusted, row.unadjusted_ci),
            _odds(f"{key}/odds_ratio", f"{words}: odds ratio", row.odds_ratio, row.ci),
            p.probability(f"{key}/p", f"{words}: p", row.p),
        ],
        indented=indented,
    )


def _odds(key: str, label: str, value: float | None, ci: tuple[float, float] | None) -> p.Cell:
    number = None if value is None else p.ratio_number(key, label, value)
    return p.with_limits(key, label, number, ci, ratio)


def methods(answer: Answered[MatchedResults, MatchedPanels]) -> list[str]:
    limits = "profile-likelihood" if answer.results.limits == "profile" else "Wald"
    return [
        f"Matched sets were analysed by conditional logistic regression (Breslow et al. 1978), exact for all sizes of sets; "
        f"odds ratios have {limits} intervals."
    ]
