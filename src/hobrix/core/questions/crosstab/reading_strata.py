"""What stratifying shows, in words: does the whole hide or reverse what happens within?"""

import math

from hobrix.core.data import Variable
from hobrix.core.questions.crosstab.results import CrosstabResults, PooledPair
from hobrix.core.questions.wording import count, listed, p_equals, ratio

# A pooled odds ratio that moves the crude one by this share or more is worth saying.
MOVED = 0.1


def lead_of_strata(results: CrosstabResults, value: str, within: str, confidence: float) -> str:
    """One or two sentences after the lead; ``value`` is the group that leads."""
    pooled = results.pooled
    if pooled is None:
        return ""
    pair = next((pair for pair in pooled.pairs if pair.value == value), None)
    if pair is None or pair.mantel_haenszel_odds_ratio is None:
        return _lead_without_event(results, within, confidence)
    found = pair.mantel_haenszel_odds_ratio
    base = _reference_label(results)
    pair_words = f"{pair.label} against {base}"
    low, high = found.ci
    text = (
        f" **Within each {within}** the pooled odds ratio ({pair_words}) is "
        f"**{ratio(found.estimate)}** ({ratio(low)} to {ratio(high)})"
    )
    text += _beside_crude(pair, found.estimate, found.ci, within)
    return text + _homogeneity(pair, confidence)


def _beside_crude(pair: PooledPair, pooled: float, limits: tuple[float, float], within: str) -> str:
    crude = pair.crude_odds_ratio
    if crude is None or math.isinf(crude) or crude == 0:
        return "."
    beside = f", {ratio(crude)} without regard to it"
    if (crude - 1) * (pooled - 1) < 0 and abs(math.log(crude / pooled)) > MOVED:
        low, high = limits
        if not low <= 1 <= high:
            return f"{beside}: **the whole reverses** what happens within."
        return f"{beside}: what the whole suggests **is not seen within**."
    moved = abs(math.log(pooled)) - abs(math.log(crude))
    if abs(math.log(crude / pooled)) <= MOVED:
        return f"{beside}: {within} hardly changes the picture."
    if moved < 0:
        return f"{beside}: part of the difference belongs to {within}."
    return f"{beside}: the whole hides part of the difference."


def _homogeneity(pair: PooledPair, confidence: float) -> str:
    test = pair.breslow_day_tarone
    if test is None:
        return ""
    if test.p < 1 - confidence:
        return (
            f" But it is **not the same everywhere** ({p_equals(test.p)}, Breslow–Day with "
            "Tarone’s correction): read the strata one by one."
        )
    return f" No clear sign that it differs between them ({p_equals(test.p)})."


def _lead_without_event(results: CrosstabResults, within: str, confidence: float) -> str:
    pooled = results.pooled
    assert pooled is not None
    test = pooled.generalized_cochran_mantel_haenszel.general_association
    if test is None:
        return ""
    shown = (
        "there is still an association"
        if test.p < 1 - confidence
        else "no clear association is left"
    )
    text = f" **Within each {within}** {shown} ({p_equals(test.p)}, generalised Cochran–Mantel–Haenszel test)."
    three = pooled.three_way_interaction
    if three is not None and three.p < 1 - confidence:
        text += f" It is not the same everywhere ({p_equals(three.p)}): read the strata one by one."
    return text


def _reference_label(results: CrosstabResults) -> str:
    by_group = results.whole.event_by_group
    return by_group.reference_label if by_group else ""


def notes_of_strata(results: CrosstabResults) -> list[str]:
    """Strata that are left out, and what pooling rests on."""
    out = [f"{s.label} ({s.left_out})" for s in results.strata if s.left_out and s.n]
    empty = [s.label for s in results.strata if s.left_out and not s.n]
    notes = []
    if out:
        notes.append(f"Left out of the comparison of strata: {listed(out[:6])}.")
    if empty:
        shown = listed(empty[:6]) + (f" and {count(len(empty) - 6)} more" if len(empty) > 6 else "")
        notes.append(f"Nobody counted is in {shown}.")
    if results.pooled is not None and results.pooled.pairs:
        notes.append(
            "A pooled odds ratio (Mantel–Haenszel) is a fair summary only where it is about the "
            "same in every stratum."
        )
    return notes


def write_up_of_strata(
    results: CrosstabResults, value: str, variables: list[Variable], confidence: float
) -> str:
    """The sentence for the paper on the pooled association."""
    pooled = results.pooled
    pair = next((p for p in pooled.pairs if p.value == value), None) if pooled else None
    if pair is None or pair.mantel_haenszel_odds_ratio is None:
        return ""
    found = pair.mantel_haenszel_odds_ratio
    within = listed([variable.title for variable in variables])
    text = (
        f" Stratified by {within}, the Mantel–Haenszel odds ratio for {pair.label} against "
        f"{_reference_label(results)} was {ratio(found.estimate)}, {100 * confidence:g}% CI "
        f"[{ratio(found.ci[0])}, {ratio(found.ci[1])}]"
    )
    if pair.crude_odds_ratio is not None and not math.isinf(pair.crude_odds_ratio):
        text += f" (crude {ratio(pair.crude_odds_ratio)})"
    if pair.breslow_day_tarone is not None:
        p = p_equals(pair.breslow_day_tarone.p)
        text += f"; homogeneity of odds ratios (Breslow–Day–Tarone) {p}"
    return text + "."
