"""What the Crosstab lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.crosstab.options import Adjustment
from hobrix.core.questions.quantities import (
    ChiSquare,
    Grid,
    Limits,
    MaybeInfinite,
    Row,
    Unavailable,
)


class ChiSquares(Frozen):
    """Tests of independence. ``continuity_corrected`` for 2x2, ``linear_by_linear`` for ordered."""

    pearson: ChiSquare
    likelihood_ratio: ChiSquare
    continuity_corrected: ChiSquare | None
    linear_by_linear: ChiSquare | None


class MeasureResult(Frozen):
    """A measure of association with its standard errors; the interval is value ± z ase, not cut
    to the range of the measure. The test uses the error under no association."""

    value: float
    ase: float | None
    ase_null: float | None
    z: float | None
    p: float | None
    ci: Limits | None
    ci_95: Limits | None


class Association(Frozen):
    """Strength of association; ``cramers_v_ci`` at the confidence of the question.

    "row" is the explanatory variable and "column" the outcome; "x_given_y" predicts x from y.
    ``leading`` names the measure that suits the kinds of the two variables.
    """

    leading: str
    phi: float
    cramers_v: float
    cramers_v_ci: Limits
    cramers_v_bias_corrected: float
    contingency_coefficient: float
    lambda_row_given_column: MeasureResult | None
    lambda_column_given_row: MeasureResult | None
    lambda_symmetric: MeasureResult | None
    goodman_kruskal_tau_row_given_column: MeasureResult | None
    goodman_kruskal_tau_column_given_row: MeasureResult | None
    uncertainty_coefficient_row_given_column: MeasureResult | None
    uncertainty_coefficient_column_given_row: MeasureResult | None
    uncertainty_coefficient_symmetric: MeasureResult | None
    gamma: MeasureResult | None
    kendall_tau_b: MeasureResult | None
    stuart_tau_c: MeasureResult | None
    somers_d_row_given_column: MeasureResult | None
    somers_d_column_given_row: MeasureResult | None
    somers_d_symmetric: MeasureResult | None


class RatioResult(Frozen):
    """A ratio of the compared group to the reference; intervals None where a cell is zero."""

    estimate: MaybeInfinite | None
    log_standard_error: float | None
    ci: Limits | None
    ci_95: Limits | None


class DifferenceResult(Frozen):
    """Share in the compared group minus share in the reference, as proportions (-1 to 1)."""

    estimate: float
    standard_error: float
    wald_ci: Limits
    wald_ci_95: Limits
    newcombe_ci: Limits
    newcombe_ci_95: Limits


class Group(Frozen):
    """How common the event is in one category of the explanatory variable."""

    value: str
    label: str
    n: float
    events: float
    share: float
    share_ci: Limits


class Comparison(Frozen):
    """One category against the reference. Ratio and difference of shares are None where the
    study's design gives shares no meaning."""

    value: str
    label: str
    odds_ratio: RatioResult
    risk_ratio: RatioResult | None
    risk_difference: DifferenceResult | None


class EventByGroup(Frozen):
    """The event in each group, and each group against the reference.

    ``shares_have_meaning`` is False in a case–control study, where the share of cases was set by
    the researcher.
    """

    event: tuple[str, ...]
    event_label: str
    reference: str
    reference_label: str
    share: float
    shares_have_meaning: bool
    groups: tuple[Group, ...]
    comparisons: tuple[Comparison, ...]


class CategoryHead(Frozen):
    value: str
    label: str


class FisherExact(Frozen):
    """Fisher's exact test; less and greater are of the odds ratio."""

    two_sided: float
    less: float
    greater: float
    mid_p_two_sided: float
    mid_p_less: float
    mid_p_greater: float
    mid_p_two_sided_only_observed_table_halved: float
    mid_p_two_sided_doubled_one_sided: float
    observed_table_probability: float


class ConditionalOddsRatio(Frozen):
    estimate: MaybeInfinite
    exact_ci: tuple[float, MaybeInfinite]


class ZTest(Frozen):
    """Pooled z of the compared group's share minus the reference's."""

    statistic: float
    p_two_sided: float
    p_less: float
    p_greater: float


class McNemar(Frozen):
    """For pairs: the two counts of those who changed, and the tests they give."""

    discordant: tuple[float, float]
    exact_p: float
    mid_p: float
    chi_square: ChiSquare | None
    chi_square_continuity_corrected: ChiSquare | None


class ExactTable(Frozen):
    """The exact test of a table: all tables with its margins, or draws from them.

    ``p_ci_95`` is the interval for p itself, from ``draws`` drawn with ``seed``; both None where
    all tables were gone through. ``mid_p`` counts equally probable tables half.
    """

    method: Literal["enumeration", "monte_carlo"]
    fisher_freeman_halton_p: float
    fisher_freeman_halton_mid_p: float | None
    p_ci_95: Limits | None
    draws: int | None
    seed: int | None


