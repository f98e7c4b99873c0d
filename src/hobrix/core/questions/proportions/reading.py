"""Shares in words: how much more common, where; direction always, p never alone."""

import math

from hobrix.core.questions.answer import Figure, Reading
from hobrix.core.questions.estimates import Against, Effect, NamedTest, Share
from hobrix.core.questions.pair_checks import STRATA_NOTE, told_first
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
from hobrix.core.questions.proportions.reading_strata import pooled_lead, pooled_write_up
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.thresholds import MOVED_SHARE
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

# In place of limits that would rest on another method than the exact test beside them.
TOO_FEW = "counts too small for usual limits"


def proportion_reading(work: ProportionsWork, results: ProportionsResults) -> Reading:
    far, test = work.groups.clearest, results.leading_test
    parts = [size_of(work, far), "" if test is None else p_equals(test.p)]
    return Reading(
        lead=_lead(work, results, far) + pooled_lead(work, results, far),
        headline=" · ".join(part for part in parts if part) or percent(work.groups.overall.share),
        figures=tuple(_figures(work, results, far)),
        notes=tuple(_notes(work, results)),
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
    """The test that was asked for and the size; of many groups that do not clearly differ none is
    singled out."""
    groups, test = work.groups, results.leading_test
    if test is None:
        said = f"{_size(work, far)} The design leaves no degree of freedom for a test."
    elif test.p < work.question.alpha:
        said = f"{_size(work, far)} {_is_clear(work, results, test)}"
    else:
        event = _event(work)
        as_odds = work.leading == "odds_ratio"
        possible = still_possible(groups, as_odds=as_odds, is_told=True)
        size = f" {_size(work, far)}" if groups.many == 1 else ""
        said = (
            f"**No clear difference** in {event} between the groups of "
            f"{work.pair.explanatory.variable.title} ({test_in_words(test)}).{size} {possible}"
        )
        if results.one_sided is not None:
            side, (there, here) = _side(work), those(groups)
            said = (
                f"It is **not shown that {event} is {side} {there}** than {here} "
                f"(one-sided, {test_in_words(test)}).{size}"
            )
    return said + _along_the_order(work, results)


def _event(work: ProportionsWork) -> str:
    return f"“{work.groups.event_label}” ({work.pair.outcome.variable.title})"


def _side(work: ProportionsWork) -> str:
    return "less common" if work.options.alternative == "less" else "more common"


def _is_clear(work: ProportionsWork, results: ProportionsResults, test: NamedTest) -> str:
    if results.one_sided is not None:
        there, here = those(work.groups)
        return f"That **is {_side(work)}** {there} than {here} (one-sided, {test_in_words(test)})."
    return (
        "Differences at least this wide would be unusual if the event and the groups were unrelated "
        f"({test_in_words(test)})."
    )


def _size(work: ProportionsWork, far: Against) -> str:
    """The reference and the group that differs most, in the measure that leads."""
    groups, base = work.groups, work.groups.base
    mine, gap, allowed = groups.group(far.value), far.risk_difference, limits_label(groups)
    event, (there, here) = _event(work), those(groups)
    weighted = "Weighted, " if work.question.is_designed else ""
    shares = (
        f"{weighted}{percent(mine.share)} of {work.pair.counted.noun_many} {there}{among(groups)} "
        f"have {event}, against {percent(base.share)} {here}"
    )
    if work.leading == "odds_ratio" or gap is None or gap.estimate is None:
        if groups.shares_have_meaning:
            return f"{shares}: the odds have a ratio of **{odds_in_words(groups)}**."
        return (
            f"{against(far.label, base.label)}{among(groups).removesuffix(',')}: the odds of {event} have a ratio of "
            f"**{odds_in_words(groups)}**."
        )
    more = "more" if gap.estimate > 0 else "less"
    size = f"**{points(abs(gap.estimate))} percentage points {more}**"
    if points(gap.estimate) in ("0.0", "0"):
        size = "**no difference**"
    said = (
        f"{shares}: {size} "
        f"({interval(gap.ci, points)}, {against(far.label, base.label, 'minus')}{allowed})."
    )
    if work.leading == "risk_ratio" and far.risk_ratio is not None:
        said += f" As a ratio: **{_with_limits(far.risk_ratio, allowed)}**."
    return said


def _along_the_order(work: ProportionsWork, results: ProportionsResults) -> str:
    """A trend is told where there is one, and with it whether the shares follow it."""
    trend, alpha = results.trend, work.question.alpha
    if trend is None or trend.test.p >= alpha:
        return ""
    title, way = work.pair.explanatory.variable.title, "rises" if trend.rises else "falls"
    step = ""
    if trend.per_step is not None:
        step = f"odds ratio per step {ratio(trend.per_step.odds_ratio)}, "
    told = f"{step}{test_in_words(trend.test)}"
    if trend.departure is not None and trend.departure.p < alpha:
        return (
            f" Over all, the share {way} along the order of {title} ({told}), but **not steadily**: "
            f"a straight trend leaves a clear departure ({test_in_words(trend.departure)})."
        )
    return f" The share **{way} along the order** of {title} ({told})."


def _with_limits(found: Effect, allowed: str = "") -> str:
    if found.estimate is None:
        return "not defined"
    if found.ci is None:
        return f"{ratio(found.estimate)}, without a usual interval"
    return f"{ratio(found.estimate)} ({interval(found.ci, ratio)}{allowed})"


def _figures(work: ProportionsWork, results: ProportionsResults, far: Against) -> list[Figure]:
    groups, test = work.groups, results.leading_test
    is_clear, allowed = test is not None and test.p < work.question.alpha, limits_label(groups)
    figures, share, gap = [], far.risk_ratio, far.risk_difference
    pair = pair_label(groups, is_clear=is_clear)
    if work.leading == "odds_ratio":
        figures.append(odds_figure(groups, f"Odds ratio, {pair}"))
    if gap is not None and gap.estimate is not None:
        pair = "the same" if figures else pair_label(groups, is_clear=is_clear, word="minus")
        figures.append(
            Figure(
                label=f"Difference, {pair}",
                value=f"{points(gap.estimate)} points",
                detail=TOO_FEW if work.is_exact else interval(gap.ci, points) + allowed,
                exact=f"{gap.estimate!r}, {gap.ci!r}",
            )
        )
    if share is not None and share.estimate is not None:
        limits = f"{interval(share.ci, ratio)}{allowed}" if share.ci else "no usual interval"
        figures.append(
            Figure(
                label="Ratio of shares, the same",
                value=ratio(share.estimate),
                detail=TOO_FEW if work.is_exact else limits,
                exact=f"{share.estimate!r}, {share.ci!r}",
            )
        )
    if work.leading != "odds_ratio":
        pair = "the same" if figures else pair
        figures.append(odds_figure(groups, f"Odds ratio, {pair}"))
    if test is not None:
        figures.append(figure_of_test(test, _asks(work, results)))
    return figures


def _asks(work: ProportionsWork, results: ProportionsResults) -> str:
    """What the test of the headline figures asks."""
    if results.one_sided is None:
        return "All groups alike?"
    return f"{_side(work).capitalize()} {those(work.groups)[0]}? (one-sided)"


def _notes(work: ProportionsWork, results: ProportionsResults) -> list[str]:
    groups = work.groups
    labels = {each.value: each.label for each in groups.comparisons}
    notes = []
    misled = [
        labels[each.value]
        for each in results.closer
        if each.overlap_misleads and not each.is_sparse
    ]
    test = results.leading_test
    # While groups do not clearly differ, none of several comparisons is told as if it did.
    if misled and (groups.many == 1 or (test is not None and test.p < work.question.alpha)):
        notes.append(
            f"The intervals of {listed(misled[:3])} and of {groups.reference_label} overlap, yet "
            "the interval of the **difference** leaves out 0: overlap does not show that there is "
            "none."
        )
    notes += odds_note(groups) + exact_note(groups) + rare_note(groups)
    notes += told_first(work.pair, "the table of characteristics")
    if results.pooled:
        notes.append(STRATA_NOTE)
    at, sample = level(work.question.confidence), work.sampling.sample
    if sample is None:
        shares = (
            "of a difference Newcombe’s, of a ratio Katz’s, " if groups.shares_have_meaning else ""
        )
        notes.append(
            f"{at} intervals: {shares}of odds Woolf’s; exact limits of the odds ratio where counts are "
            "small."
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
    groups, far = work.groups, work.groups.clearest
    base, mine, gap = groups.base, groups.group(far.value), far.risk_difference
    at, sample = f"{level(work.question.confidence)} CI", work.sampling.sample
    weighted = "" if sample is None else "weighted "

    def shown(group: Share, who: str) -> str:
        limits = interval_in_print(group.share_ci, points)
        ci = f"; {at} {limits}" if limits else ""
        return f"{percent(group.share)} ({count(group.events)} of {count(group.n)}{ci}) {who}"

    allowed = limits_label(groups)
    if not groups.shares_have_meaning:
        kind = "exact " if work.is_exact else ""
        limits = interval_in_print(odds_limits(groups), ratio)
        odds = far.odds_ratio.estimate
        text = (
            f"The odds ratio for “{groups.event_label}”, {against(far.label, base.label)}"
            f"{among(groups) or ','} was {'not defined' if odds is None else ratio(odds)}"
            f"{f', {kind}{at} {limits}{allowed}' if limits else ''}"
        )
    else:
        text = f"The {weighted}share of “{groups.event_label}” was "
        there, here = those(groups)
        text += f"{shown(mine, there + among(groups))} and {shown(base, here)}"
        odds = far.odds_ratio.estimate
        if work.is_exact and odds is not None:
            limits = interval_in_print(groups.exact_odds_ratio_ci, ratio)
            text += f" (odds ratio {ratio(odds)}, exact {at} {limits}{allowed})"
        elif gap is not None and gap.estimate is not None:
            limits = interval_in_print(gap.ci, points)
            text += f" (difference {points(gap.estimate)} percentage points"
            text += f", {at} {limits}{allowed})" if limits else ")"
    if (test := results.leading_test) is not None:
        sided = "one-sided " if results.one_sided is not None else ""
        text += f"; {sided}{reported_test(test, groups.overall.n)}"
    text += "."
    return text + pooled_write_up(work, results, far)


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
