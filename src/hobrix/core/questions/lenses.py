"""The lenses there are: one line per lens here, and one in ``options``."""

from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any, TypeAlias

from pydantic import Field

from hobrix.core.data import Frame, Frozen
from hobrix.core.questions.answer import Answered, AnsweredPanel, Gives
from hobrix.core.questions.crosstab.lens import CROSSTAB
from hobrix.core.questions.distribution.lens import DISTRIBUTION
from hobrix.core.questions.every_answer.lens import EVERY_ANSWER
from hobrix.core.questions.lens import Lens
from hobrix.core.questions.odds.lens import ODDS
from hobrix.core.questions.proportions.lens import PROPORTIONS
from hobrix.core.questions.question import Question
from hobrix.core.questions.within_sets.lens import MATCHED

LENSES: tuple[Lens[Any], ...] = (
    DISTRIBUTION,
    CROSSTAB,
    PROPORTIONS,
    ODDS,
    EVERY_ANSWER,
    MATCHED,
)
# Forms of a lens, each of which answers those of its questions that it suits.
FORMS: dict[str, tuple[Lens[Any], ...]] = {ODDS.name: (MATCHED, EVERY_ANSWER)}
FORM_OF = {form.name: name for name, forms in FORMS.items() for form in forms}
BY_NAME = {lens.name: lens for lens in LENSES}

if TYPE_CHECKING:
    AnyResults: TypeAlias = Frozen
    AnyOpened: TypeAlias = Frozen
else:
    _by_lens = Field(discriminator="lens")
    AnyResults = Annotated[reduce(or_, [lens.results for lens in LENSES]), _by_lens]
    AnyOpened = Annotated[reduce(or_, [lens.opened for lens in LENSES]), _by_lens]


class Answer(Answered[AnyResults, AnyOpened]):
    """The answer to one question through one lens."""


class PanelAnswer(AnsweredPanel[AnyOpened]):
    """One panel of an answer."""


def lens_of(question: Question) -> Lens[Any]:
    """The lens a question names."""
    return BY_NAME[question.lens]


def form_of(question: Question, frame: Frame) -> Lens[Any]:
    """The lens that answers: the one it names, or the form of it that suits the question."""
    name = FORM_OF.get(question.lens, question.lens)
    forms = FORMS.get(name, ())
    return next((form for form in forms if form.suits(question, frame)), BY_NAME[name])


def lens_that_gives(what: Gives) -> Lens[Any]:
    """The first lens that does."""
    return next(lens for lens in LENSES if lens.gives == what)
