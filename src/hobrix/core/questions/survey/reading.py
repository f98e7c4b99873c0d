"""Design-based results in words, and what the design moves."""

import math
from collections.abc import Callable

from hobrix.core.data import Design, Frame
from hobrix.core.questions.answer import Answer, Figure, Reading
from hobrix.core.questions.odds.reading import (
    NOT_RISKS,
    SAME_PEOPLE,
    effect,
    headline,
    leading,
    pair,
    ratio_figures,
    same_in_strata,
)
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import event_of
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.model_results import SurveyModel
from hobrix.core.questions.wording import (
    count,
    listed,
    number,
    p_equals,
    percent,
    points,
    ratio,
)

_MOVED_SHARE, _MOVED_RATIO = 0.01, 0.05
# With all cells allowed for.
_MARKED = 0.05


def moved(
    shares: tuple[r.SurveyShare, ...],
    model: SurveyModel | None,
    mean: r.SurveyMean | None,
    table: r.SurveyTable | None,
    event: tuple[str, ...],
) -> str:
    """What moved most against counting each row once, in a sentence; of two answers that move alike
    the ``event``."""
    if model is not None:
        return _moved_ratio(model)
    if mean is not None:
        cost = _cost(mean.deff)
        if number(mean.unweighted) == number(mean.estimate):
            return f"The design hardly moves the mean{cost}."
        return (
            f"The design moves the mean from {number(mean.unweighted)} to "
            f"{number(mean.estimate)}{cost}."
        )
    if not shares:
        return "" if table is None else _moved_cell(table)
    most = max(
        shares,
        key=lambda each: (round(abs(each.estimate - each.unweighted), 9), (each.value,) == event),
    )
    gap = most.estimate - most.unweighted
    cost = _cost(most.deff)
    if abs(gap) < _MOVED_SHARE:
        return f"The design hardly moves the shares: “{most.label}” most, by {points(gap)} points{cost}."
    return (
        f"The design moves “{most.label}” most, from {percent(most.unweighted)} to "
        f"{percent(most.estimate)}{cost}."
    )


def _cost(deff: float | None) -> str:
    """How much larger the design makes an error than a random sample of as many would."""
    if not deff:
        return ""
    times = f"{math.sqrt(deff):.2f}"
    how = "" if times == "1.00" else f"{times} times "
    return f"; its error is {how}that of a random sample of as many"


def _moved_cell(table: r.SurveyTable) -> str:
    cells = [
        (abs(cell.estimate - cell.unweighted), row, column, cell)
        for row, cells in zip(table.rows, table.row_proportions, strict=True)
        for column, cell in zip(table.columns, cells, strict=True)
    ]
    gap, row, column, cell = max(cells, key=lambda each: each[0])
    if gap < _MOVED_SHARE:
        return "The design hardly moves the percentages."
    return (
        f"The design moves “{column}” with {row} most, from {percent(cell.unweighted)} to "
        f"{percent(cell.estimate)}."
    )


def _moved_ratio(model: SurveyModel) -> str:
    rows = [
        (abs(math.log(row.odds_ratio / row.unweighted)), term, row)
        for term in model.terms
        for row in term.rows
        if 0 < row.odds_ratio < math.inf and 0 < row.unweighted < math.inf
    ]
    if not rows:
        return ""
    gap, term, row = max(rows, key=lambda each: each[0])
    if gap < _MOVED_RATIO:
        return "The design hardly moves the odds ratios."
    wider = _width(row.ci) / _width(row.unweighted_ci)
    where = f" ({row.given})" if row.given else ""
    title = f"{term.title}: " if row.label in pair(term, row) and not term.is_numeric else ""
    return (
        f"The design moves {title}{pair(term, row)}{where} most, from {ratio(row.unweighted)} to "
        f"{ratio(row.odds_ratio)}, with an interval {wider:.2f} times as wide."
    )


def _width(ci: tuple[float, float]) -> float:
    """Of an odds ratio's limits, on the log scale."""
    return max(1e-12, math.log(min(ci[1], 1e300) / max(ci[0], 1e-300)))


def survey_reading(
    given: Answer, results: r.SurveyResults, frame: Frame, question: Question
) -> Reading:
    """The lead and figures of the design-based answer."""
    opened, figures = opening(results, frame, question)
    level, design = f"{100 * question.confidence:g}% intervals", results.design
    notes = [
        f"{level} with {design.errors} on {count(design.design_df)} design degrees of freedom"
        f"{'; logit limits for shares' if results.shares else ''}.",
        "Weights correct the sample; they do not count people. n is always unweighted.",
    ]
    if results.model is not None:
        notes = [NOT_RISKS, notes[0], "Whole terms have adjusted Wald tests.", notes[1]]
        if len(results.model.terms) > 1:
            notes.append(SAME_PEOPLE)
    table = results.table
    return given.reading.model_copy(
        update={
            "lead": opened or "Shares have no meaning in a case–control study: ask the Odds model.",
            "headline": _headline(results, figures),
            "figures": tuple(figures),
            "notes": tuple(notes),
            "cells": () if table is None else _cells(table, frame, question),
            "ranked": (),
        }
    )


