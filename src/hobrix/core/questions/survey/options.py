"""What questions with a survey design know in every lens, as it stands under ``options``."""

from hobrix.core.data import Frozen
from hobrix.core.questions.lens_options import read_options
from hobrix.core.questions.question import Question


class SurveyOptions(Frozen):
    """``beside`` shows each row once, weights only and the design side by side."""

    beside: bool = False


def options_of(question: Question) -> SurveyOptions:
    """The options of a question for its design; raises QuestionError."""
    return read_options(question, SurveyOptions, {})
