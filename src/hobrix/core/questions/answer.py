"""The answer: who was counted, results, checks, reading and write-up. Its JSON is public."""

from typing import Annotated, Generic, Literal, TypeVar

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import SomeLimits, Unavailable
from hobrix.core.questions.number_style import marked
from hobrix.core.questions.options import LensName
from hobrix.core.questions.question import Question
from hobrix.core.tables.interval import MaybeInfinite

Results = TypeVar("Results", bound=Frozen)
Opened = TypeVar("Opened", bound=Frozen)

# What another lens gives; which lens that is, the registry knows.
Gives = Literal[
    "shares of answers",
    "table",
    "shares of an event",
    "model",
    "model of every answer",
    "model of matched sets",
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

    def people(self, n: float) -> str:
        """ "1 household", "2,412 households"."""
        return f"{marked(f'{n:,.0f}')} {self.noun_one if n == 1 else self.noun_many}"


class Remedy(Frozen):
    """One click that mends what a check found: another question (through the lens that ``through``
    asks for, when it is not its own), a place in the codebook, a panel of the answer, or something to
    do with the ``data``."""

    label: str
    question: Question | None = None
    codebook_variable: str | None = None
    panel: str | None = None
    data: Literal["one-per-case"] | None = None
    through: Annotated[Gives | None, Field(exclude=True)] = None


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
    table in a sentence, in the order of its counts.
    """

    lead: str
    headline: str
    figures: tuple[Figure, ...]
    notes: tuple[str, ...]
    cells: tuple[tuple[str, ...], ...] = ()


class NextStep(Frozen):
    """A question that follows from this one; ``through`` as in ``Remedy``."""

    label: str
    question: Question
    through: Annotated[Gives | None, Field(exclude=True)] = None


class Sample(Frozen):
    """The sample behind a weighted answer: rows with a weight, their first-stage units (clusters)
    and strata. ``sum_of_weights`` is the population they stand for, ``sum_of_weights_in_subset`` the
    part of it that is asked about (None without a subset). ``errors`` says in words how errors were
    found, ``moved`` what the design changes; ``replicates_lost`` counts replicates in which
    something is not defined, whose errors rest on the others."""

    rows: int
    psus: int
    strata: int
    design_df: int
    sum_of_weights: float
    sum_of_weights_in_subset: float | None
    kish_weighting_deff: float
    single_psu_strata: tuple[str, ...]
    errors: str
    # What was drawn: "60 clusters in 5 strata".
    drawn: str
    moved: str = ""
    replicates_lost: int = 0


class OneWay(Frozen):
    """An estimate with its interval, one way of counting."""

    estimate: MaybeInfinite
    ci: SomeLimits | None


class BesideRow(Frozen):
    """One quantity three ways: each row once, with the weights only, and with the design. The
    ``unit`` says how to write it."""

    label: str
    unit: Literal["share", "ratio", "number", "strength", "p"]
    unweighted: OneWay | None
    weights_only: OneWay | None
    design: OneWay


class Beside(Frozen):
    """The answer three ways, and in a sentence what strata and clusters move."""

    rows: tuple[BesideRow, ...]
    moved: str


class PanelHead(Frozen):
    """A part of the answer that can be opened. ``opens`` tells that it starts open, ``finds`` that
    the server works something out for it, and ``checks`` that checks come with it."""

    name: str
    title: str
    hint: str
    opens: bool
    finds: bool
    checks: bool


class Answered(Frozen, Generic[Results, Opened]):
    """The answer to one question through one lens. ``results`` are what is always shown; ``panels``
    what can be opened, ``opened`` what was."""

    version: Literal[2] = 2
    lens: LensName
    question: Question
    counted: Counted
    # What the design of the sample is; None where each row counts once, or as a column says.
    sample: Sample | None
    results: Results
    beside: Beside | None = None
    unavailable: tuple[Unavailable, ...]
    panels: tuple[PanelHead, ...]
    opened: Opened
    checks: tuple[Check, ...]
    reading: Reading
    next_steps: tuple[NextStep, ...]
    write_up: str


class AnsweredPanel(Frozen, Generic[Opened]):
    """One panel of an answer, with the checks that need its numbers and what it adds to the
    write-up."""

    version: Literal[2] = 2
    name: str
    opened: Opened
    checks: tuple[Check, ...]
    write_up: str


def in_order(checks: list[Check]) -> tuple[Check, ...]:
    """The failed first, then those that ask for care."""
    order = {"fail": 0, "care": 1, "ok": 2}
    return tuple(sorted(checks, key=lambda check: order[check.status]))
