"""The sentence for the paper about a weighted sample, with the method named."""

from collections.abc import Callable

from hobrix.core.data import Frame
from hobrix.core.questions.answer import Answer
from hobrix.core.questions.odds.reading import effect_in_print, leading
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.model_results import SurveyModel
from hobrix.core.questions.survey.reading import drawn, event_in_words, furthest
from hobrix.core.questions.wording import (
    count,
    listed,
    number,
    p_in_print,
    percent,
    points,
    ratio,
)

# Answers listed; of more only the most common.
_MOST_LISTED = 6


def survey_write_up(
    given: Answer, results: r.SurveyResults, frame: Frame, question: Question
) -> str:
    """Test, effect with its interval, and how errors were found."""
    assert question.outcome is not None
    sample = (
        f"Estimates are weighted, with {results.design.errors} for "
        f"{drawn(question, results.design, frame)} ({count(results.design.design_df)} df)."
    )
    if results.model is not None:
        return f"{_model(results.model, frame, question)} {sample}"
    compared = _compared(results, frame, question)
    test = None if results.table is None else results.table.leading
    if test is not None:
        outcome = frame.variables[question.outcome.variable].title
        explanatory = frame.variables[question.vary_with[0].variable].title
        return (
            f"{outcome} by {explanatory} (n = {count(given.counted.counted)}): Rao–Scott "
            f"F({test.df1:.2f}, {test.df2:.1f}) = {test.f:.2f}, {p_in_print(test.p)}. "
            f"{compared}{sample}"
        )
    if compared:
        return f"{compared}{sample}"
    return f"{_distribution(results, frame, question)}{sample}"


def _model(model: SurveyModel, frame: Frame, question: Question) -> str:
    people = f"{count(model.events)} of {count(model.n)} unweighted"
    text = (
        f"In a weighted logistic regression of {event_in_words(question, frame)} ({people}), "
        f"{effect_in_print(model.terms, question.confidence)}."
    )
    tested = [leading(model.terms)[0], *(t for t in model.terms if t.together_with is not None)]
    for term in tested:
        if term.wald is None or term.part_of_interaction:
            continue
        test = term.wald
        what = f"Interaction of {term.title}" if term.together_with else f"{term.title} as a whole"
        text += (
            f" {what}: adjusted Wald F({test.adjusted_df1}, {test.adjusted_df2}) = "
            f"{test.adjusted_f:.2f}, {p_in_print(test.adjusted_p)}."
        )
    return text


def _distribution(results: r.SurveyResults, frame: Frame, question: Question) -> str:
    """The share of the event, or of every answer, or the mean of a number."""
    assert question.outcome is not None
    outcome, level = (
        frame.variables[question.outcome.variable],
        f"{100 * question.confidence:g}% CI",
    )
    if results.mean is not None:
        mean = results.mean
        between = "" if mean.ci is None else f", {level} {_between(mean.ci, number)}"
        return f"The weighted mean of {outcome.title} was {number(mean.estimate)}{between}. "
    event = question.outcome.event or outcome.event
    told = [share for share in results.shares if (share.value,) == event] or list(results.shares)
    if len(told) > _MOST_LISTED:
        told = [max(told, key=lambda share: share.estimate)]
    said = []
    for share in told:
        people = f"{count(share.unweighted_count_of_events)} of {count(share.n)} unweighted"
        between = "" if share.ci is None else f", {level} {_between(share.ci, percent)}"
        said.append(f"{percent(share.estimate)} “{share.label}”{between} ({people})")
    text = f"Weighted shares of answers to {outcome.title}: {listed(said)}. "
    if (test := results.goodness_of_fit) is not None:
        text += (
            f"They {'differ' if test.p < 1 - question.confidence else 'do not clearly differ'} from "
            f"the stated shares, Rao–Scott F({test.df1:.2f}, {test.df2:.1f}) = {test.f:.2f}, "
            f"{p_in_print(test.p)}. "
        )
    return text


def _between(ci: tuple[float, float], words: Callable[[float], str]) -> str:
    return f"[{words(ci[0])}, {words(ci[1])}]"


def _compared(results: r.SurveyResults, frame: Frame, question: Question) -> str:
    """The furthest group against the reference: shares, and the odds ratio or, where shares are
    asked for, their difference."""
    far = furthest(results)
    if far is None or far.odds_ratio is None:
        return ""
    here = next(share for share in results.shares if share.value == far.value)
    compared = {each.value for each in results.comparisons}
    base = next(share for share in results.shares if share.value not in compared)
    level = f"{100 * question.confidence:g}% CI"
    effect, ci = f"odds ratio = {ratio(far.odds_ratio.estimate)}", far.odds_ratio.ci
    between = "" if ci is None else f", {level} {_between(ci, ratio)}"
    if question.lens == "proportions":
        gap = far.risk_difference
        effect = f"difference {points(gap.estimate)} percentage points"
        between = "" if gap.ci is None else f", {level} {_between(gap.ci, points)}"
    return (
        f"The weighted share of {event_in_words(question, frame)} was {percent(here.estimate)} "
        f"with {here.label} and {percent(base.estimate)} with {base.label} ({effect}{between}). "
    )
