"""The group that leads, in words: where it was picked among several, that is said.

A group picked because it differs most always seems to differ; its limits allow for that
(``Groups.picked``), and while groups do not clearly differ none of many is singled out.
"""

import math

from hobrix.core.questions.answer import Figure
from hobrix.core.questions.estimates import Groups, SomeLimits
from hobrix.core.questions.thresholds import MOVED, RARE
from hobrix.core.questions.wording import against, count, interval, number, points, ratio


def among(groups: Groups) -> str:
    """ ", the clearest of 3 differences," (from the reference) after the group that leads was named: largest
    for its error, which is not always the largest."""
    return f", the clearest of {groups.many} differences," if groups.many > 1 else ""


def those(groups: Groups) -> tuple[str, str]:
    """The group that leads and the reference as people are told by them: "with River" and "with
    Piped", "where Home flooded is Yes" and "where it is No"."""
    far, base = groups.clearest.label, groups.reference_label
    title, colon, answer = far.partition(": ")
    if colon and base.startswith(f"{title}: "):
        return f"where {title} is {answer}", f"where it is {base.removeprefix(f'{title}: ')}"
    return f"with {far}", f"with {base}"


def pair_label(groups: Groups, *, is_clear: bool, word: str = "against") -> str:
    """What a headline figure compares."""
    pair = against(groups.clearest.label, groups.reference_label, word)
    if groups.many == 1:
        return pair
    allowed = f"the clearest of {groups.many}"
    return f"{pair}, {allowed}" if is_clear else f"{allowed} against {groups.reference_label}"


def limits_label(groups: Groups) -> str:
    """What the limits of the group that leads allow for."""
    return f", {_all(groups)} allowed for" if groups.many > 1 else ""


def _all(groups: Groups) -> str:
    return "both" if groups.many == 2 else f"all {groups.many}"


def odds_limits(groups: Groups) -> SomeLimits | None:
    """Of the odds ratio of the group that leads: exact ones where counts are small."""
    return groups.exact_odds_ratio_ci or groups.clearest.odds_ratio.ci


def odds_in_words(groups: Groups) -> str:
    """ "2.89 (2.04 to 4.09)", and what the limits are."""
    odds, limits = groups.clearest.odds_ratio.estimate, odds_limits(groups)
    if odds is None:
        return "not defined"
    if limits is None:
        return f"{ratio(odds)}, without a usual interval"
    exact = ", exact limits" if groups.exact_odds_ratio_ci is not None else ""
    return f"{ratio(odds)} ({ratio(limits[0])} to {ratio(limits[1])}{exact}{limits_label(groups)})"


def odds_figure(groups: Groups, label: str) -> Figure:
    """The headline figure of the odds ratio of the group that leads."""
    odds, limits = groups.clearest.odds_ratio, odds_limits(groups)
    if odds.estimate is None:
        return Figure(label=label, value="—", detail="not defined", exact="not defined")
    detail = "no interval"
    if limits is not None:
        exact = "exact limits " if groups.exact_odds_ratio_ci is not None else ""
        detail = f"{exact}{ratio(limits[0])} to {ratio(limits[1])}{limits_label(groups)}"
    elif odds.counted is not None:
        detail = "a cell is zero: no usual interval"
    exact_value = f"{odds.estimate!r}, {limits!r}"
    return Figure(label=label, value=ratio(odds.estimate), detail=detail, exact=exact_value)


def still_possible(groups: Groups, *, as_odds: bool = False, is_told: bool = False) -> str:
    """Not clear is not none: how large the difference may be, unless its interval was told."""
    far, base = groups.clearest, groups.base
    gap, odds_ci = far.risk_difference, odds_limits(groups)
    is_exact = groups.exact_odds_ratio_ci is not None
    if is_told and groups.many == 1 and not (is_exact and not as_odds):
        return "That does not show there is none; the interval tells what is still possible."
    if gap is not None and gap.ci is not None and not as_odds and not is_exact:
        where = f"from {interval(gap.ci, points)} percentage points"
        what = f"{far.label} minus {base.label}"
        of_many = f"the clearest of the {groups.many} differences from {base.label}"
    elif odds_ci is not None:
        where = f"from {ratio(odds_ci[0])} to {ratio(odds_ci[1])}"
        what = f"the odds ratio{' (exact limits)' if is_exact else ''}"
        of_many = f"the clearest of the {groups.many} odds ratios against {base.label}"
    else:
        return "That does not show there is none."
    if groups.many > 1:
        what, where = of_many, f"{where}, with {_all(groups)} allowed for"
    return f"That does not show there is none: {what} may lie anywhere {where}."


def odds_note(groups: Groups) -> list[str]:
    """An odds ratio read as a ratio of shares misleads where the event is common."""
    far = groups.clearest
    if not groups.shares_have_meaning:
        return [
            "Cases were sampled, so their share in a group has no meaning; the **odds** ratio has. "
            "Where the event is rare in the population, it is close to the ratio of risks."
        ]
    odds = far.odds_ratio.estimate
    risk = None if far.risk_ratio is None else far.risk_ratio.estimate
    if odds is None or risk is None or math.isinf(odds) or math.isinf(risk) or 0 in (odds, risk):
        return []
    pair = against(far.label, groups.reference_label)
    if abs(math.log(odds / risk)) <= MOVED:
        return [
            f"The odds ratio ({ratio(odds)}, {pair}) is close to the ratio of shares "
            f"({ratio(risk)}), as “{groups.event_label}” is rare in both."
        ]
    return [
        f"The **odds** ratio ({ratio(odds)}, {pair}) is not how many times as common "
        f"“{groups.event_label}” is: the **share** is {ratio(risk)} times as high."
    ]


def exact_note(groups: Groups) -> list[str]:
    """Exact limits and an exact two-sided p are of two kinds (Cornfield's and Fisher's)."""
    limits = groups.exact_odds_ratio_ci
    if limits is None or not limits[0] <= 1 <= limits[1]:
        return []
    return [
        "Exact limits come from two one-sided tests: they may reach 1 where Fisher’s two-sided p is "
        "small."
    ]


def rare_note(groups: Groups) -> list[str]:
    """Shares below one in a hundred, out of a round number of people."""
    far, base = groups.group(groups.clearest.value), groups.base
    both = (far.share, base.share)
    least = min((share for share in both if share > 0), default=0.0)
    if not groups.shares_have_meaning or max(both) >= RARE or not least:
        return []
    out_of = 10 ** math.ceil(math.log10(10 / least))
    return [
        f"That is {number(far.share * out_of)} against {number(base.share * out_of)} in "
        f"{count(out_of)}."
    ]
