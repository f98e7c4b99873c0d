"""Every row for itself: counts, and methods from exact distributions and likelihoods."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import special

from hobrix.core.data import Variable, missing_reasons
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.logistic import answers
from hobrix.core.logistic.answers import Family
from hobrix.core.progress import Stages
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.estimates import Effect, Limits, NamedTest, Share
from hobrix.core.questions.modelling.answers import PreparedAnswers
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.fitted import Fitted, fit_each_row
from hobrix.core.questions.modelling.prepare import Prepared
from hobrix.core.questions.sampling.shape import (
    Adjust,
    AgainstStated,
    Apart,
    Departures,
    Gone,
    Heads,
    MeasureOf,
    Number,
    Pairs,
    PairTable,
)
from hobrix.core.tables import independence, strength, two_by_two
from hobrix.core.tables.association import all_measures, contingency_coefficient
from hobrix.core.tables.counts import FloatArray, count_table
from hobrix.core.tables.goodness_of_fit import goodness_of_fit
from hobrix.core.tables.multiple import holm
from hobrix.core.tables.numeric_summary import distinct, summarise
from hobrix.core.tables.one_proportion import Method, share_interval


def counted_share(
    value: str, label: str, x: float, n: float, confidence: float, method: Method
) -> Share:
    limits = share_interval(x, n, confidence, method)
    return Share(value=value, label=label, n=n, events=x, share=x / n, share_ci=limits)


@dataclass(frozen=True)
class CountedTable:
    """A table of counts, shape (R, C)."""

    counts: FloatArray
    kept: tuple[tuple[int, ...], tuple[int, ...]]
    confidence: float
    _residuals: dict[Adjust, independence.Residuals] = field(
        default_factory=dict, repr=False, compare=False
    )

    @classmethod
    def of(cls, counts: FloatArray, confidence: float) -> "CountedTable":
        reduced = independence.drop_empty(counts)
        return cls(reduced.counts, (reduced.kept_rows, reduced.kept_columns), confidence)

    @property
    def weighed(self) -> FloatArray:
        return self.counts

    @property
    def replicates_lost(self) -> int:
        return 0

    def collapsed(self, is_event: Mask) -> "CountedTable":
        return CountedTable(self.split(is_event), (self.kept[0], (0, 1)), self.confidence)

    def at(self, confidence: float) -> "CountedTable":
        return replace(self, confidence=confidence)

    @cached_property
    def pearson(self) -> independence.ChiSquareTest:
        return independence.pearson_test(self.counts, self.expected)

    def test(self) -> NamedTest:
        return NamedTest.chi_square("chi-square test", self.pearson)

    @cached_property
    def expected(self) -> FloatArray:
        return independence.expected_counts(self.counts)

    def residuals(self, adjust: Adjust) -> independence.Residuals:
        if adjust not in self._residuals:
            self._residuals[adjust] = independence.residuals(self.counts, adjust)
        return self._residuals[adjust]

    def departures(self, adjust: Adjust) -> Departures:
        found = self.residuals(adjust)
        return Departures(found.adjusted, found.p, found.p_adjusted)

    def cramers_v(self) -> tuple[float, Limits | None]:
        limits = strength.cramers_v_interval(self.counts, self.confidence, self.pearson)
        return strength.cramers_v(self.counts, self.pearson), limits

    def measures(self, keys: Sequence[str]) -> Mapping[str, MeasureOf]:
        v, limits = self.cramers_v()
        n = float(self.counts.sum())
        found = {
            "cramers_v": MeasureOf(v, limits),
            "cramers_v_bias_corrected": MeasureOf(
                strength.cramers_v_bias_corrected(self.counts), None
            ),
            "phi": MeasureOf(strength.phi(self.counts), None),
            "contingency_coefficient": MeasureOf(
                contingency_coefficient(self.pearson.statistic, n), None
            ),
        }
        for key, each in all_measures(self.counts).items():
            if each is not None:
                found[key] = MeasureOf(
                    each.value,
                    each.interval(self.confidence),
                    each.p,
                    each.ase,
                    each.ase_null,
                    each.z,
                )
        return {key: found[key] for key in keys if key in found}

    def split(self, is_event: Mask) -> FloatArray:
        """Events and non-events, shape (R, 2)."""
        events = self.counts[:, is_event].sum(axis=1)
        return np.column_stack([events, self.counts.sum(axis=1) - events])

    def shares(self, is_event: Mask, heads: Heads, method: Method) -> tuple[list[Share], Share]:
        split = self.split(is_event)
        each = [
            counted_share(value, label, x, x + rest, self.confidence, method)
            for (value, label), (x, rest) in zip(heads, split.tolist(), strict=True)
        ]
        x, rest = split.sum(axis=0).tolist()
        return each, counted_share("", "everyone counted", x, x + rest, self.confidence, method)

    def against(self, is_event: Mask, base: int) -> list[Apart | None]:
        split = self.split(is_event)
        return [None if i == base else self._apart(split[[i, base]]) for i in range(len(split))]

    def apart(self, is_event: Mask, row: int, base: int) -> Apart:
        return self._apart(self.split(is_event)[[row, base]])

    def _apart(self, table: FloatArray) -> Apart:
        gap = two_by_two.risk_difference(table, self.confidence)
        n = table.sum(axis=1)
        return Apart(
            odds_ratio=_ratio(two_by_two.odds_ratio(table, self.confidence)),
            risk_ratio=_ratio(two_by_two.risk_ratio(table, self.confidence)),
            risk_difference=Effect(estimate=gap.estimate, ci=gap.newcombe_ci, p=None, counted=gap),
            # As in the pooled z, whose middle factor all groups share.
            clearness=abs(gap.estimate) * math.sqrt(float(n[0] / n.sum())),
        )


def _ratio(found: two_by_two.Ratio) -> Effect:
    return Effect(estimate=found.estimate, ci=found.ci, p=None, counted=found)


@dataclass(frozen=True)
class EachRow:
    """Rows count once, or as often as a counts column says."""

    rows: Rows
    where: Mask | None
    confidence: float
    stages: Stages
    sample = None

    def within(self, where: NDArray[np.bool_]) -> "EachRow":
        return replace(self, where=where if self.where is None else where & self.where)

    def people(self, where: NDArray[np.bool_]) -> float:
        weights = self.rows.weights
        return float(np.count_nonzero(where) if weights is None else weights[where].sum())

    def cells(self, codes: Sequence[NDArray[Any]], sizes: Sequence[int]) -> FloatArray:
        return count_table(codes, sizes, weights=self.rows.weights, where=self.where)

    def pairs(
        self,
        codes: Sequence[IntArray],
        sizes: tuple[int, int],
        strata: IntArray | None,
        many: int,
        where: Mask | None,
    ) -> Pairs:
        limited = self if where is None else self.within(where)
        if strata is None:
            full = limited.cells(codes, sizes)[None]
        else:
            full = limited.cells([strata, *codes], [many, *sizes])
        whole = full[0] if strata is None else full[1:].sum(axis=0)

        def table(counts: FloatArray) -> PairTable:
            return CountedTable.of(counts[1:, 1:], self.confidence)

        return Pairs(full, lambda: table(whole), lambda k: table(full[k + 1]))

    def answers(self, codes: NDArray[Any], heads: Heads, method: Method) -> list[Share]:
        taken = codes >= 0 if self.where is None else (codes >= 0) & self.where
        weights = None if self.rows.weights is None else self.rows.weights[taken]
        counts = np.bincount(codes[taken], weights=weights, minlength=len(heads)).astype(float)
        n = float(counts.sum())
        if not n:
            return []
        return [
            counted_share(value, label, x, n, self.confidence, method)
            for (value, label), x in zip(heads, counts.tolist(), strict=True)
        ]

    def missing(self, variable: Variable) -> list[Gone]:
        frame = self.rows.frame
        source, column = frame.source(variable.name), frame.column(variable.name)
        reasons = missing_reasons(
            variable, source, column, weights=self.rows.weights, where=self.where
        )
        every = np.ones(frame.rows, dtype=bool) if self.where is None else self.where
        n = self.people(every)
        return [Gone(each.value, each.label, each.n, each.n / n if n else 0.0) for each in reasons]

    def _numbers(self, values: FloatArray) -> tuple[FloatArray, FloatArray | None]:
        taken = ~np.isnan(values) if self.where is None else ~np.isnan(values) & self.where
        weights = self.rows.weights
        return values[taken], None if weights is None else weights[taken]

    def number(self, values: FloatArray) -> Number | None:
        found = distinct(*self._numbers(values))
        if not len(found.values):
            return None
        s = summarise(found)
        ci = None
        if s.sd is not None and s.n > 1:
            reach = float(special.stdtrit(s.n - 1, 0.5 + self.confidence / 2))
            reach *= s.sd / math.sqrt(s.n)
            ci = (s.mean - reach, s.mean + reach)
        return Number(
            n=s.n,
            mean=s.mean,
            ci=ci,
            sd=s.sd,
            minimum=s.min,
            quartiles=(s.q1, s.median, s.q3),
            maximum=s.max,
            moments=(
                s.skewness_g1,
                s.skewness_adjusted,
                s.excess_kurtosis_g2,
                s.excess_kurtosis_adjusted,
            ),
            se=None,
            sum_of_weights=None,
            deff=None,
            unweighted_mean=s.mean,
            unweighted_sd=s.sd,
        )

    def binned(self, values: FloatArray, edges: FloatArray) -> FloatArray:
        x, weights = self._numbers(values)
        return binned_between(x, weights, edges)

    def against_stated(self, codes: NDArray[Any], shares: FloatArray) -> AgainstStated:
        counts = self.cells([codes], [len(shares)])[1:]
        found = goodness_of_fit(counts, shares)
        p = 2 * special.ndtr(-np.abs(found.standardized_residuals))
        # Two categories mirror each other: one comparison.
        adjusted = p if len(p) == 2 else holm(p)
        test = NamedTest.chi_square("chi-square test of fit", found.pearson)
        return AgainstStated(test, found.standardized_residuals, adjusted)

    def model(self, prepared: Prepared, asked: Estimation, *, is_whole: bool) -> Fitted:
        return fit_each_row(prepared, asked)

    def model_of_answers(
        self, prepared: PreparedAnswers, family: Family, asked: Estimation, *, is_whole: bool
    ) -> AnswersFitted:
        return AnswersFitted(prepared, family, asked, answers.fit(family, prepared.data))


def binned_between(x: FloatArray, weights: FloatArray | None, edges: FloatArray) -> FloatArray:
    place = np.clip(np.searchsorted(edges, x, side="right") - 1, 0, len(edges) - 2)
    return np.bincount(place, weights=weights, minlength=len(edges) - 1).astype(np.float64)
