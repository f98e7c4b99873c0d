"""What the Proportions lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import Groups, Limits, NamedTest, Share
from hobrix.core.questions.pooled import PooledPair
from hobrix.core.questions.proportions.options import Aim
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite
from hobrix.core.tables.k_proportions import Trend
from hobrix.core.tables.paired import McNemar
from hobrix.core.tables.two_by_two import ZTest

Leading = Literal["risk_difference", "risk_ratio", "odds_ratio"]


class Closer(Frozen):
    """What stands beside a comparison in the table: exact limits of the odds ratio and Fisher's p
    where counts are small. ``overlap_misleads``: both intervals overlap, yet that of the difference
    leaves out 0."""

    value: str
    is_sparse: bool
    odds_ratio_exact_ci: tuple[float, MaybeInfinite] | None
    fisher_p: float | None
    overlap_misleads: bool


class TrendPerStep(Frozen):
    """Under a design: the odds ratio for one step along the ordered groups, from the model with
    their number."""

    odds_ratio: float
    ci: Limits
    p: float


class TrendOfShares(Frozen):
    """Do shares rise or fall with the order of the groups?"""

    test: NamedTest
    rises: bool
    departure: NamedTest | None
    cochran_armitage_trend: Trend | None
    per_step: TrendPerStep | None


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
    groups: tuple[Share, ...]
    test: NamedTest | None


class ProportionsResults(Frozen):
    """The event by group, in codebook order; groups nobody is in are left out. ``test`` asks whether
    all groups are alike, ``one_sided`` what was asked of the group that leads."""

    lens: Literal["proportions"] = "proportions"
    whole: Groups
    leading: Leading
    closer: tuple[Closer, ...]
    test: NamedTest | None
    one_sided: NamedTest | None
    trend: TrendOfShares | None
    strata: tuple[StratumShares, ...]
    pooled: tuple[PooledPair, ...]
    standardised: tuple[StandardisedShare, ...]

    @property
    def leading_test(self) -> NamedTest | None:
        """The one that was asked for."""
        return self.test if self.one_sided is None else self.one_sided

    def closer_to(self, value: str) -> Closer:
        return next(each for each in self.closer if each.value == value)


class PairOfGroups(Frozen):
    """Two groups by the pooled z of just those two, with all pairs allowed for in three ways."""

    one: str
    other: str
    statistic: float
    p: float
    holm: float
    bonferroni: float
    benjamini_hochberg: float


class TestedGroup(Frozen):
    """One group against the reference, tested: the pooled z, and Fisher's exact test."""

    label: str
    number_needed: MaybeInfinite | None
    z_test: ZTest | None
    fisher_p: float | None
    fisher_less: float | None
    fisher_greater: float | None


class SharesTestsPanel(Frozen):
    tests: tuple[NamedTest, ...]
    chi_square_homogeneity: ChiSquareTest | None
    exact_p: float | None
    comparisons: tuple[TestedGroup, ...]
    pairwise: tuple[PairOfGroups, ...]


class WithinMargin(Frozen):
    """Is a difference within the stated margin, as the interval shows? The interval is at
    1 - 2 (1 - confidence) for equivalence and one-sided claims alike."""

    label: str
    aim: Aim
    margin: float
    ci: Limits | None
    level: float
    is_shown: bool
    words: str


class MarginPanel(Frozen):
    within_margin: tuple[WithinMargin, ...]


class PairedPanel(Frozen):
    """The same people asked twice: how many changed, and the difference of the two shares, second
    minus first."""

    first_share: float
    second_share: float
    difference: float
    standard_error: float
    ci: Limits
    mcnemar: McNemar


class Sentence(Frozen):
    """A line of the hypothesis statement."""

    heading: str
    text: str


class StatementPanel(Frozen):
    lines: tuple[Sentence, ...]


class PlanPanel(Frozen):
    """What a study of a given size would show, were the shares as seen here."""

    n_per_group: int
    label: str
    half_width: float
    power: float | None
    wished_half_width: float
    n_needed: int


class ProportionsPanels(Frozen):
    """What was opened."""

    lens: Literal["proportions"] = "proportions"
    tests: SharesTestsPanel | None = None
    margin: MarginPanel | None = None
    paired: PairedPanel | None = None
    statement: StatementPanel | None = None
    plan: PlanPanel | None = None
