"""The Proportions lens: how common is the event in each group, and how far apart are they?"""

from hobrix.core.data import Frame
from hobrix.core.questions.answer import NextStep
from hobrix.core.questions.estimates import Quantity, Unavailable
from hobrix.core.questions.lens import Lens, Panel, Refusal, Sheet
from hobrix.core.questions.pair import needed, refusal_of_pair
from hobrix.core.questions.pooled import pooled_pairs
from hobrix.core.questions.proportions import compare, panels
from hobrix.core.questions.proportions import results as r
from hobrix.core.questions.proportions.checks import proportion_checks
from hobrix.core.questions.proportions.printed import methods, tables
from hobrix.core.questions.proportions.reading import (
    moved,
    proportion_reading,
    proportion_write_up,
)
from hobrix.core.questions.proportions.work import ProportionsWork, work_on
from hobrix.core.questions.quantities import odds_ratio_of, quantity_of
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import refuse_without_event
from hobrix.core.questions.wording import against


def refusal(question: Question, frame: Frame) -> Refusal | None:
    if (found := refusal_of_pair(question, frame)) is not None:
        return found
    why = refuse_without_event(question, frame, "Shares are those of an event")
    return None if why is None else Refusal(why, "outcome", is_open=True)


def sheet(work: ProportionsWork) -> Sheet:
    results = r.ProportionsResults(
        whole=work.groups,
        leading=work.leading,
        closer=compare.closer_look(work),
        test=work.test,
        one_sided=compare.one_sided(work, work.groups.clearest),
        trend=compare.trend(work),
        strata=compare.strata(work),
        pooled=pooled_pairs(work.pair, work.groups),
        standardised=compare.standardised(work),
    )
    return Sheet(
        counted=work.pair.counted,
        results=results,
        checks=proportion_checks(work, results),
        reading=proportion_reading(work, results),
        next_steps=_next_steps(work),
        write_up=proportion_write_up(work, results),
        unavailable=_unavailable(work, results),
        moved=moved(work),
        replicates_lost=work.pair.whole.replicates_lost,
    )


def _unavailable(work: ProportionsWork, results: r.ProportionsResults) -> list[Unavailable]:
    missing = []
    if work.pair.is_case_control:
        reason = "In a case–control study the share of cases was set by the researcher."
        keys = ("risk_difference", "risk_ratio", "number_needed", "z_test", "standardised")
        missing += [Unavailable(quantity=key, reason=reason) for key in keys]
    if work.question.is_designed:
        reason = "Pooling over strata has no design-based form here: allow for them in a model."
        missing.append(Unavailable(quantity="pooled", reason=reason))
        reason = "Pairs, exact tests and planning are those of rows that count once."
        missing.append(Unavailable(quantity="paired", reason=reason))
    if results.trend is None:
        reason = "The groups have no order, are fewer than three, or have no trend to estimate."
        missing.append(Unavailable(quantity="trend", reason=reason))
    return missing


def _next_steps(work: ProportionsWork) -> list[NextStep]:
    far, base, question = work.groups.clearest, work.groups.base, work.question
    return [
        NextStep(
            label=f"Turn round: {against(base.label, far.label)}",
            question=question.with_reference(far.value),
        ),
        NextStep(label="Look at the whole table", question=question, through="table"),
    ]


def quantities(results: r.ProportionsResults) -> list[Quantity]:
    whole, found = results.whole, []
    if whole.shares_have_meaning:
        for share in whole.groups:
            found.append(quantity_of(share))
    for each in whole.comparisons:
        if each.odds_ratio.estimate is not None:
            found.append(odds_ratio_of(each, whole.reference_label))
    if results.test is not None:
        found.append(
            Quantity(label="All groups alike, p", unit="p", estimate=results.test.p, ci=None)
        )
    return found


def _has_several(work: ProportionsWork) -> bool:
    return len(work.question.vary_with) > 1


def _is_recast(work: ProportionsWork) -> bool:
    return bool(work.question.options.categories)


PROPORTIONS = Lens[ProportionsWork](
    name="proportions",
    title="Proportions",
    uses=frozenset({"vary_with", "within"}),
    gives="shares of an event",
    results=r.ProportionsResults,
    opened=r.ProportionsPanels,
    refusal=refusal,
    work=work_on,
    sheet=sheet,
    panels=(
        Panel(
            "tests",
            "Intervals and tests",
            "method, level, one-sided, trend, every two groups",
            panels.tests,
        ),
        Panel(
            "margin",
            "Within a margin",
            "is it equivalent, or not lower, or not higher?",
            panels.margin,
            is_there=panels.has_shares,
            opens=panels.has_margin,
        ),
        Panel(
            "first_table",
            "Table of characteristics",
            "the first table of a paper",
            opens=_has_several,
        ),
        Panel(
            "paired",
            "If these are pairs",
            "the same people asked twice",
            panels.in_pairs,
            is_there=panels.are_pairs,
        ),
        Panel(
            "categories",
            "Categories for this question only",
            "leave out, combine, order, no answer as a category",
            opens=_is_recast,
        ),
        Panel(
            "statement", "Hypothesis statement", "for teaching and protocols", panels.in_statement
        ),
        Panel(
            "plan",
            "Planning",
            "what a study of another size would show",
            panels.plan,
            is_there=panels.can_plan,
        ),
    ),
    needs=needed,
    quantities=quantities,
    tables=tables,
    methods=methods,
)
