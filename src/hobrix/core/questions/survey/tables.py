"""Weighted shares, tables and comparisons of a question with a survey design."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.data import CategoricalColumn, Frame, Variable
from hobrix.core.questions.quantities import Limits
from hobrix.core.questions.slots import group_name
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.strength import cramers_v, measures
from hobrix.core.questions.two_way import Named
from hobrix.core.survey import shares as estimates
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import FloatArray
from hobrix.core.survey.two_way import Corrected, WaldF, cell_shares, weighted_table
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
    found = []
    for i, at in enumerate(table.rows):
        category = table.explanatory.categories[at]
        inside = table.inside(i)
        found.append(
            _share(
                table.totals,
                inside,
                table.is_event,
                category.value,
                group_name(table.explanatory, category),
                confidence,
            )
        )
    return tuple(found)


def _share(
    totals: CellTotals,
    inside: np.ndarray,
    event: np.ndarray,
    value: str,
    label: str,
    confidence: float,
) -> r.SurveyShare:
    here = estimates.weighted_share(totals, inside, event, confidence)
    at_95 = here
    if confidence != 0.95:
        at_95 = estimates.weighted_share(totals, inside, event, 0.95)
    return r.SurveyShare(
        value=value,
        label=label,
        n=here.n,
        events=here.events,
        weighted_n=here.weighted_n,
        estimate=here.estimate,
        se=here.se,
        ci=_limits(here.ci),
        ci_95_logit=_limits(at_95.ci),
        deff=here.deff,
        effective_sample_size=here.effective_sample_size,
        unweighted=here.events / here.n,
    )


def _limits(found: Interval | None) -> Limits | None:
    return None if found is None else (found.low, found.high)


def comparisons(
    table: Crossed, reference: str, confidence: float
) -> tuple[r.SurveyComparison, ...]:
    """Every group against the reference (the first where nobody is in that)."""
    names = [table.explanatory.categories[i].value for i in table.rows]
    base = names.index(reference) if reference in names else 0
    return tuple(_comparison(table, i, base, confidence) for i in range(len(names)) if i != base)


def _comparison(table: Crossed, row: int, base: int, confidence: float) -> r.SurveyComparison:
    group, reference = table.inside(row), table.inside(base)
    found = estimates.compare(table.totals, group, reference, table.is_event, confidence)
    category = table.explanatory.categories[table.rows[row]]
    n = table.totals.n
    a, b = float(n[group & table.is_event].sum()), float(n[group & ~table.is_event].sum())
    c, d = float(n[reference & table.is_event].sum()), float(n[reference & ~table.is_event].sum())
    return r.SurveyComparison(
        value=category.value,
        label=group_name(table.explanatory, category),
        risk_difference=_contrast(found.risk_difference),
        risk_ratio=found.risk_ratio and _contrast(found.risk_ratio),
        odds_ratio=found.odds_ratio and _contrast(found.odds_ratio),
        unweighted_odds_ratio=a * d / (b * c) if b * c else None,
    )


def _contrast(found: estimates.Contrast) -> r.SurveyContrast:
    return r.SurveyContrast(
        estimate=found.estimate,
        se=found.se,
        t=found.t,
        p=found.p,
        ci=(found.ci.low, found.ci.high),
    )


def survey_table(
    table: Crossed, confidence: float, plain: Mapping[str, float | None]
) -> r.SurveyTable:
    """Weighted percentages within groups, tests, strength, and where it lies; ``plain`` are the
    measures with each row counted once, by name."""
    rows, columns = len(table.rows), len(table.columns)
    found = weighted_table(table.totals, rows, columns)
    within = found.shares / found.shares.sum(axis=1, keepdims=True)
    in_column = np.tile(np.eye(columns, dtype=bool), (rows, 1))
    scores = [
        estimates.share_scores(table.totals, table.inside(i), in_column[:, j])
        for i in range(rows)
        for j in range(columns)
    ]

    def within_rows(weighted: FloatArray) -> FloatArray:
        cells = weighted.reshape(*weighted.shape[:-1], rows, columns)
        shares: FloatArray = cells / cells.sum(axis=-1, keepdims=True)
        return shares.reshape(weighted.shape)

    covariance = table.totals.covariance_of(within_rows, np.column_stack(scores))
    errors = np.sqrt(np.diag(covariance)).reshape(rows, columns)
    p = np.vectorize(table.totals.design.p_of, otypes=[float])(found.residual_z)
    adjusted = BY_NAME["holm"](p.ravel()).reshape(p.shape)
    v, limits = cramers_v(table.totals, rows, columns, confidence)
    pearson = found.rao_scott_pearson
    return r.SurveyTable(
        rows=tuple(table.explanatory.categories[i].label for i in table.rows),
        columns=tuple(table.outcome.categories[j].label for j in table.columns),
        event=tuple(np.flatnonzero(table.is_event[:columns]).tolist()),
        counts=_grid(found.counts),
        row_weights=tuple(table.totals.weighted.reshape(rows, columns).sum(axis=1).tolist()),
        share_of_all=tuple(found.shares.sum(axis=0).tolist()),
        share_within_row=_grid(within),
        share_se=_grid(errors),
        unweighted_share_within_row=_grid(
            found.counts / np.maximum(1, found.counts.sum(axis=1, keepdims=True))
        ),
        z=_grid(found.residual_z),
        p_adjusted=_grid(adjusted),
        cramers_v=v,
        cramers_v_ci=limits,
        measures=measures(table.totals, rows, columns, confidence, plain),
        rao_scott_second_order=pearson and corrected(pearson.second_order),
        rao_scott_first_order=pearson and corrected(pearson.first_order),
        wald=wald(found.wald_residual),
        generalised_deff_eigenvalues=tuple(found.deffs.tolist()),
        pearson_uncorrected=found.pearson_uncorrected,
    )


def independence_test(table: Crossed) -> r.SurveyTest | None:
    """Rao & Scott's second-order test; at least two rows and columns."""
    found = weighted_table(table.totals, len(table.rows), len(table.columns)).rao_scott_pearson
    return None if found is None else corrected(found.second_order)


