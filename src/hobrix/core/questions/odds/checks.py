"""What the Odds model assumes, and whether it holds here: each with what was seen and a remedy.

What rests on predictions and residuals comes with the panels that show them.
"""

import math
from typing import Literal

import numpy as np

from hobrix.core.questions.answer import Check, Counted, Remedy, in_order
from hobrix.core.questions.asked_twice import is_asked_twice
from hobrix.core.questions.odds.results import OddsModel, OddsResults, OddsTerm
from hobrix.core.questions.odds.shares_panel import has_shares
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.rows_checks import rows_checks
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.slots import reference_of
from hobrix.core.questions.thresholds import (
    COMMON,
    CROWDED,
    ENOUGH_EVENTS,
    FEW_EVENTS,
    INFLATED,
    MUCH_MISSING,
    NOTICED,
    READABLE_STEP,
    SMALL_GROUP,
    TINY_STEP,
)
from hobrix.core.questions.wording import count, first_of, listed, number, p_equals, percent
from hobrix.core.tables import independence


def odds_checks(work: OddsWork, results: OddsResults, counted: Counted) -> list[Check]:
    """The failed first, then those to be careful about."""
    model = results.whole
    checks = [
        *_separation(model),
        _enough(work, model),
        _set_aside(work, counted),
        *_crowded(work, model),
        *_fragile_reference(model),
        *_same_people(work, model),
        *_absent(work, model),
        *(_common_event(work, results.event_label, model) if work.has_probabilities else []),
        *_unit(work, model),
        *_small(model),
        *_collinear(model),
        *_method(work),
        *rows_checks(work),
        *counting_checks(work, counted),
    ]
    return list(in_order(checks))


def _separation(model: OddsModel) -> list[Check]:
    if model.separation == "none":
        return []
    names = first_of([part.label for part in model.separated], 4)
    text = (
        f"The outcome is told apart ({names}): ordinary odds ratios would be infinite. Shown are "
        "those of Firth’s penalised likelihood, with its profile intervals and tests."
    )
    return [Check(id="separation", status="care", text=text)]


def _enough(work: OddsWork, model: OddsModel) -> Check:
    fewer = min(model.events, model.n - model.events)
    columns = max(1, model.parameters - 1)
    sampled = " sampled" if work.question.is_designed else ""
    text = (
        f"{fewer / columns:.0f}{sampled} of the rarer outcome for each coefficient "
        f"({count(fewer)} for {count(columns)})"
    )
    if fewer / columns >= ENOUGH_EVENTS:
        return Check(id="events_per_coefficient", status="ok", text=f"{text}: enough.")
    text += (
        f": below {ENOUGH_EVENTS}, so odds ratios tend to be too far from 1 and intervals unsure."
    )
    return Check(id="events_per_coefficient", status="care", text=text)


def _set_aside(work: OddsWork, counted: Counted) -> Check:
    """Who lacks an answer, and whether the event is as common among them."""
    lost = counted.in_subset - counted.counted
    share = lost / counted.in_subset if counted.in_subset else 0.0
    verb = "lacks" if lost == 1 else "lack"
    text = f"{counted.people(lost)} ({percent(share)}) {verb} an answer the model needs."
    status: Literal["ok", "care"] = "care" if share > MUCH_MISSING else "ok"
    asked, mask = work.asked, work.sampling.rows.mask
    gone = asked.answered & ~work.used if mask is None else asked.answered & ~work.used & mask
    table = np.array(
        [
            [float(asked.events[rows].sum()), float((asked.trials - asked.events)[rows].sum())]
            for rows in (gone, work.used)
        ]
    )
    if table.sum(axis=1).all() and table.sum(axis=0).all():
        test = independence.pearson_test(table)
        if test.p < NOTICED:
            without, within = table[:, 0] / table.sum(axis=1)
            text += (
                f" They differ: {percent(without)} of them have the event, against {percent(within)} "
                f"of those counted ({p_equals(test.p)})."
            )
            status = "care"
    return Check(id="set_aside", status=status, text=text)


def _crowded(work: OddsWork, model: OddsModel) -> list[Check]:
    """Coefficients against the degrees of freedom of the design."""
    sample, many = work.sampling.sample, model.parameters - 1
    if sample is None or many <= CROWDED * sample.design_df:
        return []
    text = (
        f"{count(many)} {'coefficient' if many == 1 else 'coefficients'} for {count(sample.design_df)} degrees of freedom of the design: "
        "tests of several at once are unsure or not to be had. Use fewer variables or categories."
    )
    return [Check(id="crowded", status="care", text=text)]


def _fragile_reference(model: OddsModel) -> list[Check]:
    """A reference with hardly an event makes all odds ratios of its term hang on a few people."""
    found = []
    for term in _single(model):
        n, events = term.reference_n, term.reference_events
        if term.role != "vary_with" or n is None or events is None:
            continue
        few = min(events, n - events)
        if few >= FEW_EVENTS:
            continue
        one = few == 1
        with_event, without = ("has", "does not have") if one else ("have", "do not have")
        what = f"{with_event if events == few else without} the event"
        text = (
            f"Only {count(few)} of {count(n)} in the reference of {term.title}, “{term.reference}”, "
            f"{what}: every odds ratio against it hangs on them."
        )
        found.append(Check(id="fragile_reference", status="care", text=text))
    return found


