"""Design-based results in words, and what the design moves."""

import math
from collections.abc import Callable

from hobrix.core.data import Design, Frame
from hobrix.core.questions.answer import Answer, Figure, Reading
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import event_of
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.wording import (
    count,
    number,
    p_equals,
    percent,
    points,
    ratio,
)

_MOVED_SHARE, _MOVED_RATIO = 0.01, 0.05


def moved(
    shares: tuple[r.SurveyShare, ...],
    model: r.SurveyModel | None,
    mean: r.SurveyMean | None,
) -> str:
    """What moved most against counting each row once, in a sentence."""
    if model is not None:
        row = max(model.rows, key=lambda each: abs(math.log(each.odds_ratio / each.unweighted)))
        if abs(math.log(row.odds_ratio / row.unweighted)) < _MOVED_RATIO:
            return "The design hardly moves the odds ratios."
        wider = _width(row.ci) / _width(row.unweighted_ci)
        return (
            f"The design moves {_pair(row)} most: from {ratio(row.unweighted)} to "
            f"{ratio(row.odds_ratio)}, with an interval {wider:.2f} times as wide."
        )
    if mean is not None:
        return f"Each row counted once, the mean is {number(mean.unweighted)}."
    if not shares:
        return "No answer is marked as the event, so only the table is weighted."
    most = max(shares, key=lambda share: abs(share.estimate - share.unweighted))
    gap = most.estimate - most.unweighted
    cost = f", and its error {math.sqrt(most.deff):.2f} times as large" if most.deff else ""
    if abs(gap) < _MOVED_SHARE:
        return (
            f"The design hardly moves the shares; most “{most.label}”, by {points(gap)} "
            f"points{cost}."
        )
    return (
        f"The design moves “{most.label}” most: from {percent(most.unweighted)} to "
        f"{percent(most.estimate)}{cost}."
    )


def _pair(row: r.SurveyTerm) -> str:
    """ "Schooling: Primary against Higher", "Age, per 10 years"."""
    if row.reference is None:
        return f"{row.title}, {row.label}"
    where = f" ({row.given})" if row.given else ""
    return f"{row.title}: {row.label} against {row.reference}{where}"


def _width(ci: tuple[float, float]) -> float:
    return max(1e-12, math.log(max(ci[1], 1e-300) / max(ci[0], 1e-300)))


def survey_reading(
    given: Answer, results: r.SurveyResults, frame: Frame, question: Question
) -> Reading:
    """The lead and figures of the design-based answer."""
    opened, figures = opening(results, frame, question)
    notes = [
        f"{100 * question.confidence:g}% intervals with {results.design.errors} on "
        f"{count(results.design.design_df)} design degrees of freedom"
        f"{'; logit limits for shares' if results.shares else ''}.",
        "Weights correct the sample; they do not count people. n is always unweighted.",
    ]
    return given.reading.model_copy(
        update={
            "lead": f"{opened} {results.moved}".strip()
            or "Shares have no meaning in a case–control study: ask the Odds model.",
            "headline": _headline(results, question, figures),
            "figures": tuple(figures),
            "notes": tuple(notes),
            "ranked": (),
        }
    )


def _headline(results: r.SurveyResults, question: Question, figures: list[Figure]) -> str:
    """The short form for the line of questions."""
    if results.model is not None:
        row = _leading(results.model, question)
        return f"OR {ratio(row.odds_ratio)} · {p_equals(row.p)}"
    table = results.table
    if table is not None and table.rao_scott_second_order is not None:
        return f"V {table.cramers_v:.2f} · {p_equals(table.rao_scott_second_order.p)}"
    return figures[0].value if figures else ""


def _leading(model: r.SurveyModel, question: Question) -> r.SurveyTerm:
    asked = question.vary_with[0].variable
    of_interest = [row for row in model.rows if row.term == asked] or list(model.rows)
    return min(of_interest, key=lambda each: each.p)


def opening(results: r.SurveyResults, frame: Frame, question: Question) -> tuple[str, list[Figure]]:
    assert question.outcome is not None
    outcome = frame.variables[question.outcome.variable].title
    if results.model is not None:
        return of_model(results, question, frame)
    if results.mean is not None:
        mean = results.mean
        text = f"The weighted mean of {outcome} is **{number(mean.estimate)}** "
        text += f"({_range(mean.ci, number)})."
        return text, [_figure("Weighted mean", number(mean.estimate), _range(mean.ci, number))]
    if question.lens == "distribution":
        event = question.outcome.event or frame.variables[question.outcome.variable].event
        return _of_answers(results, outcome, event)
    return _of_groups(results, frame, question, outcome)


def _figure(label: str, value: str, detail: str = "") -> Figure:
    return Figure(label=label, value=value, detail=detail, exact=value)


def _range(ci: tuple[float, float] | None, words: Callable[[float], str]) -> str:
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
        f"Weighted, **{percent(most.estimate)}** ({_range(most.ci, percent)}) answer “{most.label}” "
        f"to {outcome}{'' if of_event else ', the commonest answer'}."
    )
    figures = [_figure(f"“{most.label}”", percent(most.estimate), _range(most.ci, percent))]
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
            f"({high.label}; {_range(high.ci, percent)})."
        )
    far = furthest(results)
    if far is not None and far.odds_ratio is not None:
        odds = far.odds_ratio
        gap = far.risk_difference
        pair = f"{far.label} against {results.reference}"
        figures += [
            _figure(
                f"Difference, {pair}", f"{points(gap.estimate)} points", _range(gap.ci, points)
            ),
            _figure("Odds ratio, the same", ratio(odds.estimate), _range(odds.ci, ratio)),
        ]
    table = results.table
    if table is not None and table.rao_scott_second_order is not None:
        test = table.rao_scott_second_order
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
                "Cramér’s V, weighted", f"{table.cramers_v:.2f}", _range(table.cramers_v_ci, _two)
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
    found = [each for each in results.comparisons if each.odds_ratio is not None]
    return max(found, key=lambda each: abs(each.odds_ratio.t), default=None)  # type: ignore[union-attr]


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
    """The clearest odds ratio of interest, and the test of its variable as a whole."""
    model = results.model
    assert model is not None
    row = _leading(model, question)
    text = (
        f"With the design of the sample, the odds ratio of {event_in_words(question, frame)} "
        f"for {_pair(row)} "
        f"is **{ratio(row.odds_ratio)}** ({_range(row.ci, ratio)}, {p_equals(row.p)})."
    )
    figures = [
        _figure(
            f"Odds ratio, {row.title}: {row.label}", ratio(row.odds_ratio), _range(row.ci, ratio)
        )
    ]
    test = next((t for t in model.terms if t.term == row.term), None)
    if test is not None:
        p = test.wald.p
        figures.append(_figure(f"{row.title} as a whole", p_equals(p), f"Wald F {test.wald.f:.2f}"))
    return text, figures


def drawn(question: Question, design: r.SurveyDesign, frame: Frame) -> str:
    """What was sampled: "60 clusters in 5 strata", "2,412 households drawn one by one"."""
    asked = question.counted_by
    assert isinstance(asked, Design)
    units = f"{count(design.rows)} {frame.noun.many} drawn one by one"
    if asked.clusters:
        units = f"{count(design.clusters)} clusters"
    if not asked.strata:
        return units
    return f"{units} in {count(design.strata)} {'stratum' if design.strata == 1 else 'strata'}"
