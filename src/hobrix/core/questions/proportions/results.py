"""What the Proportions lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.crosstab.results import (
    DifferenceResult,
    Group,
    McNemar,
    PooledPair,
    RatioResult,
    ZTest,
)
from hobrix.core.questions.proportions.options import Aim
from hobrix.core.questions.quantities import ChiSquare, Limits, MaybeInfinite, Unavailable


class AgainstReference(Frozen):
    """One group against the reference. What the study's design gives no meaning is None.

    ``overlap_misleads``: both intervals overlap, yet that of the difference leaves out 0.
    """

    value: str
    label: str
    odds_ratio: RatioResult
    odds_ratio_exact_ci: tuple[float, MaybeInfinite] | None
    risk_ratio: RatioResult | None
    risk_difference: DifferenceResult | None
    number_needed: MaybeInfinite | None
    z_test: ZTest | None
    fisher_p: float | None
    fisher_less: float | None
    fisher_greater: float | None
    is_sparse: bool
    overlap_misleads: bool


class PairOfGroups(Frozen):
    """Two groups by the pooled z of just those two, with all pairs allowed for in three ways."""

    one: str
    other: str
    statistic: float
    p: float
    holm: float
    bonferroni: float
    benjamini_hochberg: float


class TrendResult(Frozen):
    """Above 0: shares rise with the order of the groups."""

    statistic: float
    p_two_sided: float
    p_decreasing: float
    p_increasing: float
    departure_from_trend: ChiSquare | None


class WithinMargin(Frozen):
    """Is a difference within the stated margin, as the interval shows? The interval is at
    1 - 2 (1 - confidence) for equivalence and one-sided claims alike."""

    label: str
    aim: Aim
    margin: float
    ci: Limits
    level: float
    is_shown: bool
    words: str


class StandardisedShare(Frozen):
    """A group's share if its strata were as common as in the standard. None: a stratum that
    counts is empty in it."""

    label: str
    share: float | None
    standard_error: float | None
    ci: Limits | None


class StratumShares(Frozen):
    """The event in each group within one stratum; groups nobody is in are left out."""

    values: tuple[str, ...]
    label: str
    groups: tuple[Group, ...]


class Plan(Frozen):
    """What a study of a given size would show, were the shares as seen here."""

    n_per_group: int
    label: str
    half_width: float
    power: float | None
    wished_half_width: float
    n_needed: int


class Sentence(Frozen):
    """A line of the hypothesis statement."""

    heading: str
    text: str


class Paired(Frozen):
    """The same people asked twice: how many changed, and the difference of the two shares."""

    first_share: float
    second_share: float
    difference: float
    standard_error: float
    ci: Limits
    mcnemar: McNemar


class Proportions(Frozen):
    """The event by group, in codebook order; groups nobody is in are left out."""

    event: tuple[str, ...]
    event_label: str
    reference: str
    reference_label: str
    groups: tuple[Group, ...]
    overall: Group
    leading: Literal["risk_difference", "risk_ratio", "odds_ratio"]
    comparisons: tuple[AgainstReference, ...]
    chi_square_homogeneity: ChiSquare
    exact_p: float | None
    pairwise: tuple[PairOfGroups, ...]
    cochran_armitage_trend: TrendResult | None
    within_margin: tuple[WithinMargin, ...]


class ProportionsResults(Frozen):
    lens: Literal["proportions"] = "proportions"
    whole: Proportions
    strata: tuple[StratumShares, ...]
    pooled: tuple[PooledPair, ...]
    standardised: tuple[StandardisedShare, ...]
    paired: Paired | None
    plan: Plan
    statement: tuple[Sentence, ...]
    unavailable: tuple[Unavailable, ...]
