"""What the model of matched sets gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import Limits, NamedTest, SomeLimits
from hobrix.core.questions.modelling.estimation import LimitsBy
from hobrix.core.questions.modelling.steps import ModelSteps
from hobrix.core.questions.modelling.terms import Role
from hobrix.core.questions.printed import PaperPanel
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite


class SetShape(Frozen):
    """How many sets that tell something have so many with and without the event."""

    events: int
    others: int
    sets: int


class Sets(Frozen):
    """``without_contrast`` hold only people with the event, or none; ``lost`` all members to missing answers.
    ``alike`` are those that tell something in which nobody differs from the others in any variable."""

    sets: int
    lost: int
    events_only: int
    no_events: int
    people_without_contrast: int
    informative: int
    people: int
    events: int
    shapes: tuple[SetShape, ...]
    alike: int


class Pairs(Frozen):
    """Sets of one with and one without the event, by who of them has an exposure of two answers. The odds ratio
    is that of the discordant pairs; McNemar's test without correction, and exact."""

    exposed: str
    both: int
    only_event: int
    only_other: int
    neither: int
    odds_ratio: MaybeInfinite | None
    ci: Limits | None
    mcnemar: ChiSquareTest | None
    exact_p: float


class MatchedRow(Frozen):
    """An odds ratio within sets. n and events are of sets that tell something; ``unadjusted`` is from the model with this
    term alone, within the same sets."""

    level: str | None
    label: str
    given: str | None
    n: float | None
    events: float | None
    log_odds: float
    se: float
    z: float
    p: float
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    unadjusted: MaybeInfinite | None
    unadjusted_ci: SomeLimits | None


class PickedRow(Frozen):
    """The odds ratio of several that differs most clearly from 1, with Bonferroni's limits."""

    at: int
    ci: SomeLimits


class MatchedTerm(Frozen):
    """One term. Without ``rows`` where it does not vary within any set: it was matched on."""

    term: str
    variable: str
    together_with: str | None
    title: str
    role: Role
    is_numeric: bool
    part_of_interaction: bool
    holds_at: str | None
    reference: str | None
    reference_n: float | None
    reference_events: float | None
    test: NamedTest | None
    wald: ChiSquareTest | None
    likelihood_ratio: ChiSquareTest | None
    score: ChiSquareTest | None
    rows: tuple[MatchedRow, ...]
    picked: PickedRow | None


class MatchedLikelihood(Frozen):
    log_likelihood: float
    log_likelihood_null: float
    deviance: float
    aic: float
    mcfadden: float


class MatchedResults(Frozen):
    """``constant`` names what does not vary within any set, so that nothing is estimated of it."""

    lens: Literal["within_sets"] = "within_sets"
    event_label: str
    set_title: str
    limits: LimitsBy
    sets: Sets
    parameters: int
    terms: tuple[MatchedTerm, ...]
    constant: tuple[str, ...]
    test: NamedTest | None
    score: ChiSquareTest | None
    wald: ChiSquareTest | None
    likelihood: MatchedLikelihood
    pairs: Pairs | None


class MatchedCoefficient(Frozen):
    term: str
    level: str | None
    label: str
    log_odds: float
    se: float
    z: float
    p: float
    log_odds_ci: SomeLimits
    odds_ratio: MaybeInfinite
    ci: SomeLimits


class MatchedCoefficientsPanel(Frozen):
    coefficients: tuple[MatchedCoefficient, ...]


class MatchedPanels(Frozen):
    """What was opened."""

    lens: Literal["within_sets"] = "within_sets"
    steps: ModelSteps | None = None
    paper: PaperPanel | None = None
    coefficients: MatchedCoefficientsPanel | None = None
