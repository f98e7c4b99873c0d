"""The model in words: the odds of a higher answer, or of one answer rather than another."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.every_answer.results import (
    AnswerRatio,
    AnswersRow,
    AnswersTerm,
    EveryAnswerResults,
)
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.wording import (
    all_allowed_for,
    count,
    figure_of_test,
    interval_in_print,
    level,
    listed,
    p_equals,
    p_in_print,
    plain,
    ratio,
    ratio_limits,
    reported_test,
    test_in_words,
)

NOT_RISKS = "An odds ratio is a ratio of **odds**, not of shares, and not “percent more likely”."
ONE_AGAINST_BASE = (
    "The odds of an answer **rather than** the base are its share over the share of the base: people who gave "
    "other answers do not enter."
)
SAME_PEOPLE = "Unadjusted odds ratios are of the same people: those who answered everything."


def leading(results: EveryAnswerResults) -> tuple[AnswersTerm, AnswersRow, AnswerRatio]:
    """The first variable of interest, and its odds ratio that is furthest from 1 for its error."""
    term = next(
        (t for t in results.terms if t.role == "vary_with" and t.together_with is None),
        results.terms[0],
    )
    if term.picked is not None:
        row = term.rows[term.picked.row]
        return term, row, row.ratios[term.picked.ratio]
    return term, term.rows[0], term.rows[0].ratios[0]


def many_of(term: AnswersTerm) -> int:
    return sum(len(row.ratios) for row in term.rows)


def pair(term: AnswersTerm, row: AnswersRow) -> str:
    """What an odds ratio compares: "River against Piped", "Age of head, per 10 years"."""
    if term.is_numeric:
        return f"{term.title}, {row.label}"
    if len(term.rows) == 1:  # two answers: "Yes" alone says little
        return f"{term.title}: {row.label} against {term.reference}"
    return f"{row.label} against {term.reference}"


def odds_of(work: EveryAnswerWork, results: EveryAnswerResults, each: AnswerRatio) -> str:
    """ "the odds of a higher answer to Trust", "the odds of “River” rather than “Tap” (Source)"."""
    title = work.asked.outcome.title
    if results.is_ordered:
        return f"the odds of a {'lower' if results.downward else 'higher'} answer to {title}"
    return f"the odds of “{each.answer}” rather than “{results.base.label}” ({title})"


def own_test(results: EveryAnswerResults, term: AnswersTerm, each: AnswerRatio) -> NamedTest | None:
    """The test that a lead rests on: of several odds ratios that of the whole term; of one the test
    that goes with its limits."""
    if many_of(term) > 1 or results.limits == "profile":
        return term.test
    if each.p is None:
        return None
    if term.adjusted_wald is not None:
        return NamedTest.exact("t test with the errors of the design", each.p)
    return NamedTest(name="Wald test", sign="z", statistic=each.z, df=None, p=each.p)


def every_answer_reading(work: EveryAnswerWork, results: EveryAnswerResults) -> Reading:
    alpha = work.question.alpha
    term, _, each = leading(results)
    together = _together(results, term)
    if together is not None:
        test = together.test
        told = "without a test" if test is None else test_in_words(test)
        is_clear = test is not None and test.p < alpha
        first, second = term.title, _other(results, together, term)
        sign = "**differ**" if is_clear else "show **no clear sign** of differing"
        lead = (
            f"{_context(work, results)}the odds ratios of {first} {sign} by {second} ({told}): each is in the table, "
            f"within {second}."
        )
        headline = f"{first} × {second}" + ("" if test is None else f" · {p_equals(test.p)}")
        figures: tuple[Figure, ...] = ()
        if test is not None:
            figures = (figure_of_test(test, f"{first} by {second}, interaction"),)
    else:
        test = own_test(results, term, each)
        lead = _effect(work, results)
        headline = f"OR {ratio(each.odds_ratio)}" + (
            "" if test is None else f" · {p_equals(test.p)}"
        )
        figures = tuple(_figures(results, is_clear=test is not None and test.p < alpha))
    return Reading(
        lead=_begun(lead),
        headline=headline,
        figures=figures,
        notes=tuple(_notes(work, results)),
    )


def _begun(text: str) -> str:
    """With a capital, also where the first words are marked."""
    marks = len(text) - len(text.lstrip("*"))
    return text[:marks] + text[marks].upper() + text[marks + 1 :]


def _together(results: EveryAnswerResults, term: AnswersTerm) -> AnswersTerm | None:
    """The interaction the leading variable is part of."""
    if not term.part_of_interaction:
        return None
    return next(
        t
        for t in results.terms
        if t.together_with and term.variable in (t.variable, t.together_with)
    )


def _other(results: EveryAnswerResults, together: AnswersTerm, term: AnswersTerm) -> str:
    name = together.together_with if together.variable == term.variable else together.variable
    return next(t.title for t in results.terms if t.variable == name and not t.together_with)


def _context(work: EveryAnswerWork, results: EveryAnswerResults) -> str:
    """ "Without regard to District, weighted and allowing for Age, " or nothing."""
    term, *_ = leading(results)
    allowed = others(results, term)
    words = ["weighted"] if work.question.is_designed else []
    words += [f"allowing for {listed(allowed)}"] if allowed else []
    within = [work.frame.variables[name].title for name in work.question.within]
    parts = [f"without regard to {listed(within)}"] if within else []
    parts += [" and ".join(words)] if words else []
    return "".join(f"{part}, " for part in parts)


def others(results: EveryAnswerResults, term: AnswersTerm) -> list[str]:
    """Titles of the other variables of the model."""
    return [
        t.title for t in results.terms if t.variable != term.variable and t.together_with is None
    ]


def _effect(work: EveryAnswerWork, results: EveryAnswerResults) -> str:
    alpha = work.question.alpha
    term, row, each = leading(results)
    test, many, context = own_test(results, term, each), many_of(term), _context(work, results)
    told = "" if test is None else f" ({test_in_words(test)})"
    title = work.asked.outcome.title
    if many > 1 and test is not None and test.p >= alpha:
        sign = "**no clear sign**"
        return (
            f"{context}{sign} that {_nothing(results, term, title)}{told}. {_still_possible(term)}"
        )
    opening = f"{context}{odds_of(work, results, each)}, {pair(term, row)}"
    if many > 1:
        allowed = f", {all_allowed_for(many)}" if each.ci[1] < math.inf else ""
        text = (
            f"{opening}, the clearest of {many}, have a ratio of **{ratio(each.odds_ratio)}** "
            f"({ratio_limits(each, term)}{allowed})."
        )
    else:
        p = "without a test" if test is None else test_in_words(test)
        text = (
            f"{opening}, have a ratio of **{ratio(each.odds_ratio)}** ({ratio_limits(each)}; {p})."
        )
    if others(results, term) and each.unadjusted is not None:
        text += f" Without allowing for {_them(results, term)} it is {ratio(each.unadjusted)}."
    if test is None:
        return text
    if many > 1:
        return f"{text} {term.title} as a whole **goes with** the outcome{told}."
    if test.p < alpha:
        return text
    return (
        f"{text} **No clear sign** that {_nothing(results, term, 'the outcome')}; the interval tells what is "
        "still possible."
    )


def _nothing(results: EveryAnswerResults, term: AnswersTerm, outcome: str) -> str:
    """What was looked for: one ratio for all cuts finds answers that tend to be higher or lower, no others."""
    if results.is_ordered:
        return f"answers to {outcome} tend to be higher or lower by {term.title}".replace(
            "answers to the outcome", "the answers"
        )
    return f"{term.title} goes with {outcome}"


def _them(results: EveryAnswerResults, term: AnswersTerm) -> str:
    allowed = others(results, term)
    return allowed[0] if len(allowed) == 1 else "the others"


def _still_possible(term: AnswersTerm) -> str:
    if term.picked is None or term.picked.ci[1] == math.inf:
        return "That does not show there is none."
    low, high = term.picked.ci
    many = many_of(term)
    return (
        f"That does not show there is none: the clearest of the {many} odds ratios may lie anywhere "
        f"from {ratio(low)} to {ratio(high)}, with {all_allowed_for(many)}."
    )


def _figures(results: EveryAnswerResults, *, is_clear: bool) -> list[Figure]:
    term, row, each = leading(results)
    many = many_of(term)
    what = pair(term, row)
    if each.answer is not None:
        what = f"“{each.answer}” rather than “{results.base.label}”, {what}"
    allowed = ""
    if many > 1:
        what, allowed = f"{what}, the clearest of {many}", f", {all_allowed_for(many)}"
        if not is_clear:
            what = f"the clearest of {many}"
    found = [
        Figure(
            label=f"Odds ratio, {what}",
            value=ratio(each.odds_ratio),
            detail=f"{ratio_limits(each, term)}{allowed}",
            exact=repr(each.odds_ratio),
        )
    ]
    if term.test is not None:
        found.append(figure_of_test(term.test, f"{term.title} as a whole"))
    return found


def in_order(results: EveryAnswerResults) -> str:
    """ "never < sometimes < always"."""
    labels = [each.label for each in results.answers]
    return (" > " if results.downward else " < ").join(labels)


def _notes(work: EveryAnswerWork, results: EveryAnswerResults) -> list[str]:
    at, sample = level(work.question.confidence), work.sampling.sample
    if results.is_ordered:
        way = "lower" if results.downward else "higher"
        notes = [
            f"Answers in order: {in_order(results)}. Above 1 means **{way}** answers; the model takes the ratio "
            "to be the same wherever they are cut in two.",
            NOT_RISKS,
        ]
    else:
        notes = [ONE_AGAINST_BASE, NOT_RISKS]
    if sample is not None:
        notes.append(
            f"{at} intervals with {sample.errors} on {count(sample.design_df)} design degrees of "
            "freedom. Whole terms have adjusted Wald tests; n are unweighted."
        )
    else:
        what = "Wald" if results.limits == "wald" else "profile-likelihood"
        tests = {term.test.name for term in results.terms if term.test is not None}
        notes.append(
            f"{at} {what} intervals. Whole terms, over all answers: {listed(sorted(tests))}."
        )
    term, *_ = leading(results)
    also = [t.title for t in results.terms if t.role == "vary_with" and t.variable != term.variable]
    if also:
        notes.append(
            f"Told first is {term.title}; the table has {listed(list(dict.fromkeys(also)))}."
        )
    if len(results.terms) > 1:
        notes.append(SAME_PEOPLE)
    return notes


def every_answer_write_up(work: EveryAnswerWork, results: EveryAnswerResults) -> str:
    """The paragraph for the paper."""
    term, row, each = leading(results)
    kind = "proportional odds" if results.is_ordered else "multinomial logistic"
    kind = f"weighted {kind}" if work.sampling.sample is not None else kind
    told = ", ".join(f"{answer.label} {count(answer.n)}" for answer in results.answers)
    text = f"In a {kind} model of {work.asked.outcome.title} (n = {count(results.n)}: {told}), "
    many, allowed = many_of(term), others(results, term)
    if _together(results, term) is not None:
        together = _together(results, term)
        assert together is not None
        text += f"the odds ratios of {term.title} were taken to differ by {_other(results, together, term)}"
        if together.test is not None:
            text += f" (interaction: {reported_test(together.test)})"
    else:
        what = odds_of(work, results, each).removeprefix("the odds of ")
        text += f"the odds ratio of {what} for {pair(term, row)}"
        text += f", the clearest of {many}," if many > 1 else ""
        text += f" was {ratio(each.odds_ratio)}"
        ci = each.ci if term.picked is None else term.picked.ci
        if ci[1] < math.inf or ci[0] > 0:
            text += f", {level(work.question.confidence)} CI {interval_in_print(ci, ratio)}"
            text += f", {all_allowed_for(many)}" if many > 1 else ""
        if each.p is not None and many == 1:
            text += f", {p_in_print(each.p)}"
        if allowed:
            text += f", adjusted for {listed(allowed)}"
            if each.unadjusted is not None:
                text += f" (unadjusted {ratio(each.unadjusted)})"
        if term.test is not None:
            text += f"; {term.title} as a whole: {reported_test(term.test)}"
    text += "."
    if results.test is not None and len(results.terms) > 1:
        text += f" Model: {reported_test(results.test)}"
        if results.likelihood is not None:
            text += f", Nagelkerke R² = {plain(results.likelihood.nagelkerke, 2)}"
        text += "."
    return text


def moved(results: EveryAnswerResults) -> str:
    """What the design moved most against counting each row once."""
    found = [
        (round(abs(each.log_odds - math.log(each.unweighted.odds_ratio)), 9), term, row, each)
        for term in results.terms
        for row in term.rows
        for each in row.ratios
        if each.unweighted is not None and 0 < each.unweighted.odds_ratio < math.inf
    ]
    if not found:
        return ""
    gap, term, row, each = max(found, key=lambda one: one[0])
    assert each.unweighted is not None
    if gap < math.log(1.1):
        return "The design hardly moves the odds ratios."
    what = pair(term, row) if each.answer is None else f"{pair(term, row)}, for “{each.answer}”"
    return (
        f"The design moves {what} most, from {ratio(each.unweighted.odds_ratio)} to "
        f"{ratio(each.odds_ratio)}."
    )
