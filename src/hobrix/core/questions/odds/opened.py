"""What the panels of the Odds model lens hold: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.logistic.calibration import HosmerLemeshow
from hobrix.core.logistic.sorting import AreaUnderCurve, Classification, Concordance
from hobrix.core.questions.estimates import Limits, NamedTest, SomeLimits
from hobrix.core.questions.modelling.profiles import ProfileSlot
from hobrix.core.questions.modelling.terms import Role
from hobrix.core.survey.two_way import WaldF
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite


class Coefficient(Frozen):
    """One column of the model; limits at the question's level, by the method asked for. ``df`` are
    those of the design, where z is t."""

    term: str
    level: str | None
    label: str
    log_odds: float
    se: float
    z: float
    df: int | None
    p: float | None
    log_odds_ci: SomeLimits
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    unweighted_odds_ratio: MaybeInfinite | None


class Inflation(Frozen):
    """How much the other terms widen the limits of one (GVIF), from estimates and from columns."""

    term: str
    title: str
    gvif: float
    gvif_adjusted: float
    gvif_of_columns: float


class CoefficientsPanel(Frozen):
    intercept: float
    coefficients: tuple[Coefficient, ...]
    equation: str
    inflation: tuple[Inflation, ...]


class Step(Frozen):
    """What a step adds over the one before: ``gain`` is twice the (penalised) log-likelihood, under
    a design ``adjusted_wald`` tests its terms in the model up to it."""

    step: Role
    titles: tuple[str, ...]
    variables: tuple[str, ...]
    test: NamedTest | None
    gain: ChiSquareTest | None
    adjusted_wald: WaldF | None
    log_likelihood: float | None
    aic: float | None
    bic: float | None
    mcfadden: float | None
    accuracy: float | None
    auc: float | None


class StepsPanel(Frozen):
    """``cutoff`` is that of the shares sorted rightly, ``baseline`` what guessing the commoner
    answer gives."""

    steps: tuple[Step, ...]
    cutoff: float
    baseline: float


class FitGroupOf(Frozen):
    """People of about the same predicted probability: cases, and observed and predicted shares,
    weighted under a design."""

    n: float
    observed: float
    predicted: float


class Linearity(Frozen):
    """Does the log odds of a number bend? ``bend`` tests a spline against the straight line;
    ``curve`` holds value, straight and bent log odds against the median, and the bent limits."""

    variable: str
    title: str
    unit: str
    box_tidwell: ChiSquareTest | None
    bend: ChiSquareTest | None
    curve: tuple[tuple[float, float, float, float, float], ...]


class FitPanel(Frozen):
    """``test`` asks whether observed and predicted events differ (``no_test`` says why there is none),
    ``is_misfit`` whether they do.
    Tests over patterns ``mean_something`` where patterns hold several people."""

    test: NamedTest | None
    no_test: str | None
    is_misfit: bool
    groups: tuple[FitGroupOf, ...]
    hosmer_lemeshow: HosmerLemeshow | None
    pearson_goodness_of_fit: ChiSquareTest | None
    deviance_goodness_of_fit: ChiSquareTest | None
    mean_something: bool
    covariate_patterns: int
    brier: float | None
    linearity: tuple[Linearity, ...]


class RocPoint(Frozen):
    false_positive_share: float
    true_positive_share: float


class PredictedBin(Frozen):
    """People by predicted probability, a twentieth wide."""

    low: float
    events: float
    others: float


class SortingPanel(Frozen):
    """How well the model tells those with the event. ``suggested`` is the share of events, a cut-off that predicts about as many as there are."""

    cutoff: float
    suggested: float
    predicts_nobody: bool
    classification: tuple[Classification, ...]
    auc: AreaUnderCurve
    roc: tuple[RocPoint, ...]
    concordance: Concordance
    predicted: tuple[PredictedBin, ...]
    event_label: str
    n: float
    events: float


class UnusualRow(Frozen):
    """One row that stands out, with its data."""

    row: int
    observed: int
    fitted: float
    pearson: float
    standardized_pearson: float
    deviance: float
    leverage: float
    cooks_distance: float
    most_moved: str
    moved_by: float
    values: tuple[str, ...]


class UnusualPanel(Frozen):
    """``points`` hold row, predicted probability, standardised Pearson and deviance residual, and
    Cook's distance; thinned to the extremes and a regular part of the others where there are many.
    """

    first_rows: tuple[UnusualRow, ...]
    most_extreme: tuple[UnusualRow, ...]
    columns: tuple[str, ...]
    points: tuple[tuple[float, ...], ...]
    of: int
    largest_cooks_distance: float
    largest_move: float


class ProfilePrediction(Frozen):
    values: dict[str, str | float]
    label: str
    log_odds: float
    se_log_odds: float
    probability: float
    ci: Limits


class CurveLine(Frozen):
    """Value, probability and its limits, for one category."""

    label: str
    points: tuple[tuple[float, float, float, float], ...]


class ProbabilityCurve(Frozen):
    across: str
    across_title: str
    by: str | None
    by_title: str
    event_label: str
    lines: tuple[CurveLine, ...]


class ProfilePanel(Frozen):
    slots: tuple[ProfileSlot, ...]
    predictions: tuple[ProfilePrediction, ...]
    curve: ProbabilityCurve | None


class LevelShare(Frozen):
    """The share (0 to 1) that would have the event with everybody in one category, all else as it is; against the
    reference as a ratio and a difference, None for the reference itself. Limits are None where nothing tells how
    much it varies."""

    value: str
    label: str
    share: float
    share_ci: Limits | None
    ratio: float | None
    ratio_ci: Limits | None
    difference: float | None
    difference_ci: Limits | None
    p: float | None


class VariableShares(Frozen):
    """A variable in categories, its reference first."""

    variable: str
    title: str
    levels: tuple[LevelShare, ...]


class SharesPanel(Frozen):
    variables: tuple[VariableShares, ...]


class ShareRatio(Frozen):
    ratio: MaybeInfinite
    ci: SomeLimits
    p: float | None


class LogLinkRow(Frozen):
    """A ratio of shares, all else the same: by Poisson's likelihood with robust errors (of the design, where there is one),
    and by the binomial likelihood."""

    term: str
    title: str
    role: Role
    level: str | None
    label: str
    given: str | None
    robust: ShareRatio
    binomial: ShareRatio | None


class LogLinkPanel(Frozen):
    """``no_estimate`` says why there are none, ``no_binomial`` why not by the binomial likelihood; ``above_1`` people have
    a fitted share above 1."""

    rows: tuple[LogLinkRow, ...]
    no_estimate: str | None
    no_binomial: str | None
    above_1: float


class OddsPanels(Frozen):
    """What was opened."""

    lens: Literal["odds"] = "odds"
    profile: ProfilePanel | None = None
    shares: SharesPanel | None = None
    log_link: LogLinkPanel | None = None
    steps: StepsPanel | None = None
    fit: FitPanel | None = None
    sorting: SortingPanel | None = None
    unusual: UnusualPanel | None = None
    coefficients: CoefficientsPanel | None = None