class Pair(Frozen):
    """Two groups by all answers: Pearson's test, and p with all pairs allowed for."""

    one: str
    other: str
    chi_square: ChiSquare
    p_adjusted: float


class AxisPoint(Frozen):
    """A row or column on the map; coordinates, contributions and squared cosines per axis."""

    label: str
    mass: float
    coordinates: Row
    inertia: float
    contributions: Row
    squared_cosines: Row


class CorrespondenceMap(Frozen):
    """Rows and columns as points, both in principal coordinates."""

    total_inertia: float
    singular_values: Row
    principal_inertias: Row
    percent: Row
    rows: tuple[AxisPoint, ...]
    columns: tuple[AxisPoint, ...]


class CrosstabTable(Frozen):
    """A table of the outcome (columns) by the explanatory variable (rows), with all that follows.

    Categories that nobody is in are left out; ``kept_rows`` and ``kept_columns`` are the
    positions of the others in the codebook, which are also their scores (minus one).
    ``adjusted_residuals_p_adjusted`` allows for all cells as ``adjustment`` says.
    """

    rows: tuple[CategoryHead, ...]
    columns: tuple[CategoryHead, ...]
    kept_rows: tuple[int, ...]
    kept_columns: tuple[int, ...]
    n: float
    counts: Grid
    row_totals: Row
    column_totals: Row
    share_within_row: Grid
    share_within_column: Grid
    expected_counts: Grid
    residuals: Grid
    pearson_residuals: Grid
    adjusted_residuals: Grid
    adjusted_residuals_p: Grid
    adjusted_residuals_p_adjusted: Grid
    adjustment: Adjustment
    contributions: Grid
    minimum_expected: float
    share_expected_below_5: float
    chi_square: ChiSquares
    pearson_correlation_of_scores: float | None
    association: Association
    exact: ExactTable | None
    pairwise: tuple[Pair, ...]
    correspondence: CorrespondenceMap | None
    event_by_group: EventByGroup | None
    # The following only where there are two groups and an event.
    risk_exposed: float | None = None
    risk_unexposed: float | None = None
    odds_ratio: RatioResult | None = None
    odds_ratio_conditional: ConditionalOddsRatio | None = None
    risk_ratio: RatioResult | None = None
    risk_difference: DifferenceResult | None = None
    number_needed: MaybeInfinite | None = None
    attributable_fraction_exposed: float | None = None
    population_attributable_fraction: float | None = None
    fisher_exact: FisherExact | None = None
    z_test_two_proportions: ZTest | None = None
    mcnemar: McNemar | None = None
    zero_cell: bool | None = None


class Stratum(Frozen):
    """The table within one category of each stratifying variable. Where it cannot be made,
    ``table`` is None and ``left_out`` says why."""

    values: tuple[str, ...]
    label: str
    n: float
    table: CrosstabTable | None
    left_out: str | None


class PooledRatio(Frozen):
    estimate: float
    log_standard_error: float
    ci: Limits


class DifferenceWithError(Frozen):
    standard_error: float
    ci: Limits


class PooledDifference(Frozen):
    estimate: float
    sato: DifferenceWithError
    greenland_robins: DifferenceWithError


class GeneralizedTests(Frozen):
    general_association: ChiSquare | None
    row_mean_scores: ChiSquare | None
    correlation: ChiSquare | None


class PooledPair(Frozen):
    """One group against the reference, pooled over the strata, with the crude ratio beside it."""

    value: str
    label: str
    informative_strata: int
    crude_odds_ratio: MaybeInfinite | None
    mantel_haenszel_odds_ratio: PooledRatio | None
    mantel_haenszel_risk_ratio: PooledRatio | None
    mantel_haenszel_risk_difference: PooledDifference | None
    cochran_mantel_haenszel: ChiSquare | None
    cochran_mantel_haenszel_continuity_corrected: ChiSquare | None
    breslow_day: ChiSquare | None
    breslow_day_tarone: ChiSquare | None
    woolf_homogeneity: ChiSquare | None


class Pooled(Frozen):
    """Over all strata: pairs where there is an event, and the tests for the whole tables."""

    pairs: tuple[PooledPair, ...]
    generalized_cochran_mantel_haenszel: GeneralizedTests
    three_way_interaction: ChiSquare | None


class Several(Frozen):
    """One of several explanatory variables with the outcome, in a line."""

    variable: str
    title: str
    n: float
    chi_square: ChiSquare | None
    cramers_v: float | None
    cramers_v_ci: Limits | None
    p_holm: float | None
    left_out: str | None


class CrosstabResults(Frozen):
    lens: Literal["crosstab"] = "crosstab"
    whole: CrosstabTable
    strata: tuple[Stratum, ...] = ()
    pooled: Pooled | None = None
    several: tuple[Several, ...] = ()
    unavailable: tuple[Unavailable, ...]
