"""Shapes of results that every lens shares, with or without a survey design.

What the estimator found stands under the names of docs/methods.md: ``counted`` where rows count
once (or as a counts column says), ``weighted`` under a design. What sentences and screens read
stands beside it and means the same in both.
"""

from collections.abc import Sequence
from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.survey.shares import WeightedDifference, WeightedRatio, WeightedShare
from hobrix.core.survey.two_way import CorrectedTest, WaldF
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite
from hobrix.core.tables.two_by_two import Difference, Ratio

Row = tuple[float, ...]
Grid = tuple[Row, ...]
Limits = tuple[float, float]
SomeLimits = tuple[float, MaybeInfinite]


class Unavailable(Frozen):
    """A quantity that does not exist for these data, and why."""

    quantity: str
    reason: str


class NamedTest(Frozen):
    """A test with its name: a statistic on ``df`` (and ``df2`` for an F), and the p it gives. An
    exact test has no statistic."""

    name: str
    sign: Literal["χ²", "F", "z", ""]
    statistic: float | None
    df: float | None
    df2: float | None = None
    p: float

    @classmethod
    def chi_square(cls, name: str, found: ChiSquareTest) -> "NamedTest":
        return cls(name=name, sign="χ²", statistic=found.statistic, df=found.df, p=found.p)

    @classmethod
    def corrected(cls, name: str, found: CorrectedTest) -> "NamedTest":
        """As F, which is what is reported."""
        return cls(name=name, sign="F", statistic=found.f, df=found.df1, df2=found.df2, p=found.p_f)

    @classmethod
    def wald(cls, name: str, found: WaldF) -> "NamedTest":
        """Adjusted to the degrees of freedom that so many contrasts leave."""
        return cls(
            name=name,
            sign="F",
            statistic=found.adjusted_f,
            df=found.adjusted_df1,
            df2=found.adjusted_df2,
            p=found.adjusted_p,
        )

    @classmethod
    def stated(cls, name: str, f: float, df1: float, df2: float, p: float) -> "NamedTest":
        """An F with its p."""
        return cls(name=name, sign="F", statistic=f, df=df1, df2=df2, p=p)

    @classmethod
    def exact(cls, name: str, p: float) -> "NamedTest":
        return cls(name=name, sign="", statistic=None, df=None, p=p)


class Share(Frozen):
    """How common something is among n cases, with its interval; ``n`` and ``events`` are cases,
    ``share`` is weighted under a design (``weighted``). Without an interval where nothing tells how
    much it varies."""

    value: str
    label: str
    n: float
    events: float
    share: float
    share_ci: Limits | None
    weighted: WeightedShare | None = None

    @property
    def unweighted(self) -> float:
        return self.events / self.n


class Effect(Frozen):
    """One group against another: a difference of shares (-1 to 1), their ratio or the odds ratio;
    Newcombe's, Katz's and Woolf's limits, or those on t of the design. Without limits where a cell
    is zero or nothing tells how much it varies."""

    estimate: MaybeInfinite | None
    ci: Limits | None
    p: float | None
    counted: Ratio | Difference | None = None
    weighted: WeightedRatio | WeightedDifference | None = None


class Against(Frozen):
    """One group against the reference. Ratio and difference of shares are None where the study's
    design gives shares no meaning; ``clearness`` is how far apart both are in standard errors."""

    value: str
    label: str
    odds_ratio: Effect
    risk_ratio: Effect | None
    risk_difference: Effect | None
    clearness: float


class Groups(Frozen):
    """The event in each group, and each group against the reference.

    ``shares_have_meaning`` is False in a case–control study, where the share of cases was set by
    the researcher. ``picked`` is the group that differs most clearly from the reference, picked
    among several: its limits are those of Bonferroni, with all of them allowed for. None where
    there is only one. ``exact_odds_ratio_ci`` are the exact limits of the group that leads, at the
    same level, where its counts are too small for the others; they leave out 1 when Fisher's exact
    test (doubled) does.
    """

    event: tuple[str, ...]
    event_label: str
    reference: str
    reference_label: str
    overall: Share
    shares_have_meaning: bool
    groups: tuple[Share, ...]
    comparisons: tuple[Against, ...]
    picked: Against | None
    exact_odds_ratio_ci: SomeLimits | None

    @property
    def base(self) -> Share:
        """The reference."""
        return self.group(self.reference)

    def group(self, value: str) -> Share:
        return next(group for group in self.groups if group.value == value)

    def against(self, value: str) -> Against:
        return next(each for each in self.comparisons if each.value == value)

    @property
    def clearest(self) -> Against:
        """The group that differs most clearly from the reference: weighed by its error, so that a
        handful of cases does not lead, and with limits that allow for its being picked."""
        return self.picked or self.comparisons[0]

    @property
    def many(self) -> int:
        """How many groups are compared with the reference."""
        return len(self.comparisons)


class Measure(Frozen):
    """A measure of association in a line: its title and what it says, with the two variables named.
    ``leads`` marks the one that suits the kinds of the variables; ``unweighted`` is the same with
    each row counted once. ``ase``, ``ase_null``, ``z`` and ``se`` as in docs/methods.md."""

    key: str
    title: str
    says: str
    leads: bool
    value: float | None
    ci: Limits | None
    p: float | None
    ase: float | None = None
    ase_null: float | None = None
    z: float | None = None
    se: float | None = None
    unweighted: float | None = None


Mark = Literal["much more", "more", "", "fewer", "much fewer"]
Marks = tuple[tuple[Mark, ...], ...]


class Quantity(Frozen):
    """One number of an answer, named so that answers counted another way have the same.

    ``measure`` and ``about`` tell it apart from those of other questions: an "odds ratio", of "River
    against Piped" in ``variable`` ("" for the first that the outcome varies with).
    """

    label: str
    unit: Literal["share", "ratio", "number", "strength", "p"]
    estimate: MaybeInfinite
    ci: SomeLimits | None
    measure: str = ""
    about: str = ""
    variable: str = ""
    n: float | None = None
    events: float | None = None
    p: float | None = None


def rows_of(values: Sequence[Sequence[float]]) -> Grid:
    """An array or list of lists as a grid."""
    return tuple(tuple(float(value) for value in row) for row in values)
