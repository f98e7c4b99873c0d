"""Shares of an event as papers print them."""

from hobrix.core.data import Frame
from hobrix.core.questions.answer import Answered
from hobrix.core.questions.groups_printed import event_by_group
from hobrix.core.questions.printed import Table
from hobrix.core.questions.proportions.results import ProportionsPanels, ProportionsResults
from hobrix.core.questions.share_intervals import (
    AGAINST_REFERENCE,
    SHARE_INTERVALS,
    UNDER_DESIGN,
    picked_in_words,
)


def tables(answer: Answered[ProportionsResults, ProportionsPanels], frame: Frame) -> list[Table]:
    """The event by group."""
    question, results = answer.question, answer.results
    assert question.outcome is not None
    outcome = frame.variables[question.outcome.variable].title
    explanatory = frame.variables[question.vary_with[0].variable].title
    test = results.leading_test
    return [event_by_group(results.whole, outcome, explanatory, question.confidence, test)]


def methods(answer: Answered[ProportionsResults, ProportionsPanels]) -> list[str]:
    """How shares were estimated and compared."""
    if answer.sample is not None:
        said = [UNDER_DESIGN]
    else:
        interval = SHARE_INTERVALS[answer.question.options.proportions.share_interval]
        said = [f"Shares have {interval}.", AGAINST_REFERENCE]
    if answer.results.whole.many > 1:
        said.append(picked_in_words(answer.results.whole.many))
    if answer.results.pooled:
        said.append("Strata were pooled by Mantel and Haenszel’s weights (1959).")
    return said
