"""What can be opened under a table: measures, tests, two groups, exact, where it lies, the map."""

from collections.abc import Sequence
from itertools import combinations

import numpy as np

from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.cells import ranked
from hobrix.core.questions.crosstab.measures import every_measure
from hobrix.core.questions.crosstab.table import are_ordered, scores_of
from hobrix.core.questions.crosstab.work import CrosstabWork
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.groups import is_whole, mcnemar_of
from hobrix.core.questions.lens import Found
from hobrix.core.questions.pair_checks import needed_check
from hobrix.core.questions.sampling.designed_table import WeightedPairTable
from hobrix.core.questions.sampling.each_row import CountedTable
from hobrix.core.questions.thresholds import MAPPED, POORLY_MAPPED
from hobrix.core.tables import (
    correspondence,
    exact_two_by_two,
    independence,
    two_by_two,
)
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.multiple import BY_NAME

MOST_PAIRED, MOST_MAPPED = 20, 60


def measures(work: CrosstabWork) -> Found:
    table = work.pair.whole
    of_order = are_ordered(work.pair, table)
    correlation = None
    if of_order and isinstance(table, CountedTable):
        correlation = independence.score_correlation(table.counts, *scores_of(table))
    return Found(
        r.MeasuresPanel(
            measures=every_measure(work.pair, table, of_order=of_order),
            pearson_correlation_of_scores=correlation,
        )
    )


def tests(work: CrosstabWork) -> Found:
    table = work.pair.whole
    if isinstance(table, WeightedPairTable):
        return Found(_weighted_tests(table))
    assert isinstance(table, CountedTable)
    counts = table.counts
    found = r.ChiSquares(
        pearson=table.pearson,
        likelihood_ratio=independence.likelihood_ratio_test(counts),
        continuity_corrected=independence.continuity_corrected_test(counts)
        if counts.shape == (2, 2)
        else None,
        linear_by_linear=independence.linear_by_linear_test(counts, *scores_of(table))
        if are_ordered(work.pair, table)
        else None,
    )
    named = [
        ("Pearson’s chi-square test", found.pearson),
        ("likelihood-ratio test", found.likelihood_ratio),
        ("chi-square test, corrected for continuity", found.continuity_corrected),
        ("linear-by-linear test", found.linear_by_linear),
    ]
    every = tuple(NamedTest.chi_square(name, test) for name, test in named if test is not None)
    return Found(r.EveryTestPanel(tests=every, chi_square=found, weighted=None))


def _weighted_tests(table: WeightedPairTable) -> r.EveryTestPanel:
    found = table.found
    scott, likelihood = found.rao_scott_pearson, found.rao_scott_likelihood_ratio
    named = []
    if scott is not None:
        named.append(NamedTest.corrected("Rao–Scott test, second order", scott.second_order))
        named.append(NamedTest.corrected("Rao–Scott test, first order", scott.first_order))
    if likelihood is not None:
        name = "Rao–Scott test of the likelihood ratio, second order"
        named.append(NamedTest.corrected(name, likelihood.second_order))
    for name, wald in (
        ("Wald test on departures, adjusted", found.wald_residual),
        ("Wald test on log odds ratios, adjusted", found.wald_log_odds_ratios),
    ):
        if wald is not None:
            named.append(NamedTest.wald(name, wald))
    rows, columns = table.shape
    weighted = r.WeightedTests(
        table_df=(rows - 1) * (columns - 1),
        pearson_uncorrected=found.pearson_uncorrected,
        likelihood_ratio_uncorrected=found.likelihood_ratio_uncorrected,
        generalised_deff_eigenvalues=tuple(found.deffs.tolist()),
        rao_scott_pearson=scott,
        rao_scott_likelihood_ratio=likelihood,
        wald_residual=found.wald_residual,
        wald_log_odds_ratios=found.wald_log_odds_ratios,
    )
    return r.EveryTestPanel(tests=tuple(named), chi_square=None, weighted=weighted)


def has_two_groups(work: CrosstabWork) -> bool:
    is_pair = work.whole.groups is not None and len(work.whole.rows) == 2
    return not work.question.is_designed and (is_pair or mcnemar_of(work.pair) is not None)


