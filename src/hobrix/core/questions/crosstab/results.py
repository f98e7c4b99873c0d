"""What the Crosstab lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.crosstab.options import Adjustment
from hobrix.core.questions.estimates import (
    Grid,
    Groups,
    Limits,
    Marks,
    Measure,
    NamedTest,
    Row,
)
from hobrix.core.questions.pooled import PooledPair
from hobrix.core.survey.two_way import RaoScott, WaldF
from hobrix.core.tables.exact_two_by_two import ConditionalOddsRatio, FishersExact
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite
from hobrix.core.tables.paired import ChangeOdds, McNemar
from hobrix.core.tables.stratified import GeneralizedTests
from hobrix.core.tables.two_by_two import ZTest


class CategoryHead(Frozen):
    value: str
    label: str


class ExpectedCells(Frozen):
    """What would be counted were the two unrelated, and how far the counts are from it."""

    expected_counts: Grid
    residuals: Grid
    pearson_residuals: Grid
    contributions: Grid
    minimum_expected: float
    share_expected_below_5: float


class WeightedCell(Frozen):
    """A weighted share of a row or column, its interval, and the unweighted share."""

    estimate: float
    se: float
    ci_logit: Limits | None
    unweighted: float


WeightedCells = tuple[tuple[WeightedCell, ...], ...]


class WeightedCellShares(Frozen):
    """A table under a design: shares of all with errors, of rows and of columns with limits."""

    sum_of_weights: float
    cell_se: Grid
    row_proportions: WeightedCells
    column_proportions: WeightedCells


class ExactTable(Frozen):
    """The exact test of a table: all tables with its margins, or draws from them.

    ``p_ci`` is the 95% interval for p itself, from ``draws`` drawn with ``seed``; both None where
    all tables were gone through. ``mid_p`` counts equally probable tables half.
    """

    method: Literal["enumeration", "monte_carlo"]
    fisher_freeman_halton_p: float
    fisher_freeman_halton_mid_p: float | None = None
    p_ci: Limits | None = None
    draws: int | None = None
    seed: int | None = None


class CrosstabTable(Frozen):
    """A table of the outcome (columns) by the explanatory variable (rows).

    Categories that nobody is in are left out; ``kept_rows`` and ``kept_columns`` are the positions
    of the others in the codebook, which are also their scores (minus one). ``counts`` are cases;
    shares and departures are weighted under a design. ``adjusted_residuals`` are departures from no
    association in standard errors, with p by itself and allowing for all cells as ``adjustment``
    says; ``marks`` what stands out. ``order`` are the columns as they are shown, the event first.
    ``test`` is that of the whole table, ``event_test`` of the event against all other answers.
    ``expected`` and ``exact`` do not exist under a design, ``weighted`` only there.
    """

    rows: tuple[CategoryHead, ...]
    columns: tuple[CategoryHead, ...]
    kept_rows: tuple[int, ...]
    kept_columns: tuple[int, ...]
    order: tuple[int, ...]
    n: float
    counts: Grid
    row_totals: Row
    column_totals: Row
    row_margin: Row
    column_margin: Row
    share_within_row: Grid
    share_within_column: Grid
    cell_proportions: Grid
    adjusted_residuals: Grid
    adjusted_residuals_p: Grid
    adjusted_residuals_p_adjusted: Grid
    adjustment: Adjustment
    marks: Marks
    test: NamedTest | None
    event_test: NamedTest | None
    trend: NamedTest | None
    cramers_v: float
    cramers_v_ci: Limits | None
    ordered: Measure | None
    expected: ExpectedCells | None
    exact: ExactTable | None
    groups: Groups | None
    weighted: WeightedCellShares | None

    @property
    def leading_test(self) -> NamedTest | None:
        """Of the event where one is named, otherwise of the whole table."""
        return self.test if self.groups is None else self.event_test

    @property
    def strength_ci(self) -> Limits | None:
        """Of Cramér's V, which come from the chi-square; none where that gives way to an exact test."""
        is_exact = self.test is not None and self.test.statistic is None
        return None if is_exact else self.cramers_v_ci


class Stratum(Frozen):
    """The table within one category of each stratifying variable. Where it cannot be made,
    ``table`` is None and ``left_out`` says why."""

    values: tuple[str, ...]
    label: str
    n: float
    table: CrosstabTable | None
    left_out: str | None


class Pooled(Frozen):
    """Over all strata: pairs where there is an event, and the tests for the whole tables."""

    pairs: tuple[PooledPair, ...]
    generalized_cochran_mantel_haenszel: GeneralizedTests
    three_way_interaction: ChiSquareTest | None

    def pair(self, value: str) -> PooledPair | None:
        return next((pair for pair in self.pairs if pair.value == value), None)


class Several(Frozen):
    """One of several explanatory variables with the outcome, in a line."""

    variable: str
    title: str
    n: float
    test: NamedTest | None
    p_holm: float | None
    cramers_v: float | None
    cramers_v_ci: Limits | None
    left_out: str | None


class CrosstabResults(Frozen):
    lens: Literal["crosstab"] = "crosstab"
    whole: CrosstabTable
    strata: tuple[Stratum, ...] = ()
    pooled: Pooled | None = None
    several: tuple[Several, ...] = ()


class MeasuresPanel(Frozen):
    """All measures of association that suit the two variables."""

    measures: tuple[Measure, ...]
    # For two ordered variables: Pearson's correlation of their scores.
    pearson_correlation_of_scores: float | None


