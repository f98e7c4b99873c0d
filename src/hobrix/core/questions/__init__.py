"""Questions and their answers through the lenses."""

from hobrix.core.data import Design, Frame
from hobrix.core.questions.answer import Answer
from hobrix.core.questions.crosstab.lens import answer_crosstab
from hobrix.core.questions.distribution.lens import answer_distribution
from hobrix.core.questions.odds.lens import answer_odds
from hobrix.core.questions.overview.at_a_glance import Glance, at_a_glance
from hobrix.core.questions.overview.first_table import FirstTable, Numbers, Within, first_table
from hobrix.core.questions.overview.screening import Screening, screen
from hobrix.core.questions.proportions.lens import answer_proportions
from hobrix.core.questions.question import Lens, Outcome, Question, Term
from hobrix.core.questions.set_aside import compare_set_aside, rows_set_aside
from hobrix.core.questions.survey.lens import with_design
from hobrix.core.survey.logistic import Tell

__all__ = [
    "Answer",
    "FirstTable",
    "Glance",
    "Lens",
    "Numbers",
    "Outcome",
    "Question",
    "Screening",
    "Term",
    "Within",
    "answer",
    "at_a_glance",
    "compare_set_aside",
    "first_table",
    "rows_set_aside",
    "screen",
    "takes_long",
]

_LENSES = {
    "distribution": answer_distribution,
    "crosstab": answer_crosstab,
    "proportions": answer_proportions,
    "odds": answer_odds,
}


def answer(question: Question, frame: Frame, tell: Tell = lambda _: None) -> Answer:
    """Answer a question through the lens it names. ``tell`` hears how much of long work is done,
    from 0 to 1, and may raise to end it.

    Raises:
        QuestionError: the question cannot be answered with this frame; says which slot is why.
    """
    given = _LENSES[question.lens](question, frame)
    return with_design(given, question, frame, tell) if is_designed(question) else given


def takes_long(question: Question) -> bool:
    """Whether a model is fitted again for every replicate of the sample."""
    counting = question.counted_by
    return (
        question.lens == "odds" and isinstance(counting, Design) and counting.errors != "linearised"
    )


def is_designed(question: Question) -> bool:
    """Whether rows are weighted by a survey design."""
    return isinstance(question.counted_by, Design)
