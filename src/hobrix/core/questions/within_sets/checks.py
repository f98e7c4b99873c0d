"""What a model of matched sets assumes, and whether it holds here."""

from typing import Literal

from hobrix.core.questions.answer import Check, Counted, Remedy, in_order
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.thresholds import ENOUGH_EVENTS, FEW_EVENTS, MUCH_MISSING
from hobrix.core.questions.within_sets.results import MatchedResults
from hobrix.core.questions.within_sets.work import MatchedWork
from hobrix.core.questions.wording import count, first_of, listed, percent

# Sets larger than this are hardly matched one by one.
_LARGE = 50


def matched_checks(work: MatchedWork, results: MatchedResults, counted: Counted) -> list[Check]:
    """The failed first, then those to be careful about."""
    checks = [
        _tell(results),
        _enough(results),
        *_constant(results),
        *_large(work, results),
        *_discordant(results),
        *_small(results),
        _set_aside(counted),
        *counting_checks(work, counted),
    ]
    return list(in_order(checks))


def _tell(results: MatchedResults) -> Check:
    sets = results.sets
    silent = sets.sets - sets.lost - sets.informative
    text = f"{count(sets.informative)} of {count(sets.sets)} sets tell something"
    if silent:
        text += (
            f"; {count(silent)} hold only people with the event or only people without "
            f"({count(sets.people_without_contrast)} people), and tell nothing of what goes with it"
        )
    if sets.lost:
        text += f"; {count(sets.lost)} lost all members to missing answers"
    status: Literal["ok", "care"] = "care" if sets.informative < sets.sets / 2 else "ok"
    return Check(id="sets", status=status, text=f"{text}.")


def _enough(results: MatchedResults) -> Check:
    """Sets in which people differ, for each coefficient."""
    worth = results.sets.informative - results.sets.alike
    columns = results.parameters
    each = "for one coefficient" if columns == 1 else f"for each of {count(columns)} coefficients"
    text = f"In {count(worth)} sets people differ: {worth / columns:.0f} {each}"
    if worth / columns >= ENOUGH_EVENTS:
        return Check(id="events_per_coefficient", status="ok", text=f"{text}, enough.")
    text += (
        f", below {ENOUGH_EVENTS}, so odds ratios tend to be too far from 1 and intervals unsure."
    )
    return Check(id="events_per_coefficient", status="care", text=text)


def _constant(results: MatchedResults) -> list[Check]:
    if not results.constant:
        return []
    text = (
        f"{listed(list(results.constant))} does not vary within any set, so it has no odds ratio here. Whether that of "
        "another variable differs by it can be asked: let both act together."
    )
    return [Check(id="matched_on", status="care", text=text)]


def _large(work: MatchedWork, results: MatchedResults) -> list[Check]:
    """Sets of very many are strata rather than people matched one by one."""
    most = max(shape.events + shape.others for shape in results.sets.shapes)
    if most <= _LARGE:
        return []
    text = (
        f"One set has {count(most)} people. Is {work.set_title} what people were matched on, one set for each case? "
        "Groups of many can be allowed for instead."
    )
    asked = work.question.changed(matched=None)
    remedy = Remedy(label="Without matching", question=asked)
    return [Check(id="large_sets", status="care", text=text, remedies=(remedy,))]


def _discordant(results: MatchedResults) -> list[Check]:
    pairs = results.pairs
    if pairs is None or min(pairs.only_event, pairs.only_other) >= FEW_EVENTS:
        return []
    text = (
        f"Only {count(pairs.only_event)} and {count(pairs.only_other)} pairs differ in who has “{pairs.exposed}”: the "
        "interval is rough, and the exact test beside it is the one to trust."
    )
    return [Check(id="few_discordant", status="care", text=text)]


def _small(results: MatchedResults) -> list[Check]:
    few = [
        f"{term.title}: {row.label}"
        for term in results.terms
        if term.together_with is None
        for row in term.rows
        if row.n is not None
        and row.events is not None
        and min(row.events, row.n - row.events) < FEW_EVENTS
    ]
    if not few:
        return []
    text = (
        f"Fewer than {FEW_EVENTS} with or without the event in {first_of(few, 4)}: odds ratios of "
        "such categories are unsure."
    )
    return [Check(id="small_categories", status="care", text=text)]


def _set_aside(counted: Counted) -> Check:
    lost = counted.in_subset - counted.counted
    share = lost / counted.in_subset if counted.in_subset else 0.0
    verb = "is" if lost == 1 else "are"
    text = f"{counted.people(lost)} ({percent(share)}) {verb} not counted: an answer or the set is missing, or the set tells nothing."
    status: Literal["ok", "care"] = "care" if share > MUCH_MISSING else "ok"
    return Check(id="set_aside", status=status, text=text)