class ChiSquares(Frozen):
    """Tests of independence. ``continuity_corrected`` for 2x2, ``linear_by_linear`` for ordered."""

    pearson: ChiSquareTest
    likelihood_ratio: ChiSquareTest
    continuity_corrected: ChiSquareTest | None
    linear_by_linear: ChiSquareTest | None


class WeightedTests(Frozen):
    """Statistics without and with Rao and Scott's corrections, and Wald's; None where the design
    leaves too few degrees of freedom."""

    table_df: int
    pearson_uncorrected: float
    likelihood_ratio_uncorrected: float
    generalised_deff_eigenvalues: Row
    rao_scott_pearson: RaoScott | None
    rao_scott_likelihood_ratio: RaoScott | None
    wald_residual: WaldF | None
    wald_log_odds_ratios: WaldF | None


class EveryTestPanel(Frozen):
    """Every test of the table by its name; ``chi_square`` with counts, the others under a design."""

    tests: tuple[NamedTest, ...]
    chi_square: ChiSquares | None
    weighted: WeightedTests | None


class TwoGroupsPanel(Frozen):
    """What only two groups and an event have; exposed is the group compared. McNemar's test where
    both have the same two answers."""

    risk_exposed: float | None = None
    risk_unexposed: float | None = None
    odds_ratio_conditional: ConditionalOddsRatio | None = None
    number_needed: MaybeInfinite | None = None
    attributable_fraction_exposed: float | None = None
    population_attributable_fraction: float | None = None
    fisher_exact: FishersExact | None = None
    z_test_two_proportions: ZTest | None = None
    mcnemar: McNemar | None = None
    zero_cell: bool = False


class AnswerTwice(Frozen):
    """How common an answer was the first and the second time (0 to 1), and the change with its limits."""

    label: str
    first: float
    second: float
    change: float
    ci: Limits


class Moved(Frozen):
    """How many went from one answer to another, and back."""

    one: str
    other: str
    there: float
    back: float


class Agreement(Frozen):
    """Kappa: which answers agree how much, the estimate with its limits, and the test that it is 0."""

    weights: Literal["unweighted", "linear", "quadratic"]
    estimate: float
    ci: Limits
    p: float | None


class TwicePanel(Frozen):
    """The same people asked twice, with the same answers: ``same`` of ``n`` said the same again. Tests are None where
    nobody changed; ``mcnemar`` and ``change_odds`` (those who came to have the event to those who lost it) of two
    answers only. ``greatest`` is the most kappa could be with these shares."""

    n: float
    same: float
    answers: tuple[AnswerTwice, ...]
    moved: tuple[Moved, ...]
    symmetry: ChiSquareTest | None
    homogeneity: ChiSquareTest | None
    homogeneity_bhapkar: ChiSquareTest | None
    mcnemar: McNemar | None
    change_odds: ChangeOdds | None
    agreement: tuple[Agreement, ...]
    greatest: float | None


class ExactPanel(Frozen):
    """None: not needed, or not wanted. ``drawn_instead``: there were too many tables to go through."""

    exact: ExactTable | None
    drawn_instead: bool


class PairOfAnswers(Frozen):
    """Two groups by all answers: Pearson's test, and p with all pairs allowed for."""

    one: str
    other: str
    chi_square: ChiSquareTest
    p_adjusted: float


class WherePanel(Frozen):
    """Cells that stand out in words, the clearest first, and every two groups."""

    ranked: tuple[str, ...]
    pairwise: tuple[PairOfAnswers, ...]


class AxisPoint(Frozen):
    """A row or column on the map; coordinates, contributions and squared cosines per axis.
    ``shown`` is how much of it the first two axes show, ``is_poor`` whether that is too little."""

    label: str
    mass: float
    coordinates: Row
    inertia: float
    contributions: Row
    squared_cosines: Row
    shown: float
    is_poor: bool


class MapPanel(Frozen):
    """Rows and columns as points, both in principal coordinates. ``shown`` is the share of the
    inertia on the first two axes, ``is_enough`` whether they can be read alone."""

    total_inertia: float
    singular_values: Row
    principal_inertias: Row
    percent: Row
    rows: tuple[AxisPoint, ...]
    columns: tuple[AxisPoint, ...]
    shown: float
    is_enough: bool


class Occasion(Frozen):
    """How many, and which share, had the event this time."""

    title: str
    events: int
    share: float


class OccasionChange(Frozen):
    """From one time to another: the change of the share (-1 to 1) with Newcombe's limits, McNemar's exact p and that with all
    pairs allowed for (Holm)."""

    first: str
    second: str
    change: float
    ci: Limits
    exact_p: float
    p_adjusted: float


class OccasionsPanel(Frozen):
    """The same n people every time; ``mixed`` did not say the same every time. Without a test where nobody is."""

    event_label: str
    n: int
    mixed: int
    occasions: tuple[Occasion, ...]
    test: NamedTest | None
    changes: tuple[OccasionChange, ...]


class CrosstabPanels(Frozen):
    """What was opened."""

    lens: Literal["crosstab"] = "crosstab"
    measures: MeasuresPanel | None = None
    tests: EveryTestPanel | None = None
    two_groups: TwoGroupsPanel | None = None
    twice: TwicePanel | None = None
    occasions: OccasionsPanel | None = None
    exact: ExactPanel | None = None
    where: WherePanel | None = None
    map: MapPanel | None = None
