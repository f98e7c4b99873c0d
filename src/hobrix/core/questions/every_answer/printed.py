"""The model of every answer as papers print it: unadjusted beside adjusted."""

from hobrix.core.data import Frame
from hobrix.core.questions import printed as p
from hobrix.core.questions.answer import Answered
from hobrix.core.questions.every_answer.reading import in_order
from hobrix.core.questions.every_answer.results import (
    AnswerRatio,
    AnswersRow,
    AnswersTerm,
    EveryAnswerPanels,
    EveryAnswerResults,
)
from hobrix.core.questions.wording import count, level, plain, ratio

# What is opened for print.
PANELS = ("cuts",)


def tables(answer: Answered[EveryAnswerResults, EveryAnswerPanels], frame: Frame) -> list[p.Table]:
    """The model, and where answers have an order the odds ratios at every cut."""
    assert answer.question.outcome is not None
    title = frame.variables[answer.question.outcome.variable].title
    found = [model_table(answer.results, title, answer.question.confidence)]
    if answer.opened.cuts is not None:
        found.append(_cuts(answer.opened, level(answer.question.confidence)))
    return found


def model_table(results: EveryAnswerResults, title: str, confidence: float) -> p.Table:
    """``title`` is that of the outcome."""
    at = level(confidence)
    terms = sorted(results.terms, key=lambda term: term.role != "vary_with")
    told: list[str | None] = [each.answer for each in terms[0].rows[0].ratios]
    way = "lower" if results.downward else "higher"
    what = f"a {way} answer to {title}" if results.is_ordered else f"each answer to {title}"
    rows = []
    for place, each in enumerate(told):
        if each is not None:
            rows.append(p.head_row(f"{each} rather than {results.base.label}", 5))
        rows += [row for term in terms for row in _rows(term, place)]
    return p.Table(
        name="model",
        title=f"Odds ratios of {what}",
        columns=p.columns(
            "Characteristic",
            "n",
            f"Unadjusted odds ratio ({at} CI)",
            f"{'Adjusted odds' if len(terms) > 1 else 'Odds'} ratio ({at} CI)",
            "p",
        ),
        rows=tuple(rows),
        notes=tuple(_notes(title, results)),
    )


def _rows(term: AnswersTerm, place: int) -> list[p.Row]:
    """A term under its name; a number stands in one line."""
    key = f"model/{term.term}"
    if term.is_numeric and len(term.rows) == 1 and term.rows[0].given is None:
        return [_row(term, term.rows[0], place, f"{term.title}: {term.rows[0].label}")]
    title = f"{term.title} (at {term.holds_at})" if term.holds_at else term.title
    rows = [p.head_row(title, 5)]
    if term.reference is not None:
        n = _people(f"{key}//n", f"{term.title}: {term.reference}: n", term.reference_n, place)
        rows.append(p.plain_row([f"{term.reference} (reference)", n, "1", "1", ""], indented=True))
    rows += [_row(term, row, place, row.label, indented=True) for row in term.rows]
    if term.test is not None and not term.part_of_interaction and place == 0:
        test = p.reported(f"{key}/test", f"{term.title} as a whole", term.test)
        cells: list[p.Cell | p.Part] = [("As a whole: ", test), "", "", "", ""]
        rows.append(p.plain_row(cells, indented=True))
    return rows


def _people(key: str, label: str, n: float | None, place: int) -> p.Part:
    """The same under every answer, so that it has a name where it stands first."""
    if n is None:
        return p.NONE
    return p.cases(key, label, n) if place == 0 else count(n)


