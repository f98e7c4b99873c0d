"""What the Crosstab lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
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


class Association(Frozen):
    """Strength of association; ``cramers_v_ci`` at the confidence of the question."""

    phi: float
    cramers_v: float
    cramers_v_ci: Limits


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
    """One category against the reference."""

    value: str
    label: str
    odds_ratio: RatioResult
    risk_ratio: RatioResult
    risk_difference: DifferenceResult


class EventByGroup(Frozen):
    """The event in each group, and each group against the reference."""

    event: tuple[str, ...]
    event_label: str
    reference: str
    reference_label: str
    share: float
    groups: tuple[Group, ...]
    comparisons: tuple[Comparison, ...]


class CategoryHead(Frozen):
    value: str
    label: str


class CrosstabTable(Frozen):
    """A table of the outcome (columns) by the explanatory variable (rows), with all that follows.

    Categories that nobody is in are left out; ``kept_rows`` and ``kept_columns`` are the
    positions of the others in the codebook, which are also their scores (minus one).
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
    adjusted_residuals_p_holm: Grid
    contributions: Grid
    minimum_expected: float
    share_expected_below_5: float
    chi_square: ChiSquares
    pearson_correlation_of_scores: float | None
    association: Association
    event_by_group: EventByGroup | None
    # The following only where there are two groups and an event.
    risk_exposed: float | None = None
    risk_unexposed: float | None = None
    odds_ratio: RatioResult | None = None
    risk_ratio: RatioResult | None = None
    risk_difference: DifferenceResult | None = None
    zero_cell: bool | None = None


class CrosstabResults(Frozen):
    lens: Literal["crosstab"] = "crosstab"
    whole: CrosstabTable
    unavailable: tuple[Unavailable, ...]