def _headline(results: r.SurveyResults, figures: list[Figure]) -> str:
    """The short form for the line of questions."""
    if results.model is not None:
        return headline(leading(results.model.terms)[1])
    table = results.table
    if table is not None and (test := table.leading) is not None:
        return f"V {table.cramers_v:.2f} · {p_equals(test.p)}"
    if figures or not results.shares:
        return figures[0].value if figures else results.design.errors
    low, high = (find(share.estimate for share in results.shares) for find in (min, max))
    return f"{percent(low)} to {percent(high)}"


def _cells(table: r.SurveyTable, frame: Frame, question: Question) -> tuple[tuple[str, ...], ...]:
    """A sentence for every cell."""
    explanatory = frame.variables[question.vary_with[0].variable].title
    return tuple(
        tuple(_cell(table, explanatory, i, j) for j in range(len(table.columns)))
        for i in range(len(table.rows))
    )


def _cell(table: r.SurveyTable, explanatory: str, i: int, j: int) -> str:
    here, counts = table.row_proportions[i][j], table.counts[i]
    text = (
        f"{explanatory}: {table.rows[i]}. Weighted, {percent(here.estimate)} "
        f"({range_of(here.ci, percent)}) answered {table.columns[j]}, {count(counts[j])} of "
        f"{count(sum(counts))} sampled; {percent(table.column_margin[j])} of all"
    )
    if table.p_adjusted[i][j] < _MARKED:
        return text + (": clearly more." if table.z[i][j] > 0 else ": clearly fewer.")
    return text + ": no clear difference."


def opening(results: r.SurveyResults, frame: Frame, question: Question) -> tuple[str, list[Figure]]:
    assert question.outcome is not None
    outcome = frame.variables[question.outcome.variable].title
    if results.model is not None:
        return of_model(results, question, frame)
    if results.mean is not None:
        mean = results.mean
        text = f"The weighted mean of {outcome} is **{number(mean.estimate)}** "
        text += f"({range_of(mean.ci, number)})."
        figures = [
            _figure("Weighted mean", number(mean.estimate), range_of(mean.ci, number)),
            _figure("Unweighted", number(mean.unweighted), f"n {count(mean.n)}"),
        ]
        if mean.deff is not None:
            figures.append(_figure("Design effect", f"{mean.deff:.2f}"))
        return text, figures
    if question.lens == "distribution":
        event = question.outcome.event or frame.variables[question.outcome.variable].event
        return _of_answers(results, outcome, event)
    return _of_groups(results, frame, question, outcome)


def _figure(label: str, value: str, detail: str = "") -> Figure:
    return Figure(label=label, value=value, detail=detail, exact=value)


def range_of(ci: tuple[float, float] | None, words: Callable[[float], str]) -> str:
    if ci is None or not (math.isfinite(ci[0]) and math.isfinite(ci[1])):
        return "no interval"
    return f"{words(ci[0])} to {words(ci[1])}"


def _of_answers(
    results: r.SurveyResults, outcome: str, event: tuple[str, ...]
) -> tuple[str, list[Figure]]:
    """The event where it is one answer, otherwise the commonest answer."""
    of_event = [share for share in results.shares if (share.value,) == event]
    most = of_event[0] if of_event else max(results.shares, key=lambda share: share.estimate)
    text = (
        f"Weighted, **{percent(most.estimate)}** ({range_of(most.ci, percent)}) answer “{most.label}” "
        f"to {outcome}{'' if of_event else ', the commonest answer'}."
    )
    figures = [
        _figure(f"“{most.label}”, weighted", percent(most.estimate), range_of(most.ci, percent)),
        _figure(
            "Unweighted",
            percent(most.unweighted),
            f"{count(most.unweighted_count_of_events)} of {count(most.n)}",
        ),
    ]
    if most.deff is not None and most.effective_sample_size is not None:
        detail = f"as if {count(most.effective_sample_size)} drawn at random"
        figures.append(_figure("Design effect", f"{most.deff:.2f}", detail))
    if results.goodness_of_fit is not None:
        p = results.goodness_of_fit.p
        text += f" Against the stated shares: {p_equals(p)}."
        figures.append(_figure("Against stated shares", p_equals(p), "Rao–Scott F"))
    return text, figures


