"""The answer: who was counted, results, checks, reading and write-up. Its JSON is public."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.crosstab.results import CrosstabResults
from hobrix.core.questions.distribution.results import DistributionResults
from hobrix.core.questions.odds.results import OddsResults
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.question import Lens, Question
from hobrix.core.questions.survey.results import SurveyResults

Results = Annotated[
    CrosstabResults | DistributionResults | ProportionsResults | OddsResults,
    Field(discriminator="lens"),
]


class SetAside(Frozen):
    """Cases that could not be counted, and why."""

    reason: str
    n: float


class Counted(Frozen):
    """Who was counted: surveyed -> in the subset -> answered everything needed -> counted."""

    surveyed: float
    in_subset: float
    counted: float
    # What those counted did: "answered", or "answered both".
    answered: str
    set_aside: tuple[SetAside, ...]
    rows: int
    noun_one: str
    noun_many: str
    counting: str
    subset: str | None


class Remedy(Frozen):
    """One click that mends what a check found: another question, or a place to go."""

    label: str
    question: Question | None = None
    codebook_variable: str | None = None


class Check(Frozen):
    """An assumption of the method, and whether it holds here."""

    id: str
    status: Literal["ok", "care", "fail"]
    text: str
    remedies: tuple[Remedy, ...] = ()


class Figure(Frozen):
    """A headline figure: what it is, its value, and what stands beside it. ``exact`` in full."""

    label: str
    value: str
    detail: str
    exact: str


class Reading(Frozen):
    """The result in words. ``lead`` and ``notes`` mark emphasis with ** on both sides.

    ``headline`` is the short form for the line of questions; ``cells`` tells each cell of the
    table in a sentence, in the order of ``results.whole.counts``; ``ranked`` those that stand out,
    the clearest first.
    """

    lead: str
    headline: str
    figures: tuple[Figure, ...]
    notes: tuple[str, ...]
    cells: tuple[tuple[str, ...], ...]
    ranked: tuple[str, ...] = ()


class NextStep(Frozen):
    """A question that follows from this one."""

    label: str
    question: Question


class Answer(Frozen):
    """The answer to one question through one lens."""

    version: Literal[1] = 1
    lens: Lens
    question: Question
    counted: Counted
    results: Results
    # What the design of the sample makes of it, which leads; ``results`` count each row once then.
    survey: SurveyResults | None = None
    checks: tuple[Check, ...]
    reading: Reading
    next_steps: tuple[NextStep, ...]
    write_up: str
