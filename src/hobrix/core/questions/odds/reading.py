"""The model in words: odds, not risks; what is left after allowing for the others."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.odds.results import OddsResults, OddsRow, OddsTerm
from hobrix.core.questions.wording import (
    count,
    listed,
    p_equals,
    p_in_print,
    ratio,
    statistic,
)

# An odds ratio that moves by this share or more is worth saying.
MOVED = 0.1


def _leading(results: OddsResults) -> tuple[OddsTerm, OddsRow]:
    """The first variable of interest, and its category that differs most clearly."""
    term = next(term for term in results.whole.terms if term.role == "vary_with")
    return term, max(term.rows, key=lambda row: abs(row.z))


def _pair(term: OddsTerm, row: OddsRow) -> str:
    if term.reference is None:
        return f"{term.title}, {row.label}"
    return f"{row.label} against {term.reference}"


def odds_reading(results: OddsResults, outcome: str, confidence: float) -> Reading:
    term, row = _leading(results)
    others = [t.title for t in results.whole.terms if t.variable != term.variable]
    low, high = row.ci
    text = (
        f"{'Allowing for ' + listed(others) + ', the' if others else 'The'} odds of "
        f"“{results.event_label}” ({outcome}), {_pair(term, row)}, have a ratio of "
        f"**{ratio(row.odds_ratio)}** ({ratio(low)} to {ratio(high)}, {p_equals(row.p)})."
    )
    finite = row.unadjusted is not None and 0 < row.odds_ratio < math.inf
    if others and finite and 0 < (row.unadjusted or 0) < math.inf:
        text += _moved(row, row.unadjusted or 1.0)
    p = term.likelihood_ratio.p
    if p < 1 - confidence:
        text += f" {term.title} as a whole **goes with** the outcome ({p_equals(p)})."
    else:
        text += (
            f" **No clear sign** that {term.title} as a whole goes with the outcome "
            f"({p_equals(p)}); the interval tells what is still possible."
        )
    return Reading(
        lead=text,
        headline=f"OR {ratio(row.odds_ratio)} · {p_equals(row.p)}",
        figures=_figures(results, term, row),
        notes=tuple(_notes(confidence)),
        cells=(),
    )


def _moved(row: OddsRow, unadjusted: float) -> str:
    change = abs(math.log(row.odds_ratio / unadjusted))
    beside = f" Unadjusted it was {ratio(unadjusted)}"
    if change <= MOVED:
        return f"{beside}: the others hardly change it."
    if (row.odds_ratio - 1) * (unadjusted - 1) < 0:
        return f"{beside}, on the other side of 1."
    nearer = abs(math.log(row.odds_ratio)) < abs(math.log(unadjusted))
    what = "part of the difference belongs to the others" if nearer else "the others hid part of it"
    return f"{beside}: {what}."


def _figures(results: OddsResults, term: OddsTerm, row: OddsRow) -> tuple[Figure, ...]:
    model = results.whole
    figures = [
        Figure(
            label=f"Odds ratio, {_pair(term, row)}",
            value=ratio(row.odds_ratio),
            detail=f"{ratio(row.ci[0])} to {ratio(row.ci[1])}",
            exact=repr(row.odds_ratio),
        )
    ]
    if row.unadjusted is not None and len(model.terms) > 1:
        limits = row.unadjusted_ci or (math.nan, math.nan)
        figures.append(
            Figure(
                label="Unadjusted, the same",
                value=ratio(row.unadjusted),
                detail=f"{ratio(limits[0])} to {ratio(limits[1])}",
                exact=repr(row.unadjusted),
            )
        )
    test = term.likelihood_ratio
    figures.append(
        Figure(
            label=f"{term.title} as a whole",
            value=p_equals(test.p),
            detail=f"LR χ² {statistic(test.statistic)}, df {test.df}",
            exact=f"{test.statistic!r}, p = {test.p!r}",
        )
    )
    figures.append(
        Figure(
            label="Pseudo-R², Nagelkerke",
            value=f"{model.nagelkerke:.2f}",
            detail=f"McFadden {model.mcfadden:.2f}",
            exact=repr(model.nagelkerke),
        )
    )
    return tuple(figures)


def _notes(confidence: float) -> list[str]:
    return [
        "An odds ratio is a ratio of **odds**, not of risks, and not “percent more likely”.",
        f"{100 * confidence:g}% Wald intervals. Whole terms are tested by the likelihood ratio.",
        "Unadjusted odds ratios are of the same people: those who answered everything.",
    ]


def odds_write_up(results: OddsResults, outcome: str, confidence: float) -> str:
    """The paragraph for the paper."""
    model = results.whole
    term, row = _leading(results)
    others = [t.title for t in model.terms if t.variable != term.variable]
    level = f"{100 * confidence:g}% CI"
    text = (
        f"In a logistic regression of “{results.event_label}” ({outcome}; {count(model.events)} of "
        f"{count(model.n)}), the odds ratio for {_pair(term, row)} was {ratio(row.odds_ratio)}, "
        f"{level} [{ratio(row.ci[0])}, {ratio(row.ci[1])}], {p_in_print(row.p)}"
    )
    if others:
        text += f", adjusted for {listed(others)}"
        if row.unadjusted is not None:
            text += f" (unadjusted {ratio(row.unadjusted)})"
    test = model.model_likelihood_ratio
    return (
        f"{text}. Model: likelihood-ratio χ²({test.df}) = {statistic(test.statistic)}, "
        f"{p_in_print(test.p)}, Nagelkerke R² = {model.nagelkerke:.2f}."
    )
