"""The model of matched sets in words: everybody is compared within the own set."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.within_sets.results import MatchedResults, MatchedRow, MatchedTerm
from hobrix.core.questions.within_sets.work import MatchedWork
from hobrix.core.questions.wording import (
    all_allowed_for,
    count,
    figure_of_test,
    interval_in_print,
    level,
    listed,
    p_equals,
    p_in_print,
    ratio,
    ratio_limits,
    reported_test,
    test_in_words,
)

NOT_RISKS = "An odds ratio is a ratio of **odds**, not of risks, and not “percent more likely”."


def leading(results: MatchedResults) -> tuple[MatchedTerm, MatchedRow]:
    """The first variable of interest that varies within sets, and its odds ratio furthest from 1 for its error."""
    told = [term for term in results.terms if term.rows]
    term = next(
        (t for t in told if t.role == "vary_with" and t.together_with is None),
        next((t for t in told if t.role == "vary_with"), told[0]),
    )
    return term, max(term.rows, key=lambda row: round(abs(row.z), 9))


def pair(term: MatchedTerm, row: MatchedRow) -> str:
    """What an odds ratio compares."""
    if term.is_numeric:
        text = f"{term.title}, {row.label}"
    elif len(term.rows) == 1 or row.given:
        text = f"{term.title}: {row.label} against {term.reference}"
    else:
        text = f"{row.label} against {term.reference}"
    return f"{text}, {row.given}" if row.given else text


def others(results: MatchedResults, term: MatchedTerm) -> list[str]:
    return [
        t.title
        for t in results.terms
        if t.variable != term.variable and t.together_with is None and t.rows
    ]


def own_test(results: MatchedResults, term: MatchedTerm, row: MatchedRow) -> NamedTest | None:
    """The test that a lead rests on: of several odds ratios that of the whole term."""
    if len(term.rows) > 1 or results.limits == "profile":
        return term.test
    return NamedTest(name="Wald test", sign="z", statistic=row.z, df=None, p=row.p)


def matched_reading(work: MatchedWork, results: MatchedResults) -> Reading:
    term, row = leading(results)
    together = _together(results, term)
    if together is not None:
        lead, headline, figures = _of_interaction(work, results, term, together)
    else:
        test = own_test(results, term, row)
        lead = _effect(work, results)
        headline = f"OR {ratio(row.odds_ratio)}" + (
            "" if test is None else f" · {p_equals(test.p)}"
        )
        is_clear = test is not None and test.p < work.question.alpha
        figures = _figures(term, row, is_clear=is_clear)
    return Reading(
        lead=lead, headline=headline, figures=tuple(figures), notes=tuple(_notes(work, results))
    )


def _together(results: MatchedResults, term: MatchedTerm) -> MatchedTerm | None:
    if not term.part_of_interaction:
        return None
    return next(
        (
            t
            for t in results.terms
            if t.together_with and term.variable in (t.variable, t.together_with)
        ),
        None,
    )


def _of_interaction(
    work: MatchedWork, results: MatchedResults, term: MatchedTerm, together: MatchedTerm
) -> tuple[str, str, list[Figure]]:
    test = together.test
    told = "without a test" if test is None else test_in_words(test)
    is_clear = test is not None and test.p < work.question.alpha
    sign = "**differ**" if is_clear else "show **no clear sign** of differing"
    name = together.together_with if together.variable == term.variable else together.variable
    second = next(t.title for t in results.terms if t.variable == name and not t.together_with)
    lead = (
        f"Within each {work.set_title}{_allowing(results, term)}, the odds ratios of {term.title} {sign} by {second} "
        f"({told}): each is in the table."
    )
    headline = f"{term.title} × {second}" + ("" if test is None else f" · {p_equals(test.p)}")
    figures = (
        [] if test is None else [figure_of_test(test, f"{term.title} by {second}, interaction")]
    )
    return lead, headline, figures


def _allowing(results: MatchedResults, term: MatchedTerm) -> str:
    allowed = others(results, term)
    return f", allowing for {listed(allowed)}" if allowed else ""


def _effect(work: MatchedWork, results: MatchedResults) -> str:
    alpha, (term, row) = work.question.alpha, leading(results)
    test, many = own_test(results, term, row), len(term.rows)
    event = f"“{results.event_label}” ({work.asked.outcome.title})"
    where = f"Within each {work.set_title}{_allowing(results, term)}"
    told = "" if test is None else f" ({test_in_words(test)})"
    if many > 1 and test is not None and test.p >= alpha:
        return f"{where}, **no clear sign** that {term.title} goes with {event}{told}. {_still_possible(term)}"
    opening = f"{where}, the odds of {event}, {pair(term, row)}"
    if many > 1:
        return (
            f"{opening}, the clearest of {many}, have a ratio of **{ratio(row.odds_ratio)}** "
            f"({ratio_limits(row, term)}, {all_allowed_for(many)}). {term.title} as a whole **goes with** the outcome{told}."
        )
    p = "without a test" if test is None else test_in_words(test)
    text = f"{opening}, have a ratio of **{ratio(row.odds_ratio)}** ({ratio_limits(row)}; {p})."
    if others(results, term) and row.unadjusted is not None:
        text += f" Without allowing for anything but the sets it is {ratio(row.unadjusted)}."
    if test is not None and test.p >= alpha:
        text += (
            f" **No clear sign** that {term.title} goes with the outcome; the interval tells what is "
            "still possible."
        )
    return text


def _still_possible(term: MatchedTerm) -> str:
    if term.picked is None:
        return "That does not show there is none."
    low, high = term.picked.ci
    return (
        f"That does not show there is none: the clearest of the {len(term.rows)} odds ratios may lie anywhere "
        f"from {ratio(low)} to {ratio(high)}, with {all_allowed_for(len(term.rows))}."
    )


def _figures(term: MatchedTerm, row: MatchedRow, *, is_clear: bool) -> list[Figure]:
    many, what, allowed = len(term.rows), pair(term, row), ""
    if many > 1:
        what = f"{what}, the clearest of {many}" if is_clear else f"the clearest of {many}"
        allowed = f", {all_allowed_for(many)}"
    found = [
        Figure(
            label=f"Odds ratio within sets, {what}",
            value=ratio(row.odds_ratio),
            detail=f"{ratio_limits(row, term)}{allowed}",
            exact=repr(row.odds_ratio),
        )
    ]
    if term.test is not None:
        found.append(figure_of_test(term.test, f"{term.title} as a whole"))
    return found


def _notes(work: MatchedWork, results: MatchedResults) -> list[str]:
    at = level(work.question.confidence)
    sets = results.sets
    notes = [
        f"Everybody is compared with the others of the own set ({work.set_title}), by conditional likelihood: "
        f"{count(sets.informative)} sets with and without the event tell something, of {count(sets.sets)}.",
        NOT_RISKS,
    ]
    what = "Wald" if results.limits == "wald" else "profile-likelihood"
    notes.append(f"{at} {what} intervals. Whole terms: likelihood-ratio test.")
    term, _ = leading(results)
    also = [t.title for t in results.terms if t.role == "vary_with" and t.variable != term.variable]
    if also:
        notes.append(
            f"Told first is {term.title}; the table has {listed(list(dict.fromkeys(also)))}."
        )
    if results.constant:
        notes.append(
            f"{listed(list(results.constant))} does not vary within any set: what it has to do with the outcome "
            "cannot be told from matched sets."
        )
    return notes


def matched_write_up(work: MatchedWork, results: MatchedResults) -> str:
    """The paragraph for the paper."""
    term, row = leading(results)
    sets, many, allowed = results.sets, len(term.rows), others(results, term)
    text = (
        f"In a conditional logistic regression of “{results.event_label}” ({work.asked.outcome.title}) within "
        f"{count(sets.informative)} matched sets ({count(sets.events)} with the event among {count(sets.people)}), "
    )
    together = _together(results, term)
    if together is not None and together.test is not None:
        return f"{text}the interaction of {together.title} had {reported_test(together.test)}."
    text += f"the odds ratio for {pair(term, row)}"
    text += f", the clearest of {many}," if many > 1 else ""
    text += f" was {ratio(row.odds_ratio)}"
    ci = row.ci if term.picked is None else term.picked.ci
    if ci[1] < math.inf or ci[0] > 0:
        text += f", {level(work.question.confidence)} CI {interval_in_print(ci, ratio)}"
        text += f", {all_allowed_for(many)}" if many > 1 else ""
    if many == 1:
        text += f", {p_in_print(row.p)}"
    if allowed:
        text += f", adjusted for {listed(allowed)}"
    if term.test is not None:
        text += f"; {term.title} as a whole: {reported_test(term.test)}"
    return f"{text}."
