"""As the design of a sample says: weighted estimates, with errors that allow for strata and
clusters or come from replicates."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Design, Variable, missing_reasons
from hobrix.core.data.column import IntArray
from hobrix.core.data.design_columns import weights_of
from hobrix.core.data.subset import Mask
from hobrix.core.logistic import answers
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.answers import Family
from hobrix.core.logistic.separation import separation
from hobrix.core.progress import Stages
from hobrix.core.questions.answer import Sample
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.estimates import NamedTest, Share
from hobrix.core.questions.modelling.answers import PreparedAnswers
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted, WeightedAnswers
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.fitted import Fitted, Separated, Weighted
from hobrix.core.questions.modelling.prepare import Prepared
from hobrix.core.questions.sampling.designed_table import WeightedPairTable, weighted_share
from hobrix.core.questions.sampling.drawn import Drawn
from hobrix.core.questions.sampling.each_row import binned_between
from hobrix.core.questions.sampling.shape import (
    AgainstStated,
    Gone,
    Heads,
    Number,
    Pairs,
    PairTable,
)
from hobrix.core.survey import answers as survey_answers
from hobrix.core.survey import logistic
from hobrix.core.survey.cells import CellTotals, count_with_missing
from hobrix.core.survey.numbers import weighted_mean, weighted_quantiles
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.shares import Shares
from hobrix.core.survey.two_way import against_stated
from hobrix.core.tables.counts import FloatArray, count_table
from hobrix.core.tables.multiple import holm
from hobrix.core.tables.numeric_summary import distinct, summarise
from hobrix.core.tables.one_proportion import Method

# Answers whose shares are worked out one by one; the others stay in the whole.
MOST_ANSWERS = 300
_QUARTILES = np.array([0.25, 0.5, 0.75])


@dataclass(frozen=True)
class Designed:
    """A sample with weights, and strata and clusters where it has them."""

    rows: Rows
    drawn: Drawn
    confidence: float
    stages: Stages

    @property
    def where(self) -> Mask | None:
        """Rows with a weight in the subset, of all rows of the data."""
        if self.drawn.inside is None:
            return self.rows.mask
        where = np.zeros(self.rows.frame.rows, dtype=bool)
        where[slice(None) if self.drawn.rows is None else self.drawn.rows] = self.drawn.inside
        return where

    @property
    def design(self) -> Design:
        counting = self.rows.question.counted_by
        assert isinstance(counting, Design)
        return counting

    @cached_property
    def sample(self) -> Sample:
        return self.drawn.described(self.design, self.rows.frame)

    def within(self, where: NDArray[np.bool_]) -> "Designed":
        own = self.drawn.of(where)
        inside = own if self.drawn.inside is None else own & self.drawn.inside
        return replace(self, drawn=replace(self.drawn, inside=inside))

    def people(self, where: NDArray[np.bool_]) -> float:
        return float(self.rows.frame.how_many(where))

    def cells(self, codes: Sequence[NDArray[Any]], sizes: Sequence[int]) -> FloatArray:
        return count_table(codes, sizes, weights=self.rows.weights, where=self.where)

    def cells_and_totals(
        self, codes: Sequence[NDArray[Any]], sizes: Sequence[int]
    ) -> tuple[FloatArray, CellTotals]:
        """Both of the same codes, in one go."""
        own = [self.drawn.of(np.asarray(each)) for each in codes]
        return count_with_missing(self.drawn.design, own, sizes, self.drawn.inside)

    def pairs(
        self,
        codes: Sequence[IntArray],
        sizes: tuple[int, int],
        strata: IntArray | None,
        many: int,
        where: Mask | None,
    ) -> Pairs:
        limited = self if where is None else self.within(where)

        def table(totals: CellTotals) -> PairTable:
            return WeightedPairTable.of(totals, sizes, self.confidence, self.stages.part)

        if strata is None:
            full, totals = limited.cells_and_totals(codes, sizes)
            return Pairs(full[None], lambda: table(totals), lambda _: table(totals))
        full, by_stratum = limited.cells_and_totals([strata, *codes], [many, *sizes])
        size = sizes[0] * sizes[1]
        return Pairs(
            full,
            lambda: table(by_stratum.summed_over_first(many)),
            lambda k: table(by_stratum.keep(np.arange(k * size, (k + 1) * size))),
        )

    def answers(self, codes: NDArray[Any], heads: Heads, method: Method) -> list[Share]:
        own = self.drawn.codes(codes)
        inside, counts = own >= 0, self.drawn.design.counts
        n = np.bincount(
            own[inside], None if counts is None else counts[inside], minlength=len(heads)
        )
        if not n.any():
            return []
        chosen = np.arange(len(heads))
        if len(heads) > MOST_ANSWERS:
            chosen = np.sort(np.argsort(-n, kind="stable")[:MOST_ANSWERS])
            # One more cell for all others; -1 stays -1, the last entry of the lookup.
            place = np.full(len(heads) + 1, len(chosen))
            place[chosen], place[-1] = np.arange(len(chosen)), -1
            own = place[own]
        cells = len(chosen) + (len(heads) > len(chosen))
        totals = CellTotals.count(self.drawn.design, [own], [cells])
        each = np.eye(len(chosen), cells, dtype=bool)
        found = Shares.among(totals, np.ones_like(each), each).shares(self.confidence)
        return [
            weighted_share(*heads[at], one) for at, one in zip(chosen.tolist(), found, strict=True)
        ]

    def missing(self, variable: Variable) -> list[Gone]:
        frame = self.rows.frame
        weights, where = np.nan_to_num(weights_of(self.design, frame)), self.where
        counts = frame.stands_for
        weights = weights if counts is None else weights * counts
        taken = slice(None) if where is None else where
        source, column = frame.source(variable.name), frame.column(variable.name)
        n = missing_reasons(variable, source, column, weights=counts, where=where)
        weighted = missing_reasons(variable, source, column, weights=weights, where=where)
        everybody = float(weights[taken].sum())
        return [
            Gone(one.value, one.label, one.n, other.n / everybody)
            for one, other in zip(n, weighted, strict=True)
        ]

    def _numbers(self, values: FloatArray) -> tuple[FloatArray, NDArray[np.bool_]]:
        """The number of every row of the sample, and who is inside and has one."""
        x = self.drawn.of(values)
        inside = self.drawn.inside
        return x, ~np.isnan(x) if inside is None else inside & ~np.isnan(x)

    def number(self, values: FloatArray) -> Number | None:
        x, inside = self._numbers(values)
        if not inside.any():
            return None
        design = self.drawn.design
        mean = weighted_mean(design, x, inside)
        reach = design.t_quantile(self.confidence) * mean.se if design.df > 0 else math.inf
        has_limits = math.isfinite(reach) and mean.se > 0
        q1, median, q3 = weighted_quantiles(x[inside], design.weights[inside], _QUARTILES)
        own = x[inside]
        counts = None if design.counts is None else design.counts[inside]
        plain = summarise(distinct(own, counts))
        return Number(
            n=float(mean.n),
            mean=mean.estimate,
            ci=(mean.estimate - reach, mean.estimate + reach) if has_limits else None,
            sd=mean.sd,
            minimum=float(own.min()),
            quartiles=(float(q1), float(median), float(q3)),
            maximum=float(own.max()),
            moments=(None, None, None, None),
            se=mean.se,
            sum_of_weights=mean.sum_of_weights,
            deff=mean.deff,
            unweighted_mean=plain.mean,
            unweighted_sd=plain.sd,
        )

    def binned(self, values: FloatArray, edges: FloatArray) -> FloatArray:
        x, inside = self._numbers(values)
        return binned_between(x[inside], self.drawn.design.weights[inside], edges)

    def against_stated(self, codes: NDArray[Any], shares: FloatArray) -> AgainstStated:
        _, totals = self.cells_and_totals([codes], [len(shares)])
        expected = shares / shares.sum()
        tested = against_stated(expected, totals)
        test = None if tested is None else NamedTest.stated("Rao–Scott test of fit", *tested)
        every = np.ones((len(shares),) * 2, dtype=bool)
        found = Shares.among(totals, every, np.eye(len(shares)) > 0)
        with np.errstate(divide="ignore", invalid="ignore"):
            z = (found.estimates - expected) / found.errors
        z[~np.isfinite(z)] = 0.0
        return AgainstStated(test, z, holm(self.drawn.design.p_of_each(z)))

    def model(self, prepared: Prepared, asked: Estimation, *, is_whole: bool) -> Fitted:
        """Pseudo-maximum likelihood on the rows with a weight; limits and tests on t(design df)."""
        pattern = np.full(self.rows.frame.rows, -1, dtype=np.int64)
        pattern[prepared.rows] = prepared.pattern
        outcome = (self.drawn.of(prepared.asked.events) > 0).astype(np.float64)
        totals = PatternTotals.count(
            self.drawn.design, prepared.data.design, self.drawn.of(pattern), outcome
        )
        try:
            found = logistic.fit(totals, self.stages.part)
        except ml.NotFinite:
            raise Separated(separation(prepared.data)) from None
        self.stages.next()
        if found.fit.on_the_edge and (apart := separation(prepared.data)).kind != "none":
            raise Separated(apart)

        def refit(columns: list[int]) -> ml.Fit:
            again = logistic.fit(totals.keep(columns), self.stages.part).fit
            self.stages.next()
            return again

        plain = ml.fit(prepared.data) if is_whole else None
        weighted = Weighted(totals, found, refit)
        return Fitted(prepared, asked, found.fit, weighted=weighted, plain=plain)

    def model_of_answers(
        self, prepared: PreparedAnswers, family: Family, asked: Estimation, *, is_whole: bool
    ) -> AnswersFitted:
        """Pseudo-maximum likelihood, as for an event."""
        pattern = np.full(self.rows.frame.rows, -1, dtype=np.int64)
        pattern[prepared.rows] = prepared.pattern
        totals = survey_answers.AnswerTotals.count(
            self.drawn.design,
            prepared.data.design,
            len(prepared.answers),
            self.drawn.of(pattern),
            self.drawn.of(prepared.codes),
        )
        found = survey_answers.fit(family, totals, self.stages.part)
        self.stages.next()

        def refit(columns: list[int]) -> ml.Fit:
            fewer = replace(totals, design_matrix=totals.design_matrix[:, columns])
            again = survey_answers.fit(family, fewer, self.stages.part).fit
            self.stages.next()
            return again

        plain = answers.fit(family, prepared.data) if is_whole else None
        weighted = WeightedAnswers(totals, found, refit)
        return AnswersFitted(prepared, family, asked, found.fit, weighted, plain)
