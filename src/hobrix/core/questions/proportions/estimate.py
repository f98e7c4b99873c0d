"""From counts of two variables to the event's share in each group and how far groups are apart."""

import math

import numpy as np

from hobrix.core.data import Category, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.crosstab import results as c
from hobrix.core.questions.crosstab.deeper import mcnemar
from hobrix.core.questions.crosstab.estimate import event_by_group, without_shares
from hobrix.core.questions.proportions import results as r
from hobrix.core.questions.proportions.options import ProportionOptions
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.questions.slots import group_name
from hobrix.core.questions.two_way import TwoWay
from hobrix.core.tables import exact, exact_two_by_two, k_proportions, paired, two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import drop_empty, expected_counts
from hobrix.core.tables.one_proportion import share_interval

MOST_PAIRED = 40
_ENUMERATED = 60


def split_counts(table: FloatArray, outcome: Variable, event: tuple[str, ...]) -> FloatArray:
    """Events and non-events, shape (R, 2), of a table of shape (R, C)."""
    is_event = np.array([category.value in event for category in outcome.categories])
    return np.column_stack([table[:, is_event].sum(axis=1), table[:, ~is_event].sum(axis=1)])


def proportions(asked: TwoWay, options: ProportionOptions) -> r.Proportions:
    """The event in each group that holds somebody, and every group against the reference."""
    question, explanatory = asked.question, asked.explanatory.variable
    reduced = drop_empty(asked.table)
    rows = [explanatory.categories[i] for i in reduced.kept_rows]
    columns = [asked.outcome.variable.categories[j] for j in reduced.kept_columns]
    by_group = event_by_group(
        reduced.counts,
        rows,
        columns,
        explanatory,
        asked.outcome.variable,
        asked.event,
        asked.reference,
        question.confidence,
    )
    if asked.frame.study_design == "case_control":
        by_group = without_shares(by_group)
    split = split_counts(asked.table, asked.outcome.variable, asked.event)[list(reduced.kept_rows)]
    x, n = split[:, 0], split.sum(axis=1)
    groups = _groups(rows, explanatory, split, options, question.confidence)
    overall = _group(
        "", "everyone counted", float(x.sum()), float(n.sum()), options, question.confidence
    )
    values = [row.value for row in rows]
    base = values.index(by_group.reference)
    comparisons = tuple(
        _against(
            compared,
            split[[values.index(compared.value), base]],
            groups,
            base,
            by_group,
            question.confidence,
        )
        for compared in by_group.comparisons
    )
    ordered = explanatory.kind == "ordinal" or len(rows) == 2
    return r.Proportions(
        event=by_group.event,
        event_label=by_group.event_label,
        reference=by_group.reference,
        reference_label=by_group.reference_label,
        groups=groups,
        overall=overall,
        leading=_leading(asked.frame.study_design, by_group),
        comparisons=comparisons,
        chi_square_homogeneity=ChiSquare(**vars(k_proportions.homogeneity(x, n))),
        exact_p=_exact_p(split),
        pairwise=_pairwise(x, n, [group.label for group in groups]),
        cochran_armitage_trend=_trend(x, n, reduced.kept_rows) if ordered else None,
        within_margin=_within_margin(
            comparisons, by_group, split, values, base, options, question.confidence
        ),
    )


def _group(
    value: str, label: str, x: float, n: float, options: ProportionOptions, confidence: float
) -> c.Group:
    limits = share_interval(x, n, confidence, options.interval)
    ci = (limits.low, limits.high)
    return c.Group(value=value, label=label, n=n, events=x, share=x / n, share_ci=ci)


def _groups(
    rows: list[Category],
    explanatory: Variable,
    split: FloatArray,
    options: ProportionOptions,
    confidence: float,
) -> tuple[c.Group, ...]:
    return tuple(
        _group(row.value, group_name(explanatory, row), x, x + rest, options, confidence)
        for row, (x, rest) in zip(rows, split.tolist(), strict=True)
    )


def _leading(design: str, by_group: c.EventByGroup) -> str:
    """Odds where cases were sampled; the ratio where the event is rare; else the difference."""
    if design == "case_control":
        return "odds_ratio"
    return "risk_ratio" if by_group.share < 0.1 else "risk_difference"


def _against(
    compared: c.Comparison,
    table: FloatArray,
    groups: tuple[c.Group, ...],
    base: int,
    by_group: c.EventByGroup,
    confidence: float,
) -> r.AgainstReference:
    has_events = 0 < table[:, 0].sum() < table.sum()
    is_sparse = bool(has_events and expected_counts(table).min() < 5)
    is_whole = bool(np.all(table == np.rint(table)))
    fisher = exact_two_by_two.fisher_exact(table) if has_events and is_whole else None
    conditional = (
        exact_two_by_two.conditional_odds_ratio(table, confidence)
        if has_events and is_whole and (is_sparse or np.any(table == 0))
        else None
    )
    difference = compared.risk_difference
    mine = next(g for g in groups if g.value == compared.value)
    other = groups[base]
    overlap = mine.share_ci[0] <= other.share_ci[1] and other.share_ci[0] <= mine.share_ci[1]
    leaves_out_0 = difference is not None and not (
        difference.newcombe_ci[0] <= 0 <= difference.newcombe_ci[1]
    )
    needed = None
    if difference is not None:
        needed = math.inf if difference.estimate == 0 else 1 / abs(difference.estimate)
    return r.AgainstReference(
        value=compared.value,
        label=compared.label,
        odds_ratio=compared.odds_ratio,
        odds_ratio_exact_ci=None
        if conditional is None
        else (conditional.exact.low, conditional.exact.high),
        risk_ratio=compared.risk_ratio,
        risk_difference=difference,
        number_needed=needed,
        z_test=c.ZTest(**vars(two_by_two.z_test(table)))
        if has_events and by_group.shares_have_meaning
        else None,
        fisher_p=None if fisher is None else fisher.two_sided,
        fisher_less=None if fisher is None else fisher.less,
        fisher_greater=None if fisher is None else fisher.greater,
        is_sparse=is_sparse,
        overlap_misleads=overlap and leaves_out_0,
    )


