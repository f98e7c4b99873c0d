"""Questions and their answers through the lenses."""

from hobrix.core.questions.asking import (
    Begun,
    LensOffered,
    answer,
    begin,
    finish,
    offered,
    panel,
    takes_long,
)
from hobrix.core.questions.lenses import LENSES, Answer, PanelAnswer
from hobrix.core.questions.overview.at_a_glance import Glance, at_a_glance
from hobrix.core.questions.overview.first_table import FirstTable, Numbers, Within, first_table
from hobrix.core.questions.overview.screening import Screening, screen
from hobrix.core.questions.question import Outcome, Question, Term
from hobrix.core.questions.set_aside import compare_set_aside, rows_set_aside

__all__ = [
    "LENSES",
    "Answer",
    "Begun",
    "FirstTable",
    "Glance",
    "LensOffered",
    "Numbers",
    "Outcome",
    "PanelAnswer",
    "Question",
    "Screening",
    "Term",
    "Within",
    "answer",
    "at_a_glance",
    "begin",
    "compare_set_aside",
    "finish",
    "first_table",
    "offered",
    "panel",
    "rows_set_aside",
    "screen",
    "takes_long",
]
