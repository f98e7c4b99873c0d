"""The cross-tabulation in words: effect first, direction always, p never alone."""

import math
from collections.abc import Sequence

from hobrix.core.data import Variable
from hobrix.core.questions.answer import Counted, Figure, Reading
from hobrix.core.questions.crosstab.reading_cells import MARKED, cells, ranked
from hobrix.core.questions.crosstab.reading_strata import (
    lead_of_strata,
    notes_of_strata,
    write_up_of_strata,
)
from hobrix.core.questions.crosstab.results import (
    Comparison,
    CrosstabResults,
    CrosstabTable,
    EventByGroup,
    Group,
    MeasureResult,
    RatioResult,
)
from hobrix.core.questions.wording import (
    count,
    p_equals,
    p_in_print,
    percent,
    points,
    ratio,
    statistic,
    unit_in_print,
)

ADJUSTED = {
    "holm": "with all cells allowed for (Holm, 5%)",
    "bonferroni": "with all cells allowed for (Bonferroni, 5%)",
    "benjamini_hochberg": "at a false discovery rate of 5% (Benjamini–Hochberg)",
    "none": "one by one (5%, cells not allowed for)",
}


def crosstab_reading(
    results: CrosstabResults,
    explanatory: Variable,
    outcome: Variable,
    counted: Counted,
    confidence: float,
    within: str = "",
) -> Reading:
    """Lead, headline figures, notes and one sentence per cell. ``within`` names the strata."""
    whole = results.whole
    clear = whole.chi_square.pearson.p < 1 - confidence
    by_group = whole.event_by_group
    if by_group is None:
        lead = _lead_of_table(whole, explanatory, outcome, clear)
        lead += _lead_of_order(whole, explanatory, outcome, confidence)
    else:
        lead = _lead_of_event(whole, by_group, explanatory, outcome, counted, clear)
    far = furthest(by_group).value if by_group else ""
    lead += lead_of_strata(results, far, within, confidence)
    return Reading(
        lead=lead,
        headline=f"V {whole.association.cramers_v:.2f} · {p_equals(whole.chi_square.pearson.p)}",
        figures=_figures(whole, by_group, confidence),
        notes=(
            *_notes(whole, by_group, explanatory, clear, confidence),
            *notes_of_strata(results),
        ),
        ranked=ranked(whole),
        cells=cells(whole, explanatory),
    )


def furthest(by_group: EventByGroup) -> Group:
    """The group that differs most clearly from the reference.

    The difference in shares is weighed by the sizes of both groups (as in the pooled z), so
    that a handful of cases does not make the headline.
    """
    base = next(g for g in by_group.groups if g.value == by_group.reference)
    others = [g for g in by_group.groups if g.value != by_group.reference]
    return max(others, key=lambda g: abs(g.share - base.share) * math.sqrt(g.n / (g.n + base.n)))


def comparison_with(by_group: EventByGroup, value: str) -> Comparison:
    return next(c for c in by_group.comparisons if c.value == value)


def _surprise(whole: CrosstabTable, explanatory: Variable) -> str:
    p = whole.chi_square.pearson.p
    how = "very unusual" if p < 0.001 else "unusual" if p < 0.01 else "somewhat unusual"
    return f"Differences this wide would be {how} if {explanatory.title} made no difference ({p_equals(p)})."


def _lead_of_event(
    whole: CrosstabTable,
    by_group: EventByGroup,
    explanatory: Variable,
    outcome: Variable,
    counted: Counted,
    clear: bool,
) -> str:
    base = next(g for g in by_group.groups if g.value == by_group.reference)
    far = furthest(by_group)
    if not by_group.shares_have_meaning:
        return _lead_of_odds(whole, by_group, explanatory, outcome, clear)
    shares = (
        f"“{by_group.event_label}” from {percent(far.share)} of {counted.noun_many} with "
        f"{far.label}, against {percent(base.share)} with {base.label}."
    )
    if clear:
        return (
            f"{outcome.title} **varies with {explanatory.title}**: {shares} "
            f"{_surprise(whole, explanatory)}"
        )
    difference = comparison_with(by_group, far.value).risk_difference
    assert difference is not None
    low, high = difference.newcombe_ci
    return (
        f"**No clear sign** that {outcome.title} varies with {explanatory.title}: {shares} "
        f"Chance alone often brings differences this wide ({p_equals(whole.chi_square.pearson.p)}). "
        f"That does not show there is none: {far.label} minus {base.label} may lie anywhere from "
        f"{points(low)} to {points(high)} percentage points."
    )


def _lead_of_order(
    whole: CrosstabTable, explanatory: Variable, outcome: Variable, confidence: float
) -> str:
    """Two ordered variables can lean with each other where no single cell stands out."""
    trend, d = whole.chi_square.linear_by_linear, whole.association.somers_d_column_given_row
    if whole.association.leading == "cramers_v" or trend is None or d is None or d.ci is None:
        return ""
    if trend.p >= 1 - confidence:
        return f" Nor do they clearly lean with each other’s order ({p_equals(trend.p)})."
    way = "later" if d.value > 0 else "earlier"
    return (
        f" Taken in order, later answers to {explanatory.title} **go with {way} answers** to "
        f"{outcome.title} ({p_equals(trend.p)}, linear-by-linear test)."
    )


