"""What a survey design adds to an answer: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.odds.results import Prediction, ProbabilityCurve, Slot
from hobrix.core.questions.quantities import Grid, Limits, Row, Unavailable


class SurveyDesign(Frozen):
    """Rows with a weight, their clusters and strata; ``population`` is the sum of the weights.
    ``errors`` says in words how errors were found."""

    rows: int
    clusters: int
    strata: int
    design_df: int
    population: float
    kish_weighting_deff: float
    single_psu_strata: tuple[str, ...]
    errors: str


class SurveyShare(Frozen):
    """A weighted share beside the unweighted one; n and events are unweighted."""

    value: str
    label: str
    n: float
    events: float
    weighted_n: float
    estimate: float
    se: float
    ci: Limits | None
    ci_95_logit: Limits | None
    deff: float | None
    effective_sample_size: float | None
    unweighted: float


class SurveyContrast(Frozen):
    """On the scale of the estimate; ``se`` of a ratio is that of its log."""

    estimate: float
    se: float
    t: float
    p: float
    ci: Limits


class SurveyComparison(Frozen):
    value: str
    label: str
    risk_difference: SurveyContrast
    risk_ratio: SurveyContrast | None
    odds_ratio: SurveyContrast | None
    unweighted_odds_ratio: float | None


class SurveyTest(Frozen):
    """A test on F(df1, df2)."""

    f: float
    df1: float
    df2: float
    p: float


class SurveyMeasure(Frozen):
    """A measure of association of the weighted cells; ``key`` as in the results without the design,
    whose value is ``unweighted``."""

    key: str
    value: float
    se: float
    ci: Limits | None
    unweighted: float | None


class SurveyTable(Frozen):
    """Weighted shares within each group (rows), with unweighted counts; standardised departures
    z from no association with p allowing for all cells (Holm). ``event`` are the positions of the
    columns that are the event; ``share_of_all`` are the weighted shares of all groups together.
    Intervals of ``cramers_v`` and ``measures`` are linearised or replicated as the design says;
    measures of which hardly a replicate has a value are left out."""

    rows: tuple[str, ...]
    columns: tuple[str, ...]
    event: tuple[int, ...]
    counts: Grid
    row_weights: Row
    share_of_all: Row
    share_within_row: Grid
    share_se: Grid
    unweighted_share_within_row: Grid
    z: Grid
    p_adjusted: Grid
    cramers_v: float
    cramers_v_ci: Limits | None
    measures: tuple[SurveyMeasure, ...]
    rao_scott_second_order: SurveyTest | None
    rao_scott_first_order: SurveyTest | None
    wald: SurveyTest | None
    generalised_deff_eigenvalues: Row
    pearson_uncorrected: float


class SurveyMean(Frozen):
    """The weighted mean of a number, and how it is distributed: ``sd`` and quartiles of the weighted
    population."""

    n: float
    weighted_n: float
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


class SurveyCoefficient(Frozen):
    term: str
    level: str | None
    label: str
    log_odds: float
    se: float
    t: float
    p: float
    odds_ratio: float
    ci: Limits
    unweighted_odds_ratio: float


class SurveyTerm(Frozen):
    """One odds ratio as in the model without the design, in the same order."""

    term: str
    title: str
    label: str
    reference: str | None
    given: str | None
    odds_ratio: float
    ci: Limits
    p: float
    unweighted: float
    unweighted_ci: Limits


class SurveyTermTest(Frozen):
    term: str
    title: str
    wald: SurveyTest


class SurveyStep(Frozen):
    """What a step adds: the adjusted Wald test of its terms in the model up to this step."""

    step: Literal["vary_with", "allowing_for"]
    titles: tuple[str, ...]
    wald: SurveyTest | None


class SurveyFitGroup(Frozen):
    """People of about the same predicted probability: weighted shares with the event."""

    n: float
    observed: float
    predicted: float


class SurveyFit(Frozen):
    """Observed against predicted in groups of about equal weight, tested on mean residuals."""

    groups: tuple[SurveyFitGroup, ...]
    test: SurveyTest


class SurveyModel(Frozen):
    """Pseudo-maximum likelihood; tests of terms, steps and model are adjusted Wald tests. Limits
    of predicted probabilities are on t of the design, from the log odds."""

    n: float
    coefficients: tuple[SurveyCoefficient, ...]
    rows: tuple[SurveyTerm, ...]
    terms: tuple[SurveyTermTest, ...]
    steps: tuple[SurveyStep, ...]
    model: SurveyTest | None
    fit: SurveyFit | None
    slots: tuple[Slot, ...]
    predictions: tuple[Prediction, ...]
    curve: ProbabilityCurve | None


class SurveyStratumRatio(Frozen):
    odds_ratio: float
    ci: Limits
    p: float


class SurveyModelStratum(Frozen):
    """The same model within one stratum; ``ratios`` in the order of the model's rows, None where a
    category is missing there. ``left_out`` says why there is nothing to show."""

    values: tuple[str, ...]
    label: str
    n: float
    ratios: tuple[SurveyStratumRatio | None, ...]
    left_out: str | None


class SurveyModelStrata(Frozen):
    """``same`` tests that all coefficients but the intercept are the same everywhere; ``reason``
    says why there is no test."""

    strata: tuple[SurveyModelStratum, ...]
    same: SurveyTest | None
    reason: str | None


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

    estimate: float
    ci: Limits | None


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
    goodness_of_fit: SurveyTest | None = None
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
