"""What is left within strata, in the measure that leads where it can be pooled."""

import math
from dataclasses import dataclass

from hobrix.core.questions.estimates import Against, Effect, Limits, NamedTest
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.wording import (
    against,
    interval,
    interval_in_print,
    level,
    listed,
    p_equals,
    points,
    ratio,
    reported_test,
)
from hobrix.core.tables.independence import ChiSquareTest


@dataclass(frozen=True)
class PooledMeasure:
    """What is pooled over strata, in the measure that leads, and whether it is the same in each."""

    name: str
    estimate: float
    ci: Limits
    whole: float
    same: ChiSquareTest | None
    test_name: str

    @property
    def is_difference(self) -> bool:
        return self.name == "difference"

    @property
    def reverses(self) -> bool:
        """The whole lies clearly on one side of no difference, and the strata on the other."""
        none = 0.0 if self.is_difference else 1.0
        low, high = self.ci
        return (self.whole - none) * (self.estimate - none) < 0 and not low <= none <= high


def pooled_of(
    work: ProportionsWork, results: ProportionsResults, far: Against
) -> PooledMeasure | None:
    pair = next((pair for pair in results.pooled if pair.value == far.value), None)
    if pair is None:
        return None
    gap, shares = pair.mantel_haenszel_risk_difference, pair.mantel_haenszel_risk_ratio
    odds = pair.mantel_haenszel_odds_ratio
    if work.leading == "risk_difference" and gap is not None:
        whole = _whole(far.risk_difference)
        return PooledMeasure(
            "difference",
            gap.estimate,
            gap.sato.ci,
            whole,
            pair.difference_homogeneity,
            "chi-square test of the differences",
        )
    if work.leading == "risk_ratio" and shares is not None:
        whole = _whole(far.risk_ratio)
        return PooledMeasure(
            "ratio of shares",
            shares.estimate,
            shares.ci,
            whole,
            pair.risk_ratio_homogeneity,
            "chi-square test of the log ratios",
        )
    if odds is None:
        return None
    return PooledMeasure(
        "odds ratio",
        odds.estimate,
        odds.ci,
        _whole(far.odds_ratio),
        pair.breslow_day_tarone,
        "Breslow–Day with Tarone’s correction",
    )


def _whole(found: Effect | None) -> float:
    return math.nan if found is None or found.estimate is None else found.estimate


def pooled_lead(work: ProportionsWork, results: ProportionsResults, far: Against) -> str:
    """What is left within strata, in the measure that leads where it can be pooled."""
    if results.strata and work.question.is_designed:
        return _of_weighted_strata(work, results)
    found = pooled_of(work, results, far)
    if found is None:
        return ""
    base = work.groups.reference_label
    if found.is_difference:
        size = f"{points(found.estimate)} points ({interval(found.ci, points)}, "
        size += f"{against(far.label, base, 'minus')})"
    else:
        size = f"{found.name} {ratio(found.estimate)} ({interval(found.ci, ratio)}, "
        size += f"{against(far.label, base)})"
    text = f" **Within strata**, pooled: {size}"
    same = found.same
    if same is not None and same.p < work.question.alpha:
        return (
            f"{text}. But it is **not the same everywhere** ({p_equals(same.p)}, {found.test_name}): "
            "read the strata one by one."
        )
    if found.reverses:
        text += ": **the whole reverses** what happens within"
    if same is None:
        return f"{text}."
    return (
        f"{text}. No clear sign that it differs between strata ({p_equals(same.p)}, "
        f"{found.test_name})."
    )


def pooled_write_up(work: ProportionsWork, results: ProportionsResults, far: Against) -> str:
    found = pooled_of(work, results, far)
    if found is None:
        return ""
    at = level(work.question.confidence)
    write = points if found.is_difference else ratio
    unit = " percentage points" if found.is_difference else ""
    text = (
        f" Pooled over strata (Mantel–Haenszel) the {found.name} was {write(found.estimate)}{unit}, "
        f"{at} CI {interval_in_print(found.ci, write)}"
    )
    if found.same is not None:
        differed = found.same.p < work.question.alpha
        told = "differed between strata" if differed else "did not clearly differ between strata"
        text += f"; it {told}, {reported_test(NamedTest.chi_square(found.test_name, found.same))}"
    return f"{text}."


def _of_weighted_strata(work: ProportionsWork, results: ProportionsResults) -> str:
    tested = [stratum for stratum in results.strata if stratum.test is not None]
    if not tested:
        return ""
    clear = [s.label for s in tested if s.test and s.test.p < work.question.alpha]
    within = listed([variable.title for variable in work.pair.within])
    many = f"{len(clear)} of {len(tested)} strata" if clear else "no stratum"
    return f" **Within each {within}**, looked at one by one, groups differ clearly in {many}."
