"""What a model of every answer assumes, and whether it holds here: each with what was seen and a remedy.

Whether one odds ratio does for all cuts comes with the panel that shows them.
"""

from typing import Literal

import numpy as np

from hobrix.core.questions.answer import Check, Counted, Remedy, in_order
from hobrix.core.questions.every_answer.results import EveryAnswerResults
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.recast import MISSING
from hobrix.core.questions.rows_checks import rows_checks
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.slots import reference_of
from hobrix.core.questions.thresholds import ENOUGH_EVENTS, FEW_EVENTS, MUCH_MISSING, NOTICED
from hobrix.core.questions.wording import count, first_of, listed, p_equals, percent
from hobrix.core.tables import independence


def every_answer_checks(
    work: EveryAnswerWork, results: EveryAnswerResults, counted: Counted
) -> list[Check]:
    """The failed first, then those to be careful about."""
    checks = [
        _enough(work, results),
        *_few(results),
        *_unused(work, results),
        *_order(work, results),
        *_no_answer_in_order(work, results),
        *_sampled_by_answer(work, results),
        *_base(work, results),
        *_absent(work, results),
        *_small(work, results),
        _set_aside(work, counted),
        *_limits(work),
        *rows_checks(work),
        *counting_checks(work, counted),
    ]
    return list(in_order(checks))


def _enough(work: EveryAnswerWork, results: EveryAnswerResults) -> Check:
    """How much there is to estimate each coefficient from: for answers in order what n - sum n_k³/n² comes to
    (Whitehead 1993, Stat Med 12:2257), otherwise the rarest answer."""
    columns = max(1, sum(len(term.column_levels) for term in work.model.terms))
    n = np.array([answer.n for answer in results.answers])
    sampled = " sampled" if work.question.is_designed else ""
    if results.is_ordered:
        worth = float(n.sum() - (n**3).sum() / n.sum() ** 2)
        what = f"Spread over the answers as they are,{sampled or ' those counted'} count as {count(round(worth))} (n − Σ nₖ³/n²)"
    else:
        worth = float(n.min())
        label = results.answers[int(n.argmin())].label
        what = f"The rarest answer, “{label}”, was given by {count(worth)}{sampled}"
    each = "for one coefficient" if columns == 1 else f"for each of {count(columns)} coefficients"
    text = f"{what}: {worth / columns:.0f} {each}"
    if worth / columns >= ENOUGH_EVENTS:
        return Check(id="events_per_coefficient", status="ok", text=f"{text}, enough.")
    text += (
        f", below {ENOUGH_EVENTS}, so odds ratios tend to be too far from 1 and intervals unsure."
    )
    return Check(id="events_per_coefficient", status="care", text=text)


def _few(results: EveryAnswerResults) -> list[Check]:
    """Answers hardly anybody gave."""
    few = [answer.label for answer in results.answers if answer.n < FEW_EVENTS]
    if not few:
        return []
    text = (
        f"Fewer than {FEW_EVENTS} answered {listed([f'“{each}”' for each in few[:4]], 'or')}: combine "
        "such answers with their neighbours, or with others like them."
    )
    return [Check(id="rare_answers", status="care", text=text)]