def _exact_p(split: FloatArray) -> float | None:
    """The exact test of all groups at once, for small tables with small expected counts."""
    if np.any(split != np.rint(split)) or not np.all(split.sum(axis=0)):
        return None
    if expected_counts(split).min() >= 5 or split.sum() > _ENUMERATED or len(split) > 6:
        return None
    try:
        return exact.fisher_freeman_halton(split).p
    except exact.TooLarge:
        return None


def _pairwise(x: FloatArray, n: FloatArray, labels: list[str]) -> tuple[r.PairOfGroups, ...]:
    if not 3 <= len(n) <= MOST_PAIRED:
        return ()
    return tuple(
        r.PairOfGroups(
            one=labels[test.groups[0]],
            other=labels[test.groups[1]],
            statistic=test.statistic,
            p=test.p,
            holm=test.holm,
            bonferroni=test.bonferroni,
            benjamini_hochberg=test.benjamini_hochberg,
        )
        for test in k_proportions.pairwise(x, n)
    )


def _trend(x: FloatArray, n: FloatArray, kept: tuple[int, ...]) -> r.TrendResult | None:
    found = k_proportions.trend(x, n, np.array(kept, dtype=np.float64))
    if found is None:
        return None
    rest = found.departure
    return r.TrendResult(
        statistic=found.statistic,
        p_two_sided=found.p_two_sided,
        p_decreasing=found.p_decreasing,
        p_increasing=found.p_increasing,
        departure_from_trend=None if rest is None else ChiSquare(**vars(rest)),
    )


def _within_margin(
    comparisons: tuple[r.AgainstReference, ...],
    by_group: c.EventByGroup,
    split: FloatArray,
    values: list[str],
    base: int,
    options: ProportionOptions,
    confidence: float,
) -> tuple[r.WithinMargin, ...]:
    """Two one-sided tests by the interval at 1 - 2 (1 - confidence) (Schuirmann 1987)."""
    margin = options.margin
    if margin is None:
        return ()
    if not by_group.shares_have_meaning:
        raise QuestionError(
            "In a case–control study shares have no meaning, so no margin for them either.",
            slot="options.margin",
        )
    level = 1 - 2 * (1 - confidence)
    found = []
    for each in comparisons:
        table = split[[values.index(each.value), base]]
        interval = two_by_two.risk_difference(table, level).newcombe
        low, high = interval.low, interval.high
        above, below = low > -margin, high < margin
        shown = {"equivalent": above and below, "not_below": above, "not_above": below}
        said = {
            "equivalent": "equivalent to",
            "not_below": "not lower than",
            "not_above": "not higher than",
        }[options.aim]
        points = f"{100 * margin:.10g} percentage points"
        verdict = "is shown to be" if shown[options.aim] else "is **not** shown to be"
        found.append(
            r.WithinMargin(
                label=each.label,
                aim=options.aim,
                margin=margin,
                ci=(low, high),
                level=level,
                is_shown=shown[options.aim],
                words=f"{each.label} {verdict} {said} {by_group.reference_label} "
                f"within {points} ({100 * level:.4g}% interval of the difference "
                f"{100 * low:.1f} to {100 * high:.1f}).".replace("-", "−"),
            )
        )
    return tuple(found)


def plan(found: r.Proportions, options: ProportionOptions, confidence: float) -> r.Plan:
    """What n per group would show for the shares seen: the reference and the group furthest off."""
    base = next(g for g in found.groups if g.value == found.reference)
    others = [g for g in found.groups if g.value != found.reference]
    far = max(others, key=lambda g: abs(g.share - base.share) * math.sqrt(g.n / (g.n + base.n)))
    n = options.plan_n or max(2, round(sum(g.n for g in found.groups) / len(found.groups)))
    limits = share_interval(far.share * n, n, confidence, "wilson")
    wished = options.plan_width or 0.05
    return r.Plan(
        n_per_group=n,
        label=f"{far.label} against {base.label}",
        half_width=(limits.high - limits.low) / 2,
        power=k_proportions.power(far.share, base.share, n, 1 - confidence)
        if far.share != base.share
        else None,
        wished_half_width=wished,
        n_needed=k_proportions.needed_for_width(far.share, wished, confidence),
    )


def paired_shares(asked: TwoWay, confidence: float) -> r.Paired | None:
    """The explanatory variable as the first and the outcome as the second time, where both have
    the same two answers; shares of the event, second minus first."""
    found = mcnemar(asked.table, asked.explanatory.variable, asked.outcome.variable)
    if found is None:
        return None
    labels = [category.label for category in asked.outcome.variable.categories]
    at = labels.index(asked.outcome.variable.label_of(asked.event[0]))
    # The event first, in rows and in columns.
    table = asked.table if at == 0 else asked.table[::-1, ::-1]
    difference = paired.marginal_difference(table.T, confidence)
    n = float(table.sum())
    return r.Paired(
        first_share=float(table[0].sum()) / n,
        second_share=float(table[:, 0].sum()) / n,
        difference=difference.estimate,
        standard_error=difference.standard_error,
        ci=(difference.wald.low, difference.wald.high),
        mcnemar=found,
    )
