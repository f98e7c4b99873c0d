"""Shares in words: how much more common, where; direction always, p never alone."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.crosstab.results import Group, RatioResult
from hobrix.core.questions.proportions.options import ProportionOptions
from hobrix.core.questions.proportions.results import (
    AgainstReference,
    Proportions,
    ProportionsResults,
    Sentence,
)
from hobrix.core.questions.two_way import TwoWay
from hobrix.core.questions.wording import (
    count,
    p_equals,
    p_in_print,
    percent,
    points,
    ratio,
    statistic,
)


def furthest(whole: Proportions) -> tuple[AgainstReference, Group, Group]:
    """The comparison that differs most clearly from the reference, with both groups."""
    base = next(g for g in whole.groups if g.value == whole.reference)
    others = [g for g in whole.groups if g.value != whole.reference]
    far = max(others, key=lambda g: abs(g.share - base.share) * math.sqrt(g.n / (g.n + base.n)))
    return next(each for each in whole.comparisons if each.value == far.value), far, base


def overall_p(whole: Proportions) -> float:
    """p of all groups at once: exact where the table is small and sparse, else chi-square's."""
    if len(whole.groups) == 2:
        only = whole.comparisons[0]
        if only.is_sparse and only.fisher_p is not None:
            return only.fisher_p
    return whole.chi_square_homogeneity.p if whole.exact_p is None else whole.exact_p


def p_of(each: AgainstReference, options: ProportionOptions) -> float | None:
    """p for the alternative that was asked: exact where sparse, else the pooled z."""
    exact = {"two_sided": each.fisher_p, "less": each.fisher_less, "greater": each.fisher_greater}
    if each.is_sparse or each.z_test is None:
        return exact[options.alternative]
    z = each.z_test
    return {"two_sided": z.p_two_sided, "less": z.p_less, "greater": z.p_greater}[
        options.alternative
    ]


def proportion_reading(
    asked: TwoWay, results: ProportionsResults, options: ProportionOptions
) -> Reading:
    whole = results.whole
    each, far, base = furthest(whole)
    size = _size(each, whole)
    shown = f"{size} · {p_equals(overall_p(whole))}" if size else p_equals(overall_p(whole))
    return Reading(
        lead=_lead(asked, whole, each, far, base, options) + _pooled(results, each, base),
        headline=shown,
        figures=_figures(whole, each, base),
        notes=tuple(_notes(asked, results, each)),
        cells=(),
    )


def _size(each: AgainstReference, whole: Proportions) -> str:
    if whole.leading == "risk_difference" and each.risk_difference is not None:
        return f"{points(each.risk_difference.estimate)} points"
    found = each.risk_ratio if whole.leading == "risk_ratio" else each.odds_ratio
    name = "ratio" if whole.leading == "risk_ratio" else "OR"
    if found is None or found.estimate is None or math.isinf(found.estimate):
        return ""
    return f"{name} {ratio(found.estimate)}"


def _lead(
    asked: TwoWay,
    whole: Proportions,
    each: AgainstReference,
    far: Group,
    base: Group,
    options: ProportionOptions,
) -> str:
    title, p = asked.explanatory.variable.title, overall_p(whole)
    clear = p < 1 - asked.question.confidence
    event = f"“{whole.event_label}”"
    if whole.leading == "odds_ratio" or each.risk_difference is None:
        how = f"the odds of {event} have a ratio of **{_with_limits(each.odds_ratio)}**"
        start = f"{far.label} against {base.label}: {how}."
    else:
        low, high = each.risk_difference.newcombe_ci
        gap = each.risk_difference.estimate
        more = "more" if gap > 0 else "less"
        start = (
            f"{event} from {percent(far.share)} of {asked.counted.noun_many} with {far.label} and "
            f"{percent(base.share)} with {base.label}: **{points(abs(gap))} percentage points "
            f"{more}** ({points(low)} to {points(high)}, {far.label} minus {base.label})."
        )
        if whole.leading == "risk_ratio" and each.risk_ratio is not None:
            start += f" As a ratio: **{_with_limits(each.risk_ratio)}**."
    if clear:
        end = f" Differences this wide would be unusual if {title} made no difference ({p_equals(p)})."
    else:
        end = (
            f" **No clear difference** between the groups ({p_equals(p)}); that does not show "
            "there is none, as the interval tells."
        )
    if options.alternative != "two_sided" and (one := p_of(each, options)) is not None:
        side = "below" if options.alternative == "less" else "above"
        end += f" One-sided, {far.label} {side} {base.label}: {p_equals(one)}."
    trend = whole.cochran_armitage_trend
    if (
        trend is not None
        and len(whole.groups) > 2
        and trend.p_two_sided < 1 - asked.question.confidence
    ):
        way = "rises" if trend.statistic > 0 else "falls"
        end += f" The share **{way} along the order** of {title} ({p_equals(trend.p_two_sided)})."
    return start + end


