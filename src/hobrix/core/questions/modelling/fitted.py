"""A model fitted by the method asked for: what all parts of the answer are worked out from."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from hobrix.core.logistic import firth, inference, likelihood
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.logistic.profile import profile_interval
from hobrix.core.logistic.separation import Separation, separation
from hobrix.core.logistic.together import Chosen, fit_parts
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.inference import Inference
from hobrix.core.questions.modelling.prepare import Prepared
from hobrix.core.questions.modelling.terms import ModelTerm, Part, parts_of, places_of
from hobrix.core.survey import logistic as weighted_logistic
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.two_way import WaldF
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval


@dataclass(frozen=True)
class Method:
    """An estimator: both maximise something that tests and profile limits are worked out from."""

    fit: Callable[..., ml.Fit]
    likelihood_ratio_test: Callable[[Patterns, ml.Fit, Sequence[int]], ChiSquareTest]
    profile_interval: Callable[[Patterns, ml.Fit, FloatArray, float], Interval]


METHODS = {
    "maximum_likelihood": Method(ml.fit, inference.likelihood_ratio_test, profile_interval),
    "firth": Method(firth.fit, firth.likelihood_ratio_test, firth.profile_interval),
}


class Separated(Exception):
    """There is no finite maximum likelihood estimate."""

    def __init__(self, found: Separation) -> None:
        super().__init__(found.kind)
        self.found = found


@dataclass(frozen=True)
class Estimate:
    """c'b with its error, test and limits, on the log scale. Without a test where the design leaves
    no degree of freedom."""

    log_odds: float
    se: float
    p: float | None
    limits: Interval

    @property
    def z(self) -> float:
        return self.log_odds / self.se if self.se else 0.0


@dataclass(frozen=True)
class Weighted:
    """What a model knows that was fitted to a weighted sample: the totals it came from, the joint
    spread of its coefficients, and how to fit some of its columns again."""

    totals: PatternTotals
    found: weighted_logistic.WeightedFit
    refit: Callable[[list[int]], ml.Fit]

    @property
    def df(self) -> int:
        return self.totals.design.df

    @property
    def replicates_lost(self) -> int:
        """Replicates without a finite estimate."""
        return int(np.isnan(self.found.spread).any(axis=1).sum())


@dataclass(frozen=True)
class Fitted:
    """A model on the log odds of an event. ``separation`` is that of the maximum likelihood
    estimate, wherever it was looked at; ``weighted`` is there under a design, and with it ``plain``,
    the same model with each row counted once."""

    prepared: Prepared
    asked: Estimation
    found: ml.Fit
    separation: Separation | None = None
    weighted: Weighted | None = None
    plain: ml.Fit | None = None

    @property
    def method(self) -> Method:
        return METHODS[self.asked.method]

    @property
    def is_firth(self) -> bool:
        return self.asked.method == "firth"

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
        return likelihood.probabilities(self.data.design, self.found.coefficients)

    @cached_property
    def n(self) -> float:
        return float(self.data.trials.sum())

    @cached_property
    def events(self) -> float:
        return float(self.data.events.sum())

    @property
    def people(self) -> Patterns:
        """Whom the patterns stand for: the population under a design."""
        return self.data if self.weighted is None else self.weighted.totals.patterns

    @property
    def share(self) -> float:
        """With the event, of the population under a design."""
        return float(self.people.events.sum() / self.people.trials.sum())

    @cached_property
    def null(self) -> float:
        """The log-likelihood of the model without any term."""
        share = self.events / self.n
        return self.events * math.log(share) + (self.n - self.events) * math.log1p(-share)

    @property
    def inference(self) -> Inference:
        design = None if self.weighted is None else self.weighted.totals.design
        return Inference(self.asked.confidence, design)

    @property
    def quantile(self) -> float:
        """How many errors wide limits are."""
        return self.inference.quantile

    @property
    def is_profiled(self) -> bool:
        """Penalised estimates are far from normal, so they always come with profile limits; a
        weighted sample has no likelihood."""
        asked = self.asked.limits == "profile" or self.is_firth
        return asked and self.weighted is None

    def p_of(self, z: float) -> float | None:
        """Two-sided."""
        return self.inference.p_of(z)

    def limits_of(self, value: float, se: float) -> Interval:
        """value ± as many errors as the confidence asks for."""
        return self.inference.limits_of(value, se)

    def alone(self, columns: Sequence[int]) -> "Fitted":
        """The same people with the intercept and these columns only."""
        chosen = [0, *columns]
        if self.weighted is not None:
            return replace(self, found=self.weighted.refit(chosen))
        data = self.data.keep(chosen)
        found = self._side_by_side.get(Chosen(tuple(chosen))) or self.method.fit(
            data, inference.start_without(self.found, chosen), is_checked=True
        )
        return replace(self, prepared=replace(self.prepared, data=data), found=found)

    @cached_property
    def _side_by_side(self) -> dict[Chosen, ml.Fit]:
        """Each number by itself, and all terms but one, of plain maximum likelihood; not all of
        them may be there. Categories by themselves are few patterns, quickly fitted."""
        if self.is_firth or self.weighted is not None or len(self.terms) < 2:
            return {}
        terms = list(zip(self.terms, self.places, strict=True))
        numbers = [at for term, at in terms if not term.is_interaction and term.parts[0].is_numeric]
        every = range(self.data.design.shape[1])
        rest = [tuple(i for i in every if i not in at) for _, at in terms]
        return fit_parts(
            self.data,
            self.found,
            [Chosen((0, *at)) for at in numbers] + [Chosen(at, is_value_only=True) for at in rest],
        )

    def estimate(self, contrast: FloatArray) -> Estimate:
        """Of c'b, by the method and with the limits asked for."""
        value, se = inference.estimate_of(self.found, contrast)
        p = self.p_of(value / se if se else 0.0)
        if not self.is_profiled:
            return Estimate(value, se, p, self.limits_of(value, se))
        limits = self.method.profile_interval(
            self.data, self.found, contrast, self.asked.confidence
        )
        if self.is_firth and np.count_nonzero(contrast) == 1:
            column = [int(np.argmax(contrast != 0))]
            p = self.method.likelihood_ratio_test(self.data, self.found, column).p
        return Estimate(value, se, p, limits)

    def likelihood_ratio(self, columns: Sequence[int]) -> ChiSquareTest | None:
        """Twice what some columns gain; a weighted sample has no likelihood."""
        if self.weighted is not None:
            return None
        rest = tuple(i for i in range(self.data.design.shape[1]) if i not in set(columns))
        if (without := self._side_by_side.get(Chosen(rest, is_value_only=True))) is not None:
            return inference.gain_test(self.found, without.log_likelihood, columns)
        return self.method.likelihood_ratio_test(self.data, self.found, columns)

    def wald_f(self, columns: Sequence[int], fit: ml.Fit | None = None) -> WaldF | None:
        """The adjusted Wald test of some columns under a design, in this model or another of the
        same sample; None where that leaves too few degrees of freedom."""
        assert self.weighted is not None
        return weighted_logistic.wald_test(fit or self.found, columns, self.weighted.df)

    def whole_test(self, columns: Sequence[int]) -> NamedTest | None:
        """Is there anything in these columns? By the likelihood, or Wald's under a design."""
        if self.weighted is None:
            return self.named(self.likelihood_ratio(columns))
        tested = self.wald_f(columns)
        return None if tested is None else NamedTest.wald("adjusted Wald test", tested)

    def named(self, found: ChiSquareTest | None) -> NamedTest | None:
        """A likelihood-ratio test with its name."""
        what = "penalised likelihood-ratio test" if self.is_firth else "likelihood-ratio test"
        return None if found is None else NamedTest.chi_square(what, found)

    def model_test(self) -> NamedTest | None:
        """All terms against none."""
        k = self.data.design.shape[1]
        if self.weighted is not None or self.is_firth:
            return self.whole_test(range(1, k))
        gain = max(0.0, 2 * (self.found.log_likelihood - self.null))
        return NamedTest.chi_square("likelihood-ratio test", chi_square_test(gain, k - 1))

    @property
    def of_population(self) -> "Fitted":
        """The same model with the people each pattern stands for instead of those sampled."""
        return replace(self, prepared=replace(self.prepared, data=self.people))

    @property
    def counted_once(self) -> "Fitted":
        """Under a design: the same model with each row counted once, by plain maximum likelihood."""
        assert self.plain is not None
        asked = Estimation("maximum_likelihood", "wald", self.asked.confidence)
        return replace(self, found=self.plain, asked=asked, weighted=None, plain=None)


def fit_each_row(prepared: Prepared, asked: Estimation) -> Fitted:
    """Fit what was prepared.

    Raises:
        Separated: maximum likelihood has no finite estimate.
        Collinear: some columns are a combination of others.
    """
    if asked.method == "firth":
        found = firth.fit(prepared.data)
        return Fitted(prepared, asked, found, separation(prepared.data))
    try:
        found = ml.fit(prepared.data)
    except ml.NotFinite:
        raise Separated(separation(prepared.data)) from None
    if not found.on_the_edge:
        return Fitted(prepared, asked, found)
    apart = separation(prepared.data)
    if apart.kind != "none":
        raise Separated(apart)
    return Fitted(prepared, asked, found, apart)


def exp(log_odds: float) -> float:
    """exp, infinite where a double cannot hold it."""
    return math.exp(log_odds) if log_odds < 709 else math.inf


def ratios(limits: Interval) -> tuple[float, float]:
    """Limits of an odds ratio from those of its log."""
    return exp(limits.low), exp(limits.high)
