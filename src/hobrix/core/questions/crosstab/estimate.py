"""From a table of counts to the results of the Crosstab lens."""

from typing import Any

import numpy as np

from hobrix.core.data import Category, Variable
from hobrix.core.questions.crosstab import deeper
from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.options import CrosstabOptions
from hobrix.core.questions.quantities import ChiSquare, Grid, Limits, Unavailable
from hobrix.core.questions.slots import group_name
from hobrix.core.tables import independence, two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.interval import Interval
from hobrix.core.tables.multiple import BY_NAME
from hobrix.core.tables.one_proportion import wilson


def crosstab_table(
    counts: FloatArray,
    explanatory: Variable,
    outcome: Variable,
    *,
    event: tuple[str, ...],
    reference: str,
    confidence: float,
    options: CrosstabOptions,
    shares_have_meaning: bool,
) -> r.CrosstabTable:
    """Everything the lens reports on a table of shape (R, C) in the order of the codebook.

    At least two rows and two columns must hold somebody. ``shares_have_meaning`` is False where
    the study's design sets the share of the event.
    """
    reduced = independence.drop_empty(counts)
    table = reduced.counts
    rows = [explanatory.categories[i] for i in reduced.kept_rows]
    columns = [outcome.categories[j] for j in reduced.kept_columns]
    expected = independence.expected_counts(table)
    residuals = independence.residuals(table, BY_NAME[options.adjust])
    row_totals, column_totals = table.sum(axis=1), table.sum(axis=0)
    scores = np.array(reduced.kept_rows) + 1.0, np.array(reduced.kept_columns) + 1.0
    ordered = _is_ordered(explanatory, len(rows)) and _is_ordered(outcome, len(columns))
    by_group = None
    values = [column.value for column in columns]
    if event and set(event) & set(values) and not set(values) <= set(event):
        by_group = event_by_group(
            table, rows, columns, explanatory, outcome, event, reference, confidence
        )
        by_group = by_group if shares_have_meaning else without_shares(by_group)
    return r.CrosstabTable(
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
        adjusted_residuals_p_adjusted=_grid(residuals.p_adjusted),
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
        adjustment=options.adjust,
        association=deeper.association(table, explanatory, outcome, confidence),
        exact=deeper.exact_table(table, options),
        pairwise=deeper.pairwise(table, [c.label for c in rows], options),
        correspondence=deeper.correspondence_map(
            table, [c.label for c in rows], [c.label for c in columns]
        ),
        mcnemar=deeper.mcnemar(table, explanatory, outcome),
        event_by_group=by_group,
        **_of_two_groups(table, columns, by_group, confidence),
    )


def without_shares(by_group: r.EventByGroup) -> r.EventByGroup:
    """Ratios and differences of shares left out, where shares were set by the researcher."""
    comparisons = tuple(
        c.model_copy(update={"risk_ratio": None, "risk_difference": None})
        for c in by_group.comparisons
    )
    update = {"comparisons": comparisons, "shares_have_meaning": False}
    return by_group.model_copy(update=update)


def _is_ordered(variable: Variable, categories: int) -> bool:
    """Two answers have only one order, so their kind does not matter."""
    return variable.kind == "ordinal" or categories == 2


def event_by_group(
    table: FloatArray,
    rows: list[Category],
    columns: list[Category],
    explanatory: Variable,
    outcome: Variable,
    event: tuple[str, ...],
    reference: str,
    confidence: float,
) -> r.EventByGroup:
    """The event in each group with its share, and every group against the reference."""
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
        shares_have_meaning=True,
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


def _of_two_groups(
    table: FloatArray,
    columns: list[Category],
    by_group: r.EventByGroup | None,
    confidence: float,
) -> dict[str, Any]:
    if by_group is None or table.shape[0] != 2:
        return {}
    is_event = np.array([column.value in by_group.event for column in columns])
    split = np.column_stack([table[:, is_event].sum(axis=1), table[:, ~is_event].sum(axis=1)])
    # The reference goes below.
    if by_group.groups[0].value == by_group.reference:
        split = split[::-1]
    return deeper.of_two_groups(split, by_group, confidence)


def unavailable(whole: r.CrosstabTable, options: CrosstabOptions) -> tuple[Unavailable, ...]:
    """What does not exist for this table, and why."""
    by_group = whole.event_by_group
    missing = []
    if options.exact == "enumerate" and whole.exact and whole.exact.method != "enumeration":
        reason = "There are too many tables with these totals to go through; they were drawn."
        missing.append(("exact.enumeration", reason))
    if whole.chi_square.continuity_corrected is None:
        missing.append(("chi_square.continuity_corrected", "It is defined for 2×2 tables only."))
    if whole.chi_square.linear_by_linear is None:
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
    if by_group is not None and not by_group.shares_have_meaning:
        reason = "In a case–control study the share of cases was set by the researcher."
        keys = ("risk_ratio", "risk_difference", "number_needed")
        missing += [(key, reason) for key in (*keys, "population_attributable_fraction")]
    for key in r.Association.model_fields:
        if getattr(whole.association, key) is None:
            reason = "Its denominator is 0 for this table."
            missing.append((f"association.{key}", reason))
    for comparison in by_group.comparisons if by_group else ():
        pair = f"{comparison.label} against {by_group.reference_label}" if by_group else ""
        for key in ("odds_ratio", "risk_ratio"):
            ratio: r.RatioResult | None = getattr(comparison, key)
            if ratio is not None and ratio.ci is None:
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
