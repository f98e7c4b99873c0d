"""What comparing groups assumes, in a table and as shares alike: who is missing, what the comparison
hangs on, and whether the people are others."""

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.asked_twice import is_asked_twice
from hobrix.core.questions.estimates import Groups, Share
from hobrix.core.questions.groups import mcnemar_of
from hobrix.core.questions.pair import Pair
from hobrix.core.questions.thresholds import FEW_EVENTS, MUCH_MISSING, NOTICED
from hobrix.core.questions.wording import count, first_of, listed, p_equals, percent
from hobrix.core.tables import independence
from hobrix.core.tables.counts import FloatArray


def set_aside(pair: Pair) -> Check:
    """Who was set aside, and whether they differ from those counted."""
    counted, full = pair.counted, pair.full
    explanatory, outcome = pair.explanatory.variable, pair.outcome.variable
    lost = counted.in_subset - counted.counted
    if lost == 0:
        needed = "all that is asked" if pair.within else "both"
        text = f"Every one of the {count(counted.in_subset)} {counted.noun_many} answered {needed}."
        return Check(id="set_aside", status="ok", text=text)
    share = lost / counted.in_subset
    verb = "is" if lost == 1 else "are"
    text = f"{counted.people(lost)} ({percent(share)}) {verb} set aside, without an answer needed here."
    differs = [
        found
        for found in (
            _differs(full, explanatory, f"no answer to {outcome.title}"),
            _differs(full.T, outcome, f"no answer to {explanatory.title}"),
        )
        if found
    ]
    if differs:
        return Check(id="set_aside", status="care", text=f"{text} {' '.join(differs)}")
    status = "care" if share > MUCH_MISSING else "ok"
    if full[1:, 0].sum() > 0 or full[0, 1:].sum() > 0:
        text += " No clear sign that they differ from those counted in what they did answer."
    return Check(id="set_aside", status=status, text=text)


def _differs(table: FloatArray, known: Variable, what: str) -> str | None:
    """Does not answering the other question go with the category of this one?"""
    silent, answered = table[1:, 0], table[1:, 1:].sum(axis=1)
    pair = independence.drop_empty(np.column_stack([silent, answered]))
    if pair.counts.shape[1] < 2 or pair.counts.shape[0] < 2:
        return None
    test = independence.pearson_test(pair.counts)
    if test.p >= NOTICED:
        return None
    shares = pair.counts[:, 0] / pair.counts.sum(axis=1)
    high, low = int(shares.argmax()), int(shares.argmin())
    labels = [known.categories[i].label for i in pair.kept_rows]
    return (
        f"They differ: {what} for {percent(shares[high])} of {labels[high]}, "
        f"against {percent(shares[low])} of {labels[low]} ({p_equals(test.p)})."
    )


def fragile_reference(pair: Pair, groups: Groups | None) -> list[Check]:
    """A reference with hardly an event makes every ratio against it hang on a few people."""
    if groups is None or _few(groups.base) >= FEW_EVENTS:
        return []
    base, largest = groups.base, max(groups.groups, key=_few)
    few = count(_few(base))
    with_event, without = ("has", "does not have") if _few(base) == 1 else ("have", "do not have")
    what = f"{with_event if base.events == _few(base) else without} “{groups.event_label}”"
    text = (
        f"Only {few} of {count(base.n)} in the reference, {base.label}, {what}: every ratio against "
        "it hangs on them."
    )
    remedies: tuple[Remedy, ...] = ()
    if _few(largest) >= FEW_EVENTS:
        turned = pair.question.with_reference(largest.value)
        remedies = (Remedy(label=f"Compare against {largest.label}", question=turned),)
    return [Check(id="fragile_reference", status="care", text=text, remedies=remedies)]


def _few(share: Share) -> float:
    return min(share.events, share.n - share.events)


def same_people(pair: Pair, panel: str) -> list[Check]:
    """The same question asked twice is not two independent groups. ``panel`` has the paired test."""
    if mcnemar_of(pair) is None or not is_asked_twice(*pair.original):
        return []
    text = (
        f"{pair.explanatory.variable.title} and {pair.outcome.variable.title} look like one question "
        "asked twice. If the same people answered both, compare them as pairs: the test here asks "
        "whether the two go together, not whether one is more common."
    )
    remedy = Remedy(label="Compare them as pairs", panel=panel)
    return [Check(id="same_people", status="care", text=text, remedies=(remedy,))]


def needed_check(groups: Groups) -> tuple[Check, ...]:
    """A number needed, or a fraction due to the group, where no difference is still possible."""
    if not groups.shares_have_meaning:
        return ()
    unclear = [
        each.label
        for each in groups.comparisons
        if each.risk_difference is not None
        and each.risk_difference.ci is not None
        and each.risk_difference.ci[0] <= 0 <= each.risk_difference.ci[1]
    ]
    if not unclear:
        return ()
    text = (
        f"The interval of the difference from {groups.reference_label} includes 0 for "
        f"{first_of(unclear, 4)}: there a number needed has no upper end and a fraction due to the "
        "group may be none. Report neither."
    )
    return (Check(id="number_needed", status="care", text=text),)


def told_first(pair: Pair, where: str) -> list[str]:
    """A note where there are several explanatory variables and the lead tells of one."""
    others = pair.question.vary_with[1:]
    if not others:
        return []
    titles = [pair.frame.variable(term.variable, "vary_with").title for term in others]
    first = pair.explanatory.variable.title
    return [f"Told here is {first}; {listed(titles)}: see {where}."]


STRATA_NOTE = (
    "Tests of whether strata differ seldom notice it in samples of the usual size: look at the "
    "strata themselves. Odds ratios can be the same everywhere while differences are not, and the "
    "other way round."
)