def _lead_of_odds(
    whole: CrosstabTable,
    by_group: EventByGroup,
    explanatory: Variable,
    outcome: Variable,
    clear: bool,
) -> str:
    """Where cases were sampled, their share says nothing: odds are compared."""
    odds = comparison_with(by_group, furthest(by_group).value).odds_ratio
    pair = f"{furthest(by_group).label} against {by_group.reference_label}"
    size = "not defined" if odds.estimate is None else ratio(odds.estimate)
    limits = "" if odds.ci is None else f" ({ratio(odds.ci[0])} to {ratio(odds.ci[1])})"
    what = f"the odds of “{by_group.event_label}”, {pair}, have a ratio of **{size}**{limits}"
    if clear:
        return (
            f"{outcome.title} **varies with {explanatory.title}**: {what}. "
            f"{_surprise(whole, explanatory)}"
        )
    return (
        f"**No clear sign** that {outcome.title} varies with {explanatory.title} "
        f"({p_equals(whole.chi_square.pearson.p)}): {what}. That does not show there is none."
    )


def _lead_of_table(
    whole: CrosstabTable, explanatory: Variable, outcome: Variable, clear: bool
) -> str:
    cells = [
        (abs(value), i, j)
        for i, row in enumerate(whole.adjusted_residuals)
        for j, value in enumerate(row)
    ]
    _, i, j = max(cells)
    more = "more" if whole.residuals[i][j] > 0 else "fewer"
    gap = count(round(abs(whole.residuals[i][j])))
    cell = (
        f"{whole.rows[i].label} with {whole.columns[j].label} stands out most: "
        f"{count(whole.counts[i][j])}, {gap} {more} than if the two were unrelated."
    )
    v = whole.association
    if clear:
        return f"{outcome.title} **varies with {explanatory.title}**: {cell} {_surprise(whole, explanatory)}"
    return (
        f"**No clear sign** that {outcome.title} varies with {explanatory.title}: chance alone "
        f"often brings differences this wide ({p_equals(whole.chi_square.pearson.p)}). That does "
        f"not show there is none: Cramér’s V may be as large as {v.cramers_v_ci[1]:.2f}."
    )


def _figures(
    whole: CrosstabTable, by_group: EventByGroup | None, confidence: float
) -> tuple[Figure, ...]:
    pearson, v = whole.chi_square.pearson, whole.association
    figures = [
        Figure(
            label="Chi-square test",
            value=statistic(pearson.statistic),
            detail=f"df {pearson.df}, {p_equals(pearson.p)}",
            exact=f"χ² = {pearson.statistic!r}, p = {pearson.p!r}",
        ),
        Figure(
            label="Strength, Cramér’s V",
            value=f"{v.cramers_v:.2f}",
            detail=f"{v.cramers_v_ci[0]:.2f} to {v.cramers_v_ci[1]:.2f}",
            exact=f"V = {v.cramers_v!r}, {100 * confidence:g}% CI {v.cramers_v_ci[0]!r} to {v.cramers_v_ci[1]!r}",
        ),
    ]
    if by_group is not None:
        far = comparison_with(by_group, furthest(by_group).value)
        pair = f"{far.label} against {by_group.reference_label}"
        figures.append(_ratio_figure(f"Odds ratio, {pair}", far.odds_ratio))
        if far.risk_ratio is not None:
            figures.append(_ratio_figure("Ratio of shares, the same", far.risk_ratio))
    elif whole.association.leading != "cramers_v":
        figures.append(_leading_figure(whole))
    return tuple(figures)


def _leading_figure(whole: CrosstabTable) -> Figure:
    """The measure that suits two ordered variables."""
    found: MeasureResult | None = getattr(whole.association, whole.association.leading)
    label = "Order, Somers’ d (outcome given group)"
    if found is None or found.ci is None:
        return Figure(label=label, value="—", detail="not defined", exact="not defined")
    low, high = found.ci
    return Figure(
        label=label,
        value=f"{found.value:.2f}".replace("-", "−"),
        detail=f"{low:.2f} to {high:.2f}".replace("-", "−"),
        exact=f"{found.value!r}, {low!r} to {high!r}",
    )


def _ratio_figure(label: str, result: RatioResult) -> Figure:
    if result.estimate is None:
        return Figure(label=label, value="—", detail="not defined", exact="not defined")
    value = "∞" if math.isinf(result.estimate) else ratio(result.estimate)
    detail = "a cell is zero: no usual interval"
    exact = repr(result.estimate)
    if result.ci is not None:
        detail = f"{ratio(result.ci[0])} to {ratio(result.ci[1])}"
        exact += f", {result.ci[0]!r} to {result.ci[1]!r}"
    return Figure(label=label, value=value, detail=detail, exact=exact)


