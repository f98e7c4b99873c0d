"""The variables of a question while they are looked at one by one."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import CategoricalColumn, Frame, NumericColumn, Variable
from hobrix.core.data.column import FloatArray, as_number
from hobrix.core.questions.distribution import results as r
from hobrix.core.questions.distribution.options import DistributionOptions
from hobrix.core.questions.estimates import Share
from hobrix.core.questions.lens import Work
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import Number, Sampling
from hobrix.core.questions.slots import event_of
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.tables import numeric_summary as numbers

# Free texts up to this many different ones are listed.
MOST_LISTED = 2000


@dataclass(frozen=True)
class Stratum:
    values: tuple[str, ...]
    label: str
    where: NDArray[np.bool_]


@dataclass(frozen=True)
class DistributionWork(Work):
    outcome: Variable
    others: tuple[Variable, ...]
    event: tuple[str, ...]
    strata: tuple[Stratum, ...]

    @property
    def options(self) -> DistributionOptions:
        return self.question.options.distribution

    @property
    def was_set(self) -> bool:
        """Whether the shares were set by the researcher, who sampled cases."""
        return bool(self.event) and self.frame.was_set(self.outcome.name)

    @cached_property
    def first(self) -> r.VariableDistribution:
        """Of the outcome in everybody counted."""
        return variable_distribution(self, self.outcome, self.sampling)


def work_on(question: Question, frame: Frame, sampling: Sampling) -> DistributionWork:
    assert question.outcome is not None
    outcome = frame.variable(question.outcome.variable, "outcome")
    codes, labels = strata_codes(question, frame, [outcome.name])
    strata: list[Stratum] = []
    if codes is not None:
        where = sampling.where
        inside = codes >= 0 if where is None else (codes >= 0) & where
        present = np.unique(codes[inside]).tolist()
        refuse_too_many(question, frame, len(present))
        for code in present:
            values, label = labels[code]
            strata.append(Stratum(values, label, inside & (codes == code)))
    return DistributionWork(
        question=question,
        frame=frame,
        sampling=sampling,
        outcome=outcome,
        others=tuple(frame.variable(term.variable, "vary_with") for term in question.vary_with),
        event=event_of(question, outcome) if outcome.is_categorical else (),
        strata=tuple(strata),
    )


def variable_distribution(
    work: DistributionWork, variable: Variable, sampling: Sampling
) -> r.VariableDistribution:
    """How one variable is answered in the rows of a sampling."""
    column = work.frame.column(variable.name)
    gone = sampling.missing(variable)
    n_missing = sum(each.n for each in gone)
    table: tuple[r.FrequencyRow, ...] = ()
    summary, histogram = None, None
    share_missing = sum(each.share for each in gone)
    if isinstance(column, CategoricalColumn):
        heads = [(c.value, c.label) for c in column.categories]
        shares = sampling.answers(column.codes, heads, work.options.share_interval)
        n_answered = shares[0].n if shares else 0.0
        if variable.kind == "text":
            kept = [share for share in shares if share.events > 0]
            shares = sorted(kept, key=lambda share: -share.events)[:MOST_LISTED]
        cells = sampling.cells([column.codes], [len(heads)])[1:]
        different = int(np.count_nonzero(cells))
        table = rows_of_shares(shares, 1 - share_missing, ordered=variable.kind == "ordinal")
        summary = _summary_of_codes(variable, cells, sampling)
    else:
        assert isinstance(column, NumericColumn)
        found = sampling.number(column.values)
        n_answered = 0.0 if found is None else found.n
        distinct = _distinct(column.values, sampling)
        different = len(distinct.values)
        if found is not None:
            summary = _summary(found, of_codes=False)
            histogram = _bins(column.values, distinct, sampling, work.options.bin_width)
    n_all = n_answered + n_missing
    return r.VariableDistribution(
        variable=variable.name,
        title=variable.title,
        kind=variable.kind,
        unit=variable.unit,
        n_all=n_all,
        n_answered=n_answered,
        n_missing=n_missing,
        percent_missing_of_all=100 * share_missing,
        missing_breakdown=tuple(
            r.MissingRow(
                code=each.value, label=each.label, count=each.n, percent_of_all=100 * each.share
            )
            for each in gone
        ),
        different=different,
        table=table,
        summary=summary,
        histogram=histogram,
        share=None,
        goodness_of_fit=None,
    )


def rows_of_shares(
    shares: Sequence[Share], answered: float, *, ordered: bool
) -> tuple[r.FrequencyRow, ...]:
    """``answered`` is the share of all that answered."""
    rows, so_far = [], 0.0
    for each in shares:
        so_far += each.share
        ci = each.share_ci
        rows.append(
            r.FrequencyRow(
                value=each.value,
                label=each.label,
                count=each.events,
                percent_of_all=100 * each.share * answered,
                percent_of_answered=100 * each.share,
                cumulative_percent_of_answered=100 * so_far if ordered else None,
                ci=None if ci is None else (100 * ci[0], 100 * ci[1]),
                weighted=each.weighted,
            )
        )
    return tuple(rows)


def _distinct(values: FloatArray, sampling: Sampling) -> numbers.Distinct:
    """Distinct numbers of the cases counted."""
    where, weights = sampling.where, sampling.rows.weights
    taken = ~np.isnan(values) if where is None else ~np.isnan(values) & where
    return numbers.distinct(values[taken], None if weights is None else weights[taken])


def _bins(
    values: FloatArray, distinct: numbers.Distinct, sampling: Sampling, width: float | None
) -> r.Bins:
    found = numbers.histogram(distinct, width)
    own = 100 * found.counts / found.counts.sum()
    percent = own
    if sampling.sample is not None:
        weighed = sampling.binned(values, found.edges)
        percent = 100 * weighed / weighed.sum()
    return r.Bins(
        edges=tuple(found.edges.tolist()),
        counts=tuple(found.counts.tolist()),
        width=found.width,
        percent=tuple(percent.tolist()),
        unweighted_percent=tuple(own.tolist()) if sampling.sample is not None else None,
    )


def _summary(found: Number, *, of_codes: bool) -> r.Summary:
    g1, adjusted, g2, adjusted_2 = found.moments
    q1, median, q3 = found.quartiles
    weighted = None
    if found.se is not None and found.sum_of_weights is not None:
        weighted = r.WeightedMean(
            se=found.se,
            sum_of_weights=found.sum_of_weights,
            deff=found.deff,
            unweighted=found.unweighted_mean,
            unweighted_sd=found.unweighted_sd,
        )
    return r.Summary(
        of_codes=of_codes,
        n=found.n,
        mean=found.mean,
        mean_ci=found.ci,
        sd=found.sd,
        min=found.minimum,
        q1=q1,
        median=median,
        q3=q3,
        max=found.maximum,
        skewness_g1=g1,
        skewness_adjusted=adjusted,
        excess_kurtosis_g2=g2,
        excess_kurtosis_adjusted=adjusted_2,
        weighted=weighted,
    )


def _summary_of_codes(
    variable: Variable, counts: FloatArray, sampling: Sampling
) -> r.Summary | None:
    """Moments of ordered answers whose values are rising numbers, such as 1 to 5."""
    values = [as_number(category.value) for category in variable.categories]
    if variable.kind != "ordinal" or not counts.any() or any(value is None for value in values):
        return None
    scores = np.array(values, dtype=np.float64)
    if np.any(np.diff(scores) <= 0):
        return None
    codes = sampling.rows.frame.categorical(variable.name, "outcome").codes
    # One more entry for no answer, the last of the lookup.
    found = sampling.number(np.append(scores, np.nan)[codes])
    return None if found is None else _summary(found, of_codes=True)
