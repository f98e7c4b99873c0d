"""What a distribution's numbers assume, and whether that holds here."""

from hobrix.core.questions.answer import Check, Counted, Remedy, in_order
from hobrix.core.questions.distribution.options import LikeVariable
from hobrix.core.questions.distribution.results import DistributionResults, VariableDistribution
from hobrix.core.questions.distribution.work import DistributionWork
from hobrix.core.questions.estimates import Share
from hobrix.core.questions.question import Term
from hobrix.core.questions.rows_checks import rows_checks
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.thresholds import (
    EXPECTED,
    FEW_FOR_WALD,
    MUCH_MISSING,
    SKEWED,
    SMALL_GROUP,
)
from hobrix.core.questions.wording import count, first_of, listed, number


def distribution_checks(
    work: DistributionWork, results: DistributionResults, counted: Counted
) -> list[Check]:
    """Checks, those that ask for care first."""
    first = results.variables[0]
    return list(
        in_order(
            [
                _missing(work, first, counted),
                *_event(work, first),
                *_interval(work, first),
                *_expected(first),
                *_same_people(work, first),
                *_skewed(first),
                *_empty(first),
                *_small_groups(results, counted),
                *_set_by_design(work),
                *rows_checks(work),
                *counting_checks(work, counted, _shares(first)),
            ]
        )
    )


def _shares(first: VariableDistribution) -> list[Share]:
    """The shares whose design effects matter."""
    return [
        Share(
            value=row.value,
            label=row.label,
            n=row.weighted.n,
            events=row.count,
            share=row.weighted.estimate,
            share_ci=None,
            weighted=row.weighted,
        )
        for row in first.table
        if row.weighted is not None
    ]


def _missing(work: DistributionWork, first: VariableDistribution, counted: Counted) -> Check:
    if not first.n_missing:
        text = f"All {count(first.n_all)} {counted.noun_many} answered."
        if counted.noun_many == "answers":
            text = "No answer is missing."
        return Check(id="missing", status="ok", text=text)
    reasons = [
        f"{count(m.count)} {m.label or f'“{m.code}”'}" for m in first.missing_breakdown if m.count
    ]
    weighted = "weighted, " if work.question.is_designed else ""
    text = (
        f"{count(first.n_missing)} of {counted.people(first.n_all)} "
        f"({weighted}{first.percent_missing_of_all:.1f}%) gave no answer: {listed(reasons)}."
    )
    if first.percent_missing_of_all <= 100 * MUCH_MISSING:
        return Check(id="missing", status="ok", text=text)
    text += " Shares of those who answered describe the others only if both are alike."
    outcome = work.outcome
    remedy = Remedy(
        label=f"Look at the missing codes of {outcome.title}", codebook_variable=outcome.name
    )
    return Check(id="missing", status="care", text=text, remedies=(remedy,))


def _event(work: DistributionWork, first: VariableDistribution) -> list[Check]:
    outcome = work.outcome
    if first.share is not None or not outcome.is_categorical or len(outcome.categories) != 2:
        return []
    text = (
        f"No answer to {outcome.title} is marked as the event, so its share is not singled out. "
        "Choose it in the sentence."
    )
    return [Check(id="event", status="care", text=text)]


def _interval(work: DistributionWork, first: VariableDistribution) -> list[Check]:
    """Wald's interval is poor where few have or lack the event."""
    if work.options.share_interval != "wald" or work.question.is_designed:
        return []
    n = first.n_answered
    few = [
        f"“{row.label}”"
        for row in first.table
        if 0 < min(row.count, n - row.count) < FEW_FOR_WALD or row.count == 0
    ]
    if not few:
        return []
    text = (
        "Wald’s interval is too narrow or leaves no room where few gave an answer "
        f"({first_of(few, 3)})."
    )
    wilson = work.question.with_options("distribution", share_interval="wilson")
    remedy = Remedy(label="Use Wilson’s interval", question=wilson)
    return [Check(id="interval", status="care", text=text, remedies=(remedy,))]


def _expected(first: VariableDistribution) -> list[Check]:
    fit = first.goodness_of_fit
    if fit is None or fit.expected_counts is None:
        return []
    smallest = min(fit.expected_counts)
    where = fit.labels[fit.expected_counts.index(smallest)]
    if smallest >= EXPECTED:
        text = (
            f"Every expected count is at least {EXPECTED:.0f} (smallest {number(smallest)}, in "
            f"{where})."
        )
        return [Check(id="expected_counts", status="ok", text=text)]
    text = (
        f"The smallest expected count is {number(smallest)}, in {where}: below {EXPECTED:.0f}, so "
        "the chi-square p is rough."
    )
    if fit.exact_multinomial is not None:
        text += " The exact multinomial test stands for it."
        return [Check(id="expected_counts", status="care", text=text)]
    text += " Combining rare categories would help."
    return [Check(id="expected_counts", status="fail", text=text)]


def _same_people(work: DistributionWork, first: VariableDistribution) -> list[Check]:
    """Another variable's shares are answers of the same people, not known from elsewhere."""
    if first.goodness_of_fit is None or first.goodness_of_fit.source != "variable":
        return []
    text = (
        "The expected shares are answers of the same people, but the test takes them as known and as "
        "independent of these: its p is rough. As pairs, before and after, they are compared in the Crosstab."
    )
    return [Check(id="same_people", status="care", text=text, remedies=_as_pairs(work))]


def _as_pairs(work: DistributionWork) -> tuple[Remedy, ...]:
    """The table of both variables, where both have the same answers in the same order."""
    question, frame = work.question, work.frame
    expected = question.options.distribution.expected
    if not isinstance(expected, LikeVariable) or question.outcome is None or question.is_designed:
        return ()
    both = [frame.variables[name] for name in (expected.variable, question.outcome.variable)]
    answers = [[category.value for category in each.categories] for each in both]
    if answers[0] != answers[1] or question.options.categories:
        return ()
    asked = question.changed(vary_with=(Term(variable=expected.variable),), within=())
    return (Remedy(label="Compare them before and after", question=asked, through="table"),)


def _set_by_design(work: DistributionWork) -> list[Check]:
    if not work.was_set:
        return []
    text = (
        f"Cases were sampled in this study, so the shares of {work.outcome.title} were set by the "
        "design: they have no interval and describe nobody but the sample."
    )
    return [Check(id="study_design", status="care", text=text)]


def _skewed(first: VariableDistribution) -> list[Check]:
    s = first.summary
    if first.kind != "numeric" or s is None or s.skewness_g1 is None:
        return []
    if abs(s.skewness_g1) < SKEWED:
        return []
    side = "high" if s.skewness_g1 > 0 else "low"
    text = (
        f"A few {side} values pull the mean to {number(s.mean)}, away from the median "
        f"({number(s.median)}): skewness {s.skewness_g1:.1f}. Median and quartiles describe this "
        "better."
    )
    return [Check(id="skewed", status="care", text=text)]


def _empty(first: VariableDistribution) -> list[Check]:
    empty = [f"“{row.label}”" for row in first.table if row.count == 0]
    if not empty:
        return []
    text = f"Nobody counted gave the answer {first_of(empty, 5, 'or')}."
    return [Check(id="empty_categories", status="care", text=text)]


def _small_groups(results: DistributionResults, counted: Counted) -> list[Check]:
    small = [s.label for s in results.strata if s.outcome.n_answered < SMALL_GROUP]
    if not small:
        return []
    text = (
        f"Fewer than {SMALL_GROUP} {counted.noun_many} answered in {first_of(small, 5)}: shares "
        "there are rough."
    )
    return [Check(id="small_strata", status="care", text=text)]
