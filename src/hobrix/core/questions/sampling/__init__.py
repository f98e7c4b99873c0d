"""How an answer is estimated: every row for itself, or as the design of a sample says.

A lens asks its ``Sampling`` for shares, tables, numbers and models and shows what it gets; which of
the two it is makes no other difference.
"""

from hobrix.core.data import Design, Frame
from hobrix.core.progress import Stages, Tell, quietly
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling.designed import Designed
from hobrix.core.questions.sampling.drawn import drawn_by
from hobrix.core.questions.sampling.each_row import EachRow
from hobrix.core.questions.sampling.shape import Number, PairTable, Sampling

__all__ = ["Number", "PairTable", "Sampling", "sampling_of"]


def sampling_of(question: Question, frame: Frame, tell: Tell = quietly) -> Sampling:
    """How the question counts rows; ``tell`` hears how much of long work is done.

    Raises:
        QuestionError: a subset that nobody is in, counts that are none, a design that cannot be used.
    """
    rows = Rows(question, frame)
    if not isinstance(question.counted_by, Design):
        return EachRow(rows, rows.mask, question.confidence, Stages(tell, 1))
    drawn = drawn_by(question.counted_by, frame, rows.subset)
    return Designed(rows, drawn, question.confidence, Stages(tell, 1))