def _of_groups(
    results: r.SurveyResults, frame: Frame, question: Question, outcome: str
) -> tuple[str, list[Figure]]:
    explanatory = frame.variables[question.vary_with[0].variable].title
    figures, text = [], ""
    if results.shares:
        low, high = (find(results.shares, key=lambda s: s.estimate) for find in (min, max))
        text = (
            f"Weighted, the share of {event_in_words(question, frame)} runs from "
            f"**{percent(low.estimate)}** ({low.label}) to **{percent(high.estimate)}** "
            f"({high.label}; {range_of(high.ci, percent)})."
        )
    far = furthest(results)
    if far is not None and far.odds_ratio is not None:
        odds = far.odds_ratio
        gap = far.risk_difference
        pair = f"{far.label} against {results.reference}"
        figures += [
            _figure(
                f"Difference, {pair}", f"{points(gap.estimate)} points", range_of(gap.ci, points)
            ),
            _figure("Odds ratio, the same", ratio(odds.estimate), range_of(odds.ci, ratio)),
        ]
    table = results.table
    if table is not None and (test := table.leading) is not None:
        verb = (
            f" {outcome} **varies with** {explanatory}"
            if test.p < 1 - question.confidence
            else f" **No clear sign** that {outcome} varies with {explanatory}"
        )
        text += (
            f"{verb} (Rao–Scott F({number(test.df1)}, {number(test.df2)}) = {test.f:.2f}, "
            f"{p_equals(test.p)})."
        )
        figures.insert(0, _figure("Rao–Scott F test", p_equals(test.p), f"F {test.f:.2f}"))
        figures.append(
            _figure(
                "Cramér’s V, weighted", f"{table.cramers_v:.2f}", range_of(table.cramers_v_ci, _two)
            )
        )
    trend = results.trend
    if trend is not None and trend.p < 1 - question.confidence:
        way = "rises" if trend.odds_ratio > 1 else "falls"
        text += (
            f" The share **{way} along the order** of {explanatory} (odds ratio per step "
            f"{ratio(trend.odds_ratio)}, {p_equals(trend.p)})."
        )
    return text.strip(), figures


def furthest(results: r.SurveyResults) -> r.SurveyComparison | None:
    """The group that differs most clearly in odds from the reference."""
    found = [
        (abs(each.odds_ratio.t), each)
        for each in results.comparisons
        if each.odds_ratio is not None and each.odds_ratio.t is not None
    ]
    return max(found, key=lambda pair: pair[0], default=(0.0, None))[1]


def event_in_words(question: Question, frame: Frame) -> str:
    """ "“Yes” (Stomach illness)", several answers joined."""
    assert question.outcome is not None
    outcome = frame.variables[question.outcome.variable]
    labels = " or ".join(outcome.label_of(value) for value in event_of(question, outcome))
    return f"“{labels}” ({outcome.title})"


def _two(value: float) -> str:
    return f"{value:.2f}"


def of_model(
    results: r.SurveyResults, question: Question, frame: Frame
) -> tuple[str, list[Figure]]:
    """The first variable of interest, and the test of it as a whole."""
    model = results.model
    assert model is not None
    term, row = leading(model.terms)
    event = event_in_words(question, frame)
    text = effect(model.terms, event, question.confidence, is_weighted=True)
    figures = ratio_figures(term, row)
    if term.wald is not None and not term.part_of_interaction:
        test = term.wald.as_f
        df = f"df {number(test.df1)}, {number(test.df2)}"
        label = f"{term.title} as a whole"
        figures.append(_figure(label, p_equals(test.p), f"Wald F {test.f:.2f}, {df}"))
    return text + _everywhere(results, frame, question), figures


def _everywhere(results: r.SurveyResults, frame: Frame, question: Question) -> str:
    test = results.model_strata.same if results.model_strata else None
    if test is None:
        return ""
    titles = listed([frame.variables[name].title for name in question.within])
    return same_in_strata(titles, test.p, question.confidence)


def drawn(question: Question, design: r.SurveyDesign, frame: Frame) -> str:
    """What was sampled: "60 clusters in 5 strata", "2,412 households drawn one by one"."""
    asked = question.counted_by
    assert isinstance(asked, Design)
    units = f"{count(design.rows)} {frame.noun.many} drawn one by one"
    if asked.clusters:
        units = f"{count(design.psus)} clusters"
    if not asked.strata:
        return units
    return f"{units} in {count(design.strata)} {'stratum' if design.strata == 1 else 'strata'}"
