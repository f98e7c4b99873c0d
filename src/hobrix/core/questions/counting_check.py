"""The check every lens makes: how rows count, and what that assumes."""

from hobrix.core.data import CountsColumn, Design, Frame, design_findings
from hobrix.core.questions.answer import Check, Counted
from hobrix.core.questions.question import Question
from hobrix.core.questions.wording import count


def counting_check(question: Question, frame: Frame, counted: Counted) -> Check:
    """How rows count, in words; blank counts and a design not used yet ask for care."""
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
    if isinstance(question.counted_by, Design):
        design_findings(question.counted_by, frame)
        text = (
            f"A survey design is recorded ({question.counted_by.words(frame)}), but this lens does "
            f"not use it yet: each {frame.noun.one} counts once. Shares are not corrected for the "
            "sampling, and intervals and p are likely too small."
        )
        return Check(id="counting", status="care", text=text)
    text = f"Each {frame.noun.one} counts once and is taken as independent of the others."
    return Check(id="counting", status="ok", text=text)