def _notes(
    whole: CrosstabTable,
    by_group: EventByGroup | None,
    explanatory: Variable,
    clear: bool,
    confidence: float,
) -> list[str]:
    notes = []
    if by_group is not None:
        notes.extend(_odds_note(by_group))
    marked = sum(p < MARKED for row in whole.adjusted_residuals_p_adjusted for p in row)
    if marked:
        notes.append(
            f"▲ more and ▼ fewer than if the two were unrelated: adjusted residuals that stand "
            f"out {ADJUSTED[whole.adjustment]}."
        )
    elif clear:
        notes.append(
            "No single cell stands out once all cells are allowed for; the difference is spread."
        )
    notes.append(
        f"{100 * confidence:g}% confidence intervals. Cramér’s V runs from 0 (unrelated) to 1 "
        f"({explanatory.title} settles the answer); it has no direction."
    )
    return notes


def _odds_note(by_group: EventByGroup) -> list[str]:
    """An odds ratio read as a ratio of shares misleads where the event is common."""
    far = comparison_with(by_group, furthest(by_group).value)
    if far.risk_ratio is None:
        return [
            "Cases were sampled, so their share in a group has no meaning; the **odds** ratio has. "
            "Where the event is rare in the population, it is close to the ratio of risks."
        ]
    odds, risk = far.odds_ratio.estimate, far.risk_ratio.estimate
    if odds is None or risk is None or math.isinf(odds) or math.isinf(risk) or 0 in (odds, risk):
        return []
    pair = f"{far.label} against {by_group.reference_label}"
    if max(by_group.share, *(g.share for g in by_group.groups)) < 0.1:
        return [
            f"“{by_group.event_label}” is rare, so the odds ratio ({ratio(odds)}, {pair}) is close "
            f"to the ratio of shares ({ratio(risk)})."
        ]
    return [
        f"“{by_group.event_label}” is common, so the **odds** ratio ({ratio(odds)}, {pair}) is not "
        f"how many times as common it is: the **share** is {ratio(risk)} times as high."
    ]


def crosstab_write_up(
    results: CrosstabResults,
    explanatory: Variable,
    outcome: Variable,
    confidence: float,
    within: Sequence[Variable] = (),
) -> str:
    """The sentence for the paper, in the usual scientific style."""
    whole = results.whole
    text = _write_up_of_table(whole, explanatory, outcome, confidence)
    if whole.event_by_group is not None:
        value = furthest(whole.event_by_group).value
        text += write_up_of_strata(results, value, list(within), confidence)
    return text


def _write_up_of_table(
    whole: CrosstabTable, explanatory: Variable, outcome: Variable, confidence: float
) -> str:
    pearson, v = whole.chi_square.pearson, whole.association
    level = f"{100 * confidence:g}% CI"
    found = "was associated" if pearson.p < 1 - confidence else "was not clearly associated"
    low, high = v.cramers_v_ci
    text = (
        f"{outcome.title} {found} with {_mid_sentence(explanatory.title)}, "
        f"χ²({pearson.df}, N = {count(whole.n)}) = {statistic(pearson.statistic)}, "
        f"{p_in_print(pearson.p)}, Cramér’s V = {unit_in_print(v.cramers_v)}, "
        f"{level} [{unit_in_print(low)}, {unit_in_print(high)}]."
    )
    if whole.exact is not None:
        drawn = "" if whole.exact.draws is None else f", {count(whole.exact.draws)} draws"
        text += (
            f" Fisher–Freeman–Halton exact test{drawn}: "
            f"{p_in_print(whole.exact.fisher_freeman_halton_p)}."
        )
    by_group = whole.event_by_group
    if by_group is None:
        return text
    far = furthest(by_group)
    base = next(g for g in by_group.groups if g.value == by_group.reference)
    comparison = comparison_with(by_group, far.value)
    if comparison.risk_difference is None:
        odds = comparison.odds_ratio
        if odds.ci is None or odds.estimate is None:
            return text
        return text + (
            f" The odds ratio for “{by_group.event_label}”, {far.label} against {base.label}, was "
            f"{ratio(odds.estimate)}, {level} [{ratio(odds.ci[0])}, {ratio(odds.ci[1])}]."
        )
    text += (
        f" “{by_group.event_label}” was given by {percent(far.share)} ({count(far.events)} of "
        f"{count(far.n)}) with {far.label} and {percent(base.share)} ({count(base.events)} of "
        f"{count(base.n)}) with {base.label}"
    )
    odds = comparison.odds_ratio
    if odds.ci is None or odds.estimate is None:
        low, high = comparison.risk_difference.newcombe_ci
        return text + (
            f" (difference {points(comparison.risk_difference.estimate)} percentage points, "
            f"{level} [{points(low)}, {points(high)}])."
        )
    return text + (
        f" (odds ratio = {ratio(odds.estimate)}, {level} [{ratio(odds.ci[0])}, {ratio(odds.ci[1])}])."
    )


def _mid_sentence(title: str) -> str:
    """“Water source” -> “water source”; names in capitals (GPS, WHO) and proper nouns stay."""
    first = title.split(" ", 1)[0]
    return title[0].lower() + title[1:] if " " in title and first[1:].islower() else title
