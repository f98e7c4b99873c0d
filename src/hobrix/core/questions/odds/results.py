"""What the Odds model lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import NamedTest, SomeLimits
from hobrix.core.questions.modelling.estimation import FitMethod, LimitsBy
from hobrix.core.questions.modelling.terms import Role
from hobrix.core.survey.two_way import WaldF
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite


class AverageDifference(Frozen):
    """The average difference in probability against the reference, or per unit, from -1 to 1, over
    the population under a design. ``z`` is t there."""

    variable: str
    level: str | None
    estimate: float
    se: float
    z: float
    p: float | None
    ci: SomeLimits


class OnceEach(Frozen):
    """Under a design: the same odds ratio with each row counted once."""

    odds_ratio: MaybeInfinite
    ci: SomeLimits


class OddsRow(Frozen):
    """An odds ratio that can be read by itself: a category against the reference, a number per its
    unit or at one value against the median, within one level of the other variable of an
    interaction.

    ``z`` is t on the design degrees of freedom under a design; n and events are cases.
    ``unadjusted`` and ``unadjusted_difference`` are from a model with this term alone, on the same
    people; the latter of what varies, where probabilities have a meaning.
    """

    term: str
    level: str | None
    label: str
    # The level of the other variable of an interaction in which it holds.
    given: str | None
    n: float | None
    events: float | None
    log_odds: float
    se: float
    z: float
    p: float | None
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    unadjusted: MaybeInfinite | None
    unadjusted_ci: SomeLimits | None
    difference: AverageDifference | None
    unadjusted_difference: float | None
    unweighted: OnceEach | None


class PickedRatio(Frozen):
    """The odds ratio of several that differs most clearly from 1, ``at`` its place, with Bonferroni's
    limits: all of them are allowed for."""

    at: int
    ci: SomeLimits


class OddsTerm(Frozen):
    """One term with its odds ratios; ``reference`` names what the others are against. ``test`` is
    that of the whole term; what it rests on stands under its own name.

    A main effect that is part of an interaction holds at the reference (or median) of the other
    variable only, ``holds_at``; its tests depend on that too and are not worth reading.
    """

    term: str
    variable: str
    together_with: str | None
    title: str
    role: Role
    is_numeric: bool
    part_of_interaction: bool
    holds_at: str | None
    reference: str | None
    reference_n: float | None
    reference_events: float | None
    test: NamedTest | None
    wald: ChiSquareTest | None
    likelihood_ratio: ChiSquareTest | None
    adjusted_wald: WaldF | None
    gvif: float
    gvif_adjusted: float
    rows: tuple[OddsRow, ...]
    picked: PickedRatio | None


class SeparatedPart(Frozen):
    """A coefficient without a finite maximum likelihood estimate."""

    term: str
    level: str | None
    label: str
    maximum_likelihood: Literal["plus_infinity", "minus_infinity", "not_determined"]


class Likelihood(Frozen):
    """What the likelihood says of the model; None what needs its maximum where it was penalised."""

    log_likelihood: float
    log_likelihood_null: float
    penalised_log_likelihood: float | None
    deviance: float
    deviance_null: float
    aic: float | None
    bic: float | None
    mcfadden: float | None
    mcfadden_adjusted: float | None
    cox_snell: float | None
    nagelkerke: float | None
    tjur: float


class OddsModel(Frozen):
    """``separation`` says why Firth's penalised likelihood was needed, if it was. n and events are
    cases, ``share`` is that of the population under a design, where there is no likelihood."""

    method: FitMethod
    limits: LimitsBy
    n: float
    events: float
    share: float
    covariate_patterns: int
    parameters: int
    terms: tuple[OddsTerm, ...]
    test: NamedTest | None
    adjusted_wald: WaldF | None
    average_marginal_effects: tuple[AverageDifference, ...]
    separation: Literal["none", "quasi_complete", "complete"]
    separated: tuple[SeparatedPart, ...]
    likelihood: Likelihood | None


class StratumRatio(Frozen):
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    p: float | None


class OddsStratum(Frozen):
    """The same model within one stratum; ratios in the order of the rows of the whole, None where a
    category is absent. ``left_out`` says why it could not be fitted."""

    values: tuple[str, ...]
    label: str
    n: float
    events: float
    ratios: tuple[StratumRatio | None, ...]
    left_out: str | None


class CommonToStrata(Frozen):
    """Odds ratios that all strata share, each stratum with an intercept of its own; in the order of
    the rows of the whole. Strata in which everybody or nobody has the event tell nothing of them.
    ``reason`` says why there are none."""

    ratios: tuple[StratumRatio | None, ...]
    reason: str | None


class SameInStrata(Frozen):
    """Are all coefficients but the intercept the same in every stratum? ``reason`` says why that is
    not tested."""

    test: NamedTest | None
    reason: str | None


class WithoutRows(Frozen):
    """Odds ratios without chosen rows, in the order of all rows of all terms."""

    rows: tuple[int, ...]
    odds_ratios: tuple[MaybeInfinite, ...]


class OddsResults(Frozen):
    lens: Literal["odds"] = "odds"
    whole: OddsModel
    strata: tuple[OddsStratum, ...]
    common: CommonToStrata | None
    same: SameInStrata | None
    without: WithoutRows | None
    event_label: str
