"""The sentence for the paper about a weighted sample, with the method named."""

from hobrix.core.data import Frame
from hobrix.core.questions.answer import Answer
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.reading import (
    drawn,
    event_in_words,
    furthest,
    of_model,
    opening,
)
from hobrix.core.questions.wording import count, p_in_print, percent, points, ratio


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
        text, _ = of_model(results, question, frame)
        return f"{text.replace('**', '')} {sample}"
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
    text, _ = opening(results, frame, question)
    return f"{text.replace('**', '')} {sample}"


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
    effect = f"odds ratio = {ratio(far.odds_ratio.estimate)}"
    low, high = (ratio(limit) for limit in far.odds_ratio.ci)
    if question.lens == "proportions":
        gap = far.risk_difference
        effect = f"difference {points(gap.estimate)} percentage points"
        low, high = (points(limit) for limit in gap.ci)
    return (
        f"The weighted share of {event_in_words(question, frame)} was {percent(here.estimate)} "
        f"with {here.label} and {percent(base.estimate)} with {base.label} "
        f"({effect}, {level} [{low}, {high}]). "
    )
