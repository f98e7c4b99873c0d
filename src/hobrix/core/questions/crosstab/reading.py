"""The cross-tabulation in words: effect first, direction always, p never alone."""

import math

from hobrix.core.data import Variable
from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.crosstab.cells import cells
from hobrix.core.questions.crosstab.reading_strata import (
    lead_of_strata,
    notes_of_strata,
    write_up_of_strata,
)
from hobrix.core.questions.crosstab.results import CrosstabResults, CrosstabTable
from hobrix.core.questions.crosstab.work import CrosstabWork
from hobrix.core.questions.estimates import Effect, Groups, NamedTest
from hobrix.core.questions.thresholds import COMMON, MOVED_SHARE
from hobrix.core.questions.wording import (
    against,
    count,
    figure_of_test,
    interval,
    interval_in_print,
    level,
    listed,
    mid_sentence,
    p_equals,
    percent,
    plain,
    points,
    ratio,
    reported_test,
    test_in_words,
    unit_in_print,
)

ADJUSTED = {
    "holm": "with all cells allowed for (Holm, 5%)",
    "bonferroni": "with all cells allowed for (Bonferroni, 5%)",
    "benjamini_hochberg": "at a false discovery rate of 5% (Benjamini–Hochberg)",
    "none": "one by one (5%, cells not allowed for)",
}


def crosstab_reading(work: CrosstabWork, results: CrosstabResults) -> Reading:
    """Lead, headline figures, notes and one sentence per cell."""
    whole, question = results.whole, work.question
    explanatory, outcome = work.pair.explanatory.variable, work.pair.outcome.variable
    within = listed([variable.title for variable in work.pair.within])
    if whole.groups is None:
        lead = _lead_of_table(whole, explanatory, outcome, question.alpha)
        lead += _lead_of_order(whole, explanatory, outcome, question.alpha)
    else:
        lead = _lead_of_event(work, whole, whole.groups)
    lead += lead_of_strata(results, within, question)
    test = whole.test
    v = f"V {whole.cramers_v:.2f}"
    return Reading(
        lead=lead,
        headline=v if test is None else f"{v} · {p_equals(test.p)}",
        figures=tuple(_figures(whole, question.confidence)),
        notes=(*_notes(work, whole), *notes_of_strata(results)),
        cells=cells(whole, explanatory),
    )


def varies(test: NamedTest | None, alpha: float) -> bool:
    return test is not None and test.p < alpha


def _surprise(test: NamedTest) -> str:
    p = test.p
    how = "very unusual" if p < 0.001 else "unusual" if p < 0.01 else "somewhat unusual"
    return (
        f"Differences this wide would be {how} if the two were unrelated ({test_in_words(test)})."
    )


def _opening(test: NamedTest | None, explanatory: Variable, outcome: Variable, alpha: float) -> str:
    if varies(test, alpha):
        return f"{outcome.title} **varies with {explanatory.title}**"
    return f"**No clear sign** that {outcome.title} varies with {explanatory.title}"


def _no_test(whole: CrosstabTable) -> str:
    return "" if whole.test is not None else " The design leaves no degree of freedom for a test."


def _lead_of_event(work: CrosstabWork, whole: CrosstabTable, groups: Groups) -> str:
    explanatory, outcome = work.pair.explanatory.variable, work.pair.outcome.variable
    alpha, test = work.question.alpha, whole.test
    far, base = groups.furthest, groups.base
    opening = _opening(test, explanatory, outcome, alpha)
    if not groups.shares_have_meaning:
        what = (
            f"the odds of “{groups.event_label}”, {against(far.label, base.label)}, have a ratio of"
        )
        what += f" **{_with_limits(far.odds_ratio)}**"
        if test is not None and varies(test, alpha):
            return f"{opening}: {what}. {_surprise(test)}"
        p = "" if test is None else f" ({test_in_words(test)})"
        return f"{opening}{p}: {what}. That does not show there is none.{_no_test(whole)}"
    mine = groups.group(far.value)
    weighted = "weighted, " if whole.weighted is not None else ""
    shares = (
        f"{weighted}“{groups.event_label}” in {percent(mine.share)} of "
        f"{work.pair.counted.noun_many} with {far.label}, against {percent(base.share)} with "
        f"{base.label}."
    )
    if test is not None and varies(test, alpha):
        return f"{opening}: {shares} {_surprise(test)}"
    difference = far.risk_difference
    assert difference is not None
    said = f"{opening}: {shares}"
    if test is not None:
        said += f" Chance alone often brings differences this wide ({test_in_words(test)})."
    if difference.ci is not None:
        said += (
            f" That does not show there is none: {far.label} minus {base.label} may lie anywhere "
            f"from {interval(difference.ci, points)} percentage points."
        )
    return f"{said}{_no_test(whole)}"


