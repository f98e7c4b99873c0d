"""From a table of counts to the results of the Crosstab lens."""

from typing import Any

import numpy as np

from hobrix.core.data import Category, Variable
from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.quantities import ChiSquare, Grid, Limits, Unavailable
from hobrix.core.tables import independence, strength, two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.interval import Interval
from hobrix.core.tables.one_proportion import wilson


def crosstab_results(
    counts: FloatArray,
    explanatory: Variable,
    outcome: Variable,
    *,
    event: tuple[str, ...],
    reference: str,
    confidence: float,
) -> r.CrosstabResults:
    """Everything the lens reports on a table of shape (R, C) in the order of the codebook.

    At least two rows and two columns must hold somebody.
    """
    reduced = independence.drop_empty(counts)
    table = reduced.counts
    rows = [explanatory.categories[i] for i in reduced.kept_rows]
    columns = [outcome.categories[j] for j in reduced.kept_columns]
    expected = independence.expected_counts(table)
    residuals = independence.residuals(table)
    row_totals, column_totals = table.sum(axis=1), table.sum(axis=0)
    scores = np.array(reduced.kept_rows) + 1.0, np.array(reduced.kept_columns) + 1.0
    ordered = _is_ordered(explanatory, len(rows)) and _is_ordered(outcome, len(columns))
    v = strength.cramers_v_interval(table, confidence)
    by_group = None
    values = [column.value for column in columns]
    if event and set(event) & set(values) and not set(values) <= set(event):
        by_group = _event_by_group(
            table, rows, columns, explanatory, outcome, event, reference, confidence
        )
    whole = r.CrosstabTable(
        rows=tuple(r.CategoryHead(value=c.value, label=c.label) for c in rows),
        columns=tuple(r.CategoryHead(value=c.value, label=c.label) for c in columns),
        kept_rows=reduced.kept_rows,
        kept_columns=reduced.kept_columns,
        n=float(table.sum()),
        counts=_grid(table),
        row_totals=tuple(row_totals.tolist()),
        column_totals=tuple(column_totals.tolist()),
        share_within_row=_grid(table / row_totals[:, None]),
        share_within_column=_grid(table / column_totals[None, :]),
        expected_counts=_grid(expected),
        residuals=_grid(residuals.raw),
        pearson_residuals=_grid(residuals.pearson),
        adjusted_residuals=_grid(residuals.adjusted),
        adjusted_residuals_p=_grid(residuals.p),
        adjusted_residuals_p_holm=_grid(residuals.p_holm),
        contributions=_grid(residuals.contributions),
        minimum_expected=float(expected.min()),
        share_expected_below_5=float(np.mean(expected < 5)),
        chi_square=r.ChiSquares(
            pearson=_test(independence.pearson_test(table)),
            likelihood_ratio=_test(independence.likelihood_ratio_test(table)),
            continuity_corrected=_test(independence.continuity_corrected_test(table))
            if table.shape == (2, 2)
            else None,
            linear_by_linear=_test(independence.linear_by_linear_test(table, *scores))
            if ordered
            else None,
        ),
        pearson_correlation_of_scores=independence.score_correlation(table, *scores)
        if ordered
        else None,
        association=r.Association(
            phi=strength.phi(table),
            cramers_v=strength.cramers_v(table),
            cramers_v_ci=(v.low, v.high),
        ),
        event_by_group=by_group,
        **_of_two_groups(table, by_group),
    )
    return r.CrosstabResults(whole=whole, unavailable=_unavailable(whole, ordered, by_group))


def group_name(explanatory: Variable, category: Category) -> str:
    """The group in words: "River", but "Home flooded: Yes" where the answer alone says little."""
    two_answers = len(explanatory.categories) == 2
    return f"{explanatory.title}: {category.label}" if two_answers else category.label


def _is_ordered(variable: Variable, categories: int) -> bool:
    """Two answers have only one order, so their kind does not matter."""
    return variable.kind == "ordinal" or categories == 2


