"""What the Distribution lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen, Kind
from hobrix.core.questions.estimates import Limits, Mark, NamedTest, Row, Share
from hobrix.core.survey.shares import WeightedShare
from hobrix.core.tables.goodness_of_fit import ExactMultinomial
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.one_proportion import Alternative, Method, ShareTest


class MissingRow(Frozen):
    """Cases without an answer for one reason; ``code`` is "" for blank cells. The percentage is
    weighted under a design."""

    code: str
    label: str
    count: float
    percent_of_all: float


class FrequencyRow(Frozen):
    """One answer, or one number, or one range of numbers (``value`` is then its lower end).

    ``count`` are cases; percentages run from 0 to 100 and are weighted under a design, beside the
    ``unweighted`` one. ``cumulative_percent_of_answered`` only where there is an order; ``ci`` is
    that of the share of those who answered, in percent.
    """

    value: str
    label: str
    count: float
    percent_of_all: float
    percent_of_answered: float
    cumulative_percent_of_answered: float | None
    ci: Limits | None
    weighted: WeightedShare | None = None


class WeightedMean(Frozen):
    """What a design adds to a mean: its error and design effect, and the mean without weights."""

    se: float
    sum_of_weights: float
    deff: float | None
    unweighted: float
    unweighted_sd: float | None


class Summary(Frozen):
    """Moments and quartiles, weighted under a design. ``of_codes`` tells that the codes of ordered
    answers were taken as numbers; ``mean_ci`` is on t."""

    of_codes: bool
    n: float
    mean: float
    mean_ci: Limits | None
    sd: float | None
    min: float
    q1: float
    median: float
    q3: float
    max: float
    skewness_g1: float | None
    skewness_adjusted: float | None
    excess_kurtosis_g2: float | None
    excess_kurtosis_adjusted: float | None
    weighted: WeightedMean | None = None


class Bins(Frozen):
    """Bins of equal width: ``edges`` has one entry more than ``counts``, which are cases;
    ``percent`` is weighted under a design, where ``unweighted_percent`` stands beside it."""

    edges: Row
    counts: Row
    width: float
    percent: Row
    unweighted_percent: Row | None


class ShareTests(Frozen):
    """The event's share against a stated one, with both hypotheses in words; ``test`` is the one
    that is reported, for the alternative that was asked."""

    against: float
    alternative: Alternative
    null: str
    alternative_in_words: str
    test: NamedTest | None
    exact_binomial_test: ShareTest | None
    score_z_test: ShareTest | None


class EventShare(Share):
    """The share with the event among those who answered."""

    event: tuple[str, ...]
    method: Method
    tests: ShareTests | None


class GoodnessOfFit(Frozen):
    """Observed against expected shares, over ``values`` in codebook order. ``observed`` are cases,
    ``observed_shares`` weighted under a design;
    ``standardized_residuals`` are departures in standard errors, design-based under a design, where
    there are no expected counts."""

    source: Literal["equal", "stated", "variable"]
    values: tuple[str, ...]
    labels: tuple[str, ...]
    observed: Row
    observed_shares: Row
    stated: Row
    expected_shares: Row
    test: NamedTest | None
    standardized_residuals: Row
    standardized_residuals_p_holm: Row
    marks: tuple[Mark, ...]
    cohens_w: float
    expected_counts: Row | None
    pearson: ChiSquareTest | None
    likelihood_ratio: ChiSquareTest | None
    pearson_residuals: Row | None
    exact_multinomial: ExactMultinomial | None


class VariableDistribution(Frozen):
    """How one variable is answered. ``table`` is empty for numbers, which have a ``histogram``."""

    variable: str
    title: str
    kind: Kind
    unit: str
    n_all: float
    n_answered: float
    n_missing: float
    percent_missing_of_all: float
    missing_breakdown: tuple[MissingRow, ...]
    different: int
    table: tuple[FrequencyRow, ...]
    summary: Summary | None
    histogram: Bins | None
    share: EventShare | None
    goodness_of_fit: GoodnessOfFit | None


class StratumDistribution(Frozen):
    """The outcome within one category of each stratifying variable."""

    values: tuple[str, ...]
    label: str
    outcome: VariableDistribution


class DistributionResults(Frozen):
    """The outcome first, then the other variables of the question."""

    lens: Literal["distribution"] = "distribution"
    variables: tuple[VariableDistribution, ...]
    strata: tuple[StratumDistribution, ...]


class ValuesPanel(Frozen):
    """All numbers with their counts, or in ranges where they are ``grouped``."""

    table: tuple[FrequencyRow, ...]
    grouped: bool
    different: int


class DistributionPanels(Frozen):
    """What was opened."""

    lens: Literal["distribution"] = "distribution"
    values: ValuesPanel | None = None
