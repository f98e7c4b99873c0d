"""What the Odds model assumes, and whether it holds here: each with what was seen and a remedy.

What rests on predictions and residuals comes with the panels that show them.
"""

from hobrix.core.questions.answer import Check, Counted, in_order
from hobrix.core.questions.odds.results import OddsModel, OddsResults, OddsTerm
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.slots import reference_of
from hobrix.core.questions.thresholds import (
    COMMON,
    ENOUGH_EVENTS,
    FEW_EVENTS,
    INFLATED,
    MUCH_MISSING,
)
from hobrix.core.questions.wording import count, first_of, listed, number, percent


def odds_checks(work: OddsWork, results: OddsResults, counted: Counted) -> list[Check]:
    """The failed first, then those to be careful about."""
    model = results.whole
    checks = [
        *_separation(model),
        _enough(work, model),
        _set_aside(counted),
        *_absent(work, model),
        *(_common_event(results.event_label, model.share) if work.has_probabilities else []),
        *_small(model),
        *_collinear(model),
        *_method(work),
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


def _set_aside(counted: Counted) -> Check:
    lost = counted.in_subset - counted.counted
    share = lost / counted.in_subset if counted.in_subset else 0.0
    verb = "lacks" if lost == 1 else "lack"
    return Check(
        id="set_aside",
        status="care" if share > MUCH_MISSING else "ok",
        text=f"{counted.people(lost)} ({percent(share)}) {verb} an answer the model needs.",
    )


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


def _common_event(event: str, share: float) -> list[Check]:
    """Where the event is common, odds ratios are not ratios of shares."""
    if share < COMMON:
        return []
    text = (
        f"“{event}” is common ({percent(share)}), so an odds ratio is further from 1 "
        "than the ratio of shares: do not read it as “times as common”. The average difference in "
        "probability stands beside it."
    )
    return [Check(id="common_event", status="care", text=text)]


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
