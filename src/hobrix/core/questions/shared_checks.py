"""Checks that every lens makes: how rows count, and what of the sentence the lens does not use."""

from hobrix.core.data import CountsColumn, Frame
from hobrix.core.questions.answer import Check, Counted, Remedy
from hobrix.core.questions.question import Question
from hobrix.core.questions.wording import count, listed


def counting_check(question: Question, frame: Frame, counted: Counted) -> Check:
    """How rows count, in words; blank counts and a recorded design that is not used ask for care."""
    if isinstance(question.counted_by, CountsColumn):
        title = frame.variables[question.counted_by.variable].title
        text = (
            f"Each row is a group, counted as {title} says: {count(counted.rows)} rows, "
            f"{count(counted.in_subset)} {counted.noun_many}."
        )
        column = frame.numeric(question.counted_by.variable, "counted_by")
        blank = int(column.is_missing.sum())
        if not blank:
            return Check(id="counting", status="ok", text=text)
        text += f" Rows without a count are taken as 0: {count(blank)}."
        return Check(id="counting", status="care", text=text)
    text = f"Each {frame.noun.one} counts once and is taken as independent of the others"
    recorded = frame.recorded
    if recorded is None or not recorded.names <= set(frame.variables):
        return Check(id="counting", status="ok", text=f"{text}.")
    text += (
        f", though a design is recorded ({recorded.words(frame)}): numbers are those of the sample"
        f"{', and intervals are likely too narrow' if recorded.clusters else ''}."
    )
    asked = question.model_copy(update={"counted_by": recorded})
    remedy = Remedy(label="Use the design", question=asked)
    return Check(id="counting", status="care", text=text, remedies=(remedy,))


def passed_over_check(question: Question, frame: Frame) -> list[Check]:
    """A part of the sentence that this lens cannot use: said, with the lens that can."""
    if question.lens == "odds":
        return []
    names = [term.variable for term in question.allowing_for if term.together_with is None]
    if not names:
        return []
    titles = listed([frame.variable(name, "allowing_for").title for name in names])
    asked = question.model_copy(update={"lens": "odds"})
    remedy = Remedy(label="Ask the Odds model", question=asked)
    text = f"This lens does not allow for {titles}. The Odds model does."
    return [Check(id="passed_over", status="care", text=text, remedies=(remedy,))]
