"""The model in words: odds, not risks; what is left after allowing for the others."""

import math
from collections.abc import Sequence
from typing import TypeVar

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.odds.results import OddsResults, OddsRow, OddsTerm, TermWithRatios
from hobrix.core.questions.wording import (
    count,
    listed,
    p_equals,
    p_in_print,
    points,
    ratio,
    statistic,
)

# An odds ratio that moves by this share or more is worth saying.
MOVED = 0.1
NOT_RISKS = "An odds ratio is a ratio of **odds**, not of risks, and not “percent more likely”."
SAME_PEOPLE = "Unadjusted odds ratios are of the same people: those who answered everything."

T = TypeVar("T", bound=TermWithRatios)


def leading(terms: Sequence[T]) -> tuple[T, OddsRow]:
    """The first variable of interest, and its odds ratio that is furthest from 1 for its error."""
    term = next(
        (t for t in terms if t.role == "vary_with" and t.together_with is None),
        terms[0],
    )
    return term, max(term.rows, key=lambda row: abs(row.z))


def pair(term: TermWithRatios, row: OddsRow) -> str:
    """What an odds ratio compares: "River against Piped", "Age of head, per 10 years"."""
    if term.is_numeric:
        return f"{term.title}, {row.label}"
    if len(term.rows) == 1:  # two answers: "Yes" alone says little
        return f"{term.title}: {row.label} against {term.reference}"
    return f"{row.label} against {term.reference}"


def others(terms: Sequence[TermWithRatios], term: TermWithRatios) -> list[str]:
    """Titles of the other variables of a model."""
    return [t.title for t in terms if t.variable != term.variable and t.together_with is None]


def effect(
    terms: Sequence[TermWithRatios], event: str, confidence: float, *, is_weighted: bool = False
) -> str:
    """The odds ratio to tell first, what the others did to it, and the variable as a whole.
    ``event`` in words: "“Yes” (Stomach illness)"."""
    term, row = leading(terms)
    allowed = others(terms, term)
    openings = ["weighted"] if is_weighted else []
    openings += [f"allowing for {listed(allowed)}"] if allowed else []
    opening = f"{' and '.join(openings)}, " if openings else ""
    where = f"where {term.holds_at}, " if term.holds_at else ""
    text = (
        f"{opening}{where}the odds of {event}, {pair(term, row)}, have a ratio of "
        f"**{ratio(row.odds_ratio)}** ({limits(row)}, {p_equals(row.p)})."
    )
    text = text[0].upper() + text[1:]
    finite = row.unadjusted is not None and 0 < row.odds_ratio < math.inf
    if allowed and finite and not term.holds_at and 0 < (row.unadjusted or 0) < math.inf:
        text += _moved(row, row.unadjusted or 1.0)
    together = [t for t in terms if t.together_with is not None]
    if together:
        return text + "".join(_differs(each, confidence) for each in together[:2])
    return text + _as_a_whole(term, confidence)


def limits(row: OddsRow) -> str:
    """ "2.04 to 4.09", or that there are none."""
    low, high = row.ci
    return f"{ratio(low)} to {ratio(high)}" if high < math.inf or low > 0 else "no interval"


def odds_reading(results: OddsResults, outcome: str, confidence: float, within: str) -> Reading:
    terms = results.whole.terms
    term, row = leading(terms)
    event = f"“{results.event_label}” ({outcome})"
    return Reading(
        lead=effect(terms, event, confidence) + _everywhere(results, within, confidence),
        headline=headline(row),
        figures=_figures(results, term, row),
        notes=tuple(_notes(results, confidence)),
        cells=(),
    )


def headline(row: OddsRow) -> str:
    """The short form for the line of questions."""
    return f"OR {ratio(row.odds_ratio)} · {p_equals(row.p)}"


def _as_a_whole(term: TermWithRatios, confidence: float) -> str:
    p = term.whole_p
    if p is None:
        return ""
    if p < 1 - confidence:
        return f" {term.title} as a whole **goes with** the outcome ({p_equals(p)})."
    return (
        f" **No clear sign** that {term.title} as a whole goes with the outcome ({p_equals(p)}); "
        "the interval tells what is still possible."
    )


def _differs(term: TermWithRatios, confidence: float) -> str:
    """An interaction: are the odds ratios of the one the same at every level of the other?"""
    first, second = term.title.split(" with ", 1)
    p = term.whole_p
    if p is None:
        return ""
    if p < 1 - confidence:
        low, high = (find(term.rows, key=lambda row: row.odds_ratio) for find in (min, max))
        return (
            f" The odds ratios of {first} **differ by** {second} ({p_equals(p)}): from "
            f"{ratio(low.odds_ratio)} ({low.given}) to {ratio(high.odds_ratio)} ({high.given})."
        )
    return f" **No clear sign** that the odds ratios of {first} differ by {second} ({p_equals(p)})."


def _everywhere(results: OddsResults, within: str, confidence: float) -> str:
    test = results.pooled.homogeneity if results.pooled else None
    if test is None:
        return ""
    return same_in_strata(within, test.p, confidence)