def _unused(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    if not results.unused:
        return []
    told = first_of([f"“{each}”" for each in results.unused], 4, "or")
    text = f"Nobody counted answered {told} to {work.asked.outcome.title}: left out of the model."
    return [Check(id="unused_answers", status="ok", text=text)]


def _order(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    """Where the question takes the answers otherwise than the codebook."""
    outcome, question = work.asked.outcome, work.question
    if results.is_ordered == (outcome.kind == "ordinal"):
        return []
    as_recorded = question.with_options("every_answer", taken="as_recorded")
    if results.is_ordered:
        text = (
            f"The codebook says that the answers to {outcome.title} have no order; here they are taken in the "
            "order in which they are listed."
        )
        label = "Take them in no order"
    else:
        text = (
            f"The answers to {outcome.title} have an order, which is not used here: that takes more people to "
            "find the same."
        )
        label = "Take them in order"
    # What has odds ratios in no order has one in order as well, not always the other way.
    apart = [[i] for i in range(len(results.answers))]
    leads = not results.is_ordered or work.can_be_taken(apart)
    remedies = (Remedy(label=label, question=as_recorded),) if leads else ()
    return [Check(id="order", status="care", text=text, remedies=remedies)]


def _no_answer_in_order(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    """Not having answered is neither more nor less than any answer."""
    if not results.is_ordered or MISSING not in {answer.value for answer in results.answers}:
        return []
    text = (
        f"Giving no answer to {work.asked.outcome.title} is counted as the highest answer here, which it is not: leave it out, or "
        "take the answers in no order."
    )
    remedies: tuple[Remedy, ...] = ()
    if work.can_be_taken([[i] for i in range(len(results.answers))]):
        asked = work.question.with_options("every_answer", taken="in_no_order")
        remedies = (Remedy(label="Take the answers in no order", question=asked),)
    return [Check(id="no_answer_in_order", status="fail", text=text, remedies=remedies)]


def _sampled_by_answer(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    """Odds ratios of single answers keep their meaning where people were sampled by their answer; those of
    higher answers do not (Scott & Wild 1997, Biometrika 84:57)."""
    if work.has_shares or not results.is_ordered or len(results.answers) < 3:
        return []
    text = (
        f"How many gave each answer to {work.asked.outcome.title} was set by the design of the study. The odds ratio "
        "of a higher answer is then not that of the population; those of each answer against one are."
    )
    remedies: tuple[Remedy, ...] = ()
    if work.can_be_taken([[i] for i in range(len(results.answers))]):
        asked = work.question.with_options("every_answer", taken="in_no_order")
        remedies = (Remedy(label="Take the answers in no order", question=asked),)
    return [Check(id="sampled_by_answer", status="care", text=text, remedies=remedies)]


def _base(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    """A base that hardly anybody gave makes all odds ratios hang on a few people."""
    if results.is_ordered:
        return []
    base, most = results.base, max(results.answers, key=lambda answer: answer.n)
    found = []
    if work.order[0] != base.value:
        text = (
            f"Nobody counted gave the base, “{work.asked.outcome.label_of(work.order[0])}”: the others are compared "
            f"with “{base.label}” instead."
        )
        found.append(Check(id="base", status="care", text=text))
    if base.n < FEW_EVENTS and most is not base:
        text = (
            f"Only {count(base.n)} gave the base, “{base.label}”: every odds ratio hangs on them."
        )
        asked = work.question.with_options("every_answer", base=most.value)
        remedy = Remedy(label=f"Compare with “{most.label}”", question=asked)
        found.append(Check(id="fragile_base", status="care", text=text, remedies=(remedy,)))
    return found


def _absent(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    """Categories nobody counted is in are left out; another stands in for an absent reference."""
    question, found = work.question, []
    asked = {
        t.variable: t
        for t in (*question.vary_with, *question.allowing_for)
        if t.together_with is None
    }
    for term in results.terms:
        variable = work.frame.variables[term.variable]
        if term.together_with or term.is_numeric or term.variable in question.options.categories:
            continue
        present = {row.label for row in term.rows} | {term.reference}
        absent = [c.label for c in variable.categories if c.label not in present]
        if absent:
            text = f"Nobody counted is in {listed(absent, 'or')} ({term.title}): left out."
            found.append(Check(id="empty_categories", status="care", text=text))
        wanted = variable.label_of(reference_of(asked[term.variable], variable))
        if wanted != term.reference:
            text = (
                f"Nobody counted is in the reference of {term.title}, “{wanted}”: the others are "
                f"compared against “{term.reference}” instead."
            )
            found.append(Check(id="reference", status="care", text=text))
    return found


def _small(work: EveryAnswerWork, results: EveryAnswerResults) -> list[Check]:
    """Categories in which hardly anybody gave one of the answers, where each has its own odds ratio, or which
    hardly anybody is in."""
    few = []
    for part in work.model.parts.values():
        if part.is_numeric:
            continue
        codes = work.model.prepared.values[part.name].astype(int)
        for code in sorted({int(part.base), *part.codes}):
            of_each = work.model.data.counts[codes == code].sum(axis=0)
            least = of_each.sum() if results.is_ordered else of_each.min()
            if least < FEW_EVENTS:
                few.append(f"{part.variable.title}: {part.label_of(code)}")
    if not few:
        return []
    what = "people" if results.is_ordered else "of some answer"
    text = f"Fewer than {FEW_EVENTS} {what} in {first_of(few, 4)}: odds ratios of such categories are unsure."
    return [Check(id="small_categories", status="care", text=text)]


def _set_aside(work: EveryAnswerWork, counted: Counted) -> Check:
    """Who lacks an answer, and whether the others answered the outcome alike."""
    lost = counted.in_subset - counted.counted
    share = lost / counted.in_subset if counted.in_subset else 0.0
    verb = "lacks" if lost == 1 else "lack"
    text = f"{counted.people(lost)} ({percent(share)}) {verb} an answer the model needs."
    status: Literal["ok", "care"] = "care" if share > MUCH_MISSING else "ok"
    asked, mask = work.asked, work.sampling.rows.mask
    gone = asked.answered & ~work.used if mask is None else asked.answered & ~work.used & mask
    many = len(asked.categories)
    table = np.array(
        [
            np.bincount(asked.codes[rows], weights=asked.trials[rows], minlength=many)
            for rows in (gone, work.used)
        ]
    )
    table = table[:, table.sum(axis=0) > 0]
    if table.sum(axis=1).all() and table.shape[1] > 1:
        test = independence.pearson_test(table)
        if test.p < NOTICED:
            text += (
                f" Those of them who answered {asked.outcome.title} answered it otherwise than the people counted "
                f"({p_equals(test.p)}, chi-square test)."
            )
            status = "care"
    return Check(id="set_aside", status=status, text=text)


def _limits(work: EveryAnswerWork) -> list[Check]:
    """What was asked for and has no design-based form."""
    if not work.question.is_designed or work.options.limits != "profile":
        return []
    text = (
        "Profile likelihoods have no design-based form: limits are from the errors of the design."
    )
    return [Check(id="method", status="care", text=text)]