def _row(
    term: AnswersTerm, row: AnswersRow, place: int, label: str, *, indented: bool = False
) -> p.Row:
    each = row.ratios[place]
    key = f"model/{term.term}/{row.level or ''}/{row.given or ''}"
    n = _people(f"{key}/n", f"{term.title}: {row.label}: n", row.n, place)
    if each.answer is not None:
        key = f"{key}/{each.answer}"
    words = _words(term, row, each)
    return p.plain_row(
        [
            f"{label} ({row.given})" if row.given else label,
            n,
            _odds(f"{key}/unadjusted", f"{words}: unadjusted", each.unadjusted, each.unadjusted_ci),
            _odds(f"{key}/odds_ratio", f"{words}: odds ratio", each.odds_ratio, each.ci),
            p.NONE if each.p is None else p.probability(f"{key}/p", f"{words}: p", each.p),
        ],
        indented=indented,
    )


def _words(term: AnswersTerm, row: AnswersRow, each: AnswerRatio) -> str:
    words = f"{term.title}: {row.label}" + (f" ({row.given})" if row.given else "")
    return words if each.answer is None else f"{each.answer}, {words}"


def _odds(key: str, label: str, value: float | None, ci: tuple[float, float] | None) -> p.Cell:
    number = None if value is None else p.ratio_number(key, label, value)
    return p.with_limits(key, label, number, ci, ratio)


def _notes(title: str, results: EveryAnswerResults) -> list[str]:
    told = ", ".join(f"{each.label} {count(each.n)}" for each in results.answers)
    notes = [f"{title}, n = {count(results.n)}: {told}."]
    if results.is_ordered:
        way = "lower" if results.downward else "higher"
        notes.append(f"Answers in order: {in_order(results)}; above 1: {way} answers.")
    else:
        notes.append(f"Each answer against “{results.base.label}”.")
    limits = {"wald": "Wald", "profile": "profile-likelihood"}[results.limits]
    notes.append(f"{limits} intervals.")
    if results.test is not None:
        notes.append(f"Model: {p.reported('model', 'Model', results.test).text}.")
    if results.likelihood is not None:
        notes.append(f"R²: {plain(results.likelihood.nagelkerke, 2)} (Nagelkerke).")
    return notes


def _cuts(opened: EveryAnswerPanels, at: str) -> p.Table:
    panel = opened.cuts
    assert panel is not None
    rows = []
    for line in panel.lines:
        cells: list[p.Cell | p.Part] = [line.label]
        places = [("all", "all cuts", line.common)]
        places += [
            (str(i), cut.label, each)  # type: ignore[misc]
            for i, (cut, each) in enumerate(zip(panel.cuts, line.cuts, strict=True), 1)
        ]
        for key, where, each in places:
            value, ci = (None, None) if each is None else (each.odds_ratio, each.ci)
            cells.append(_odds(f"cuts/{line.label}/{key}", f"{line.label}, {where}", value, ci))
        rows.append(p.plain_row(cells))
    notes = [
        f"{test.title}: {p.reported('cuts', 'cuts', test.test).text}." for test in panel.tests[:1]
    ]
    return p.Table(
        name="cuts",
        title="Odds ratios wherever the answers are cut in two",
        columns=p.columns("", f"All cuts ({at} CI)", *(cut.label for cut in panel.cuts)),
        rows=tuple(rows),
        notes=tuple(notes),
    )


def methods(answer: Answered[EveryAnswerResults, EveryAnswerPanels]) -> list[str]:
    """How models were fitted, and what stands beside them."""
    results = answer.results
    kind = (
        "Proportional odds models (McCullagh 1980)"
        if results.is_ordered
        else "Multinomial logistic models"
    )
    how = "by maximum likelihood"
    if answer.sample is not None:
        how = "by pseudo-maximum likelihood under the design (Binder 1983)"
    limits = "profile-likelihood" if results.limits == "profile" else "Wald"
    said = [f"{kind} were fitted {how}; odds ratios have {limits} intervals."]
    if results.is_ordered and len(results.answers) > 2:
        said.append(
            "Whether odds ratios are the same at every cut of the outcome was tested with Brant’s test (Brant 1990)."
            if answer.sample is None
            else "Whether odds ratios are the same at every cut of the outcome was tested with adjusted Wald tests."
        )
    return said
