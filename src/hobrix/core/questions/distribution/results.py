"""What the Distribution lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen, Kind
from hobrix.core.questions.distribution.options import Alternative
from hobrix.core.questions.quantities import ChiSquare, Limits, Row, Unavailable
from hobrix.core.tables.one_proportion import Method


class MissingRow(Frozen):
    """Cases without an answer for one reason; ``code`` is "" for blank cells."""

    code: str
    label: str
    count: float
    percent_of_all: float


class FrequencyRow(Frozen):
    """One answer, or one number, or one range of numbers (``value`` is then its lower end).

    Percentages run from 0 to 100. ``cumulative_percent_of_answered`` only where there is an
    order; ``ci`` is that of the share of those who answered, in percent.
    """

    value: str
    label: str
    count: float
    percent_of_all: float
    percent_of_answered: float
    cumulative_percent_of_answered: float | None
    ci: Limits


class Summary(Frozen):
    """Moments and quartiles. ``of_codes`` tells that the codes of ordered answers were taken as
    numbers."""

    of_codes: bool
    mean: float
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


class Bins(Frozen):
    """Bins of equal width: ``edges`` has one entry more than ``counts``."""

    edges: Row
    counts: Row
    width: float


class OneSidedP(Frozen):
    """p for each alternative to the stated share."""

    p_two_sided: float
    p_less: float
    p_greater: float
    statistic: float | None = None


class ShareTests(Frozen):
    """The event's share against a stated one, with both hypotheses in words."""

    against: float
    alternative: Alternative
    null: str
    alternative_in_words: str
    exact_binomial_test: OneSidedP
    score_z_test: OneSidedP


class EventShare(Frozen):
    """The share with the event among those who answered."""

    event: tuple[str, ...]
    label: str
    x: float
    n: float
    estimate: float
    method: Method
    ci: Limits
    tests: ShareTests | None


class Exact(Frozen):
    p: float
    observed_probability: float
    number_of_outcomes: int


class GoodnessOfFit(Frozen):
    """Observed counts against expected shares, over ``values`` in codebook order."""

    source: Literal["equal", "stated", "variable"]
    values: tuple[str, ...]
    labels: tuple[str, ...]
    observed: Row
    stated: Row
    expected_shares: Row
    expected_counts: Row
    pearson: ChiSquare
    likelihood_ratio: ChiSquare
    pearson_residuals: Row
    standardized_residuals: Row
    standardized_residuals_p_holm: Row
    cohens_w: float
    exact_multinomial: Exact | None


class VariableDistribution(Frozen):
    """How one variable is answered. ``table`` is None where numbers are too many to list."""

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
    grouped: bool
    summary: Summary | None
    histogram: Bins | None
    share: EventShare | None
    goodness_of_fit: GoodnessOfFit | None


class Distributions(Frozen):
    """The outcome first, then the other variables of the question."""

    variables: tuple[VariableDistribution, ...]


class StratumDistribution(Frozen):
    """The outcome within one category of each stratifying variable."""

    values: tuple[str, ...]
    label: str
    variables: tuple[VariableDistribution, ...]


class DistributionResults(Frozen):
    lens: Literal["distribution"] = "distribution"
    whole: Distributions
    strata: tuple[StratumDistribution, ...]
    unavailable: tuple[Unavailable, ...]
