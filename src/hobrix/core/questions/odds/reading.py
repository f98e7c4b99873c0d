"""The model in words: odds, not risks; what is left after allowing for the others."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.odds.confounding import what_the_others_did
from hobrix.core.questions.odds.reading_strata import WithinStrata, within_strata
from hobrix.core.questions.odds.reading_together import SCALE, together_with
from hobrix.core.questions.odds.results import OddsModel, OddsResults, OddsRow, OddsTerm
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.thresholds import MOVED_RATIO
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
    points,
    ratio,
    ratio_limits,
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
    return term, max(term.rows, key=lambda row: round(abs(row.z), 9))


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


def odds_reading(work: OddsWork, results: OddsResults) -> Reading:
    model, alpha = results.whole, work.question.alpha
    term, row = leading(model)
    notes = _notes(work, model)
    if (strata := _strata(work, results)) is not None:
        return Reading(
            lead=strata.lead(_opening(work, results)),
            headline=strata.headline,
            figures=tuple(strata.figures(pair(term, row))),
            notes=tuple(notes),
        )
    if (both := together_with(model, term, alpha)) is not None:
        told = pair(both.main, both.rows[0])
        return Reading(
            lead=both.lead(
                f"{_context(work, results)}the odds of {event_of(work, results)}, {told}"
            ),
            headline=both.headline,
            figures=tuple(both.figures()),
            notes=(*notes, SCALE),
        )
    test = own_test(model, term, row)
    return Reading(
        lead=_effect(work, results),
        headline=f"OR {ratio(row.odds_ratio)}" + ("" if test is None else f" · {p_equals(test.p)}"),
        figures=tuple(_figures(term, row, is_clear=test is not None and test.p < alpha)),
        notes=tuple(notes),
    )


def own_test(model: OddsModel, term: OddsTerm, row: OddsRow) -> NamedTest | None:
    """The test that a lead rests on: of several odds ratios that of the whole term; of one the test
    that goes with its limits."""
    if len(term.rows) > 1 or model.limits == "profile":
        return term.test
    if row.p is None:
        return None
    if model.adjusted_wald is not None:
        return NamedTest.exact("t test with the errors of the design", row.p)
    return NamedTest(name="Wald test", sign="z", statistic=row.z, df=None, p=row.p)


def _strata(work: OddsWork, results: OddsResults) -> WithinStrata | None:
    _, row = leading(results.whole)
    return within_strata(results, row, _within(work), work.question.confidence)


def _context(work: OddsWork, results: OddsResults) -> str:
    """ "Within each District, weighted and allowing for Age, " or nothing."""
    term, _ = leading(results.whole)
    allowed = others(results.whole, term)
    words = ["weighted"] if work.question.is_designed else []
    words += [f"allowing for {listed(allowed)}"] if allowed else []
    parts = [f"within each {name}" for name in [_within(work)] if name]
    parts += [" and ".join(words)] if words else []
    text = "".join(f"{part}, " for part in parts)
    return text[:1].upper() + text[1:]


def _opening(work: OddsWork, results: OddsResults) -> str:
    """ "Weighted and allowing for Age, the odds of “Yes” (Illness), River against Piped"."""
    term, row = leading(results.whole)
    text = f"{_context(work, results)}the odds of {event_of(work, results)}, {pair(term, row)}"
    return text[0].upper() + text[1:]


def _within(work: OddsWork) -> str:
    return listed([work.frame.variables[name].title for name in work.question.within])


def _effect(work: OddsWork, results: OddsResults) -> str:
    """The odds ratio to tell first, what the others did to it, and the test it rests on."""
    model, alpha = results.whole, work.question.alpha
    term, row = leading(model)
    test, many = own_test(model, term, row), len(term.rows)
    told = "" if test is None else f" ({test_in_words(test)})"
    if many > 1 and test is not None and test.p >= alpha:
        context = _context(work, results)
        sign = "**no clear sign**" if context else "**No clear sign**"
        return (
            f"{context}{sign} that {term.title} goes with {event_of(work, results)}{told}. "
            f"{_still_possible(term)}"
        )
    if many > 1:
        told = f", {all_allowed_for(len(term.rows))}" if row.ci[1] < math.inf else ""
        text = (
            f"{_opening(work, results)}, the clearest of {many}, have a ratio of "
            f"**{ratio(row.odds_ratio)}** ({ratio_limits(row, term)}{told})."
        )
    else:
        p = "without a test" if test is None else test_in_words(test)
        text = (
            f"{_opening(work, results)}, have a ratio of **{ratio(row.odds_ratio)}** "
            f"({ratio_limits(row)}; {p})."
        )
    if others(model, term):
        text += what_the_others_did(work, term, row)
    return text + _as_a_whole(term, test, alpha)


def _still_possible(term: OddsTerm) -> str:
    if term.picked is None or term.picked.ci[1] == math.inf:
        return "That does not show there is none."
    low, high = term.picked.ci
    return (
        f"That does not show there is none: the clearest of the {len(term.rows)} odds ratios "
        f"against {term.reference} may lie anywhere from {ratio(low)} to {ratio(high)}, with "
        f"{all_allowed_for(len(term.rows))}."
    )


def _as_a_whole(term: OddsTerm, test: NamedTest | None, alpha: float) -> str:
    if test is None:
        return ""
    if len(term.rows) > 1:
        return f" {term.title} as a whole **goes with** the outcome ({test_in_words(test)})."
    if test.p < alpha:
        return ""
    return (
        f" **No clear sign** that {term.title} goes with the outcome; the interval tells what is "
        "still possible."
    )


def _figures(term: OddsTerm, row: OddsRow, *, is_clear: bool) -> list[Figure]:
    """The odds ratio, the average difference in probability beside it, and the whole term."""
    many = len(term.rows)
    label, allowed = pair(term, row), ""
    if many > 1:
        label = f"{label}, the clearest of {many}"
        if not is_clear:
            label = f"the clearest of {many} against {term.reference}"
        allowed = f", {all_allowed_for(len(term.rows))}"
    figures = [
        Figure(
            label=f"Odds ratio, {label}",
            value=ratio(row.odds_ratio),
            detail=f"{ratio_limits(row, term)}{allowed}",
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
                detail=f"{points(low)} to {points(high)}{', by itself' if many > 1 else ''}"
                if has_limits
                else "no interval",
                exact=repr(gap.estimate),
            )
        )
    if term.test is not None:
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
    term, _ = leading(model)
    also = [t.title for t in model.terms if t.role == "vary_with" and t.variable != term.variable]
    if also:
        notes.append(
            f"Told first is {term.title}; the table has {listed(list(dict.fromkeys(also)))}."
        )
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
    term, row = leading(model)
    text = f"In a {kind} regression of “{results.event_label}” ({people}), "
    if (strata := _strata(work, results)) is not None:
        text += strata.in_print(f"the odds ratio for {pair(term, row)}")
        if allowed := others(model, term):
            text += f", adjusted for {listed(allowed)}"
        text += f"; without regard to {strata.within} it was {ratio(row.odds_ratio)}."
        return text + strata.sameness_in_print()
    if (both := together_with(model, term, work.question.alpha)) is not None:
        told = f"the odds ratio for {pair(both.main, both.rows[0])}"
        text += both.in_print(told, work.question.confidence)
    else:
        text += _in_print(work, model)
        if term.test is not None:
            text += f"; {term.title} as a whole: {reported_test(term.test)}"
    text += "."
    if model.test is not None and len(model.terms) > 1:
        text += f" Model: {reported_test(model.test)}"
        if model.likelihood is not None and model.likelihood.nagelkerke is not None:
            text += f", Nagelkerke R² = {plain(model.likelihood.nagelkerke, 2)}"
        text += "."
    return text


def _in_print(work: OddsWork, model: OddsModel) -> str:
    """ "the odds ratio for River against Piped was 2.89, 95% CI [2.04, 4.09], p < .001, adjusted
    for Income (unadjusted 3.00)"."""
    term, row = leading(model)
    allowed, many = others(model, term), len(term.rows)
    text = f"the odds ratio for {pair(term, row)}"
    if many > 1:
        text += f", the clearest of {many},"
    text += f" was {ratio(row.odds_ratio)}"
    ci = row.ci if term.picked is None else term.picked.ci
    if ci[1] < math.inf or ci[0] > 0:
        text += f", {level(work.question.confidence)} CI {interval_in_print(ci, ratio)}"
        text += f", {all_allowed_for(len(term.rows))}" if many > 1 else ""
    if row.p is not None and many == 1:
        text += f", {p_in_print(row.p)}"
    if allowed:
        text += f", adjusted for {listed(allowed)}"
        if row.unadjusted is not None:
            text += f" (unadjusted {ratio(row.unadjusted)})"
    return text


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
    gap, term, row = max(rows, key=lambda each: round(each[0], 9))
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
        text += f", with an interval {plain(_width(row.ci) / _width(once.ci), 2)} times as wide"
    return f"{text}."


def _width(ci: tuple[float, float]) -> float:
    """Of an odds ratio's limits, on the log scale."""
    return max(1e-12, math.log(min(ci[1], 1e300) / max(ci[0], 1e-300)))