def _pooled(results: ProportionsResults, each: AgainstReference, base: Group) -> str:
    """What is left within strata, in the measure that leads where it can be pooled."""
    pair = next((pair for pair in results.pooled if pair.value == each.value), None)
    if pair is None:
        return ""
    difference, odds = pair.mantel_haenszel_risk_difference, pair.mantel_haenszel_odds_ratio
    if difference is not None and results.whole.leading == "risk_difference":
        low, high = difference.sato.ci
        return (
            f" **Within strata**, pooled: {points(difference.estimate)} points "
            f"({points(low)} to {points(high)}, {each.label} minus {base.label})."
        )
    if odds is None:
        return ""
    low, high = odds.ci
    return f" **Within strata**, pooled: odds ratio {ratio(odds.estimate)} ({ratio(low)} to {ratio(high)})."


def _with_limits(found: RatioResult) -> str:
    if found.estimate is None:
        return "not defined"
    size = "∞" if math.isinf(found.estimate) else ratio(found.estimate)
    if found.ci is None:
        return f"{size}, without a usual interval"
    return f"{size} ({ratio(found.ci[0])} to {ratio(found.ci[1])})"


def _figures(whole: Proportions, each: AgainstReference, base: Group) -> tuple[Figure, ...]:
    pair = f"{each.label} against {base.label}"
    figures = []
    if each.risk_difference is not None:
        d = each.risk_difference
        figures.append(
            Figure(
                label=f"Difference, {each.label} minus {base.label}",
                value=f"{points(d.estimate)} points",
                detail=f"{points(d.newcombe_ci[0])} to {points(d.newcombe_ci[1])}",
                exact=f"{d.estimate!r}, {d.newcombe_ci[0]!r} to {d.newcombe_ci[1]!r}",
            )
        )
    for label, found in (
        ("Ratio of shares, the same", each.risk_ratio),
        (f"Odds ratio, {pair}" if not figures else "Odds ratio, the same", each.odds_ratio),
    ):
        if found is not None and found.estimate is not None:
            limits = "" if found.ci is None else f"{ratio(found.ci[0])} to {ratio(found.ci[1])}"
            value = "∞" if math.isinf(found.estimate) else ratio(found.estimate)
            figures.append(
                Figure(
                    label=label,
                    value=value,
                    detail=limits or "no usual interval",
                    exact=repr(found.estimate),
                )
            )
    test = whole.chi_square_homogeneity
    figures.append(
        Figure(
            label="All groups alike?",
            value=p_equals(overall_p(whole)),
            detail=f"χ² {statistic(test.statistic)}, df {test.df}"
            if whole.exact_p is None
            else "exact test",
            exact=f"χ² = {test.statistic!r}, p = {test.p!r}",
        )
    )
    return tuple(figures)


def _notes(asked: TwoWay, results: ProportionsResults, each: AgainstReference) -> list[str]:
    whole = results.whole
    notes = []
    misled = [each.label for each in whole.comparisons if each.overlap_misleads]
    if misled:
        notes.append(
            f"The intervals of {' and '.join(misled[:3])} and of {whole.reference_label} overlap, yet "
            "the interval of the **difference** leaves out 0: overlap does not show that there is none."
        )
    odds, risk = each.odds_ratio.estimate, each.risk_ratio.estimate if each.risk_ratio else None
    if odds and risk and math.isfinite(odds) and math.isfinite(risk) and whole.overall.share >= 0.1:
        notes.append(
            f"“{whole.event_label}” is common, so the **odds** ratio ({ratio(odds)}) is not how many "
            f"times as common it is: the **share** is {ratio(risk)} times as high."
        )
    departure = (
        whole.cochran_armitage_trend.departure_from_trend if whole.cochran_armitage_trend else None
    )
    if departure is not None and departure.p < 1 - asked.question.confidence:
        notes.append(f"A straight trend does not tell it all (departure, {p_equals(departure.p)}).")
    level = f"{100 * asked.question.confidence:g}%"
    notes.append(
        f"{level} intervals: of a difference Newcombe’s, of a ratio Katz’s, of odds Woolf’s; exact "
        "limits of the odds ratio where counts are small."
    )
    return notes


