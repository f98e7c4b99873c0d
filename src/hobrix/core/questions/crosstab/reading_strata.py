"""What stratifying shows, in words: does the whole hide or reverse what happens within?"""

import math

from hobrix.core.data import Variable
from hobrix.core.questions.confounding import verdict
from hobrix.core.questions.crosstab.results import CrosstabResults
from hobrix.core.questions.estimates import Effect, Limits, NamedTest
from hobrix.core.questions.pair_checks import STRATA_NOTE
from hobrix.core.questions.pooled import PooledPair
from hobrix.core.questions.question import Question
from hobrix.core.questions.thresholds import MOVED
from hobrix.core.questions.wording import (
    against,
    first_of,
    interval,
    level,
    listed,
    p_equals,
    points,
    ratio,
    reported_test,
)


def lead_of_strata(results: CrosstabResults, within: str, question: Question) -> str:
    """One or two sentences after the lead, on the group that leads; ``within`` names the strata."""
    if results.strata and results.pooled is None and question.is_designed:
        return _lead_of_weighted(results, within, question.alpha)
    pooled, groups = results.pooled, results.whole.groups
    if pooled is None:
        return ""
    pair = None if groups is None else pooled.pair(groups.clearest.value)
    if pair is None or pair.mantel_haenszel_odds_ratio is None:
        return _lead_without_event(results, within, question.alpha)
    found = pair.mantel_haenszel_odds_ratio
    pair_words = against(pair.label, _reference_label(results))
    text = (
        f" **Within each {within}** the pooled odds ratio ({pair_words}) is "
        f"**{ratio(found.estimate)}** ({interval(found.ci, ratio)})"
    )
    same = pair.breslow_day_tarone
    if same is not None and same.p < question.alpha:
        crude = pair.crude_odds_ratio
        text += "" if crude is None else f", {ratio(crude)} without regard to it"
        return f"{text}.{_homogeneity(pair, question.alpha)}"
    assert groups is not None
    gap = groups.clearest.risk_difference
    text += _beside_crude(pair, found.estimate, found.ci, within, gap)
    return text + _homogeneity(pair, question.alpha)


def _lead_of_weighted(results: CrosstabResults, within: str, alpha: float) -> str:
    """Pooling has no design-based form: in how many strata the two clearly vary together."""
    tested = [s for s in results.strata if s.table is not None and s.table.test is not None]
    if not tested:
        return ""
    clear = [s.label for s in tested if s.table and s.table.test and s.table.test.p < alpha]
    if not clear:
        return f" **Within each {within}** no stratum by itself shows a clear association."
    return (
        f" **Within each {within}**, looked at one by one, there is a clear association in "
        f"{len(clear)} of {len(tested)} strata ({first_of(clear, 3)})."
    )


def _beside_crude(
    pair: PooledPair, pooled: float, limits: Limits, within: str, gap: Effect | None
) -> str:
    crude = pair.crude_odds_ratio
    if crude is None or math.isinf(crude) or crude == 0:
        return "."
    beside = f", {ratio(crude)} without regard to it"
    if (crude - 1) * (pooled - 1) < 0 and abs(math.log(crude / pooled)) > MOVED:
        low, high = limits
        if not low <= 1 <= high:
            return f"{beside}: **the whole reverses** what happens within."
        return f"{beside}: what the whole suggests **is not seen within**."
    pooled_gap = pair.mantel_haenszel_risk_difference
    alone = None if gap is None else gap.estimate
    now = None if pooled_gap is None else pooled_gap.estimate
    match verdict(crude, pooled, alone, now):
        case "same":
            return f"{beside}: {within} hardly changes the picture."
        case "not confounded":
            assert pooled_gap is not None
            assert alone is not None
            return (
                f"{beside}, though the difference in shares is about the same within "
                f"({points(pooled_gap.estimate)} points) and without regard to it ({points(alone)}): "
                "an odds ratio moves away from 1 when anything else that matters is held equal, which "
                "is not confounding."
            )
        case "smaller":
            return f"{beside}: part of the difference goes with {within}."
        case "larger":
            return f"{beside}: the whole hides part of the difference."
    return f"{beside}."


def _homogeneity(pair: PooledPair, alpha: float) -> str:
    test = pair.breslow_day_tarone
    if test is None:
        return ""
    if test.p < alpha:
        return (
            f" But it is **not the same everywhere** ({p_equals(test.p)}, Breslow–Day with "
            "Tarone’s correction): read the strata one by one."
        )
    return (
        f" No clear sign that it differs between them ({p_equals(test.p)}, Breslow–Day with Tarone’s "
        "correction)."
    )


def _lead_without_event(results: CrosstabResults, within: str, alpha: float) -> str:
    pooled = results.pooled
    assert pooled is not None
    test = pooled.generalized_cochran_mantel_haenszel.general_association
    if test is None:
        return ""
    shown = "there is still an association" if test.p < alpha else "no clear association is left"
    text = f" **Within each {within}** {shown} ({p_equals(test.p)}, generalised Cochran–Mantel–Haenszel test)."
    three = pooled.three_way_interaction
    if three is not None and three.p < alpha:
        text += (
            f" It is not the same everywhere ({p_equals(three.p)}, test of three-way interaction): read "
            "the strata one by one."
        )
    return text


def _reference_label(results: CrosstabResults) -> str:
    groups = results.whole.groups
    return groups.reference_label if groups else ""


def notes_of_strata(results: CrosstabResults) -> list[str]:
    """Strata that are left out, and what pooling rests on."""
    out = [f"{s.label} ({s.left_out})" for s in results.strata if s.left_out and s.n]
    empty = [s.label for s in results.strata if s.left_out and not s.n]
    notes = []
    if out:
        notes.append(f"Left out of the comparison of strata: {first_of(out, 6)}.")
    if empty:
        notes.append(f"Nobody counted is in {first_of(empty, 6)}.")
    if results.pooled is not None and results.pooled.pairs:
        notes.append(
            "A pooled odds ratio (Mantel–Haenszel) is a fair summary only where it is about the "
            "same in every stratum."
        )
        notes.append(STRATA_NOTE)
    return notes


def write_up_of_strata(
    results: CrosstabResults, variables: list[Variable], confidence: float
) -> str:
    """The sentence for the paper on the pooled association."""
    pooled, groups = results.pooled, results.whole.groups
    if pooled is None or groups is None:
        return ""
    pair = pooled.pair(groups.clearest.value)
    if pair is None or pair.mantel_haenszel_odds_ratio is None:
        return ""
    found = pair.mantel_haenszel_odds_ratio
    within = listed([variable.title for variable in variables])
    text = (
        f" Stratified by {within}, the Mantel–Haenszel odds ratio for {pair.label} against "
        f"{_reference_label(results)} was {ratio(found.estimate)}, {level(confidence)} CI "
        f"[{ratio(found.ci[0])}, {ratio(found.ci[1])}]"
    )
    if pair.crude_odds_ratio is not None and not math.isinf(pair.crude_odds_ratio):
        text += f" (crude {ratio(pair.crude_odds_ratio)})"
    if pair.breslow_day_tarone is not None:
        same = NamedTest.chi_square("Breslow–Day–Tarone test", pair.breslow_day_tarone)
        text += f"; homogeneity of odds ratios, {reported_test(same)}"
    return text + "."
