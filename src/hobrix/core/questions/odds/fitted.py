"""A model fitted by the method asked for: what all parts of the answer are worked out from."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import special

from hobrix.core.logistic import firth
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.logistic.separation import Separation, separation
from hobrix.core.questions.odds.options import OddsOptions
from hobrix.core.questions.odds.prepare import Prepared
from hobrix.core.questions.odds.terms import ModelTerm, Part, parts_of, places_of
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval, normal_quantile


@dataclass(frozen=True)
class Method:
    """An estimator: both maximise something that tests and profile limits are worked out from."""

    fit: Callable[..., ml.Fit]
    likelihood_ratio_test: Callable[[Patterns, ml.Fit, Sequence[int]], ChiSquareTest]
    profile_interval: Callable[[Patterns, ml.Fit, FloatArray, float], Interval]


METHODS = {
    "maximum_likelihood": Method(ml.fit, ml.likelihood_ratio_test, ml.profile_interval),
    "firth": Method(firth.fit, firth.likelihood_ratio_test, firth.profile_interval),
}


class Separated(Exception):
    """There is no finite maximum likelihood estimate."""

    def __init__(self, found: Separation) -> None:
        super().__init__(found.kind)
        self.found = found


@dataclass(frozen=True)
class Estimate:
    """c'b with its error, test and limits, on the log scale."""

    log_odds: float
    se: float
    p: float
    limits: Interval

    @property
    def z(self) -> float:
        return self.log_odds / self.se if self.se else 0.0


@dataclass(frozen=True)
class Fitted:
    """``separation`` is that of the maximum likelihood estimate, wherever it was looked at. A
    weighted sample has design degrees of freedom ``df``, and ``refit`` fits the intercept and some
    columns to it."""

    prepared: Prepared
    options: OddsOptions
    confidence: float
    found: ml.Fit
    separation: Separation | None
    df: int | None = None
    refit: Callable[[list[int]], ml.Fit] | None = None

    @property
    def method(self) -> Method:
        return METHODS[self.options.method]

    @property
    def data(self) -> Patterns:
        return self.prepared.data

    @property
    def terms(self) -> list[ModelTerm]:
        return self.prepared.terms

    @cached_property
    def places(self) -> list[list[int]]:
        return places_of(self.terms)

    @cached_property
    def parts(self) -> dict[str, Part]:
        return parts_of(self.terms)

    @cached_property
    def fitted(self) -> FloatArray:
        """Predicted probability of every pattern, shape (J,)."""
        return ml.probabilities(self.data.design, self.found.coefficients)

    @cached_property
    def n(self) -> float:
        return float(self.data.trials.sum())

    @cached_property
    def events(self) -> float:
        return float(self.data.events.sum())

    @cached_property
    def null(self) -> float:
        """The log-likelihood of the model without any term."""
        share = self.events / self.n
        return self.events * math.log(share) + (self.n - self.events) * math.log1p(-share)

    @property
    def quantile(self) -> float:
        return self.quantile_of(self.confidence)

    def quantile_of(self, confidence: float) -> float:
        """How many errors wide limits are: normal, or t with a survey design; infinite where it
        leaves no degree of freedom."""
        if self.df is None:
            return normal_quantile(confidence)
        return float(special.stdtrit(self.df, 0.5 + confidence / 2)) if self.df > 0 else math.inf

    @property
    def is_profiled(self) -> bool:
        """Penalised estimates are far from normal, so they always come with profile limits; a
        weighted sample has no likelihood."""
        asked = self.options.interval == "profile" or self.options.method == "firth"
        return asked and self.df is None

    def p_of(self, z: float) -> float:
        """Two-sided: normal, or t with a survey design; 1 where that leaves no degree of freedom."""
        if self.df is None:
            return 2 * float(special.ndtr(-abs(z)))
        return 2 * float(special.stdtr(self.df, -abs(z))) if self.df > 0 else 1.0

    def limits_of(self, value: float, se: float, confidence: float) -> Interval:
        """value ± as many errors as the confidence asks for; without end where no error is known,
        as with the only clusters of their strata."""
        quantile = self.quantile_of(confidence)
        reach = quantile * se if math.isfinite(quantile) and se > 0 else math.inf
        return Interval(value - reach, value + reach)

    def alone(self, columns: Sequence[int]) -> ml.Fit:
        """The same people with the intercept and these columns only."""
        chosen = [0, *columns]
        if self.refit is not None:
            return self.refit(chosen)
        return self.method.fit(self.data.keep(chosen), is_checked=True)

    def estimate(self, contrast: FloatArray, confidence: float | None = None) -> Estimate:
        """Of c'b, by the method and with the limits asked for."""
        level = self.confidence if confidence is None else confidence
        value, se = ml.estimate_of(self.found, contrast)
        p = self.p_of(value / se if se else 0.0)
        if not self.is_profiled:
            return Estimate(value, se, p, self.limits_of(value, se, level))
        limits = self.method.profile_interval(self.data, self.found, contrast, level)
        if self.options.method == "firth" and np.count_nonzero(contrast) == 1:
            column = [int(np.argmax(contrast != 0))]
            p = self.method.likelihood_ratio_test(self.data, self.found, column).p
        return Estimate(value, se, p, limits)

    def model_test(self) -> ChiSquareTest:
        """All terms against none."""
        k = self.data.design.shape[1]
        if self.options.method == "firth":
            return self.method.likelihood_ratio_test(self.data, self.found, range(1, k))
        return chi_square_test(max(0.0, 2 * (self.found.log_likelihood - self.null)), k - 1)


def fit_model(prepared: Prepared, options: OddsOptions, confidence: float) -> Fitted:
    """Fit what was prepared.

    Raises:
        Separated: maximum likelihood has no finite estimate.
        Collinear: some columns are a combination of others.
    """
    if options.method == "firth":
        found = firth.fit(prepared.data)
        return Fitted(prepared, options, confidence, found, separation(prepared.data))
    try:
        found = ml.fit(prepared.data)
    except ml.NotFinite:
        raise Separated(separation(prepared.data)) from None
    if not found.on_the_edge:
        return Fitted(prepared, options, confidence, found, None)
    apart = separation(prepared.data)
    if apart.kind != "none":
        raise Separated(apart)
    return Fitted(prepared, options, confidence, found, apart)


def exp(log_odds: float) -> float:
    """exp, infinite where a double cannot hold it."""
    return math.exp(log_odds) if log_odds < 709 else math.inf
