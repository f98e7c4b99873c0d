"""What the Odds model assumes, and whether it holds here: each with what was seen and a remedy."""

from hobrix.core.data import Frame
from hobrix.core.questions.answer import Check, Counted, Remedy
from hobrix.core.questions.odds.results import OddsModel, OddsResults, OddsTerm
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.shared_checks import counting_check
from hobrix.core.questions.slots import reference_of
from hobrix.core.questions.wording import count, listed, number, p_equals, percent

ENOUGH_EVENTS, FEW = 10, 5
LARGE_COOK, LARGE_MOVE = 1.0, 1.0
INFLATED = 2.0  # a GVIF^(1/2df) that doubles a standard error


def odds_checks(
    question: Question, frame: Frame, results: OddsResults, counted: Counted
) -> tuple[Check, ...]:
    """The failed first, then those to be careful about."""
    model = results.whole
    checks = [
        _separation(question, model),
        _enough(model),
        _set_aside(counted),
        *_absent(question, frame, model),
    ]
    if frame.study_design != "case_control":
        checks += common_event(results.event_label, model.events / model.n)
    checks += [*_small(model), *_linear(question, model), _collinear(model), _influence(model)]
    checks.append(_fit(model))
    checks.append(counting_check(question, frame, counted))
    order = {"fail": 0, "care": 1, "ok": 2}
    return tuple(sorted(checks, key=lambda check: order[check.status]))


def _separation(question: Question, model: OddsModel) -> Check:
    if model.separation == "none":
        return Check(id="separation", status="ok", text="No category foretells the outcome alone.")
    names = listed([part.label for part in model.separated][:4])
    text = (
        f"The outcome is told apart ({names}): ordinary odds ratios would be infinite. Shown are "
        "those of Firth’s penalised likelihood, with its profile intervals and tests."
    )
    plain = question.model_copy(
        update={"options": {k: v for k, v in question.options.items() if k != "method"}}
    )
    remedy = Remedy(label="Back to maximum likelihood", question=plain)
    return Check(id="separation", status="care", text=text, remedies=(remedy,))


def _enough(model: OddsModel) -> Check:
    fewer = min(model.events, model.n - model.events)
    columns = max(1, model.parameters - 1)
    each = fewer / columns
    text = f"{each:.0f} of the rarer outcome for each coefficient ({count(fewer)} for {count(columns)})"
    if each >= ENOUGH_EVENTS:
        return Check(id="events_per_coefficient", status="ok", text=f"{text}: enough.")
    text += ": below 10, so odds ratios tend to be too far from 1 and intervals unsure."
    return Check(id="events_per_coefficient", status="care", text=text)


def _set_aside(counted: Counted) -> Check:
    lost = counted.in_subset - counted.counted
    share = lost / counted.in_subset if counted.in_subset else 0.0
    noun = counted.noun_one if lost == 1 else counted.noun_many
    return Check(
        id="set_aside",
        status="care" if share > 0.1 else "ok",
        text=f"{count(lost)} {noun} ({percent(share)}) lack an answer the model needs.",
    )


def _absent(question: Question, frame: Frame, model: OddsModel) -> list[Check]:
    """Categories nobody counted is in are left out; another stands in for an absent reference."""
    checks = []
    asked = {
        t.variable: t
        for t in (*question.vary_with, *question.allowing_for)
        if t.together_with is None
    }
    recast = question.options.get("categories") or {}
    for term in _single(model):
        variable = frame.variables[term.variable]
        if term.is_numeric or (isinstance(recast, dict) and term.variable in recast):
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


def common_event(event: str, share: float) -> list[Check]:
    """Where the event is common, odds ratios are not ratios of shares."""
    if share < 0.1:
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
        and min(row.events, row.n - row.events) < FEW
    ]
    if not few:
        return []
    text = f"Fewer than 5 with or without the event in {listed(few[:4])}: its odds ratio is unsure."
    return [Check(id="small_categories", status="care", text=text)]


def _linear(question: Question, model: OddsModel) -> list[Check]:
    checks = []
    for each in model.linearity:
        test = each.bend or each.box_tidwell
        if test is None:
            text = f"{each.title} takes too few values to see whether its log odds bends."
            checks.append(Check(id="linearity", status="ok", text=text))
        elif test.p < 0.05:
            text = (
                f"The log odds bends along {each.title} ({p_equals(test.p)}): one odds ratio per "
                "unit does not tell its whole story."
            )
            asked = bent(question, each.variable)
            remedy = Remedy(label=f"Let {each.title} bend", question=asked)
            checks.append(Check(id="linearity", status="care", text=text, remedies=(remedy,)))
        else:
            text = f"No sign that the log odds bends along {each.title} ({p_equals(test.p)})."
            checks.append(Check(id="linearity", status="ok", text=text))
    return checks


def bent(question: Question, name: str) -> Question:
    """The same question with the log odds free to bend along a number."""

    def changed(terms: tuple[Term, ...]) -> tuple[Term, ...]:
        return tuple(
            term.model_copy(update={"bend": "spline"})
            if term.variable == name and term.together_with is None
            else term
            for term in terms
        )

    slots = {
        "vary_with": changed(question.vary_with),
        "allowing_for": changed(question.allowing_for),
    }
    return question.model_copy(update=slots)


def _collinear(model: OddsModel) -> Check:
    single = [term for term in _single(model) if not term.part_of_interaction]
    worst = max(single, key=lambda term: term.gvif_adjusted, default=None)
    if worst is None or worst.gvif_adjusted < INFLATED or len(single) < 2:
        text = "The variables do not say the same: no interval is widened much by the others."
        return Check(id="collinearity", status="ok", text=text)
    text = (
        f"{worst.title} says much the same as the others: its intervals are "
        f"{number(worst.gvif_adjusted)} times as wide as they would be alone. Leave out a "
        "variable that stands for the same thing."
    )
    return Check(id="collinearity", status="care", text=text)


def _influence(model: OddsModel) -> Check:
    seen = model.residuals
    if seen.largest_cooks_distance < LARGE_COOK and seen.largest_move < LARGE_MOVE:
        text = f"No single row moves a coefficient by more than {seen.largest_move:.2f} standard errors."
        return Check(id="influence", status="ok", text=text)
    row = max(seen.most_extreme, key=lambda each: each.cooks_distance)
    text = (
        f"Row {row.row} moves {row.most_moved} by {abs(row.moved_by):.1f} standard errors. See "
        "Unusual rows, and what the odds ratios become without it."
    )
    return Check(id="influence", status="care", text=text)


def _fit(model: OddsModel) -> Check:
    """A small p means misfit; a large one that none was seen."""
    test = model.hosmer_lemeshow
    if test.p is None:
        text = "Too few distinct predictions to test how well the model fits."
        return Check(id="fit", status="ok", text=text)
    told = f"Hosmer–Lemeshow {p_equals(test.p)}"
    if test.p >= 0.05:
        text = f"No misfit was seen between predicted and observed events ({told})."
        return Check(id="fit", status="ok", text=text)
    text = (
        f"Predicted and observed events differ ({told}): the model misses something. Let a number "
        "bend, or let two variables act together."
    )
    return Check(id="fit", status="care", text=text)