def proportion_statement(
    whole: Proportions, asked: TwoWay, options: ProportionOptions
) -> tuple[Sentence, ...]:
    """The hypothesis statement, line by line, for teaching and protocols."""
    each, far, base = furthest(whole)
    outcome, title = asked.outcome.variable.title, asked.explanatory.variable.title
    two = len(whole.groups) == 2 or options.alternative != "two_sided"
    event = f"“{whole.event_label}” ({outcome})"
    what = "odds" if whole.leading == "odds_ratio" else "share"
    if two:
        null = f"The {what} of {event} is the same with {far.label} as with {base.label}."
        side = {
            "two_sided": "differs between",
            "less": "is lower with",
            "greater": "is higher with",
        }
        joined = "and" if options.alternative == "two_sided" else "than with"
        other = (
            f"The {what} of {event} {side[options.alternative]} {far.label} {joined} {base.label}."
        )
        p = p_of(each, options)
        test = (
            "Fisher’s exact test"
            if each.is_sparse or each.z_test is None
            else "pooled z test of two shares"
        )
    else:
        null = f"The {what} of {event} is the same in every group of {title}."
        other = f"The {what} of {event} differs between at least two groups of {title}."
        p = overall_p(whole)
        test = (
            "exact test of the table"
            if whole.exact_p is not None
            else "chi-square test of homogeneity"
        )
    alpha = 1 - asked.question.confidence
    why = (
        "because expected counts are small"
        if "xact" in test
        else "because the groups are independent and expected counts are large enough"
    )
    rejected = p is not None and p < alpha
    decision = (
        "There is no p to decide by."
        if p is None
        else f"{'Reject' if rejected else 'Do not reject'} the null hypothesis at the {100 * alpha:.4g}% level."
    )
    estimate = _size(each, whole) or "not defined"
    conclusion = (
        f"The data speak for it: {other[0].lower()}{other[1:]}"
        if rejected
        else "The data do not show a difference; that is not the same as showing there is none."
    )
    return (
        Sentence(heading="Null hypothesis", text=null),
        Sentence(heading="Alternative", text=other),
        Sentence(
            heading="Data",
            text=f"Yes or no for each of {count(whole.overall.n)} {asked.counted.noun_many}, in "
            f"{len(whole.groups)} independent groups.",
        ),
        Sentence(heading="Test", text=f"{test[0].upper()}{test[1:]}, {why}."),
        Sentence(heading="Estimate", text=f"{far.label} against {base.label}: {estimate}."),
        Sentence(heading="p", text="not defined" if p is None else p_equals(p)),
        Sentence(heading="Decision", text=decision),
        Sentence(heading="Conclusion", text=conclusion),
    )


def proportion_write_up(asked: TwoWay, results: ProportionsResults) -> str:
    """The sentence for the paper."""
    whole = results.whole
    each, far, base = furthest(whole)
    level = f"{100 * asked.question.confidence:g}% CI"
    p = p_in_print(overall_p(whole))

    def shown(group: Group) -> str:
        low, high = group.share_ci
        return (
            f"{percent(group.share)} ({count(group.events)} of {count(group.n)}; {level} "
            f"[{100 * low:.1f}, {100 * high:.1f}]) with {group.label}"
        )

    if whole.leading == "odds_ratio":
        text = (
            f"The odds ratio for “{whole.event_label}”, {far.label} against {base.label}, was "
            f"{_with_limits(each.odds_ratio)}"
        )
    else:
        text = f"“{whole.event_label}” was given by {shown(far)} and {shown(base)}"
        if each.risk_difference is not None:
            low, high = each.risk_difference.newcombe_ci
            text += (
                f" (difference {points(each.risk_difference.estimate)} percentage points, {level} "
                f"[{points(low)}, {points(high)}])"
            )
    test = whole.chi_square_homogeneity
    if whole.exact_p is None:
        text += f"; χ²({test.df}, N = {count(whole.overall.n)}) = {statistic(test.statistic)}, {p}."
    else:
        text += f"; exact test, {p}."
    pair = next((pair for pair in results.pooled if pair.value == each.value), None)
    if pair is not None and pair.mantel_haenszel_odds_ratio is not None:
        found = pair.mantel_haenszel_odds_ratio
        text += (
            f" Pooled over strata (Mantel–Haenszel) the odds ratio was {ratio(found.estimate)}, "
            f"{level} [{ratio(found.ci[0])}, {ratio(found.ci[1])}]."
        )
    return text
