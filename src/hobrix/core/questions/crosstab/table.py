"""From two variables counted together to the table that is shown."""

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.data.subset import Mask
from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.exact import exact_table, is_sparse
from hobrix.core.questions.crosstab.measures import leading_by_order
from hobrix.core.questions.crosstab.options import CrosstabOptions
from hobrix.core.questions.estimates import NamedTest, rows_of
from hobrix.core.questions.groups import groups_of
from hobrix.core.questions.marks import marks_of
from hobrix.core.questions.pair import Pair
from hobrix.core.questions.sampling import PairTable
from hobrix.core.questions.sampling.designed_table import WeightedPairTable
from hobrix.core.questions.sampling.each_row import CountedTable
from hobrix.core.survey.shares import WeightedShare
from hobrix.core.tables import independence
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.multiple import BY_NAME

EXACT, FISHER = "exact test (Fisher–Freeman–Halton)", "Fisher’s exact test"


def crosstab_table(pair: Pair, table: PairTable, options: CrosstabOptions) -> r.CrosstabTable:
    """Everything that is always shown of a table."""
    explanatory, outcome = pair.explanatory.variable, pair.outcome.variable
    rows = [explanatory.categories[i] for i in table.kept[0]]
    columns = [outcome.categories[j] for j in table.kept[1]]
    weighed, counts = table.weighed, table.counts
    whole = float(weighed.sum())
    in_row, in_column = weighed.sum(axis=1), weighed.sum(axis=0)
    away = table.departures(BY_NAME[options.adjust])
    v, limits = table.cramers_v()
    is_event = pair.is_event_of(table)
    counted = table if isinstance(table, CountedTable) else None
    exact = None if counted is None else exact_table(counts, options)
    test = _test(table, exact)
    groups = groups_of(pair, table)
    positions = range(len(columns))
    return r.CrosstabTable(
        rows=tuple(r.CategoryHead(value=c.value, label=c.label) for c in rows),
        columns=tuple(r.CategoryHead(value=c.value, label=c.label) for c in columns),
        kept_rows=table.kept[0],
        kept_columns=table.kept[1],
        order=tuple(sorted(positions, key=lambda j: (not is_event[j], j))),
        n=float(counts.sum()),
        counts=rows_of(counts.tolist()),
        row_totals=tuple(counts.sum(axis=1).tolist()),
        column_totals=tuple(counts.sum(axis=0).tolist()),
        row_margin=tuple((in_row / whole).tolist()),
        column_margin=tuple((in_column / whole).tolist()),
        share_within_row=rows_of((weighed / in_row[:, None]).tolist()),
        share_within_column=rows_of((weighed / in_column[None, :]).tolist()),
        cell_proportions=rows_of((weighed / whole).tolist()),
        adjusted_residuals=rows_of(away.z.tolist()),
        adjusted_residuals_p=rows_of(away.p.tolist()),
        adjusted_residuals_p_adjusted=rows_of(away.p_adjusted.tolist()),
        adjustment=options.adjust,
        marks=marks_of(away.z, away.p_adjusted),
        test=test,
        event_test=None if groups is None else _of_event(table, is_event, test, options),
        trend=_trend(pair, table),
        cramers_v=v,
        cramers_v_ci=limits,
        ordered=leading_by_order(pair, table),
        expected=None if counted is None else _expected(counted, options),
        exact=exact,
        groups=groups,
        weighted=_weighted(table) if isinstance(table, WeightedPairTable) else None,
    )


def _test(table: PairTable, exact: r.ExactTable | None) -> NamedTest | None:
    """The test that is reported: the exact one where counts are sparse and it could be had."""
    if exact is not None and isinstance(table, CountedTable) and is_sparse(table.expected):
        name = FISHER if table.counts.shape == (2, 2) else EXACT
        return NamedTest.exact(name, exact.fisher_freeman_halton_p)
    return table.test()


def _of_event(
    table: PairTable, is_event: Mask, whole: NamedTest | None, options: CrosstabOptions
) -> NamedTest | None:
    """The event against all other answers together: of two answers that of the whole table."""
    if len(is_event) == 2:
        return whole
    split = table.collapsed(is_event)
    exact = exact_table(split.counts, options) if isinstance(split, CountedTable) else None
    return _test(split, exact)


def are_ordered(pair: Pair, table: PairTable) -> bool:
    """Whether both variables have an order; two answers have only one, so their kind does not
    matter."""

    def is_ordered(variable: Variable, categories: int) -> bool:
        return variable.kind == "ordinal" or categories == 2

    rows, columns = table.counts.shape
    return is_ordered(pair.explanatory.variable, rows) and is_ordered(
        pair.outcome.variable, columns
    )


def scores_of(table: PairTable) -> tuple[FloatArray, FloatArray]:
    """Places in the codebook, from 1."""
    return np.array(table.kept[0]) + 1.0, np.array(table.kept[1]) + 1.0


def _trend(pair: Pair, table: PairTable) -> NamedTest | None:
    """Two ordered variables can lean with each other where no single cell stands out."""
    if not isinstance(table, CountedTable) or max(table.counts.shape) < 3:
        return None
    if not are_ordered(pair, table):
        return None
    found = independence.linear_by_linear_test(table.counts, *scores_of(table))
    return NamedTest.chi_square("linear-by-linear test", found)


def _expected(table: CountedTable, options: CrosstabOptions) -> r.ExpectedCells:
    found = table.residuals(BY_NAME[options.adjust])
    return r.ExpectedCells(
        expected_counts=rows_of(table.expected.tolist()),
        residuals=rows_of(found.raw.tolist()),
        pearson_residuals=rows_of(found.pearson.tolist()),
        contributions=rows_of(found.contributions.tolist()),
        minimum_expected=float(table.expected.min()),
        share_expected_below_5=float(np.mean(table.expected < 5)),
    )


def _weighted(table: WeightedPairTable) -> r.WeightedCellShares:
    def cells(of: list[list[WeightedShare]]) -> r.WeightedCells:
        return tuple(
            tuple(
                r.WeightedCell(
                    estimate=cell.estimate,
                    se=cell.se,
                    ci_logit=cell.ci_logit,
                    unweighted=cell.unweighted_count_of_events / cell.n,
                )
                for cell in row
            )
            for row in of
        )

    return r.WeightedCellShares(
        sum_of_weights=float(table.totals.weighted.sum()),
        cell_se=rows_of(table.found.share_se.tolist()),
        row_proportions=cells(table.within(across=False)),
        column_proportions=cells(table.within(across=True)),
    )
