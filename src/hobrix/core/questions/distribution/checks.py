"""What a distribution's numbers assume, and whether that holds here."""

from hobrix.core.data import Frame, Variable
from hobrix.core.questions.answer import Check, Counted, Remedy
from hobrix.core.questions.distribution.options import DistributionOptions
from hobrix.core.questions.distribution.results import DistributionResults, VariableDistribution
from hobrix.core.questions.question import Question
from hobrix.core.questions.shared_checks import counting_check, passed_over_check
from hobrix.core.questions.wording import count, listed, number, p_equals


def distribution_checks(
    question: Question,
    frame: Frame,
    results: DistributionResults,
    counted: Counted,
    outcome: Variable,
    options: DistributionOptions,
) -> tuple[Check, ...]:
    """Checks, those that ask for care first."""
    first = results.whole.variables[0]
    checks = [
        _missing(first, outcome, counted),
        *_event(first, outcome),
        *_interval(question, first, options),
        *_expected(first),
        *_skewed(first),
        *_empty(first),
        *_small_groups(results, counted),
        *passed_over_check(question, frame),
        counting_check(question, frame, counted),
    ]
    order = {"fail": 0, "care": 1, "ok": 2}
    return tuple(sorted(checks, key=lambda check: order[check.status]))


def _missing(first: VariableDistribution, outcome: Variable, counted: Counted) -> Check:
    if not first.n_missing:
        text = f"Every one of the {count(first.n_all)} {counted.noun_many} answered."
        return Check(id="missing", status="ok", text=text)
    reasons = [
        f"{count(m.count)} {m.label or f'“{m.code}”'}" for m in first.missing_breakdown if m.count
    ]
    text = (
        f"{count(first.n_missing)} of {count(first.n_all)} {counted.noun_many} "
        f"({first.percent_missing_of_all:.1f}%) gave no answer: {listed(reasons)}."
    )
    if first.percent_missing_of_all <= 10:
        return Check(id="missing", status="ok", text=text)
    text += " Shares of those who answered describe the others only if both are alike."
    remedy = Remedy(
        label=f"Look at the missing codes of {outcome.title}", codebook_variable=outcome.name
    )
    return Check(id="missing", status="care", text=text, remedies=(remedy,))


def _event(first: VariableDistribution, outcome: Variable) -> list[Check]:
    if first.share is not None or not outcome.is_categorical or len(outcome.categories) != 2:
        return []
    text = (
        f"No answer to {outcome.title} is marked as the event, so its share is not singled out. "
        "Choose it in the sentence."
    )
    return [Check(id="event", status="care", text=text)]


def _interval(
    question: Question, first: VariableDistribution, options: DistributionOptions
) -> list[Check]:
    """Wald's interval is poor where few have or lack the event (Brown, Cai & DasGupta 2001)."""
    if options.interval != "wald" or first.kind == "numeric":
        return []
    n = first.n_answered
    few = [r.label for r in first.table if 0 < min(r.count, n - r.count) < 15 or r.count == 0]
    if not few:
        return []
    text = (
        f"Wald’s interval is too narrow or leaves no room where few gave an answer "
        f"({listed([f'“{label}”' for label in few[:3]])}{' …' if len(few) > 3 else ''})."
    )
    wilson = question.model_copy(update={"options": {**question.options, "interval": "wilson"}})
    remedy = Remedy(label="Use Wilson’s interval", question=wilson)
    return [Check(id="interval", status="care", text=text, remedies=(remedy,))]


def _expected(first: VariableDistribution) -> list[Check]:
    fit = first.goodness_of_fit
    if fit is None:
        return []
    smallest = min(fit.expected_counts)
    where = fit.labels[fit.expected_counts.index(smallest)]
    if smallest >= 5:
        text = f"Every expected count is at least 5 (smallest {number(smallest)}, in {where})."
        return [Check(id="expected_counts", status="ok", text=text)]
    text = f"The smallest expected count is {number(smallest)}, in {where}: below 5, so the chi-square p is rough."
    if fit.exact_multinomial is not None:
        text += (
            f" The exact multinomial test gives {p_equals(fit.exact_multinomial.p)}, which leads."
        )
        return [Check(id="expected_counts", status="care", text=text)]
    text += " Combining rare categories would help."
    return [Check(id="expected_counts", status="fail", text=text)]


def _skewed(first: VariableDistribution) -> list[Check]:
    s = first.summary
    if first.kind != "numeric" or s is None or s.skewness_g1 is None or abs(s.skewness_g1) < 1:
        return []
    side = "high" if s.skewness_g1 > 0 else "low"
    text = (
        f"A few {side} values pull the mean to {number(s.mean)}, away from the median "
        f"({number(s.median)}): skewness {s.skewness_g1:.1f}. Median and quartiles describe this better."
    )
    return [Check(id="skewed", status="care", text=text)]


def _empty(first: VariableDistribution) -> list[Check]:
    if first.kind == "numeric":
        return []
    empty = [f"“{row.label}”" for row in first.table if row.count == 0]
    if not empty:
        return []
    text = f"Nobody counted gave the answer {listed(empty[:5], 'or')}."
    return [Check(id="empty_categories", status="care", text=text)]


def _small_groups(results: DistributionResults, counted: Counted) -> list[Check]:
    small = [s.label for s in results.strata if s.variables[0].n_answered < 30]
    if not small:
        return []
    text = (
        f"Fewer than 30 {counted.noun_many} answered in {listed(small[:5])}"
        f"{' and others' if len(small) > 5 else ''}: shares there are rough."
    )
    return [Check(id="small_groups", status="care", text=text)]
