"""What the Odds model lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.quantities import (
    ChiSquare,
    Limits,
    MaybeInfinite,
    SomeLimits,
    Unavailable,
)

Role = Literal["vary_with", "allowing_for"]


class Coefficient(Frozen):
    """One column of the model. ``ci`` is at the question's level, by the method asked for; the
    others at 95%, profile limits only where they were asked for."""

    term: str
    level: str | None
    label: str
    log_odds: float
    se: float
    z: float
    p: float
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    ci_95_wald: SomeLimits
    log_odds_ci_95_wald: Limits
    ci_95_profile: SomeLimits | None
    log_odds_ci_95_profile: Limits | None


class AverageDifference(Frozen):
    """The average difference in probability against the reference, or per unit, from -1 to 1."""

    estimate: float
    se: float
    z: float
    p: float
    ci: Limits


class MarginalEffect(AverageDifference):
    variable: str
    level: str | None
    ci_95: Limits


class OddsRow(Frozen):
    """An odds ratio that can be read by itself: a category against the reference, a number per its
    unit or at one value against the median, within one level of the other variable of an
    interaction.

    ``unadjusted`` is from a model with this term alone, on the same people.
    """

    term: str
    level: str | None
    label: str
    # The level of the other variable of an interaction in which it holds.
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
    difference: AverageDifference | None


class TermOfModel(Frozen):
    """One term; ``reference`` names what the others are against.

    A main effect that is part of an interaction holds at the reference (or median) of the other
    variable only, ``holds_at``; its tests depend on that too and are not worth reading.
    """

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


class TermWithRatios(TermOfModel):
    """One term with its odds ratios, and p of the test of the whole term."""

    rows: tuple[OddsRow, ...]

    @property
    def whole_p(self) -> float | None:
        raise NotImplementedError


class OddsTerm(TermWithRatios):
    """One term with its tests and odds ratios."""

    wald: ChiSquare
    likelihood_ratio: ChiSquare
    gvif: float
    gvif_adjusted: float
    gvif_of_columns: float

    @property
    def whole_p(self) -> float | None:
        return self.likelihood_ratio.p


class Sorting(Frozen):
    """Share sorted rightly at the cut-off, and the area under the curve."""

    accuracy: float
    auc: float


class Step(Frozen):
    """What a step gains over the one before, in twice the (penalised) log-likelihood."""

    step: Role
    titles: tuple[str, ...]
    variables: tuple[str, ...]
    log_likelihood: float
    gain: ChiSquare
    aic: float
    bic: float
    mcfadden: float
    sorting: Sorting


class FitGroup(Frozen):
    group: int
    n: float
    lowest_fitted: float
    highest_fitted: float
    observed_events: float
    expected_events: float
    observed_non_events: float
    expected_non_events: float


class HosmerLemeshow(Frozen):
    statistic: float
    df: int
    p: float | None
    groups: int
    table: tuple[FitGroup, ...]


class Classification(Frozen):
    cutoff: float
    true_positive: float
    false_positive: float
    true_negative: float
    false_negative: float
    accuracy: float
    sensitivity: float | None
    specificity: float | None
    ppv: float | None
    npv: float | None
    baseline_accuracy: float


class Area(Frozen):
    estimate: float
    se: float | None
    ci: Limits | None
    ci_95: Limits | None
    ci_95_logit: Limits | None


class Concordance(Frozen):
    pairs: float
    concordant: float
    discordant: float
    tied: float
    somers_d: float
    goodman_kruskal_gamma: float | None
    kendall_tau_a: float
    c: float


class RocPoint(Frozen):
    false_positive_share: float
    true_positive_share: float


class PredictedBin(Frozen):
    """People by predicted probability, a twentieth wide."""

    low: float
    events: float
    others: float


class Linearity(Frozen):
    """Does the log odds of a number bend? ``bend`` tests a spline against the straight line;
    ``curve`` holds value, straight and bent log odds against the median, and the bent limits."""

    variable: str
    title: str
    unit: str
    box_tidwell: ChiSquare | None
    bend: ChiSquare | None
    curve: tuple[tuple[float, float, float, float, float], ...]


class Unusual(Frozen):
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


class Residuals(Frozen):
    """``points`` hold row, predicted probability, standardised Pearson and deviance residual, and
    Cook's distance; thinned to the extremes and a regular part of the others where there are many.
    """

    first_rows: tuple[Unusual, ...]
    most_extreme: tuple[Unusual, ...]
    columns: tuple[str, ...]
    points: tuple[tuple[float, ...], ...]
    of: int
    largest_cooks_distance: float
    largest_move: float


class WithoutRows(Frozen):
    """Odds ratios without chosen rows, in the order of all rows of all terms."""

    rows: tuple[int, ...]
    odds_ratios: tuple[MaybeInfinite, ...]


class Prediction(Frozen):
    values: dict[str, str | float]
    label: str
    log_odds: float
    se_log_odds: float
    probability: float
    ci: Limits
    ci_95: Limits


class CurveLine(Frozen):
    """Value, probability and its limits, for one category."""

    label: str
    points: tuple[tuple[float, float, float, float], ...]


class ProbabilityCurve(Frozen):
    across: str
    across_title: str
    by: str | None
    by_title: str
    lines: tuple[CurveLine, ...]


class Slot(Frozen):
    """A value a profile can set: categories with labels, or a number with what is usual."""

    variable: str
    title: str
    categories: tuple[tuple[str, str], ...]
    usual: str | float
    low: float | None
    high: float | None


class SeparatedPart(Frozen):
    """A coefficient without a finite maximum likelihood estimate."""

    term: str
    level: str | None
    label: str
    maximum_likelihood: Literal["plus_infinity", "minus_infinity", "not_determined"]


class OddsModel(Frozen):
    """``separation`` says why Firth's penalised likelihood was needed, if it was."""

    method: Literal["maximum_likelihood", "firth"]
    interval: Literal["wald", "profile"]
    n: float
    events: float
    covariate_patterns: int
    parameters: int
    intercept: float
    coefficients: tuple[Coefficient, ...]
    terms: tuple[OddsTerm, ...]
    average_marginal_effects: tuple[MarginalEffect, ...]
    steps: tuple[Step, ...]
    separation: Literal["none", "quasi_complete", "complete"]
    separated: tuple[SeparatedPart, ...]
    log_likelihood: float
    log_likelihood_null: float
    penalised_log_likelihood: float | None
    deviance: float
    deviance_null: float
    model_likelihood_ratio: ChiSquare
    aic: float | None
    bic: float | None
    mcfadden: float | None
    mcfadden_adjusted: float | None
    cox_snell: float | None
    nagelkerke: float | None
    tjur: float
    equation: str
    hosmer_lemeshow: HosmerLemeshow
    pearson_goodness_of_fit: ChiSquare | None
    deviance_goodness_of_fit: ChiSquare | None
    brier: float
    cutoff: float
    classification: tuple[Classification, ...]
    auc: Area
    roc: tuple[RocPoint, ...]
    concordance: Concordance
    predicted: tuple[PredictedBin, ...]
    residuals: Residuals
    without: WithoutRows | None
    linearity: tuple[Linearity, ...]
    slots: tuple[Slot, ...]
    predictions: tuple[Prediction, ...]
    curve: ProbabilityCurve | None


class OddsStratum(Frozen):
    """The same model within one stratum; rows in the order of the whole, None where a category is
    absent. ``left_out`` says why it could not be fitted."""

    values: tuple[str, ...]
    label: str
    n: float
    events: float
    rows: tuple[OddsRow | None, ...]
    left_out: str | None


class OddsPooled(Frozen):
    """Are all coefficients but the intercept the same in every stratum?"""

    homogeneity: ChiSquare | None
    reason: str | None


class OddsResults(Frozen):
    lens: Literal["odds"] = "odds"
    whole: OddsModel
    strata: tuple[OddsStratum, ...]
    pooled: OddsPooled | None
    event_label: str
    unavailable: tuple[Unavailable, ...]