def _grid(values: FloatArray) -> tuple[tuple[float, ...], ...]:
    return tuple(tuple(row) for row in values.tolist())


def corrected(found: Corrected) -> r.SurveyTest:
    return r.SurveyTest(f=found.f, df1=found.df1, df2=found.df2, p=found.p_f)


def wald(found: WaldF | None) -> r.SurveyTest | None:
    if found is None or found.adjusted_df2 < 1:
        return None
    return r.SurveyTest(
        f=found.adjusted_f, df1=found.df1, df2=found.adjusted_df2, p=found.adjusted_p
    )


def category_shares(
    frame: Frame, variable: Variable, sample: Sample, confidence: float
) -> tuple[r.SurveyShare, ...]:
    """The share of every answer to one categorical variable."""
    column = frame.column(variable.name)
    assert isinstance(column, CategoricalColumn)
    totals = CellTotals.count(
        sample.design, [sample.codes(column.codes)], [len(variable.categories)]
    )
    everybody = np.ones(len(variable.categories), dtype=bool)
    if not totals.n.sum():
        return ()
    return tuple(
        _share(
            totals,
            everybody,
            np.arange(len(everybody)) == i,
            category.value,
            category.label,
            confidence,
        )
        for i, category in enumerate(variable.categories)
    )


def goodness_of_fit(expected: FloatArray, totals: CellTotals) -> r.SurveyTest | None:
    """Observed against stated shares: Pearson's statistic with Rao & Scott's second-order
    correction, as for tables. ``expected`` of shape (K,), adding up to 1."""
    k = len(expected)
    p = totals.weighted / totals.weighted.sum()
    n, nu = float(totals.n.sum()), totals.design.df
    if nu < 1 or k < 2 or np.any(expected <= 0):
        return None
    scores = (np.eye(k) - p) / totals.weighted.sum()
    v = totals.covariance_of(cell_shares, scores)[:-1, :-1]
    v0 = (np.diag(expected[:-1]) - np.outer(expected[:-1], expected[:-1])) / n
    deffs = np.real(np.linalg.eigvals(np.linalg.solve(v0, v)))
    statistic = n * float(np.sum((p - expected) ** 2 / expected))
    total = float(deffs.sum())
    if total <= 0:
        return None
    df1 = total**2 / float(np.sum(deffs**2))
    f = statistic / total
    return r.SurveyTest(f=f, df1=df1, df2=nu * df1, p=float(special.fdtrc(df1, nu * df1, f)))
