"""What a survey design adds to an answer: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.quantities import (
    Grid,
    Limits,
    MaybeInfinite,
    Row,
    SomeLimits,
    Unavailable,
)
from hobrix.core.questions.survey.model_results import SurveyModel, SurveyModelStrata
from hobrix.core.questions.survey.tested import RaoScottTest, SurveyTest, WaldTest


class SurveyDesign(Frozen):
    """Rows with a weight, their first-stage units (clusters) and strata; ``sum_of_weights`` is the
    population they stand for, ``sum_of_weights_in_subset`` the part of it that is asked about (None
    without a subset). ``errors`` says in words how errors were found."""

    rows: int
    psus: int
    strata: int
    design_df: int
    sum_of_weights: float
    sum_of_weights_in_subset: float | None
    kish_weighting_deff: float
    single_psu_strata: tuple[str, ...]
    errors: str


class SurveyShare(Frozen):
    """A weighted share beside the unweighted one; n and events are unweighted. ``ci`` are logit
    limits at the level of the question, the others those of 95%."""

    value: str
    label: str
    n: float
    unweighted_count_of_events: float
    sum_of_weights: float
    estimate: float
    se: float
    ci: Limits | None
    ci_95_logit: Limits | None
    ci_95_wald: Limits | None
    deff: float | None
    deft: float | None
    effective_sample_size: float | None
    coefficient_of_variation: float | None
    unweighted: float


class SurveyDifference(Frozen):
    """A difference of shares, tested on t(df); ``ci`` at the level of the question. Without test and
    limits where nothing tells how much it varies."""

    estimate: float
    se: float
    t: float | None
    df: int
    p: float | None
    ci: Limits | None
    ci_95: Limits | None


class SurveyRatio(Frozen):
    """A ratio with the error of its log; otherwise as a difference."""

    estimate: float
    log_se: float
    t: float | None
    df: int
    p: float | None
    ci: Limits | None
    ci_95: Limits | None


class SurveyComparison(Frozen):
    value: str
    label: str
    risk_difference: SurveyDifference
    risk_ratio: SurveyRatio | None
    odds_ratio: SurveyRatio | None
    unweighted_odds_ratio: float | None


class SurveyMeasure(Frozen):
    """A measure of association of the weighted cells; ``key`` as in the results without the design,
    whose value is ``unweighted``."""

    key: str
    value: float
    se: float
    ci: Limits | None
    unweighted: float | None


class SurveyCell(Frozen):
    """A weighted share of a row or column of a table, the unweighted beside it."""

    estimate: float
    se: float
    ci: Limits | None
    ci_95_logit: Limits | None
    unweighted: float


Cells = tuple[tuple[SurveyCell, ...], ...]


class SurveyTable(Frozen):
    """A weighted table, groups down (rows), the outcome across, with unweighted counts;
    standardised departures z from no association with p allowing for all cells (Holm). ``event``
    are the positions of the columns that are the event. Intervals of ``cramers_v`` and
    ``measures`` are linearised or replicated as the design says; measures of which hardly a
    replicate has a value are left out. Tests are None where the design leaves too few degrees of
    freedom."""

    rows: tuple[str, ...]
    columns: tuple[str, ...]
    event: tuple[int, ...]
    n: float
    sum_of_weights: float
    counts: Grid
    cell_proportions: Grid
    cell_se: Grid
    row_proportions: Cells
    column_proportions: Cells
    row_margin: Row
    column_margin: Row
    z: Grid
    p_adjusted: Grid
    cramers_v: float
    cramers_v_ci: Limits | None
    measures: tuple[SurveyMeasure, ...]
    table_df: int
    pearson_uncorrected: float
    likelihood_ratio_uncorrected: float
    generalised_deff_eigenvalues: Row
    rao_scott_pearson: RaoScottTest | None
    rao_scott_likelihood_ratio: RaoScottTest | None
    wald_residual: WaldTest | None
    wald_log_odds_ratios: WaldTest | None

    @property
    def leading(self) -> SurveyTest | None:
        """The test to report: Rao and Scott's second-order F."""
        found = self.rao_scott_pearson
        return None if found is None else found.second_order.as_f


