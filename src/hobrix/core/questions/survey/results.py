"""What a survey design adds to an answer: quantities named as in docs/methods.md."""

from hobrix.core.data import Frozen
from hobrix.core.questions.quantities import Grid, Limits, Row, Unavailable


class SurveyDesign(Frozen):
    """Rows with a weight, their clusters and strata; ``population`` is the sum of the weights."""

    rows: int
    clusters: int
    strata: int
    design_df: int
    population: float
    kish_weighting_deff: float
    single_psu_strata: tuple[str, ...]


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


class SurveyTable(Frozen):
    """Weighted shares within each group (rows), with unweighted counts; standardised departures
    z from no association with p allowing for all cells (Holm)."""

    rows: tuple[str, ...]
    columns: tuple[str, ...]
    counts: Grid
    row_weights: Row
    share_within_row: Grid
    share_se: Grid
    unweighted_share_within_row: Grid
    z: Grid
    p_adjusted: Grid
    cramers_v: float
    cramers_v_ci: Limits | None
    rao_scott_second_order: SurveyTest | None
    rao_scott_first_order: SurveyTest | None
    wald: SurveyTest | None
    generalised_deff_eigenvalues: Row
    pearson_uncorrected: float


class SurveyMean(Frozen):
    estimate: float
    se: float
    ci: Limits
    unweighted: float


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


class SurveyModel(Frozen):
    """Pseudo-maximum likelihood; tests of terms and model are adjusted Wald tests."""

    n: float
    coefficients: tuple[SurveyCoefficient, ...]
    rows: tuple[SurveyTerm, ...]
    terms: tuple[SurveyTermTest, ...]
    model: SurveyTest | None


class SurveyStratum(Frozen):
    """The same within one stratum; everybody else stays in the design. ``left_out`` says why
    there is nothing to show."""

    values: tuple[str, ...]
    label: str
    n: float
    shares: tuple[SurveyShare, ...]
    comparisons: tuple[SurveyComparison, ...]
    rao_scott_second_order: SurveyTest | None
    left_out: str | None


class SurveyResults(Frozen):
    """``moved`` says in a sentence what the design changes."""

    design: SurveyDesign
    shares: tuple[SurveyShare, ...]
    comparisons: tuple[SurveyComparison, ...]
    reference: str | None
    table: SurveyTable | None
    goodness_of_fit: SurveyTest | None
    mean: SurveyMean | None
    model: SurveyModel | None
    strata: tuple[SurveyStratum, ...]
    moved: str
    unavailable: tuple[Unavailable, ...]
