"""Weighted shares, tables and comparisons of a question with a survey design."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.questions.quantities import Limits
from hobrix.core.questions.slots import group_name
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.strength import cramers_v, measures
from hobrix.core.questions.survey.tested import CorrectedTest, RaoScottTest, SurveyTest, WaldTest
from hobrix.core.questions.two_way import Named
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import FloatArray
from hobrix.core.survey.logistic import Tell
from hobrix.core.survey.shares import Comparison, Contrast, Mask, Shares
from hobrix.core.survey.two_way import Corrected, RaoScott, WaldF, weighted_table
from hobrix.core.tables.interval import Interval
from hobrix.core.tables.multiple import BY_NAME


@dataclass(frozen=True)
class Crossed:
    """Two variables in a sample: totals of the cells somebody is in, and what they are."""

    totals: CellTotals
    explanatory: Variable
    outcome: Variable
    rows: tuple[int, ...]
    columns: tuple[int, ...]
    is_event: np.ndarray

    @property
    def replicates_lost(self) -> int:
        """Replicates in which a group or an answer is empty, so that something is not defined."""
        again = self.totals.replicated
        if again is None:
            return 0
        cells = again.reshape(-1, len(self.rows), len(self.columns))
        empty = (cells.sum(axis=1) == 0).any(axis=1) | (cells.sum(axis=2) == 0).any(axis=1)
        return int(np.count_nonzero(empty))

    def inside(self, row: int) -> np.ndarray:
        """Cells of one row, shape (R * C,)."""
        mask = np.zeros((len(self.rows), len(self.columns)), dtype=bool)
        mask[row] = True
        return mask.ravel()

    @cached_property
    def shares(self) -> Shares:
        """The event's share in each group."""
        sets = [self.inside(i) for i in range(len(self.rows))]
        return Shares.among(self.totals, sets, self.is_event)


def crossed(asked: Named, sample: Sample) -> Crossed:
    """Count the two variables of a question in its sample, without empty rows and columns."""
    uses = [asked.explanatory, asked.outcome]
    sizes = (len(uses[0].variable.categories), len(uses[1].variable.categories))
    codes = [sample.codes(used.codes) for used in uses]
    totals, rows, columns = CellTotals.count(sample.design, codes, sizes).without_empty(sizes)
    events = [asked.outcome.variable.categories[j].value in asked.event for j in columns]
    return Crossed(
        totals,
        asked.explanatory.variable,
        asked.outcome.variable,
        tuple(rows.tolist()),
        tuple(columns.tolist()),
        np.tile(events, len(rows)),
    )


def group_shares(table: Crossed, confidence: float) -> tuple[r.SurveyShare, ...]:
    """The event's share in each group."""
    named = [table.explanatory.categories[at] for at in table.rows]
    labels = [(each.value, group_name(table.explanatory, each)) for each in named]
    return told(table.shares, labels, confidence)


def told(
    found: Shares, labels: Sequence[tuple[str, str]], confidence: float
) -> tuple[r.SurveyShare, ...]:
    """Shares with the value and label of what each is the share of or in."""
    at_level = found.shares(confidence)
    at_95 = at_level if confidence == 0.95 else found.shares(0.95)
    return tuple(
        r.SurveyShare(
            value=value,
            label=label,
            n=here.n,
            unweighted_count_of_events=here.events,
            sum_of_weights=here.weighted_n,
            estimate=here.estimate,
            se=here.se,
            ci=_limits(here.ci),
            ci_95_logit=_limits(usual.ci),
            ci_95_wald=_limits(usual.ci_wald),
            deff=here.deff,
            deft=None if here.deff is None else math.sqrt(here.deff),
            effective_sample_size=here.effective_sample_size,
            coefficient_of_variation=here.se / here.estimate if here.estimate else None,
            unweighted=here.events / here.n,
        )
        for here, usual, (value, label) in zip(at_level, at_95, labels, strict=True)
    )


def _limits(found: Interval | None) -> Limits | None:
    return None if found is None else (found.low, found.high)


def comparisons(
    table: Crossed, reference: str, confidence: float
) -> tuple[r.SurveyComparison, ...]:
    """Every group against the reference (the first where nobody is in that)."""
    names = [table.explanatory.categories[i].value for i in table.rows]
    base = names.index(reference) if reference in names else 0
    at_level = table.shares.against(base, confidence)
    at_95 = at_level if confidence == 0.95 else table.shares.against(base, 0.95)
    return tuple(
        _comparison(table, i, base, at_level[i], at_95[i]) for i in range(len(names)) if i != base
    )


def _comparison(
    table: Crossed, row: int, base: int, found: Comparison, at_95: Comparison
) -> r.SurveyComparison:
    df = table.totals.design.df

    def ratio(one: Contrast | None, usual: Contrast | None) -> r.SurveyRatio | None:
        if one is None or usual is None:
            return None
        return r.SurveyRatio(**_tested(one, usual, df), log_se=one.se)

    category = table.explanatory.categories[table.rows[row]]
    of_event = table.totals.n * table.is_event
    a, c = (float(of_event[table.inside(i)].sum()) for i in (row, base))
    b, d = (float(table.totals.n[table.inside(i)].sum()) for i in (row, base))
    b, d = b - a, d - c
    gap = found.risk_difference
    return r.SurveyComparison(
        value=category.value,
        label=group_name(table.explanatory, category),
        risk_difference=r.SurveyDifference(**_tested(gap, at_95.risk_difference, df), se=gap.se),
        risk_ratio=ratio(found.risk_ratio, at_95.risk_ratio),
        odds_ratio=ratio(found.odds_ratio, at_95.odds_ratio),
        unweighted_odds_ratio=a * d / (b * c) if b * c else None,
    )


