"""What the model of every answer gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import Limits, NamedTest, SomeLimits
from hobrix.core.questions.modelling.estimation import LimitsBy
from hobrix.core.questions.modelling.profiles import ProfileSlot
from hobrix.core.questions.modelling.steps import ModelSteps
from hobrix.core.questions.modelling.terms import Role
from hobrix.core.questions.printed import PaperPanel
from hobrix.core.survey.two_way import WaldF
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite


class AnswerCount(Frozen):
    """An answer that somebody counted gave: cases, and its share (weighted under a design)."""

    value: str
    label: str
    n: float
    share: float


class AnswerOnce(Frozen):
    """Under a design: the same odds ratio with each row counted once."""

    odds_ratio: MaybeInfinite
    ci: SomeLimits


class AnswerRatio(Frozen):
    """An odds ratio: of a higher (or lower) answer, or of one ``answer`` rather than the base. ``z`` is t on the
    design degrees of freedom under a design. ``unadjusted`` is from a model with this term alone, on the same
    people."""

    answer: str | None
    log_odds: float
    se: float
    z: float
    p: float | None
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    unadjusted: MaybeInfinite | None
    unadjusted_ci: SomeLimits | None
    unweighted: AnswerOnce | None


class AnswersRow(Frozen):
    """A category against the reference, or a number per its unit, within one level of the other variable of an
    interaction. ``shares`` of the answers among those in it, in the order of ``answers``; n are cases."""

    level: str | None
    label: str
    given: str | None
    n: float | None
    shares: tuple[float, ...] | None
    ratios: tuple[AnswerRatio, ...]


class PickedAnswer(Frozen):
    """The odds ratio of several that differs most clearly from 1, at ``row`` and ``ratio``, with Bonferroni's
    limits: all of them are allowed for."""

    row: int
    ratio: int
    ci: SomeLimits


class AnswersTerm(Frozen):
    """One term; ``test`` is that of the whole term over all answers, what it rests on stands under its own
    name. A main effect that is part of an interaction holds at ``holds_at`` only."""

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
    reference_shares: tuple[float, ...] | None
    test: NamedTest | None
    wald: ChiSquareTest | None
    likelihood_ratio: ChiSquareTest | None
    adjusted_wald: WaldF | None
    rows: tuple[AnswersRow, ...]
    picked: PickedAnswer | None


class AnswersLikelihood(Frozen):
    log_likelihood: float
    log_likelihood_null: float
    deviance: float
    aic: float
    bic: float
    mcfadden: float
    cox_snell: float
    nagelkerke: float


class AnswersStratum(Frozen):
    """The same model within one stratum; ratios in the order of the rows of the whole and of their ratios, None
    where a category or an answer is absent. ``left_out`` says why it could not be fitted."""

    values: tuple[str, ...]
    label: str
    n: float
    ratios: tuple[AnswerRatio | None, ...]
    left_out: str | None


class EveryAnswerResults(Frozen):
    """``answers`` in the order of the model: from low to high (or high to low), or the base first. ``unused`` are
    answers that nobody counted gave."""

    lens: Literal["every_answer"] = "every_answer"
    is_ordered: bool
    downward: bool
    limits: LimitsBy
    answers: tuple[AnswerCount, ...]
    unused: tuple[str, ...]
    n: float
    covariate_patterns: int
    parameters: int
    terms: tuple[AnswersTerm, ...]
    test: NamedTest | None
    likelihood: AnswersLikelihood | None
    strata: tuple[AnswersStratum, ...]

    @property
    def base(self) -> AnswerCount:
        """What the others are compared with, where they have no order."""
        return self.answers[0]


class CutRatio(Frozen):
    """An odds ratio at one cut."""

    odds_ratio: MaybeInfinite
    ci: SomeLimits


class CutLine(Frozen):
    """One odds ratio of the model beside those at every cut, None where that cut has no finite one."""

    term: str
    role: Role
    label: str
    common: CutRatio
    cuts: tuple[CutRatio | None, ...]


class CutTest(Frozen):
    """Are the coefficients of a term the same at every cut? ``term`` is None for all together."""

    term: str | None
    title: str
    test: NamedTest


class AnswerCut(Frozen):
    """Answering above (or below) some answer: what it is called, its values, and how many do."""

    label: str
    event: tuple[str, ...]
    events: float


class CutsPanel(Frozen):
    """``no_test`` says why sameness is not tested."""

    cuts: tuple[AnswerCut, ...]
    lines: tuple[CutLine, ...]
    tests: tuple[CutTest, ...]
    no_test: str | None


class PredictedAnswer(Frozen):
    """The share that gives an answer; limits None where nothing tells how much it varies."""

    share: float
    se: float
    ci: Limits | None


class PredictedProfile(Frozen):
    """``answers`` in the order of the results."""

    values: dict[str, str | float]
    label: str
    answers: tuple[PredictedAnswer, ...]


class StandardisedAnswers(Frozen):
    """Shares of the answers with everybody in one category, all else as it is."""

    value: str
    label: str
    answers: tuple[PredictedAnswer, ...]


class StandardisedVariable(Frozen):
    variable: str
    title: str
    levels: tuple[StandardisedAnswers, ...]


class PredictedPanel(Frozen):
    """``labels`` of the answers, in the order in which all shares stand."""

    labels: tuple[str, ...]
    slots: tuple[ProfileSlot, ...]
    profiles: tuple[PredictedProfile, ...]
    variables: tuple[StandardisedVariable, ...]


class AnswersCoefficient(Frozen):
    """One coefficient: of the odds above ``answer`` (a threshold, without a ratio), or of a column."""

    answer: str | None
    term: str
    level: str | None
    label: str
    log_odds: float
    se: float
    z: float
    p: float | None
    log_odds_ci: SomeLimits
    odds_ratio: MaybeInfinite | None
    ci: SomeLimits | None


class AnswersCoefficientsPanel(Frozen):
    equation: str
    coefficients: tuple[AnswersCoefficient, ...]


class EveryAnswerPanels(Frozen):
    """What was opened."""

    lens: Literal["every_answer"] = "every_answer"
    cuts: CutsPanel | None = None
    predicted: PredictedPanel | None = None
    steps: ModelSteps | None = None
    paper: PaperPanel | None = None
    coefficients: AnswersCoefficientsPanel | None = None
