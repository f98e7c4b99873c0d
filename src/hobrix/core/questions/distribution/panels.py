"""What can be opened under a distribution: all numbers with their counts."""

from hobrix.core.data import NumericColumn
from hobrix.core.data.column import as_text
from hobrix.core.questions.distribution.results import ValuesPanel
from hobrix.core.questions.distribution.work import MOST_LISTED, DistributionWork, rows_of_shares
from hobrix.core.questions.lens import Found
from hobrix.core.questions.sampling.each_row import counted_share
from hobrix.core.tables import numeric_summary as numbers

# Numbers up to this many different ones are listed singly, on request up to ``MOST_LISTED``.
LISTED = 40


def has_values(work: DistributionWork) -> bool:
    return work.outcome.kind == "numeric" and not work.question.is_designed


def values(work: DistributionWork) -> Found:
    column = work.frame.column(work.outcome.name)
    assert isinstance(column, NumericColumn)
    where, weights = work.sampling.where, work.sampling.rows.weights
    taken = ~column.is_missing if where is None else ~column.is_missing & where
    found = numbers.distinct(column.values[taken], None if weights is None else weights[taken])
    grouped = len(found.values) > (MOST_LISTED if work.options.all_values else LISTED)
    heads = _binned(found, work.options.bin_width) if grouped else _listed(found)
    first = work.first
    shares = [
        counted_share(
            value,
            label,
            n,
            first.n_answered,
            work.question.confidence,
            work.options.share_interval,
        )
        for value, label, n in heads
    ]
    answered = first.n_answered / first.n_all
    table = rows_of_shares(shares, answered, ordered=True)
    return Found(ValuesPanel(table=table, grouped=grouped, different=len(found.values)))


def _listed(found: numbers.Distinct) -> list[tuple[str, str, float]]:
    texts = [as_text(value) for value in found.values.tolist()]
    return list(zip(texts, texts, found.counts.tolist(), strict=True))


def _binned(found: numbers.Distinct, width: float | None) -> list[tuple[str, str, float]]:
    bins = numbers.histogram(found, width)
    edges = [as_text(float(f"{edge:.12g}")) for edge in bins.edges]
    return [
        (low, f"{low} to under {high}", n)
        for low, high, n in zip(edges, edges[1:], bins.counts.tolist(), strict=False)
    ]
