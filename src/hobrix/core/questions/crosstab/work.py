"""The table of a question while it is being answered."""

from dataclasses import dataclass
from functools import cached_property

from hobrix.core.data import Frame
from hobrix.core.questions.crosstab.results import CrosstabTable
from hobrix.core.questions.crosstab.table import crosstab_table
from hobrix.core.questions.lens import Work
from hobrix.core.questions.pair import Pair, count_pair
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import Sampling

MAX_CATEGORIES = 200


@dataclass(frozen=True)
class CrosstabWork(Work):
    pair: Pair

    @cached_property
    def whole(self) -> CrosstabTable:
        return crosstab_table(self.pair, self.pair.whole, self.question.options.crosstab)


def work_on(question: Question, frame: Frame, sampling: Sampling) -> CrosstabWork:
    pair = count_pair(question, frame, sampling, MAX_CATEGORIES)
    return CrosstabWork(question, frame, sampling, pair)
