"""The Distribution lens: how is each variable answered, and does that match what was expected?"""

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Answer, NextStep
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.distribution.checks import distribution_checks
from hobrix.core.questions.distribution.estimate import (
    Mask,
    event_share,
    goodness_of_fit,
    variable_distribution,
)
from hobrix.core.questions.distribution.expected import expected_shares
from hobrix.core.questions.distribution.options import DistributionOptions, options_of
from hobrix.core.questions.distribution.reading import distribution_reading, distribution_write_up
from hobrix.core.questions.distribution.results import (
    DistributionResults,
    Distributions,
    StratumDistribution,
    VariableDistribution,
)
from hobrix.core.questions.quantities import Unavailable
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import event_of
from hobrix.core.questions.strata import refuse_too_many, strata_codes


def answer_distribution(question: Question, frame: Frame) -> Answer:
    """Answer through the Distribution lens.

    Raises:
        QuestionError: no outcome, an unknown variable, nobody left, options that make no sense.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome first.", slot="outcome")
    outcome = frame.variable(question.outcome.variable, "outcome")
    event = event_of(question, outcome) if outcome.is_categorical else ()
    others = [frame.variable(term.variable, "vary_with") for term in question.vary_with]
    options, rows = options_of(question), Rows(question, frame)

    def one(variable: Variable, where: Mask) -> VariableDistribution:
        return variable_distribution(frame, variable, rows, where, options, question.confidence)

    def of_outcome(where: Mask) -> VariableDistribution:
        found = one(outcome, where)
        share = event_share(found, outcome, event, options, question.confidence)
        return found.model_copy(update={"share": share})

    first = of_outcome(rows.mask)
    if not first.n_answered:
        raise QuestionError(f"Nobody counted answered {outcome.title}.", slot="outcome")
    first = _with_fit(first, outcome, options, frame, rows)
    whole = Distributions(variables=(first, *(one(variable, rows.mask) for variable in others)))
    strata = tuple(
        StratumDistribution(values=values, label=label, variables=(of_outcome(where),))
        for values, label, where in _strata(question, frame, rows)
    )
    unavailable = _unavailable(first, outcome)
    results = DistributionResults(whole=whole, strata=strata, unavailable=unavailable)
    counted = rows.strip(
        first.n_all,
        first.n_answered,
        [(_why(m.label, m.code, outcome), m.count) for m in first.missing_breakdown],
        "answered",
    )
    return Answer(
        lens="distribution",
        question=question,
        counted=counted,
        results=results,
        checks=distribution_checks(question, frame, results, counted, outcome, options),
        reading=distribution_reading(results, outcome, counted, options, question.confidence),
        next_steps=tuple(_next_steps(question, first, outcome)),
        write_up=distribution_write_up(results, outcome, counted, question.confidence),
    )


def _why(label: str, code: str, outcome: Variable) -> str:
    if not code:
        return f"no answer to {outcome.title} (blank)"
    return f"no answer to {outcome.title} ({label or code})"


def _with_fit(
    found: VariableDistribution,
    outcome: Variable,
    options: DistributionOptions,
    frame: Frame,
    rows: Rows,
) -> VariableDistribution:
    if options.expected is None:
        return found
    if not outcome.is_categorical:
        raise QuestionError(
            f"{outcome.title} is not in categories, so it has no shares to compare. Band it in "
            "the Codebook first.",
            slot="options.expected",
        )
    counts = {row.value: row.count for row in found.table}
    labels = {row.value: row.label for row in found.table}
    stated = expected_shares(options.expected, outcome, counts, frame, rows)
    fit = goodness_of_fit(counts, labels, stated, options.expected.kind)
    return found.model_copy(update={"goodness_of_fit": fit})


def _strata(
    question: Question, frame: Frame, rows: Rows
) -> list[tuple[tuple[str, ...], str, np.ndarray]]:
    """Values, label and rows of every stratum that holds somebody."""
    codes, labels = strata_codes(question, frame)
    if codes is None:
        return []
    inside = codes >= 0 if rows.mask is None else (codes >= 0) & rows.mask
    present = np.unique(codes[inside])
    refuse_too_many(question, frame, len(present))
    return [(*labels[code], inside & (codes == code)) for code in present]


def _unavailable(first: VariableDistribution, outcome: Variable) -> tuple[Unavailable, ...]:
    missing = []
    if first.share is None:
        reason = (
            "No answer is marked as the event."
            if outcome.is_categorical
            else "It is not answered in categories."
        )
        missing.append(Unavailable(quantity="share", reason=reason))
    if first.summary is None:
        reason = "The answers are not numbers."
        missing.append(Unavailable(quantity="summary", reason=reason))
    elif first.summary.skewness_g1 is None:
        reason = "All answers are the same."
        missing.append(Unavailable(quantity="summary.skewness_g1", reason=reason))
    if first.goodness_of_fit is not None and first.goodness_of_fit.exact_multinomial is None:
        reason = "There are too many possible outcomes to go through."
        missing.append(Unavailable(quantity="goodness_of_fit.exact_multinomial", reason=reason))
    return tuple(missing)


def _next_steps(
    question: Question, first: VariableDistribution, outcome: Variable
) -> list[NextStep]:
    steps = []
    if question.vary_with and outcome.is_categorical:
        crossed = question.model_copy(update={"lens": "crosstab", "within": ()})
        steps.append(NextStep(label="Cross-tabulate the two", question=crossed))
    if outcome.is_categorical and first.goodness_of_fit is None and len(first.table) > 1:
        equal = {**question.options, "expected": {"kind": "equal"}}
        steps.append(
            NextStep(
                label="Is every answer equally common?",
                question=question.model_copy(update={"options": equal}),
            )
        )
    if first.share is None and outcome.is_categorical and len(outcome.categories) == 2:
        steps += [
            NextStep(label=f"Take “{c.label}” as the event", question=question.with_event(c.value))
            for c in outcome.categories
        ]
    return steps
