"""The model in words: odds, not risks; what is left after allowing for the others."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.odds.results import OddsModel, OddsResults, OddsRow, OddsTerm
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.thresholds import MOVED, MOVED_RATIO
from hobrix.core.questions.wording import (
    count,
    figure_of_test,
    interval_in_print,
    level,
    listed,
    p_equals,
    p_in_print,
    points,
    ratio,
    reported_test,
    test_in_words,
)

NOT_RISKS = "An odds ratio is a ratio of **odds**, not of risks, and not “percent more likely”."
SAME_PEOPLE = "Unadjusted odds ratios are of the same people: those who answered everything."


def leading(model: OddsModel) -> tuple[OddsTerm, OddsRow]:
    """The first variable of interest, and its odds ratio that is furthest from 1 for its error."""
    term = next(
        (t for t in model.terms if t.role == "vary_with" and t.together_with is None),
        model.terms[0],
    )
    return term, max(term.rows, key=lambda row: abs(row.z))


def pair(term: OddsTerm, row: OddsRow) -> str:
    """What an odds ratio compares: "River against Piped", "Age of head, per 10 years"."""
    if term.is_numeric:
        return f"{term.title}, {row.label}"
    if len(term.rows) == 1:  # two answers: "Yes" alone says little
        return f"{term.title}: {row.label} against {term.reference}"
    return f"{row.label} against {term.reference}"


def others(model: OddsModel, term: OddsTerm) -> list[str]:
    """Titles of the other variables of a model."""
    return [t.title for t in model.terms if t.variable != term.variable and t.together_with is None]


def event_of(work: OddsWork, results: OddsResults) -> str:
    return f"“{results.event_label}” ({work.asked.outcome.title})"


def p_of(p: float | None) -> str:
    return "without a test" if p is None else p_equals(p)


def odds_reading(work: OddsWork, results: OddsResults) -> Reading:
    term, row = leading(results.whole)
    return Reading(
        lead=_effect(work, results) + _everywhere(work, results),
        headline=f"OR {ratio(row.odds_ratio)}" + ("" if row.p is None else f" · {p_equals(row.p)}"),
        figures=tuple(_figures(term, row)),
        notes=tuple(_notes(work, results.whole)),
    )


def _effect(work: OddsWork, results: OddsResults) -> str:
    """The odds ratio to tell first, what the others did to it, and the variable as a whole."""
    model, alpha = results.whole, work.question.alpha
    term, row = leading(model)
    allowed = others(model, term)
    openings = ["weighted"] if work.question.is_designed else []
    openings += [f"allowing for {listed(allowed)}"] if allowed else []
    opening = f"{' and '.join(openings)}, " if openings else ""
    where = f"where {term.holds_at}, " if term.holds_at else ""
    text = (
        f"{opening}{where}the odds of {event_of(work, results)}, {pair(term, row)}, have a ratio of "
        f"**{ratio(row.odds_ratio)}** ({limits(row)}, {p_of(row.p)})."
    )
    text = text[0].upper() + text[1:]
    finite = row.unadjusted is not None and 0 < row.odds_ratio < math.inf
    if allowed and finite and not term.holds_at and 0 < (row.unadjusted or 0) < math.inf:
        text += _moved(row, row.unadjusted or 1.0)
    together = [t for t in model.terms if t.together_with is not None]
    if together:
        return text + "".join(_differs(each, alpha) for each in together[:2])
    return text + _as_a_whole(term, alpha)


def limits(row: OddsRow) -> str:
    """ "2.04 to 4.09", or that there are none."""
    low, high = row.ci
    return f"{ratio(low)} to {ratio(high)}" if high < math.inf or low > 0 else "no interval"


def _as_a_whole(term: OddsTerm, alpha: float) -> str:
    test = term.test
    if test is None:
        return ""
    if test.p < alpha:
        return f" {term.title} as a whole **goes with** the outcome ({test_in_words(test)})."
    return (
        f" **No clear sign** that {term.title} as a whole goes with the outcome "
        f"({test_in_words(test)}); the interval tells what is still possible."
    )


def _differs(term: OddsTerm, alpha: float) -> str:
    """An interaction: are the odds ratios of the one the same at every level of the other?"""
    first, second = term.title.split(" with ", 1)
    test = term.test
    if test is None:
        return ""
    told = test_in_words(test)
    if test.p < alpha:
        low, high = (find(term.rows, key=lambda row: row.odds_ratio) for find in (min, max))
        return (
            f" The odds ratios of {first} **differ by** {second} ({told}): from "
            f"{ratio(low.odds_ratio)} ({low.given}) to {ratio(high.odds_ratio)} ({high.given})."
        )
    return f" **No clear sign** that the odds ratios of {first} differ by {second} ({told})."


def _everywhere(work: OddsWork, results: OddsResults) -> str:
    """Whether the coefficients are the same in every stratum."""
    test = results.same.test if results.same else None
    if test is None:
        return ""
    within = listed([work.frame.variables[name].title for name in work.question.within])
    told = test_in_words(test)
    if test.p < work.question.alpha:
        return f" The coefficients are **not the same** within each {within} ({told})."
    return f" No sign that the coefficients differ between strata of {within} ({told})."


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


def _figures(term: OddsTerm, row: OddsRow) -> list[Figure]:
    """The odds ratio, the average difference in probability beside it, and the whole term."""
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
        low, high = gap.ci
        has_limits = math.isfinite(low) and math.isfinite(high)
        figures.append(
            Figure(
                label="Average difference in probability",
                value=f"{points(gap.estimate)} points",
                detail=f"{points(low)} to {points(high)}" if has_limits else "no interval",
                exact=repr(gap.estimate),
            )
        )
    if term.test is not None and not term.part_of_interaction:
        figures.append(figure_of_test(term.test, f"{term.title} as a whole"))
    return figures


def _notes(work: OddsWork, model: OddsModel) -> list[str]:
    at, sample = level(work.question.confidence), work.sampling.sample
    notes = [NOT_RISKS]
    if sample is not None:
        notes += [
            f"{at} intervals with {sample.errors} on {count(sample.design_df)} design degrees of "
            "freedom. Whole terms have adjusted Wald tests.",
            "n and events are unweighted: weights correct the sample, they do not count people.",
        ]
    elif model.method == "firth":
        notes.append(
            f"Firth’s penalised likelihood: {at} profile intervals and tests are of the "
            "penalised likelihood."
        )
    else:
        what = "Wald" if model.limits == "wald" else "profile-likelihood"
        tests = {term.test.name for term in model.terms if term.test is not None}
        notes.append(f"{at} {what} intervals. Whole terms: {listed(sorted(tests))}.")
    if len(model.terms) > 1:
        notes.append(SAME_PEOPLE)
    return notes


def odds_write_up(work: OddsWork, results: OddsResults) -> str:
    """The paragraph for the paper; how the model fits and sorts is added where it was looked at."""
    model, sample = results.whole, work.sampling.sample
    kind = "penalised (Firth) logistic" if model.method == "firth" else "logistic"
    kind = f"weighted {kind}" if sample is not None else kind
    unweighted = " unweighted" if sample is not None else ""
    people = f"{work.asked.outcome.title}; {count(model.events)} of {count(model.n)}{unweighted}"
    text = f"In a {kind} regression of “{results.event_label}” ({people}), {_in_print(work, model)}"
    term, _ = leading(model)
    tested = [term, *(t for t in model.terms if t.together_with is not None)]
    for each in tested:
        if each.test is None or each.part_of_interaction:
            continue
        what = f"interaction of {each.title}" if each.together_with else f"{each.title} as a whole"
        text += f"; {what}: {reported_test(each.test)}"
    text += "."
    if model.test is not None and len(model.terms) > 1:
        text += f" Model: {reported_test(model.test)}"
        if model.likelihood is not None and model.likelihood.nagelkerke is not None:
            text += f", Nagelkerke R² = {model.likelihood.nagelkerke:.2f}"
        text += "."
    if results.same is not None and results.same.test is not None:
        within = listed([work.frame.variables[name].title for name in work.question.within])
        text += f" Same coefficients within each {within}: {reported_test(results.same.test)}."
    return text


def _in_print(work: OddsWork, model: OddsModel) -> str:
    """ "the odds ratio for River against Piped was 2.89, 95% CI [2.04, 4.09], p < .001, adjusted
    for Income (unadjusted 3.00)"."""
    term, row = leading(model)
    allowed = others(model, term)
    text = f"the odds ratio for {pair(term, row)} was {ratio(row.odds_ratio)}"
    if row.ci[1] < math.inf or row.ci[0] > 0:
        text += f", {level(work.question.confidence)} CI {interval_in_print(row.ci, ratio)}"
    if row.p is not None:
        text += f", {p_in_print(row.p)}"
    if allowed:
        text += f", adjusted for {listed(allowed)}"
        if row.unadjusted is not None:
            text += f" (unadjusted {ratio(row.unadjusted)})"
    return f"{text}, at {term.holds_at}" if term.holds_at else text


