"""What a lens is: one way to answer a question, which describes itself.

Everything else that depends on which lenses there are is made from these descriptions.
"""

from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

from hobrix.core.data import Frame, Frozen
from hobrix.core.progress import Tell
from hobrix.core.questions.answer import Check, Counted, Gives, NextStep, Reading
from hobrix.core.questions.estimates import NamedTest, Quantity, Unavailable
from hobrix.core.questions.printed import Table
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import Sampling


@dataclass(frozen=True)
class Refusal:
    """Why a lens cannot answer a question, beside the slot it concerns; ``is_open`` where that only
    has to be filled in."""

    why: str
    slot: str
    is_open: bool = False
    remedies: tuple[tuple[str, object], ...] = ()


@dataclass(frozen=True)
class Work:
    """A question being answered; lenses add what they have worked out and several parts need."""

    question: Question
    frame: Frame
    sampling: Sampling


W = TypeVar("W", bound=Work)


@dataclass(frozen=True)
class Sheet:
    """What is always shown of an answer. ``moved`` says what a survey design changes, and
    ``replicates_lost`` counts replicates in which something is not defined."""

    counted: Counted
    results: Frozen
    checks: list[Check]
    reading: Reading
    next_steps: list[NextStep]
    write_up: str
    unavailable: list[Unavailable] = field(default_factory=list)
    moved: str = ""
    replicates_lost: int = 0


@dataclass(frozen=True)
class Likelihood:
    """Its log at the maximum, the number of coefficients, and ``of`` what: only those of the same can be compared."""

    log: float
    coefficients: int
    of: str


@dataclass(frozen=True)
class Found:
    """What a panel shows, the checks that need it, and what it adds to the write-up."""

    result: Frozen | None
    checks: tuple[Check, ...] = ()
    write_up: str = ""


def _always(_work: Any) -> bool:
    return True


def _nothing(_results: Any) -> None:
    return None


def _never(_work: Any) -> bool:
    return False


def has_replicates(question: Question) -> bool:
    """A model is then fitted hundreds of times."""
    return getattr(question.counted_by, "errors", "linearised") != "linearised"


def _no_test(_work: Any, _terms: Collection[frozenset[str]]) -> NamedTest | None:
    return None


def _not_meant(_question: Question, _frame: Frame) -> bool:
    return False


def _no_words(_answer: Any) -> list[str]:
    return []


def _no_tables(_answer: Any, _frame: Frame) -> list[Table]:
    return []


@dataclass(frozen=True)
class Panel(Generic[W]):
    """A part of an answer that is worked out when it is opened; without ``find`` the screen needs
    nothing but the answer. ``is_there`` says whether it can be opened, ``opens`` whether at once;
    ``checks`` whether checks come with it."""

    name: str
    title: str
    hint: str = ""
    find: Callable[[W], Found] | None = None
    is_there: Callable[[W], bool] = _always
    opens: Callable[[W], bool] = _never
    checks: bool = False


@dataclass(frozen=True)
class Lens(Generic[W]):
    """``uses`` are the slots of the sentence it reads beyond the outcome; ``opened`` the model with
    a field for every panel that finds something. ``quantities`` are what can stand beside the same
    question counted another way; ``needs`` the variables a row must have answered."""

    name: str
    title: str
    uses: frozenset[str]
    gives: Gives
    results: type[Frozen]
    opened: type[Frozen]
    refusal: Callable[[Question, Frame], Refusal | None]
    work: Callable[[Question, Frame, Sampling], W]
    sheet: Callable[[W], Sheet]
    panels: tuple[Panel[W], ...]
    needs: Callable[[Question], tuple[str, ...]]
    quantities: Callable[[Any], list[Quantity]]
    # The likelihood of a model, where it has one.
    likelihood: Callable[[Any], Likelihood | None] = _nothing
    # Whether some of its terms, each the set of its variables, add anything under a design.
    gained: Callable[[Any, Collection[frozenset[str]]], NamedTest | None] = _no_test
    # Whether replicates of the sample make it long.
    takes_long: Callable[[Question], bool] = _never
    # The answer as papers print it, and the panels that are opened for that.
    tables: Callable[[Any, Frame], list[Table]] = _no_tables
    prints: tuple[str, ...] = ()
    # How it estimates, in sentences of a methods paragraph with their sources; tests name themselves.
    methods: Callable[[Any], list[str]] = _no_words
    # Of a form of another lens: which of its questions it answers.
    suits: Callable[[Question, Frame], bool] = _not_meant

    def panel(self, name: str) -> Panel[W] | None:
        return next((panel for panel in self.panels if panel.name == name), None)


__all__ = ["Found", "Lens", "Likelihood", "Panel", "Refusal", "Sheet", "Tell", "Work"]