def same_in_strata(within: str, p: float, confidence: float) -> str:
    """Whether the coefficients of a model are the same in every stratum."""
    if p < 1 - confidence:
        return f" The coefficients are **not the same** within each {within} ({p_equals(p)})."
    return f" No sign that the coefficients differ between strata of {within} ({p_equals(p)})."


def _moved(row: OddsRow, unadjusted: float) -> str:
    change = abs(math.log(row.odds_ratio / unadjusted))
    beside = f" Unadjusted it was {ratio(unadjusted)}"
    if change <= MOVED:
        return f"{beside}: the others hardly change it."
    both_clear = min(abs(math.log(row.odds_ratio)), abs(math.log(unadjusted))) > MOVED
    if both_clear and (row.odds_ratio - 1) * (unadjusted - 1) < 0:
        return f"{beside}, on the other side of 1."
    nearer = abs(math.log(row.odds_ratio)) < abs(math.log(unadjusted))
    what = "part of the difference belongs to the others" if nearer else "the others hid part of it"
    return f"{beside}: {what}."


def ratio_figures(term: TermWithRatios, row: OddsRow) -> list[Figure]:
    """The odds ratio, and the average difference in probability beside it."""
    figures = [
        Figure(
            label=f"Odds ratio, {pair(term, row)}",
            value=ratio(row.odds_ratio),
            detail=limits(row),
            exact=repr(row.odds_ratio),
        )
    ]
    if row.difference is not None:
        gap = row.difference
        figures.append(
            Figure(
                label="Average difference in probability",
                value=f"{points(gap.estimate)} points",
                detail=f"{points(gap.ci[0])} to {points(gap.ci[1])}",
                exact=repr(gap.estimate),
            )
        )
    return figures


def _figures(results: OddsResults, term: OddsTerm, row: OddsRow) -> tuple[Figure, ...]:
    model = results.whole
    figures = ratio_figures(term, row)
    test = term.likelihood_ratio
    if not term.part_of_interaction:
        figures.append(
            Figure(
                label=f"{term.title} as a whole",
                value=p_equals(test.p),
                detail=f"LR χ² {statistic(test.statistic)}, df {test.df}",
                exact=f"{test.statistic!r}, p = {test.p!r}",
            )
        )
    low_high = model.auc.ci or (math.nan, math.nan)
    figures.append(
        Figure(
            label="Sorts rightly (AUC)",
            value=f"{model.auc.estimate:.2f}",
            detail=f"{low_high[0]:.2f} to {low_high[1]:.2f}" if model.auc.ci else "",
            exact=repr(model.auc.estimate),
        )
    )
    return tuple(figures)


def _notes(results: OddsResults, confidence: float) -> list[str]:
    model = results.whole
    level = f"{100 * confidence:g}%"
    method = {
        "wald": f"{level} Wald intervals. Whole terms are tested by the likelihood ratio.",
        "profile": f"{level} profile-likelihood intervals; whole terms by the likelihood ratio.",
    }[model.interval]
    if model.method == "firth":
        method = (
            f"Firth’s penalised likelihood: {level} profile intervals and tests are of the "
            "penalised likelihood."
        )
    return [NOT_RISKS, method, SAME_PEOPLE]


def effect_in_print(terms: Sequence[TermWithRatios], confidence: float) -> str:
    """ "the odds ratio for River against Piped was 2.89, 95% CI [2.04, 4.09], p < .001, adjusted
    for Income (unadjusted 3.00)"."""
    term, row = leading(terms)
    allowed = others(terms, term)
    text = (
        f"the odds ratio for {pair(term, row)} was {ratio(row.odds_ratio)}, "
        f"{100 * confidence:g}% CI [{ratio(row.ci[0])}, {ratio(row.ci[1])}], {p_in_print(row.p)}"
    )
    if allowed:
        text += f", adjusted for {listed(allowed)}"
        if row.unadjusted is not None:
            text += f" (unadjusted {ratio(row.unadjusted)})"
    return f"{text}, at {term.holds_at}" if term.holds_at else text


def odds_write_up(results: OddsResults, outcome: str, confidence: float) -> str:
    """The paragraph for the paper."""
    model = results.whole
    kind = "penalised (Firth) logistic" if model.method == "firth" else "logistic"
    people = f"{outcome}; {count(model.events)} of {count(model.n)}"
    text = (
        f"In a {kind} regression of “{results.event_label}” ({people}), "
        f"{effect_in_print(model.terms, confidence)}"
    )
    for each in model.terms:
        if each.together_with is not None:
            test = each.likelihood_ratio
            text += (
                f"; interaction of {each.title}: χ²({test.df}) = {statistic(test.statistic)}, "
                f"{p_in_print(test.p)}"
            )
    test = model.model_likelihood_ratio
    text += (
        f". Model: likelihood-ratio χ²({test.df}) = {statistic(test.statistic)}, "
        f"{p_in_print(test.p)}"
    )
    if model.nagelkerke is not None:
        text += f", Nagelkerke R² = {model.nagelkerke:.2f}"
    fit = model.hosmer_lemeshow
    if fit.p is not None:
        text += f"; Hosmer–Lemeshow χ²({fit.df}) = {statistic(fit.statistic)}, {p_in_print(fit.p)}"
    return f"{text}; AUC = {model.auc.estimate:.2f}."
