"""The Distribution lens: how is each variable answered, and does that match what was expected?"""

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import NextStep
from hobrix.core.questions.distribution import panels
from hobrix.core.questions.distribution import results as r
from hobrix.core.questions.distribution.checks import distribution_checks
from hobrix.core.questions.distribution.estimate import (
    event_share,
    goodness_of_fit,
    without_intervals,
)
from hobrix.core.questions.distribution.options import EqualShares
from hobrix.core.questions.distribution.printed import methods, tables
from hobrix.core.questions.distribution.reading import (
    distribution_reading,
    moved,
)
from hobrix.core.questions.distribution.work import (
    DistributionWork,
    variable_distribution,
    work_on,
)
from hobrix.core.questions.distribution.write_up import distribution_write_up
from hobrix.core.questions.estimates import Quantity, Unavailable
from hobrix.core.questions.lens import Lens, Panel, Refusal, Sheet
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling.designed import MOST_ANSWERS
from hobrix.core.questions.wording import count


def refusal(question: Question, frame: Frame) -> Refusal | None:
    if question.outcome is None:
        return Refusal("Choose the outcome: what is the question about?", "outcome", is_open=True)
    frame.variable(question.outcome.variable, "outcome")
    return None


def sheet(work: DistributionWork) -> Sheet:
    first, outcome = work.first, work.outcome
    if not first.n_answered:
        raise QuestionError(f"Nobody counted answered {outcome.title}.", slot="outcome")
    if work.was_set and work.options.against is not None:
        message = (
            "Cases were sampled: their share was set by the design, so there is nothing to test."
        )
        raise QuestionError(message, slot="options.distribution.against")
    first = first.model_copy(
        update={
            "share": event_share(work, work.sampling),
            "goodness_of_fit": goodness_of_fit(work),
        }
    )
    if work.was_set:
        first = without_intervals(first)
    others = (variable_distribution(work, each, work.sampling) for each in work.others)
    results = r.DistributionResults(
        variables=(first, *others),
        strata=tuple(_strata(work)),
    )
    counted = work.sampling.rows.strip(
        first.n_all,
        first.n_answered,
        [(_why(m.label, m.code, outcome), m.count) for m in first.missing_breakdown],
        "answered",
    )
    return Sheet(
        counted=counted,
        results=results,
        checks=distribution_checks(work, results, counted),
        reading=distribution_reading(work, results, counted),
        next_steps=_next_steps(work, first),
        write_up=distribution_write_up(work, results, counted),
        unavailable=_unavailable(work, first),
        moved=moved(first),
    )


def _strata(work: DistributionWork) -> list[r.StratumDistribution]:
    found = []
    for stratum in work.strata:
        within = work.sampling.within(stratum.where)
        outcome = variable_distribution(work, work.outcome, within)
        found.append(
            r.StratumDistribution(values=stratum.values, label=stratum.label, outcome=outcome)
        )
    return found


def _why(label: str, code: str, outcome: Variable) -> str:
    if not code:
        return f"no answer to {outcome.title} (blank)"
    return f"no answer to {outcome.title} ({label or code})"


def _unavailable(work: DistributionWork, first: r.VariableDistribution) -> list[Unavailable]:
    missing = []
    if first.share is None:
        reason = (
            "No answer is marked as the event."
            if work.outcome.is_categorical
            else "It is not answered in categories."
        )
        missing.append(("share", reason))
    if first.summary is None:
        missing.append(("summary", "The answers are not numbers."))
    elif first.summary.skewness_g1 is None:
        reason = (
            "Skewness has no weighted form here."
            if work.question.is_designed
            else "All answers are the same."
        )
        missing.append(("summary.skewness_g1", reason))
    fit = first.goodness_of_fit
    if work.question.is_designed:
        missing.append(("exact", "There is no exact test of a weighted sample."))
        if (n := len(work.outcome.categories)) > MOST_ANSWERS:
            reason = f"{count(n)} different answers: the {MOST_ANSWERS} most common are told."
            missing.append(("shares", reason))
    elif fit is not None and fit.exact_multinomial is None:
        reason = "There are too many possible outcomes to go through."
        missing.append(("goodness_of_fit.exact_multinomial", reason))
    return [Unavailable(quantity=key, reason=reason) for key, reason in missing]


