"""What a survey design makes of a logistic model: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.odds.results import (
    MarginalEffect,
    OddsRow,
    Prediction,
    ProbabilityCurve,
    Slot,
    TermWithRatios,
)
from hobrix.core.questions.quantities import Limits, MaybeInfinite, SomeLimits
from hobrix.core.questions.survey.tested import SurveyTest, WaldTest


class SurveyCoefficient(Frozen):
    """One column of the model; ``ci`` is at the level of the question."""

    term: str
    level: str | None
    label: str
    log_odds: float
    se: float
    t: float
    df: int
    p: float
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    ci_95: SomeLimits
    log_odds_ci_95: Limits | None
    unweighted_odds_ratio: MaybeInfinite


class SurveyOddsRow(OddsRow):
    """An odds ratio as without the design, which is beside it; z is t on the design degrees of
    freedom, n and events are unweighted."""

    unweighted: MaybeInfinite
    unweighted_ci: SomeLimits


class SurveyOddsTerm(TermWithRatios):
    """``wald`` tests the whole term; None where the design leaves too few degrees of freedom."""

    wald: WaldTest | None
    rows: tuple[SurveyOddsRow, ...]

    @property
    def whole_p(self) -> float | None:
        return None if self.wald is None else self.wald.adjusted_p


class SurveyStep(Frozen):
    """What a step adds: the adjusted Wald test of its terms in the model up to this step."""

    step: Literal["vary_with", "allowing_for"]
    titles: tuple[str, ...]
    wald: WaldTest | None


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
    of predicted probabilities are on t of the design, from the log odds. n and events are
    unweighted, ``share`` is the weighted share with the event."""

    n: float
    events: float
    share: float
    coefficients: tuple[SurveyCoefficient, ...]
    terms: tuple[SurveyOddsTerm, ...]
    average_marginal_effects: tuple[MarginalEffect, ...]
    equation: str
    steps: tuple[SurveyStep, ...]
    model: WaldTest | None
    fit: SurveyFit | None
    slots: tuple[Slot, ...]
    predictions: tuple[Prediction, ...]
    curve: ProbabilityCurve | None


class SurveyStratumRatio(Frozen):
    odds_ratio: MaybeInfinite
    ci: SomeLimits
    p: float


class SurveyModelStratum(Frozen):
    """The same model within one stratum; ``ratios`` in the order of all rows of the model, None
    where a category is missing there. ``left_out`` says why there is nothing to show."""

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
