"""The cross-tabulation in words: effect first, direction always, p never alone."""

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
from hobrix.core.questions.pair_checks import told_first
from hobrix.core.questions.picked import (
    among,
    exact_note,
    limits_label,
    odds_figure,
    odds_in_words,
    odds_limits,
    odds_note,
    pair_label,
    rare_note,
    still_possible,
    those,
)
from hobrix.core.questions.thresholds import MOVED_SHARE
from hobrix.core.questions.wording import (
    against,
    count,
    figure_of_test,
    how_often,
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
NO_TEST = "The design leaves no degree of freedom for a test."


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
    test = whole.leading_test
    strength = f"V {plain(whole.cramers_v, 2)}"
    if whole.groups is not None and whole.groups.shares_have_meaning and len(whole.columns) > 2:
        shares = [group.share for group in whole.groups.groups]
        strength = f"{percent(min(shares))} to {percent(max(shares))}"
    return Reading(
        lead=lead,
        headline=strength if test is None else f"{strength} · {p_equals(test.p)}",
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


def _by_chance(test: NamedTest) -> str:
    return (
        f"Differences at least this wide come about {how_often(test.p)} if the two are unrelated "
        f"({test_in_words(test)})"
    )


def _lead_of_event(work: CrosstabWork, whole: CrosstabTable, groups: Groups) -> str:
    """The event against all other answers; the whole table comes second."""
    explanatory = work.pair.explanatory.variable
    alpha, test = work.question.alpha, whole.leading_test
    what = f"“{groups.event_label}” ({work.pair.outcome.variable.title})"
    if test is None:
        sizes = _pair_in_words(work, whole, groups)
        return f"{what} by {explanatory.title}: {sizes}. {NO_TEST}"
    if varies(test, alpha):
        said = (
            f"{what} **varies with {explanatory.title}**: {_pair_in_words(work, whole, groups)}. "
        )
        said += _surprise(test)
    else:
        said = f"**No clear sign** that {what} varies with {explanatory.title}"
        if groups.many == 1:
            said += f": {_pair_in_words(work, whole, groups)}"
        possible = still_possible(
            groups, is_told=not groups.shares_have_meaning, as_odds=not groups.shares_have_meaning
        )
        said += f". {_by_chance(test)}. {possible}"
    return said + _whole_table(work, whole)


def _pair_in_words(work: CrosstabWork, whole: CrosstabTable, groups: Groups) -> str:
    """The reference and the group that differs most, and out of how many it was picked."""
    far, base = groups.clearest, groups.base
    if not groups.shares_have_meaning:
        return (
            f"its odds, {against(far.label, base.label)}{among(groups) or ','} have a ratio of "
            f"**{odds_in_words(groups)}**"
        )
    mine, (there, here) = groups.group(far.value), those(groups)
    weighted = "weighted, " if whole.weighted is not None else ""
    return (
        f"{weighted}{percent(mine.share)} of {work.pair.counted.noun_many} {there}{among(groups) or ','} "
        f"against {percent(base.share)} {here}"
    )


def _whole_table(work: CrosstabWork, whole: CrosstabTable) -> str:
    """With three answers or more: whether the others move as well."""
    test = whole.test
    if len(whole.columns) == 2 or test is None:
        return ""
    title = work.pair.outcome.variable.title
    if varies(test, work.question.alpha):
        return (
            f" Taking all {len(whole.columns)} answers, {title} varies too ({test_in_words(test)})."
        )
    return (
        f" Taking all {len(whole.columns)} answers, there is no clear sign that {title} varies "
        f"({test_in_words(test)})."
    )


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
    test = whole.test
    if test is None:
        return f"{outcome.title} by {explanatory.title}: {_clearest_cell(whole)} {NO_TEST}"
    if varies(test, alpha):
        return (
            f"{outcome.title} **varies with {explanatory.title}**: {_clearest_cell(whole)} "
            f"{_surprise(test)}"
        )
    said = (
        f"**No clear sign** that {outcome.title} varies with {explanatory.title}. "
        f"{_by_chance(test)}."
    )
    if whole.strength_ci is not None:
        said += (
            " That does not show there is none: Cramér’s V may be as large as "
            f"{plain(whole.strength_ci[1], 2)}."
        )
    return said


def _clearest_cell(whole: CrosstabTable) -> str:
    _, i, j = max(
        (round(abs(value), 9), i, j)
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


def _figures(whole: CrosstabTable, confidence: float) -> list[Figure]:
    figures = []
    if (test := whole.leading_test) is not None:
        figures.append(figure_of_test(test, f"{test.name[0].upper()}{test.name[1:]}"))
    v, ci = whole.cramers_v, whole.strength_ci
    figures.append(
        Figure(
            label="Strength, Cramér’s V",
            value=plain(v, 2),
            detail=interval(ci, lambda x: plain(x, 2)),
            exact=f"V = {v!r}, {level(confidence)} CI {ci!r}",
        )
    )
    groups = whole.groups
    if groups is not None:
        far = groups.clearest
        pair = pair_label(groups, is_clear=varies(whole.leading_test, 1 - confidence))
        figures.append(odds_figure(groups, f"Odds ratio, {pair}"))
        if far.risk_ratio is not None:
            figures.append(_ratio_of_shares(far.risk_ratio, limits_label(groups)))
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


def _ratio_of_shares(found: Effect, allowed: str) -> Figure:
    label = "Ratio of shares, the same"
    if found.estimate is None:
        return Figure(label=label, value="—", detail="not defined", exact="not defined")
    detail = "no usual interval" if found.ci is None else interval(found.ci, ratio) + allowed
    exact = f"{found.estimate!r}, {found.ci!r}"
    return Figure(label=label, value=ratio(found.estimate), detail=detail, exact=exact)


def _notes(work: CrosstabWork, whole: CrosstabTable) -> list[str]:
    notes = []
    if whole.groups is not None:
        notes += odds_note(whole.groups) + exact_note(whole.groups) + rare_note(whole.groups)
    notes += told_first(work.pair, "the lines under the table")
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
        f"Percentages are weighted, counts are those sampled; {sample.errors} on "
        f"{count(sample.design_df)} design degrees of freedom. Weights correct the sample; they do "
        "not count people."
    ]


def crosstab_write_up(work: CrosstabWork, results: CrosstabResults) -> str:
    """The sentence for the paper, in the usual scientific style."""
    text = _write_up_of_table(work, results.whole)
    return text + write_up_of_strata(results, work.pair.within, work.question.confidence)


def _write_up_of_table(work: CrosstabWork, whole: CrosstabTable) -> str:
    explanatory, outcome = work.pair.explanatory.variable, work.pair.outcome.variable
    at, groups = f"{level(work.question.confidence)} CI", whole.groups
    what = outcome.title if groups is None else f"“{groups.event_label}” ({outcome.title})"
    text = _associated(work, what, mid_sentence(explanatory.title), whole.leading_test, whole.n)
    if groups is not None and len(whole.columns) > 2:
        text += _write_up_of_event(groups, at, is_weighted=whole.weighted is not None)
        title = (
            f"{outcome.title[0].upper()}{outcome.title[1:]} with all {len(whole.columns)} answers"
        )
        text += f" {_associated(work, title, mid_sentence(explanatory.title), whole.test, whole.n)}"
    strength = f"Cramér’s V = {unit_in_print(whole.cramers_v)}"
    if whole.strength_ci is not None:
        strength += f", {at} {interval_in_print(whole.strength_ci, unit_in_print)}"
    text = f"{text.removesuffix('.')}; {strength}."
    if groups is not None and len(whole.columns) == 2:
        text += _write_up_of_event(groups, at, is_weighted=whole.weighted is not None)
    return text


def _associated(
    work: CrosstabWork, what: str, explanatory: str, test: NamedTest | None, n: float
) -> str:
    if test is None:
        tested = "without a test, as the design leaves no degree of freedom"
        return f"{what} by {explanatory} is shown {tested}."
    found = "was associated" if varies(test, work.question.alpha) else "was not clearly associated"
    return f"{what} {found} with {explanatory}, {reported_test(test, n)}."


def _write_up_of_event(groups: Groups, at: str, *, is_weighted: bool) -> str:
    far, base = groups.clearest, groups.base
    mine, odds, allowed = groups.group(far.value), far.odds_ratio, limits_label(groups)
    gap = far.risk_difference
    limits = odds_limits(groups)
    told = ""
    if limits is not None and odds.estimate is not None:
        exact = "exact " if groups.exact_odds_ratio_ci is not None else ""
        told = f"{ratio(odds.estimate)}, {exact}{at} {interval_in_print(limits, ratio)}{allowed}"
    if gap is None:
        what = f"“{groups.event_label}”, {against(far.label, base.label)}{among(groups) or ','}"
        return f" The odds ratio for {what} was {told}." if told else ""
    there, here = those(groups)
    weighted, sampled = ("weighted ", " sampled") if is_weighted else ("", "")
    text = (
        f" The {weighted}share of “{groups.event_label}” was {percent(mine.share)} "
        f"({count(mine.events)} of {count(mine.n)}{sampled}) {there}{among(groups)} and "
        f"{percent(base.share)} ({count(base.events)} of {count(base.n)}{sampled}) {here}"
    )
    if told:
        return f"{text} (odds ratio = {told})."
    if gap.ci is not None and gap.estimate is not None:
        ci = interval_in_print(gap.ci, points)
        return f"{text} (difference {points(gap.estimate)} percentage points, {at} {ci}{allowed})."
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
    gap, row, column, cell = max(changed, key=lambda each: round(each[0], 9))
    if gap < MOVED_SHARE:
        return "The design hardly moves the percentages."
    return (
        f"The design moves “{column.label}” with {row.label} most, from "
        f"{percent(cell.unweighted)} to {percent(cell.estimate)}."
    )
