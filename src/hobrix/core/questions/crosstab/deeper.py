"""The deeper parts of a table's results: measures, exact tests, pairs of groups, the map."""

from itertools import combinations

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.options import CrosstabOptions
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.tables import association as measures
from hobrix.core.tables import (
    correspondence,
    exact,
    exact_two_by_two,
    independence,
    paired,
    strength,
    two_by_two,
)
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.multiple import BY_NAME

# Larger tables are drawn from, not gone through, unless that is asked for.
_ENUMERATED_N, _ENUMERATED_CELLS = 60, 20
# Unasked, a sparse table is drawn no more often than keeps the answer quick; asked, no more
# often than a second allows.
_DRAWN_CELLS, _MOST_DRAWN_CELLS = 2_000_000, 10_000_000
MOST_PAIRED, MOST_MAPPED = 20, 60


def association(
    table: FloatArray, explanatory: Variable, outcome: Variable, confidence: float
) -> r.Association:
    """All measures; the one that suits the kinds of the variables leads."""
    found = measures.all_measures(table)
    v = strength.cramers_v_interval(table, confidence)
    chi_square = independence.pearson_test(table).statistic
    both_ordered = _is_ordered(explanatory, table.shape[0]) and _is_ordered(outcome, table.shape[1])
    leading = "cramers_v"
    if both_ordered and max(table.shape) > 2:
        leading = "somers_d_column_given_row"
    return r.Association(
        leading=leading,
        phi=strength.phi(table),
        cramers_v=strength.cramers_v(table),
        cramers_v_ci=(v.low, v.high),
        cramers_v_bias_corrected=strength.cramers_v_bias_corrected(table),
        contingency_coefficient=measures.contingency_coefficient(chi_square, float(table.sum())),
        **{key: _measure(measure, confidence) for key, measure in found.items()},
    )


def _is_ordered(variable: Variable, categories: int) -> bool:
    """Two answers have only one order, so their kind does not matter."""
    return variable.kind == "ordinal" or categories == 2


def _measure(measure: measures.Measure | None, confidence: float) -> r.MeasureResult | None:
    if measure is None:
        return None
    at_level, at_95 = measure.interval(confidence), measure.interval(0.95)
    return r.MeasureResult(
        value=measure.value,
        ase=measure.ase,
        ase_null=measure.ase_null,
        z=measure.z,
        p=measure.p,
        ci=None if at_level is None else (at_level.low, at_level.high),
        ci_95=None if at_95 is None else (at_95.low, at_95.high),
    )