def _lead_of_order(
    whole: CrosstabTable, explanatory: Variable, outcome: Variable, alpha: float
) -> str:
    """Two ordered variables can lean with each other where no single cell stands out."""
    trend, d = whole.trend, whole.ordered
    if trend is None or d is None or d.value is None:
        return ""
    if trend.p >= alpha:
        return f" Nor do they clearly lean with each other’s order ({test_in_words(trend)})."
    way = "later" if d.value > 0 else "earlier"
    return (
        f" Taken in order, later answers to {explanatory.title} **go with {way} answers** to "
        f"{outcome.title} ({test_in_words(trend)})."
    )


def _lead_of_table(
    whole: CrosstabTable, explanatory: Variable, outcome: Variable, alpha: float
) -> str:
    opening, test = _opening(whole.test, explanatory, outcome, alpha), whole.test
    if test is not None and varies(test, alpha):
        return f"{opening}: {_furthest_cell(whole)} {_surprise(test)}"
    said = opening
    if test is not None:
        said += f": chance alone often brings differences this wide ({test_in_words(test)})"
    if whole.cramers_v_ci is not None:
        said += (
            ". That does not show there is none: Cramér’s V may be as large as "
            f"{whole.cramers_v_ci[1]:.2f}"
        )
    return f"{said}.{_no_test(whole)}"


def _furthest_cell(whole: CrosstabTable) -> str:
    _, i, j = max(
        (abs(value), i, j)
        for i, row in enumerate(whole.adjusted_residuals)
        for j, value in enumerate(row)
    )
    row, column = whole.rows[i].label, whole.columns[j].label
    more = "more" if whole.adjusted_residuals[i][j] > 0 else "fewer"
    if whole.expected is not None:
        gap = count(round(abs(whole.expected.residuals[i][j])))
        return (
            f"{row} with {column} stands out most: {count(whole.counts[i][j])}, {gap} {more} than "
            "if the two were unrelated."
        )
    return (
        f"{row} with {column} stands out most: weighted, {percent(whole.share_within_row[i][j])} "
        f"of {row}, against {percent(whole.column_margin[j])} of all."
    )


def _with_limits(effect: Effect) -> str:
    if effect.estimate is None:
        return "not defined"
    if effect.ci is None:
        return f"{ratio(effect.estimate)}, without an interval"
    return f"{ratio(effect.estimate)} ({interval(effect.ci, ratio)})"


def _figures(whole: CrosstabTable, confidence: float) -> list[Figure]:
    figures = []
    if whole.test is not None:
        name = whole.test.name
        figures.append(figure_of_test(whole.test, f"{name[0].upper()}{name[1:]}"))
    v, ci = whole.cramers_v, whole.cramers_v_ci
    figures.append(
        Figure(
            label="Strength, Cramér’s V",
            value=f"{v:.2f}",
            detail=interval(ci, lambda x: f"{x:.2f}"),
            exact=f"V = {v!r}, {level(confidence)} CI {ci!r}",
        )
    )
    groups = whole.groups
    if groups is not None:
        far = groups.furthest
        pair = against(far.label, groups.reference_label)
        figures.append(ratio_figure(f"Odds ratio, {pair}", far.odds_ratio))
        if far.risk_ratio is not None:
            figures.append(ratio_figure("Ratio of shares, the same", far.risk_ratio))
    elif whole.ordered is not None and whole.ordered.value is not None:
        d = whole.ordered
        figures.append(
            Figure(
                label="Order, Somers’ d (outcome given group)",
                value=plain(d.value or 0.0, 2),
                detail=interval(d.ci, lambda x: plain(x, 2)),
                exact=f"{d.value!r}, {d.ci!r}",
            )
        )
    return figures


def ratio_figure(label: str, effect: Effect) -> Figure:
    if effect.estimate is None:
        return Figure(label=label, value="—", detail="not defined", exact="not defined")
    detail = interval(effect.ci, ratio)
    if effect.ci is None and effect.counted is not None:
        detail = "a cell is zero: no usual interval"
    exact = f"{effect.estimate!r}, {effect.ci!r}"
    return Figure(label=label, value=ratio(effect.estimate), detail=detail, exact=exact)


def _notes(work: CrosstabWork, whole: CrosstabTable) -> list[str]:
    notes = []
    if whole.groups is not None:
        notes.extend(odds_note(whole.groups))
    is_marked = any(mark for row in whole.marks for mark in row)
    departures = "adjusted residuals" if whole.weighted is None else "design-based departures"
    if is_marked:
        notes.append(
            f"▲ more and ▼ fewer than if the two were unrelated: {departures} that stand out "
            f"{ADJUSTED[whole.adjustment]}."
        )
    elif varies(whole.test, work.question.alpha):
        notes.append(
            "No single cell stands out once all cells are allowed for; the difference is spread."
        )
    if whole.weighted is not None:
        notes += notes_of_sample(work)
    notes.append(
        f"{level(work.question.confidence)} confidence intervals. Cramér’s V runs from 0 "
        f"(unrelated) to 1 ({work.pair.explanatory.variable.title} settles the answer); it has no "
        "direction."
    )
    return notes