def moved(model: OddsModel) -> str:
    """What the design moved most against counting each row once."""
    rows = [
        (abs(math.log(row.odds_ratio / row.unweighted.odds_ratio)), term, row)
        for term in model.terms
        for row in term.rows
        if row.unweighted is not None
        and 0 < row.odds_ratio < math.inf
        and 0 < row.unweighted.odds_ratio < math.inf
    ]
    if not rows:
        return ""
    gap, term, row = max(rows, key=lambda each: each[0])
    once = row.unweighted
    assert once is not None
    if gap < MOVED_RATIO:
        return "The design hardly moves the odds ratios."
    where = f" ({row.given})" if row.given else ""
    shown = pair(term, row)
    title = "" if term.is_numeric or shown.startswith(term.title) else f"{term.title}: "
    text = (
        f"The design moves {title}{shown}{where} most, from {ratio(once.odds_ratio)} to "
        f"{ratio(row.odds_ratio)}"
    )
    if row.ci[1] < math.inf and row.ci[0] > 0:
        text += f", with an interval {_width(row.ci) / _width(once.ci):.2f} times as wide"
    return f"{text}."


def _width(ci: tuple[float, float]) -> float:
    """Of an odds ratio's limits, on the log scale."""
    return max(1e-12, math.log(min(ci[1], 1e300) / max(ci[0], 1e-300)))