def _same_people(work: OddsWork, model: OddsModel) -> list[Check]:
    """The outcome asked at another time, as an explanatory variable."""
    outcome = work.asked.outcome
    again = [
        work.frame.variables[term.variable]
        for term in _single(model)
        if term.role == "vary_with" and is_asked_twice(work.frame.variables[term.variable], outcome)
    ]
    found = []
    for variable in again:
        text = (
            f"{variable.title} and {outcome.title} look like one question asked twice. If the same "
            "people answered both, the odds ratio tells whether the two go together, not whether one "
            "is more common: that is asked of them as pairs."
        )
        question = work.question
        term = next(each for each in question.vary_with if each.variable == variable.name)
        alone = question.changed(vary_with=(term,), allowing_for=(), within=())
        remedy = Remedy(label="Look at them as pairs", question=alone, through="shares of an event")
        found.append(Check(id="same_people", status="care", text=text, remedies=(remedy,)))
    return found


def _absent(work: OddsWork, model: OddsModel) -> list[Check]:
    """Categories nobody counted is in are left out; another stands in for an absent reference."""
    question, checks = work.question, []
    asked = {
        t.variable: t
        for t in (*question.vary_with, *question.allowing_for)
        if t.together_with is None
    }
    for term in _single(model):
        variable = work.frame.variables[term.variable]
        if term.is_numeric or term.variable in question.options.categories:
            continue
        present = {row.label for row in term.rows} | {term.reference}
        absent = [c.label for c in variable.categories if c.label not in present]
        if absent:
            text = f"Nobody counted is in {listed(absent, 'or')} ({term.title}): left out."
            checks.append(Check(id="empty_categories", status="care", text=text))
        wanted = variable.label_of(reference_of(asked[term.variable], variable))
        if wanted != term.reference:
            text = (
                f"Nobody counted is in the reference of {term.title}, “{wanted}”: the others are "
                f"compared against “{term.reference}” instead."
            )
            checks.append(Check(id="reference", status="care", text=text))
    return checks


def _single(model: OddsModel) -> list[OddsTerm]:
    return [term for term in model.terms if term.together_with is None]


def _common_event(work: OddsWork, event: str, model: OddsModel) -> list[Check]:
    """Where the event is common, over all or in a category, odds ratios are not ratios of shares."""
    where = f"({percent(model.share)})"
    if model.share < COMMON:
        shares = [
            (row.events / row.n, f"{term.title}: {row.label}")
            for term in _single(model)
            for row in term.rows
            if row.n and row.events is not None and row.n >= SMALL_GROUP
        ]
        most, label = max(shares, default=(0.0, ""))
        if most < COMMON:
            return []
        where = f"in {label} ({percent(most)})"
    text = (
        f"“{event}” is common {where}, so an odds ratio is further from 1 than the ratio of shares: do "
        "not read it as “times as common”. The average difference in probability stands beside it."
    )
    there = (Remedy(label="See ratios of shares", panel="shares"),) if has_shares(work) else ()
    return [Check(id="common_event", status="care", text=text, remedies=there)]


def _unit(work: OddsWork, model: OddsModel) -> list[Check]:
    """An odds ratio per unit that is hard to tell from 1 asks for a larger unit."""
    found = []
    for term in _single(model):
        part = work.model.parts[term.variable]
        step = abs(term.rows[0].log_odds)
        if not term.is_numeric or part.bend is not None or not 0 < step < TINY_STEP:
            continue
        if term.test is None or term.test.p >= work.question.alpha:
            continue
        per = part.per * 10 ** math.ceil(math.log10(READABLE_STEP / step))
        unit = f"{number(per)} {part.variable.unit or 'units'}"
        text = (
            f"The odds ratio of {term.title} is close to 1 because its unit is small, not because it "
            f"matters little: per {unit} it is easier to read."
        )
        question = work.question
        changed = {
            slot: tuple(
                each.model_copy(update={"per": per})
                if each.variable == term.variable and each.together_with is None
                else each
                for each in getattr(question, slot)
            )
            for slot in ("vary_with", "allowing_for")
        }
        remedy = Remedy(label=f"Tell it per {unit}", question=question.changed(**changed))
        found.append(Check(id="unit", status="care", text=text, remedies=(remedy,)))
    return found


def _small(model: OddsModel) -> list[Check]:
    few = [
        f"{term.title}: {row.label}"
        for term in _single(model)
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


def _collinear(model: OddsModel) -> list[Check]:
    """Whether variables say the same; one alone has nothing to be compared with."""
    single = [term for term in _single(model) if not term.part_of_interaction]
    if len(single) < 2:
        return []
    worst = max(single, key=lambda term: term.gvif_adjusted)
    if worst.gvif_adjusted < INFLATED:
        text = "The variables do not say the same: no interval is widened much by the others."
        return [Check(id="collinearity", status="ok", text=text)]
    if worst.role == "allowing_for" and all(
        term.gvif_adjusted < INFLATED for term in single if term.role == "vary_with"
    ):
        text = (
            f"{worst.title} says much the same as others that are allowed for. That leaves the odds "
            "ratios of what varies alone: only those of the others are unsure."
        )
        return [Check(id="collinearity", status="ok", text=text)]
    text = (
        f"{worst.title} says much the same as the others: its intervals are "
        f"{number(worst.gvif_adjusted)} times as wide as they would be alone. Leave out a "
        "variable that stands for the same thing."
    )
    return [Check(id="collinearity", status="care", text=text)]


def _method(work: OddsWork) -> list[Check]:
    """What was asked for and has no design-based form."""
    options = work.options
    if not work.question.is_designed or (options.method != "firth" and options.limits != "profile"):
        return []
    text = (
        "Penalised and profile likelihoods have no design-based form: the model is fitted by "
        "pseudo-maximum likelihood, with limits from the errors of the design."
    )
    return [Check(id="method", status="care", text=text)]