def notes_of_sample(work: CrosstabWork) -> list[str]:
    sample = work.sampling.sample
    assert sample is not None
    return [
        f"Percentages are weighted, counts are those sampled; errors: {sample.errors} on "
        f"{count(sample.design_df)} design degrees of freedom. Weights correct the sample; they do "
        "not count people."
    ]


def odds_note(groups: Groups) -> list[str]:
    """An odds ratio read as a ratio of shares misleads where the event is common."""
    far = groups.furthest
    if far.risk_ratio is None:
        return [
            "Cases were sampled, so their share in a group has no meaning; the **odds** ratio has. "
            "Where the event is rare in the population, it is close to the ratio of risks."
        ]
    odds, risk = far.odds_ratio.estimate, far.risk_ratio.estimate
    if odds is None or risk is None or math.isinf(odds) or math.isinf(risk) or 0 in (odds, risk):
        return []
    pair = against(far.label, groups.reference_label)
    if max(groups.overall.share, *(g.share for g in groups.groups)) < COMMON:
        return [
            f"“{groups.event_label}” is rare, so the odds ratio ({ratio(odds)}, {pair}) is close "
            f"to the ratio of shares ({ratio(risk)})."
        ]
    return [
        f"“{groups.event_label}” is common, so the **odds** ratio ({ratio(odds)}, {pair}) is not "
        f"how many times as common it is: the **share** is {ratio(risk)} times as high."
    ]


def crosstab_write_up(work: CrosstabWork, results: CrosstabResults) -> str:
    """The sentence for the paper, in the usual scientific style."""
    text = _write_up_of_table(work, results.whole)
    return text + write_up_of_strata(results, work.pair.within, work.question.confidence)


def _write_up_of_table(work: CrosstabWork, whole: CrosstabTable) -> str:
    explanatory, outcome = work.pair.explanatory.variable, work.pair.outcome.variable
    at, test = f"{level(work.question.confidence)} CI", whole.test
    found = "was associated" if varies(test, work.question.alpha) else "was not clearly associated"
    tested = "without a test, as the design leaves no degree of freedom"
    if test is not None:
        tested = reported_test(test, whole.n)
    text = (
        f"{outcome.title} {found} with {mid_sentence(explanatory.title)}, {tested}, "
        f"Cramér’s V = {unit_in_print(whole.cramers_v)}"
    )
    if whole.cramers_v_ci is not None:
        text += f", {at} {interval_in_print(whole.cramers_v_ci, unit_in_print)}"
    text += "."
    if whole.groups is not None:
        text += _write_up_of_event(whole.groups, at, is_weighted=whole.weighted is not None)
    return text


def _write_up_of_event(groups: Groups, at: str, *, is_weighted: bool) -> str:
    far, base = groups.furthest, groups.base
    mine, odds = groups.group(far.value), far.odds_ratio
    gap = far.risk_difference
    if gap is None:
        if odds.ci is None or odds.estimate is None:
            return ""
        return (
            f" The odds ratio for “{groups.event_label}”, {against(far.label, base.label)}, was "
            f"{ratio(odds.estimate)}, {at} {interval_in_print(odds.ci, ratio)}."
        )
    weighted, sampled = ("weighted ", " sampled") if is_weighted else ("", "")
    text = (
        f" The {weighted}share of “{groups.event_label}” was {percent(mine.share)} "
        f"({count(mine.events)} of {count(mine.n)}{sampled}) with {far.label} and "
        f"{percent(base.share)} ({count(base.events)} of {count(base.n)}{sampled}) with {base.label}"
    )
    if odds.ci is not None and odds.estimate is not None:
        limits = interval_in_print(odds.ci, ratio)
        return f"{text} (odds ratio = {ratio(odds.estimate)}, {at} {limits})."
    if gap.ci is not None and gap.estimate is not None:
        limits = interval_in_print(gap.ci, points)
        return f"{text} (difference {points(gap.estimate)} percentage points, {at} {limits})."
    return f"{text}."


def moved(whole: CrosstabTable) -> str:
    """What the design moved most against counting each row once."""
    if whole.weighted is None:
        return ""
    changed = [
        (abs(cell.estimate - cell.unweighted), row, column, cell)
        for row, line in zip(whole.rows, whole.weighted.row_proportions, strict=True)
        for column, cell in zip(whole.columns, line, strict=True)
    ]
    gap, row, column, cell = max(changed, key=lambda each: each[0])
    if gap < MOVED_SHARE:
        return "The design hardly moves the percentages."
    return (
        f"The design moves “{column.label}” with {row.label} most, from "
        f"{percent(cell.unweighted)} to {percent(cell.estimate)}."
    )