def _next_steps(work: DistributionWork, first: r.VariableDistribution) -> list[NextStep]:
    question, outcome = work.question, work.outcome
    steps = []
    if question.vary_with and outcome.is_categorical and _can_be_crossed(work):
        crossed = question.changed(within=())
        steps.append(NextStep(label="Cross-tabulate the two", question=crossed, through="table"))
    if outcome.is_categorical and first.goodness_of_fit is None and len(first.table) > 1:
        equal = question.with_options("distribution", expected=EqualShares())
        steps.append(NextStep(label="Is every answer equally common?", question=equal))
    if first.share is None and outcome.is_categorical and len(outcome.categories) == 2:
        steps += [
            NextStep(label=f"Take “{c.label}” as the event", question=question.with_event(c.value))
            for c in outcome.categories
        ]
    return steps


def _can_be_crossed(work: DistributionWork) -> bool:
    """Whether there is something to compare among those who answered both."""
    other = work.others[0]
    if not other.is_categorical or other.kind == "text":
        return False
    columns = [work.frame.categorical(each.name, "vary_with") for each in (work.outcome, other)]
    sizes = [len(column.categories) for column in columns]
    both = work.sampling.cells([column.codes for column in columns], sizes)[1:, 1:]
    return all(np.count_nonzero(both.sum(axis=axis)) > 1 for axis in (0, 1))


def needs(question: Question) -> tuple[str, ...]:
    """Each variable is looked at by itself."""
    return (question.outcome.variable,) if question.outcome else ()


def quantities(results: r.DistributionResults) -> list[Quantity]:
    first = results.variables[0]
    found = [
        Quantity(
            label=row.label,
            unit="share",
            estimate=row.percent_of_answered / 100,
            ci=None if row.ci is None else (row.ci[0] / 100, row.ci[1] / 100),
            measure="share of an answer",
            about=row.label,
            n=first.n_answered,
            events=row.count,
        )
        for row in first.table
    ]
    if first.kind == "numeric" and first.summary is not None:
        s = first.summary
        mean = Quantity(
            label="Mean", unit="number", estimate=s.mean, ci=s.mean_ci, measure="mean", n=s.n
        )
        found.append(mean)
    return found


def _is_in_categories(work: DistributionWork) -> bool:
    return work.outcome.is_categorical


def _is_counted(work: DistributionWork) -> bool:
    return work.outcome.kind != "numeric"


def _is_not_text(work: DistributionWork) -> bool:
    return work.outcome.kind != "text"


def _is_tested(work: DistributionWork) -> bool:
    return work.options.against is not None


def _is_compared(work: DistributionWork) -> bool:
    return work.options.expected is not None


DISTRIBUTION = Lens[DistributionWork](
    name="distribution",
    title="Distribution",
    uses=frozenset({"vary_with", "within"}),
    gives="shares of answers",
    results=r.DistributionResults,
    opened=r.DistributionPanels,
    refusal=refusal,
    work=work_on,
    sheet=sheet,
    panels=(
        Panel(
            "values",
            "All numbers with their counts",
            "one by one, or in ranges where there are many",
            panels.values,
            is_there=panels.has_values,
        ),
        Panel(
            "share",
            "Intervals and a stated share",
            "which interval, at what level; is the share other than a stated one?",
            is_there=_is_counted,
            opens=_is_tested,
        ),
        Panel(
            "expected",
            "Against expected shares",
            "equal, stated, or another variable’s",
            is_there=_is_in_categories,
            opens=_is_compared,
        ),
        Panel(
            "related",
            "What goes with it?",
            "a quick look over all other variables",
            is_there=_is_not_text,
        ),
    ),
    needs=needs,
    quantities=quantities,
    tables=tables,
    methods=methods,
)
