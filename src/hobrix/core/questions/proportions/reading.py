"""Shares in words: how much more common, where; direction always, p never alone."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.estimates import Against, Effect, Share
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.thresholds import COMMON, MOVED_SHARE
from hobrix.core.questions.wording import (
    against,
    count,
    figure_of_test,
    interval,
    interval_in_print,
    level,
    listed,
    p_equals,
    percent,
    points,
    ratio,
    reported_test,
    test_in_words,
)


def proportion_reading(work: ProportionsWork, results: ProportionsResults) -> Reading:
    far, test = work.groups.furthest, results.test
    parts = [size_of(work, far), "" if test is None else p_equals(test.p)]
    return Reading(
        lead=_lead(work, results, far) + _pooled(work, results, far),
        headline=" · ".join(part for part in parts if part) or percent(work.groups.overall.share),
        figures=tuple(_figures(work, results, far)),
        notes=tuple(_notes(work, results, far)),
    )


def size_of(work: ProportionsWork, each: Against) -> str:
    """How far apart, in the measure that leads."""
    gap = each.risk_difference
    if work.leading == "risk_difference" and gap is not None and gap.estimate is not None:
        return f"{points(gap.estimate)} points"
    found = each.risk_ratio if work.leading == "risk_ratio" else each.odds_ratio
    name = "ratio" if work.leading == "risk_ratio" else "OR"
    if found is None or found.estimate is None or math.isinf(found.estimate):
        return ""
    return f"{name} {ratio(found.estimate)}"


def _lead(work: ProportionsWork, results: ProportionsResults, far: Against) -> str:
    groups, base = work.groups, work.groups.base
    mine, gap = groups.group(far.value), far.risk_difference
    title, test = work.pair.explanatory.variable.title, results.test
    event = f"“{groups.event_label}”"
    if work.leading == "odds_ratio" or gap is None or gap.estimate is None:
        how = f"the odds of {event} have a ratio of **{_with_limits(far.odds_ratio)}**"
        said = f"{against(far.label, base.label)}: {how}."
    else:
        more = "more" if gap.estimate > 0 else "less"
        weighted = "Weighted, " if work.question.is_designed else ""
        said = (
            f"{weighted}{event} in {percent(mine.share)} of {work.pair.counted.noun_many} with "
            f"{far.label} and {percent(base.share)} with {base.label}: "
            f"**{points(abs(gap.estimate))} percentage points {more}** "
            f"({interval(gap.ci, points)}, {against(far.label, base.label, 'minus')})."
        )
        if work.leading == "risk_ratio" and far.risk_ratio is not None:
            said += f" As a ratio: **{_with_limits(far.risk_ratio)}**."
    if test is None:
        said += " The design leaves no degree of freedom for a test."
    elif test.p < work.question.alpha:
        said += (
            " Differences this wide would be unusual if the two were unrelated "
            f"({test_in_words(test)})."
        )
    else:
        said += (
            f" **No clear difference** between the groups ({test_in_words(test)}); that does not "
            "show there is none, as the interval tells."
        )
    if (one := results.one_sided) is not None:
        side = "below" if work.options.alternative == "less" else "above"
        said += f" One-sided, {far.label} {side} {base.label}: {test_in_words(one)}."
    trend = results.trend
    if trend is not None and trend.test.p < work.question.alpha:
        way = "rises" if trend.rises else "falls"
        step = ""
        if trend.per_step is not None:
            step = f"odds ratio per step {ratio(trend.per_step.odds_ratio)}, "
        said += (
            f" The share **{way} along the order** of {title} ({step}{test_in_words(trend.test)})."
        )
    return said


def _pooled(work: ProportionsWork, results: ProportionsResults, far: Against) -> str:
    """What is left within strata, in the measure that leads where it can be pooled."""
    if results.strata and work.question.is_designed:
        return _of_weighted_strata(work, results)
    pair = next((pair for pair in results.pooled if pair.value == far.value), None)
    if pair is None:
        return ""
    difference, odds = pair.mantel_haenszel_risk_difference, pair.mantel_haenszel_odds_ratio
    if difference is not None and work.leading == "risk_difference":
        return (
            f" **Within strata**, pooled: {points(difference.estimate)} points "
            f"({interval(difference.sato.ci, points)}, {far.label} minus "
            f"{work.groups.reference_label})."
        )
    if odds is None:
        return ""
    return (
        f" **Within strata**, pooled: odds ratio {ratio(odds.estimate)} "
        f"({interval(odds.ci, ratio)})."
    )


def _of_weighted_strata(work: ProportionsWork, results: ProportionsResults) -> str:
    tested = [stratum for stratum in results.strata if stratum.test is not None]
    if not tested:
        return ""
    clear = [s.label for s in tested if s.test and s.test.p < work.question.alpha]
    within = listed([variable.title for variable in work.pair.within])
    many = f"{len(clear)} of {len(tested)} strata" if clear else "no stratum"
    return f" **Within each {within}**, looked at one by one, groups differ clearly in {many}."


def _with_limits(found: Effect) -> str:
    if found.estimate is None:
        return "not defined"
    if found.ci is None:
        return f"{ratio(found.estimate)}, without a usual interval"
    return f"{ratio(found.estimate)} ({interval(found.ci, ratio)})"


def _figures(work: ProportionsWork, results: ProportionsResults, far: Against) -> list[Figure]:
    base = work.groups.base
    figures = []
    gap = far.risk_difference
    if gap is not None and gap.estimate is not None:
        figures.append(
            Figure(
                label=f"Difference, {against(far.label, base.label, 'minus')}",
                value=f"{points(gap.estimate)} points",
                detail=interval(gap.ci, points),
                exact=f"{gap.estimate!r}, {gap.ci!r}",
            )
        )
    pair = against(far.label, base.label)
    for label, found in (
        ("Ratio of shares, the same", far.risk_ratio),
        (f"Odds ratio, {pair}" if not figures else "Odds ratio, the same", far.odds_ratio),
    ):
        if found is not None and found.estimate is not None:
            figures.append(
                Figure(
                    label=label,
                    value=ratio(found.estimate),
                    detail=interval(found.ci, ratio) if found.ci else "no usual interval",
                    exact=f"{found.estimate!r}, {found.ci!r}",
                )
            )
    if results.test is not None:
        figures.append(figure_of_test(results.test, "All groups alike?"))
    return figures


def _notes(work: ProportionsWork, results: ProportionsResults, far: Against) -> list[str]:
    groups = work.groups
    labels = {each.value: each.label for each in groups.comparisons}
    notes = []
    misled = [labels[each.value] for each in results.closer if each.overlap_misleads]
    if misled:
        notes.append(
            f"The intervals of {listed(misled[:3])} and of {groups.reference_label} overlap, yet "
            "the interval of the **difference** leaves out 0: overlap does not show that there is "
            "none."
        )
    odds = far.odds_ratio.estimate
    risk = far.risk_ratio.estimate if far.risk_ratio else None
    is_common = groups.overall.share >= COMMON
    if is_common and odds and risk and math.isfinite(odds) and math.isfinite(risk):
        notes.append(
            f"“{groups.event_label}” is common, so the **odds** ratio ({ratio(odds)}) is not how "
            f"many times as common it is: the **share** is {ratio(risk)} times as high."
        )
    trend = results.trend
    if trend and trend.departure and trend.departure.p < work.question.alpha:
        p = p_equals(trend.departure.p)
        notes.append(f"A straight trend does not tell it all (departure, {p}).")
    at, sample = level(work.question.confidence), work.sampling.sample
    if sample is None:
        notes.append(
            f"{at} intervals: of a difference Newcombe’s, of a ratio Katz’s, of odds Woolf’s; exact "
            "limits of the odds ratio where counts are small."
        )
    else:
        notes.append(
            f"{at} intervals with {sample.errors} on {count(sample.design_df)} design degrees of "
            "freedom; logit limits for shares. n is always unweighted: weights correct the sample, "
            "they do not count people."
        )
    return notes


def proportion_write_up(work: ProportionsWork, results: ProportionsResults) -> str:
    """The sentence for the paper."""
    groups, far = work.groups, work.groups.furthest
    base, mine, gap = groups.base, groups.group(far.value), far.risk_difference
    at, sample = f"{level(work.question.confidence)} CI", work.sampling.sample
    weighted = "" if sample is None else "weighted "

    def shown(group: Share) -> str:
        limits = interval_in_print(group.share_ci, lambda x: f"{100 * x:.1f}")
        ci = f"; {at} {limits}" if limits else ""
        return (
            f"{percent(group.share)} ({count(group.events)} of {count(group.n)}{ci}) with "
            f"{group.label}"
        )

    if work.leading == "odds_ratio":
        text = (
            f"The odds ratio for “{groups.event_label}”, {against(far.label, base.label)}, was "
            f"{_with_limits(far.odds_ratio)}"
        )
    else:
        text = f"The {weighted}share of “{groups.event_label}” was {shown(mine)} and {shown(base)}"
        if gap is not None and gap.estimate is not None:
            limits = interval_in_print(gap.ci, points)
            text += f" (difference {points(gap.estimate)} percentage points"
            text += f", {at} {limits})" if limits else ")"
    if results.test is not None:
        text += f"; {reported_test(results.test, groups.overall.n)}"
    text += "."
    pair = next((pair for pair in results.pooled if pair.value == far.value), None)
    if pair is not None and pair.mantel_haenszel_odds_ratio is not None:
        found = pair.mantel_haenszel_odds_ratio
        text += (
            f" Pooled over strata (Mantel–Haenszel) the odds ratio was {ratio(found.estimate)}, "
            f"{at} {interval_in_print(found.ci, ratio)}."
        )
    return text


def moved(work: ProportionsWork) -> str:
    """What the design moved most against counting each row once."""
    if not work.question.is_designed or not work.groups.shares_have_meaning:
        return ""
    return moved_share(list(work.groups.groups))


def moved_share(shares: list[Share]) -> str:
    most = max(shares, key=lambda each: round(abs(each.share - each.unweighted), 9))
    gap = most.share - most.unweighted
    if abs(gap) < MOVED_SHARE:
        return f"The design hardly moves the shares: “{most.label}” most, by {points(gap)} points."
    return (
        f"The design moves “{most.label}” most, from {percent(most.unweighted)} to "
        f"{percent(most.share)}."
    )
