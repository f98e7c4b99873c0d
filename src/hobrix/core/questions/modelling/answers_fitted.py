"""A model of all answers to an outcome: what all parts of the answer are worked out from."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from hobrix.core.logistic import answers as model_of
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import inference
from hobrix.core.logistic.answers import Family
from hobrix.core.logistic.patterns import FloatArray, IntArray
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.answers import PreparedAnswers
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.fitted import Estimate
from hobrix.core.questions.modelling.inference import Inference
from hobrix.core.questions.modelling.terms import ModelTerm, Part, parts_of, places_of
from hobrix.core.survey import logistic as weighted_logistic
from hobrix.core.survey.answers import AnswerTotals
from hobrix.core.survey.two_way import WaldF
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test


@dataclass(frozen=True)
class WeightedAnswers:
    """What a model knows that was fitted to a weighted sample, and how to fit some of its columns again."""

    totals: AnswerTotals
    found: weighted_logistic.WeightedFit
    refit: Callable[[list[int]], ml.Fit]

    @property
    def replicates_lost(self) -> int:
        """Replicates without a finite estimate."""
        return int(np.isnan(self.found.spread).any(axis=1).sum())


@dataclass(frozen=True)
class AnswersFitted:
    """``weighted`` is there under a design, and with it ``plain``, the same model with each row counted once.
    Columns are those of the design, equations those of the family."""

    prepared: PreparedAnswers
    family: Family
    asked: Estimation
    found: ml.Fit
    weighted: WeightedAnswers | None = None
    plain: ml.Fit | None = None

    @property
    def data(self) -> model_of.AnswerPatterns:
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

    @property
    def n(self) -> float:
        return self.data.n

    @property
    def people(self) -> FloatArray:
        """How many of each pattern gave each answer, shape (J, K): of the population under a design."""
        if self.weighted is None:
            return self.data.counts
        weights = np.asarray(self.weighted.totals.totals.weights.sum(axis=0), dtype=np.float64)
        return weights.reshape(self.data.counts.shape)

    @property
    def shares(self) -> FloatArray:
        """Of each answer, shape (K,)."""
        people = self.people.sum(axis=0)
        return np.asarray(people / people.sum())

    @cached_property
    def at(self) -> IntArray:
        """Where the coefficient of each column stands in each equation, shape (equations, k)."""
        return self.family.at(self.data.design.shape[1], self.data.counts.shape[1])

    @property
    def inference(self) -> Inference:
        design = None if self.weighted is None else self.weighted.totals.design
        return Inference(self.asked.confidence, design)

    @property
    def is_profiled(self) -> bool:
        return self.asked.limits == "profile" and self.weighted is None

    def contrast(self, of_columns: FloatArray, equation: int) -> FloatArray:
        """c of shape (p,) from one of the columns, shape (k,), whose first is 0."""
        found = np.zeros(len(self.found.coefficients))
        found[self.at[equation][1:]] = of_columns[1:]
        return found

    def estimate(self, of_columns: FloatArray, equation: int) -> Estimate:
        """Of c'b in one equation, with the limits asked for."""
        contrast = self.contrast(of_columns, equation)
        value, se = inference.estimate_of(self.found, contrast)
        p = self.inference.p_of(value / se if se else 0.0)
        if not self.is_profiled:
            return Estimate(value, se, p, self.inference.limits_of(value, se))
        limits = model_of.profile_interval(
            self.family, self.data, self.found, contrast, self.asked.confidence
        )
        return Estimate(value, se, p, limits)

    def coefficients_at(self, columns: Sequence[int]) -> list[int]:
        """Where the coefficients of some columns stand, in all equations."""
        return [int(i) for i in self.at[:, list(columns)].ravel()]

    def wald(self, columns: Sequence[int]) -> ChiSquareTest:
        return inference.wald_test(self.found, self.coefficients_at(columns))

    def wald_f(self, columns: Sequence[int]) -> WaldF | None:
        """The adjusted Wald test under a design; None where it leaves too few degrees of freedom."""
        assert self.weighted is not None
        at = self.coefficients_at(columns)
        return weighted_logistic.wald_test(self.found, at, self.weighted.totals.design.df)

    def likelihood_ratio(self, columns: Sequence[int]) -> ChiSquareTest | None:
        """Twice what some columns gain, in all equations; a weighted sample has no likelihood."""
        if self.weighted is not None:
            return None
        rest = [i for i in range(self.data.design.shape[1]) if i not in set(columns)]
        reached = self.data.null
        if len(rest) > 1:
            reached = self._fit(rest).log_likelihood
        gain = max(0.0, 2 * (self.found.log_likelihood - reached))
        return chi_square_test(gain, len(self.coefficients_at(columns)))

    def whole_test(self, columns: Sequence[int]) -> NamedTest | None:
        """Is there anything in these columns? By the likelihood, or Wald's under a design."""
        if self.weighted is not None:
            tested = self.wald_f(columns)
            return None if tested is None else NamedTest.wald("adjusted Wald test", tested)
        found = self.likelihood_ratio(columns)
        return None if found is None else NamedTest.chi_square("likelihood-ratio test", found)

    def alone(self, columns: Sequence[int]) -> "AnswersFitted":
        """The same people with the intercept and these columns only."""
        chosen = [0, *columns]
        data = self.data.keep(chosen)
        found = self._fit(chosen) if self.weighted is None else self.weighted.refit(chosen)
        prepared = replace(self.prepared, data=data)
        return AnswersFitted(prepared, self.family, self.asked, found, self.weighted, None)

    @property
    def counted_once(self) -> "AnswersFitted":
        """Under a design: the same model with each row counted once."""
        assert self.plain is not None
        asked = Estimation("maximum_likelihood", "wald", self.asked.confidence)
        return AnswersFitted(self.prepared, self.family, asked, self.plain)

    def _fit(self, columns: Sequence[int]) -> ml.Fit:
        return model_of.fit(self.family, self.data.keep(columns), self._start(columns))

    def _start(self, columns: Sequence[int]) -> FloatArray:
        """Coefficients of the whole model to start a smaller one from."""
        of_terms = set(self.at[:, 1:].ravel().tolist())
        kept = {int(i) for i in self.at[:, list(columns)[1:]].ravel()}
        chosen = [i for i in range(len(self.found.coefficients)) if i not in of_terms or i in kept]
        start: FloatArray = self.found.coefficients[chosen]
        return start