def exact_table(table: FloatArray, options: CrosstabOptions) -> r.ExactTable | None:
    """The exact test, where it is asked for or the table is sparse; None otherwise, and where
    counts are not whole."""
    if options.exact == "no" or np.any(table != np.rint(table)):
        return None
    expected = independence.expected_counts(table)
    is_sparse = float(np.mean(expected < 5)) > 0.2 or float(expected.min()) < 1
    if options.exact == "when_sparse" and not is_sparse:
        return None
    is_small = table.sum() <= _ENUMERATED_N and table.size <= _ENUMERATED_CELLS
    if options.exact == "enumerate" or (options.exact == "when_sparse" and is_small):
        try:
            found = exact.fisher_freeman_halton(table)
        except exact.TooLarge:
            pass
        else:
            return r.ExactTable(
                method="enumeration",
                fisher_freeman_halton_p=found.p,
                fisher_freeman_halton_mid_p=found.mid_p,
                p_ci_95=None,
                draws=None,
                seed=None,
            )
    draws = options.draws
    most = max(1000, _MOST_DRAWN_CELLS // table.size)
    if options.exact != "when_sparse" and draws > most:
        raise QuestionError(
            f"A table of {table.size:,} cells can be drawn up to {most:,} times in reasonable time.",
            slot="options.draws",
        )
    if options.exact == "when_sparse":
        draws = min(draws, max(1000, _DRAWN_CELLS // table.size))
    drawn = exact.monte_carlo(table, draws, options.seed)
    return r.ExactTable(
        method="monte_carlo",
        fisher_freeman_halton_p=drawn.p,
        fisher_freeman_halton_mid_p=None,
        p_ci_95=(drawn.interval.low, drawn.interval.high),
        draws=drawn.draws,
        seed=drawn.seed,
    )


def pairwise(table: FloatArray, labels: list[str], options: CrosstabOptions) -> tuple[r.Pair, ...]:
    """Every two groups by all answers, with all pairs allowed for; none beyond 20 groups."""
    if not 3 <= len(labels) <= MOST_PAIRED:
        return ()
    pairs, tests = [], []
    for i, j in combinations(range(len(labels)), 2):
        kept = independence.drop_empty(table[[i, j]]).counts
        if min(kept.shape) < 2:
            continue
        pairs.append((labels[i], labels[j]))
        tests.append(independence.pearson_test(kept))
    adjusted = BY_NAME[options.adjust](np.array([test.p for test in tests]))
    return tuple(
        r.Pair(one=one, other=other, chi_square=ChiSquare(**vars(test)), p_adjusted=float(p))
        for (one, other), test, p in zip(pairs, tests, adjusted, strict=True)
    )


def correspondence_map(
    table: FloatArray, rows: list[str], columns: list[str]
) -> r.CorrespondenceMap | None:
    """The map of a table with two axes or more."""
    if not min(table.shape) >= 3 or max(table.shape) > MOST_MAPPED:
        return None
    found = correspondence.correspondence(table)
    if found.total_inertia < 1e-12:
        return None

    def points(labels: list[str], of: correspondence.Points) -> tuple[r.AxisPoint, ...]:
        return tuple(
            r.AxisPoint(
                label=label,
                mass=float(of.masses[i]),
                coordinates=tuple(of.principal_coordinates[i].tolist()),
                inertia=float(of.inertias[i]),
                contributions=tuple(of.contributions[i].tolist()),
                squared_cosines=tuple(of.squared_cosines[i].tolist()),
            )
            for i, label in enumerate(labels)
        )

    return r.CorrespondenceMap(
        total_inertia=found.total_inertia,
        singular_values=tuple(found.singular_values.tolist()),
        principal_inertias=tuple(found.principal_inertias.tolist()),
        percent=tuple((100 * found.principal_inertias / found.total_inertia).tolist()),
        rows=points(rows, found.rows),
        columns=points(columns, found.columns),
    )


def of_two_groups(
    table: FloatArray, by_group: r.EventByGroup, confidence: float
) -> dict[str, object]:
    """What only a 2x2 table has: [[a, b], [c, d]], rows compared and reference, columns event
    and not."""
    exposed = next(g for g in by_group.groups if g.value != by_group.reference)
    unexposed = next(g for g in by_group.groups if g.value == by_group.reference)
    comparison = by_group.comparisons[0]
    found: dict[str, object] = {
        "odds_ratio": comparison.odds_ratio,
        "risk_ratio": comparison.risk_ratio,
        "risk_difference": comparison.risk_difference,
        "zero_cell": bool(np.any(table == 0)),
        "z_test_two_proportions": r.ZTest(**vars(two_by_two.z_test(table))),
    }
    if np.all(table == np.rint(table)):
        conditional = exact_two_by_two.conditional_odds_ratio(table, confidence)
        found["fisher_exact"] = r.FisherExact(**vars(exact_two_by_two.fisher_exact(table)))
        found["odds_ratio_conditional"] = r.ConditionalOddsRatio(
            estimate=conditional.estimate,
            exact_ci=(conditional.exact.low, conditional.exact.high),
        )
    if by_group.shares_have_meaning:
        attributable = two_by_two.attributable(table)
        found |= vars(attributable)
        found |= {"risk_exposed": exposed.share, "risk_unexposed": unexposed.share}
    return found


def mcnemar(table: FloatArray, explanatory: Variable, outcome: Variable) -> r.McNemar | None:
    """For two variables with the same two answers, such as the same question before and after."""
    answers = [[category.label for category in v.categories] for v in (explanatory, outcome)]
    if table.shape != (2, 2) or answers[0] != answers[1]:
        return None
    found = paired.mcnemar(table)

    def test(one: independence.ChiSquareTest | None) -> ChiSquare | None:
        return None if one is None else ChiSquare(**vars(one))

    return r.McNemar(
        discordant=found.discordant,
        exact_p=found.exact_p,
        mid_p=found.mid_p,
        chi_square=test(found.chi_square),
        chi_square_continuity_corrected=test(found.chi_square_continuity_corrected),
    )