class SurveyMissing(Frozen):
    """Rows without an answer for one reason, and their weighted share of all."""

    code: str
    label: str
    n: float
    share_of_all: float


class SurveyFrequencies(Frozen):
    """What belongs to the shares of answers in a table: the weighted share that answered, shares
    of them up to each answer where there is an order, and those without an answer."""

    share_answered: float
    cumulative: Row
    missing: tuple[SurveyMissing, ...]


class SurveyGoodnessOfFit(SurveyTest):
    """Weighted against stated shares (``expected_shares`` of ``values``, adding up to 1); z of every
    share by itself, p allowing for all of them (Holm)."""

    values: tuple[str, ...]
    expected_shares: Row
    z: Row
    p_adjusted: Row


class SurveyMean(Frozen):
    """The weighted mean of a number, and how it is distributed: ``sd`` and quartiles of the weighted
    population."""

    n: float
    sum_of_weights: float
    estimate: float
    se: float
    ci: Limits | None
    unweighted: float
    unweighted_sd: float | None
    deff: float | None
    sd: float
    min: float
    q1: float
    median: float
    q3: float
    max: float


class SurveyBins(Frozen):
    """Percentages of the weighted population in bins of equal width, the unweighted beside."""

    edges: Row
    percent: Row
    unweighted_percent: Row
    width: float


class SurveyTrend(Frozen):
    """The odds ratio for one step along the ordered groups, from the model with their number."""

    odds_ratio: float
    ci: Limits
    p: float


class SurveyStratum(Frozen):
    """The same within one stratum; everybody else stays in the design. ``left_out`` says why
    there is nothing to show."""

    values: tuple[str, ...]
    label: str
    n: float
    shares: tuple[SurveyShare, ...]
    comparisons: tuple[SurveyComparison, ...]
    mean: SurveyMean | None
    rao_scott_second_order: SurveyTest | None
    left_out: str | None


class SurveySeveral(Frozen):
    """One of several variables with the outcome: Rao & Scott's second-order test and strength."""

    variable: str
    title: str
    n: float
    test: SurveyTest | None
    p_holm: float | None
    cramers_v: float | None
    cramers_v_ci: Limits | None
    left_out: str | None


class SurveyVariable(Frozen):
    """Another variable of a distribution: shares of its answers, or its mean."""

    variable: str
    title: str
    shares: tuple[SurveyShare, ...]
    mean: SurveyMean | None


class SurveyWay(Frozen):
    """An estimate with its interval, one way of counting."""

    estimate: MaybeInfinite
    ci: SomeLimits | None


class SurveyBesideRow(Frozen):
    """One quantity three ways: each row once, with the weights only, and with the design. The
    ``unit`` says how to write it."""

    label: str
    unit: Literal["share", "ratio", "number", "p"]
    unweighted: SurveyWay | None
    weights_only: SurveyWay
    design: SurveyWay


class SurveyBeside(Frozen):
    """The answer three ways, and in a sentence what strata and clusters move."""

    rows: tuple[SurveyBesideRow, ...]
    moved: str


class SurveyResults(Frozen):
    """``moved`` says in a sentence what the design changes; ``replicates_lost`` counts replicates in
    which something is not defined, whose errors rest on the others. What a lens does not give is
    None."""

    design: SurveyDesign
    unavailable: tuple[Unavailable, ...]
    shares: tuple[SurveyShare, ...] = ()
    comparisons: tuple[SurveyComparison, ...] = ()
    reference: str | None = None
    table: SurveyTable | None = None
    frequencies: SurveyFrequencies | None = None
    goodness_of_fit: SurveyGoodnessOfFit | None = None
    mean: SurveyMean | None = None
    histogram: SurveyBins | None = None
    trend: SurveyTrend | None = None
    model: SurveyModel | None = None
    model_strata: SurveyModelStrata | None = None
    strata: tuple[SurveyStratum, ...] = ()
    several: tuple[SurveySeveral, ...] = ()
    others: tuple[SurveyVariable, ...] = ()
    moved: str = ""
    replicates_lost: int = 0
    beside: SurveyBeside | None = None