def _tested(found: Contrast, at_95: Contrast, df: int) -> dict[str, Any]:
    return {
        "estimate": found.estimate,
        "t": found.t,
        "df": df,
        "p": found.p,
        "ci": _limits(found.ci),
        "ci_95": _limits(at_95.ci),
    }


def survey_table(
    table: Crossed, confidence: float, plain: Mapping[str, float | None], tell: Tell
) -> r.SurveyTable:
    """Weighted percentages, tests, strength, and where it lies; ``plain`` are the measures with
    each row counted once, by name. ``tell`` hears how many replicates are done."""
    rows, columns = len(table.rows), len(table.columns)
    found = weighted_table(table.totals, rows, columns)
    p = table.totals.design.p_of_each(found.residual_z)
    adjusted = BY_NAME["holm"](p.ravel()).reshape(p.shape)
    v, limits = cramers_v(table.totals, rows, columns, confidence)
    in_row = np.repeat(np.eye(rows, dtype=bool), columns, axis=1)
    in_column = np.tile(np.eye(columns, dtype=bool), rows)
    return r.SurveyTable(
        rows=tuple(table.explanatory.categories[i].label for i in table.rows),
        columns=tuple(table.outcome.categories[j].label for j in table.columns),
        event=tuple(np.flatnonzero(table.is_event[:columns]).tolist()),
        n=float(found.counts.sum()),
        sum_of_weights=float(table.totals.weighted.sum()),
        counts=_grid(found.counts),
        cell_proportions=_grid(found.shares),
        cell_se=_grid(found.share_se),
        row_proportions=_cells(table, np.repeat(in_row, columns, axis=0), confidence),
        column_proportions=_cells(table, np.tile(in_column, (rows, 1)), confidence),
        row_margin=tuple(found.shares.sum(axis=1).tolist()),
        column_margin=tuple(found.shares.sum(axis=0).tolist()),
        z=_grid(found.residual_z),
        p_adjusted=_grid(adjusted),
        cramers_v=v,
        cramers_v_ci=limits,
        measures=measures(table.totals, rows, columns, confidence, plain, tell),
        table_df=(rows - 1) * (columns - 1),
        pearson_uncorrected=found.pearson_uncorrected,
        likelihood_ratio_uncorrected=found.likelihood_ratio_uncorrected,
        generalised_deff_eigenvalues=tuple(found.deffs.tolist()),
        rao_scott_pearson=_rao_scott(found.rao_scott_pearson),
        rao_scott_likelihood_ratio=_rao_scott(found.rao_scott_likelihood_ratio),
        wald_residual=wald(found.wald_residual),
        wald_log_odds_ratios=wald(found.wald_log_odds_ratios),
    )


def _cells(table: Crossed, wholes: Mask, confidence: float) -> r.Cells:
    """Every cell's share of its row or column: ``wholes`` are those of each cell, in row-major order,
    as masks of shape (R * C, R * C)."""
    rows, columns = len(table.rows), len(table.columns)
    found = Shares.among(table.totals, wholes, np.eye(rows * columns, dtype=bool))
    at_level = found.shares(confidence)
    at_95 = at_level if confidence == 0.95 else found.shares(0.95)
    cells = [
        r.SurveyCell(
            estimate=here.estimate,
            se=here.se,
            ci=_limits(here.ci),
            ci_95_logit=_limits(usual.ci),
            unweighted=here.events / here.n,
        )
        for here, usual in zip(at_level, at_95, strict=True)
    ]
    return tuple(tuple(cells[i * columns : (i + 1) * columns]) for i in range(rows))


def independence_test(table: Crossed) -> SurveyTest | None:
    """Rao & Scott's second-order test; at least two rows and columns."""
    found = weighted_table(table.totals, len(table.rows), len(table.columns)).rao_scott_pearson
    return None if found is None else corrected(found.second_order)


def _grid(values: FloatArray) -> tuple[tuple[float, ...], ...]:
    return tuple(tuple(row) for row in values.tolist())


def _rao_scott(found: RaoScott | None) -> RaoScottTest | None:
    if found is None:
        return None
    return RaoScottTest(
        mean_generalised_deff=found.mean_generalised_deff,
        squared_cv_of_generalised_deffs=found.squared_cv_of_generalised_deffs,
        first_order=CorrectedTest(**vars(found.first_order)),
        second_order=CorrectedTest(**vars(found.second_order)),
    )


def corrected(found: Corrected) -> SurveyTest:
    return SurveyTest(f=found.f, df1=found.df1, df2=found.df2, p=found.p_f)


def wald(found: WaldF | None) -> WaldTest | None:
    """None where so many contrasts leave no degree of freedom."""
    if found is None or found.adjusted_df2 < 1:
        return None
    return WaldTest(**vars(found), adjusted_df1=found.df1)
