"""The model in words: odds, not risks; what is left after allowing for the others."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.odds.results import OddsResults, OddsRow, OddsTerm
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


def _leading(results: OddsResults) -> tuple[OddsTerm, OddsRow]:
    """The first variable of interest, and its odds ratio that is furthest from 1 for its error."""
    term = next(
        (t for t in results.whole.terms if t.role == "vary_with" and t.together_with is None),
        results.whole.terms[0],
    )
    return term, max(term.rows, key=lambda row: abs(row.z))


def _pair(term: OddsTerm, row: OddsRow) -> str:
    if term.is_numeric:
        return f"{term.title}, {row.label}"
    if len(term.rows) == 1:  # two answers: "Yes" alone says little
        return f"{term.title}: {row.label} against {term.reference}"
    return f"{row.label} against {term.reference}"


def _others(results: OddsResults, term: OddsTerm) -> list[str]:
    return [
        t.title
        for t in results.whole.terms
        if t.variable != term.variable and t.together_with is None
    ]


def odds_reading(results: OddsResults, outcome: str, confidence: float, within: str) -> Reading:
    term, row = _leading(results)
    others = _others(results, term)
    low, high = row.ci
    where = f"where {term.holds_at}, " if term.holds_at else ""
    opening = f"Allowing for {listed(others)}, " if others else ""
    text = (
        f"{opening}{where}the odds of “{results.event_label}” ({outcome}), {_pair(term, row)}, have "
        f"a ratio of **{ratio(row.odds_ratio)}** ({ratio(low)} to {ratio(high)}, {p_equals(row.p)})."
    )
    text = text[0].upper() + text[1:]
    finite = row.unadjusted is not None and 0 < row.odds_ratio < math.inf
    if others and finite and not term.holds_at and 0 < (row.unadjusted or 0) < math.inf:
        text += _moved(row, row.unadjusted or 1.0)
    together = [t for t in results.whole.terms if t.together_with is not None]
    if together:
        text += "".join(_differs(each, confidence) for each in together[:2])
    else:
        text += _as_a_whole(term, confidence)
    text += _everywhere(results, within, confidence)
    return Reading(
        lead=text,
        headline=f"OR {ratio(row.odds_ratio)} · {p_equals(row.p)}",
        figures=_figures(results, term, row),
        notes=tuple(_notes(results, confidence)),
        cells=(),
    )


def _as_a_whole(term: OddsTerm, confidence: float) -> str:
    p = term.likelihood_ratio.p
    if p < 1 - confidence:
        return f" {term.title} as a whole **goes with** the outcome ({p_equals(p)})."
    return (
        f" **No clear sign** that {term.title} as a whole goes with the outcome ({p_equals(p)}); "
        "the interval tells what is still possible."
    )


def _differs(term: OddsTerm, confidence: float) -> str:
    """An interaction: are the odds ratios of the one the same at every level of the other?"""
    first, second = term.title.split(" with ", 1)
    p = term.likelihood_ratio.p
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
    if test.p < 1 - confidence:
        return f" The coefficients are **not the same** within each {within} ({p_equals(test.p)})."
    return f" No sign that the coefficients differ between strata of {within} ({p_equals(test.p)})."


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
    limits = {
        "wald": f"{level} Wald intervals. Whole terms are tested by the likelihood ratio.",
        "profile": f"{level} profile-likelihood intervals; whole terms by the likelihood ratio.",
    }[model.interval]
    if model.method == "firth":
        limits = (
            f"Firth’s penalised likelihood: {level} profile intervals and tests are of the "
            "penalised likelihood."
        )
    return [
        "An odds ratio is a ratio of **odds**, not of risks, and not “percent more likely”.",
        limits,
        "Unadjusted odds ratios are of the same people: those who answered everything.",
    ]


def odds_write_up(results: OddsResults, outcome: str, confidence: float) -> str:
    """The paragraph for the paper."""
    model = results.whole
    term, row = _leading(results)
    others = _others(results, term)
    level = f"{100 * confidence:g}% CI"
    kind = "penalised (Firth) logistic" if model.method == "firth" else "logistic"
    text = (
        f"In a {kind} regression of “{results.event_label}” ({outcome}; {count(model.events)} of "
        f"{count(model.n)}), the odds ratio for {_pair(term, row)} was {ratio(row.odds_ratio)}, "
        f"{level} [{ratio(row.ci[0])}, {ratio(row.ci[1])}], {p_in_print(row.p)}"
    )
    if others:
        text += f", adjusted for {listed(others)}"
        if row.unadjusted is not None:
            text += f" (unadjusted {ratio(row.unadjusted)})"
    if term.holds_at:
        text += f", at {term.holds_at}"
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