def _event_by_group(
    table: FloatArray,
    rows: list[Category],
    columns: list[Category],
    explanatory: Variable,
    outcome: Variable,
    event: tuple[str, ...],
    reference: str,
    confidence: float,
) -> r.EventByGroup:
    is_event = np.array([column.value in event for column in columns])
    split = np.column_stack([table[:, is_event].sum(axis=1), table[:, ~is_event].sum(axis=1)])
    totals = split.sum(axis=1)
    values = [row.value for row in rows]
    # A reference that nobody is in cannot be compared with: the first group stands in.
    base = values.index(reference) if reference in values else 0
    groups = []
    for row, (events, _), n in zip(rows, split.tolist(), totals.tolist(), strict=True):
        interval = wilson(events, n, confidence)
        groups.append(
            r.Group(
                value=row.value,
                label=group_name(explanatory, row),
                n=n,
                events=events,
                share=events / n,
                share_ci=(interval.low, interval.high),
            )
        )
    return r.EventByGroup(
        event=event,
        event_label=" or ".join(outcome.label_of(value) for value in event),
        reference=values[base],
        reference_label=group_name(explanatory, rows[base]),
        share=float(split[:, 0].sum() / totals.sum()),
        groups=tuple(groups),
        comparisons=tuple(
            _comparison(row.value, group_name(explanatory, row), split[[i, base]], confidence)
            for i, row in enumerate(rows)
            if i != base
        ),
    )


def _comparison(value: str, label: str, table: FloatArray, confidence: float) -> r.Comparison:
    at_level = two_by_two.risk_difference(table, confidence)
    at_95 = two_by_two.risk_difference(table, 0.95)
    return r.Comparison(
        value=value,
        label=label,
        odds_ratio=_ratio(
            two_by_two.odds_ratio(table, confidence), two_by_two.odds_ratio(table, 0.95)
        ),
        risk_ratio=_ratio(
            two_by_two.risk_ratio(table, confidence), two_by_two.risk_ratio(table, 0.95)
        ),
        risk_difference=r.DifferenceResult(
            estimate=at_level.estimate,
            standard_error=at_level.standard_error,
            wald_ci=_limits(at_level.wald),
            wald_ci_95=_limits(at_95.wald),
            newcombe_ci=_limits(at_level.newcombe),
            newcombe_ci_95=_limits(at_95.newcombe),
        ),
    )


def _ratio(at_level: two_by_two.Ratio, at_95: two_by_two.Ratio) -> r.RatioResult:
    return r.RatioResult(
        estimate=at_level.estimate,
        log_standard_error=at_level.log_standard_error,
        ci=None if at_level.interval is None else _limits(at_level.interval),
        ci_95=None if at_95.interval is None else _limits(at_95.interval),
    )


def _of_two_groups(table: FloatArray, by_group: r.EventByGroup | None) -> dict[str, Any]:
    if by_group is None or table.shape[0] != 2:
        return {}
    exposed = next(g for g in by_group.groups if g.value != by_group.reference)
    unexposed = next(g for g in by_group.groups if g.value == by_group.reference)
    comparison = by_group.comparisons[0]
    return {
        "risk_exposed": exposed.share,
        "risk_unexposed": unexposed.share,
        "odds_ratio": comparison.odds_ratio,
        "risk_ratio": comparison.risk_ratio,
        "risk_difference": comparison.risk_difference,
        "zero_cell": any(g.events in (0, g.n) for g in by_group.groups),
    }


def _unavailable(
    whole: r.CrosstabTable, ordered: bool, by_group: r.EventByGroup | None
) -> tuple[Unavailable, ...]:
    missing = []
    if whole.chi_square.continuity_corrected is None:
        missing.append(("chi_square.continuity_corrected", "It is defined for 2×2 tables only."))
    if not ordered:
        reason = "It needs both variables to be ordered (or to have two answers)."
        missing.append(("chi_square.linear_by_linear", reason))
        missing.append(("pearson_correlation_of_scores", reason))
    if by_group is None:
        reason = "No answer is marked as the event, or everyone or nobody has it."
        missing += [(key, reason) for key in ("event_by_group", "odds_ratio", "risk_ratio")]
        missing.append(("risk_difference", reason))
    elif len(whole.rows) != 2:
        reason = "There are more than two groups: see event_by_group.comparisons."
        missing += [(key, reason) for key in ("odds_ratio", "risk_ratio", "risk_difference")]
    for comparison in by_group.comparisons if by_group else ():
        pair = f"{comparison.label} against {by_group.reference_label}" if by_group else ""
        for key in ("odds_ratio", "risk_ratio"):
            ratio: r.RatioResult = getattr(comparison, key)
            if ratio.ci is None:
                reason = f"{pair}: a cell is zero, which leaves the {key.replace('_', ' ')} "
                reason += "without a usual interval."
                missing.append((f"{key}.ci", reason))
    return tuple(Unavailable(quantity=key, reason=reason) for key, reason in missing)


def _grid(array: FloatArray) -> Grid:
    return tuple(tuple(row) for row in array.tolist())


def _limits(interval: Interval) -> Limits:
    return (interval.low, interval.high)


def _test(test: independence.ChiSquareTest) -> ChiSquare:
    return ChiSquare(statistic=test.statistic, df=test.df, p=test.p)
