"""The association within each stratum, pooled over the strata, and whether it is the same in all."""

import numpy as np

from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.tables import stratified, two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest


def pooled(
    tables: FloatArray, whole: r.CrosstabTable, kept: tuple[list[int], list[int]], confidence: float
) -> r.Pooled:
    """Pooled results for tables of shape (K, R, C) in codebook order; ``kept`` are the rows and
    columns of the whole table."""
    used = tables[:, kept[0], :][:, :, kept[1]]
    generalized = stratified.generalized_cochran_mantel_haenszel(used)
    return r.Pooled(
        pairs=()
        if whole.event_by_group is None
        else pooled_pairs(
            used,
            whole.event_by_group,
            [row.value for row in whole.rows],
            [column.value for column in whole.columns],
            confidence,
        ),
        generalized_cochran_mantel_haenszel=r.GeneralizedTests(
            general_association=_test(generalized.general_association),
            row_mean_scores=_test(generalized.row_mean_scores),
            correlation=_test(generalized.correlation),
        ),
        three_way_interaction=_test(stratified.three_way_interaction(used)),
    )


def pooled_pairs(
    tables: FloatArray,
    by_group: r.EventByGroup,
    values: list[str],
    answers: list[str],
    confidence: float,
) -> tuple[r.PooledPair, ...]:
    """Every group against the reference, pooled over tables of shape (K, R, C) whose rows and
    columns are ``values`` and ``answers``."""
    is_event = np.array([answer in by_group.event for answer in answers])
    split = np.stack(
        [tables[:, :, is_event].sum(axis=2), tables[:, :, ~is_event].sum(axis=2)], axis=2
    )
    base = values.index(by_group.reference)
    return tuple(
        _pair(split[:, [values.index(c.value), base]], c, by_group, confidence)
        for c in by_group.comparisons
    )


def _pair(
    tables: FloatArray, compared: r.Comparison, by_group: r.EventByGroup, confidence: float
) -> r.PooledPair:
    odds = stratified.mantel_haenszel_odds_ratio(tables, confidence)
    has_shares = by_group.shares_have_meaning
    risk = stratified.mantel_haenszel_risk_ratio(tables, confidence) if has_shares else None
    difference = (
        stratified.mantel_haenszel_risk_difference(tables, confidence) if has_shares else None
    )
    conditional = stratified.cochran_mantel_haenszel(tables)
    homogeneity = None if odds is None else stratified.breslow_day(tables, odds.estimate)
    return r.PooledPair(
        value=compared.value,
        label=compared.label,
        informative_strata=len(stratified.informative(tables)),
        crude_odds_ratio=two_by_two.odds_ratio(tables.sum(axis=0), confidence).estimate,
        mantel_haenszel_odds_ratio=_ratio(odds),
        mantel_haenszel_risk_ratio=_ratio(risk),
        mantel_haenszel_risk_difference=None
        if difference is None
        else r.PooledDifference(
            estimate=difference.estimate,
            sato=r.DifferenceWithError(
                standard_error=difference.sato_error,
                ci=(difference.sato.low, difference.sato.high),
            ),
            greenland_robins=r.DifferenceWithError(
                standard_error=difference.greenland_robins_error,
                ci=(difference.greenland_robins.low, difference.greenland_robins.high),
            ),
        ),
        cochran_mantel_haenszel=_test(None if conditional is None else conditional.plain),
        cochran_mantel_haenszel_continuity_corrected=_test(
            None if conditional is None else conditional.continuity_corrected
        ),
        breslow_day=_test(None if homogeneity is None else homogeneity.plain),
        breslow_day_tarone=_test(None if homogeneity is None else homogeneity.tarone),
        woolf_homogeneity=_test(stratified.woolf_homogeneity(tables)),
    )


def _ratio(found: stratified.PooledRatio | None) -> r.PooledRatio | None:
    if found is None:
        return None
    return r.PooledRatio(
        estimate=found.estimate,
        log_standard_error=found.log_standard_error,
        ci=(found.interval.low, found.interval.high),
    )


def _test(found: ChiSquareTest | None) -> ChiSquare | None:
    return None if found is None else ChiSquare(**vars(found))