def two_groups(work: CrosstabWork) -> Found:
    """[[a, b], [c, d]]: rows compared and reference, columns event and not."""
    groups, table = work.whole.groups, work.pair.whole
    mcnemar = mcnemar_of(work.pair)
    if groups is None or len(work.whole.rows) != 2 or not isinstance(table, CountedTable):
        return Found(r.TwoGroupsPanel(mcnemar=mcnemar))
    split = table.split(work.pair.is_event)
    if groups.groups[0].value == groups.reference:
        split = split[::-1]
    fisher = conditional = None
    if is_whole(split):
        fisher = exact_two_by_two.fisher_exact(split)
        conditional = exact_two_by_two.conditional_odds_ratio(split, work.question.confidence)
    attributable = two_by_two.attributable(split) if groups.shares_have_meaning else None
    return Found(
        r.TwoGroupsPanel(
            zero_cell=bool(np.any(split == 0)),
            z_test_two_proportions=two_by_two.z_test(split),
            fisher_exact=fisher,
            odds_ratio_conditional=conditional,
            risk_exposed=attributable and groups.group(groups.comparisons[0].value).share,
            risk_unexposed=attributable and groups.base.share,
            mcnemar=mcnemar,
            **({} if attributable is None else vars(attributable)),
        ),
        needed_check(groups),
    )


def exact_test(work: CrosstabWork) -> Found:
    found = work.whole.exact
    asked = work.question.options.crosstab.exact
    instead = asked == "enumerate" and found is not None and found.method != "enumeration"
    return Found(r.ExactPanel(exact=found, drawn_instead=instead))


def is_counted(work: CrosstabWork) -> bool:
    return not work.question.is_designed


def where(work: CrosstabWork) -> Found:
    labels = [row.label for row in work.whole.rows]
    pairs: tuple[r.PairOfAnswers, ...] = ()
    if not work.question.is_designed:
        pairs = _pairwise(work.pair.whole.counts, labels, work.question.options.crosstab.adjust)
    return Found(r.WherePanel(ranked=ranked(work.whole), pairwise=pairs))


def _pairwise(table: FloatArray, labels: Sequence[str], adjust: str) -> tuple[r.PairOfAnswers, ...]:
    """Every two groups by all answers, with all pairs allowed for; none beyond 20 groups."""
    if not 3 <= len(labels) <= MOST_PAIRED:
        return ()
    pairs, found = [], []
    for i, j in combinations(range(len(labels)), 2):
        kept = independence.drop_empty(table[[i, j]]).counts
        if min(kept.shape) < 2:
            continue
        pairs.append((labels[i], labels[j]))
        found.append(independence.pearson_test(kept))
    adjusted = BY_NAME[adjust](np.array([test.p for test in found]))
    return tuple(
        r.PairOfAnswers(one=one, other=other, chi_square=test, p_adjusted=float(p))
        for (one, other), test, p in zip(pairs, found, adjusted, strict=True)
    )


def has_map(work: CrosstabWork) -> bool:
    """A map needs two axes or more, and something to show."""
    shape = work.pair.whole.counts.shape
    return min(shape) >= 3 and max(shape) <= MOST_MAPPED and work.whole.cramers_v > 1e-6


def correspondence_map(work: CrosstabWork) -> Found:
    """Of the weighted table under a design."""
    found = correspondence.correspondence(work.pair.whole.weighed)
    percent = 100 * found.principal_inertias / found.total_inertia
    shown = float(percent[:2].sum()) / 100

    def points(
        heads: Sequence[r.CategoryHead], of: correspondence.Points
    ) -> tuple[r.AxisPoint, ...]:
        return tuple(
            r.AxisPoint(
                label=head.label,
                mass=float(of.masses[i]),
                coordinates=tuple(of.principal_coordinates[i].tolist()),
                inertia=float(of.inertias[i]),
                contributions=tuple(of.contributions[i].tolist()),
                squared_cosines=tuple(of.squared_cosines[i].tolist()),
                shown=(seen := float(of.squared_cosines[i][:2].sum())),
                is_poor=seen < POORLY_MAPPED,
            )
            for i, head in enumerate(heads)
        )

    return Found(
        r.MapPanel(
            total_inertia=found.total_inertia,
            singular_values=tuple(found.singular_values.tolist()),
            principal_inertias=tuple(found.principal_inertias.tolist()),
            percent=tuple(percent.tolist()),
            rows=points(work.whole.rows, found.rows),
            columns=points(work.whole.columns, found.columns),
            shown=shown,
            is_enough=shown >= MAPPED,
        )
    )
