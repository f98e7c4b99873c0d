"""One group against another, pooled over strata (Mantel & Haenszel 1959)."""

import numpy as np

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import Against, Groups
from hobrix.core.questions.pair import Pair
from hobrix.core.tables import stratified, two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest
from hobrix.core.tables.interval import MaybeInfinite
from hobrix.core.tables.stratified import PooledDifference, PooledRatio


class PooledPair(Frozen):
    """One group against the reference, pooled over the strata, with the crude ratio beside it."""

    value: str
    label: str
    informative_strata: int
    crude_odds_ratio: MaybeInfinite | None
    mantel_haenszel_odds_ratio: PooledRatio | None
    mantel_haenszel_risk_ratio: PooledRatio | None
    mantel_haenszel_risk_difference: PooledDifference | None
    cochran_mantel_haenszel: ChiSquareTest | None
    cochran_mantel_haenszel_continuity_corrected: ChiSquareTest | None
    breslow_day: ChiSquareTest | None
    breslow_day_tarone: ChiSquareTest | None
    woolf_homogeneity: ChiSquareTest | None
    difference_homogeneity: ChiSquareTest | None
    risk_ratio_homogeneity: ChiSquareTest | None


def pooled_pairs(pair: Pair, groups: Groups) -> tuple[PooledPair, ...]:
    """Every group against the reference, pooled over the strata; pooling has no design-based form
    here."""
    if pair.question.is_designed or sum(stratum.n > 0 for stratum in pair.strata) < 2:
        return ()
    rows, columns = pair.whole.kept
    stacked = np.stack([stratum.counts for stratum in pair.strata])
    tables = stacked[:, list(rows), :][:, :, list(columns)]
    is_event = pair.is_event
    split = np.stack(
        [tables[:, :, is_event].sum(axis=2), tables[:, :, ~is_event].sum(axis=2)], axis=2
    )
    values = [group.value for group in groups.groups]
    base = values.index(groups.reference)
    confidence = pair.question.confidence
    return tuple(
        _pair(split[:, [values.index(each.value), base]], each, groups, confidence)
        for each in groups.comparisons
    )


def _pair(tables: FloatArray, compared: Against, groups: Groups, confidence: float) -> PooledPair:
    odds = stratified.mantel_haenszel_odds_ratio(tables, confidence)
    has_shares = groups.shares_have_meaning
    conditional = stratified.cochran_mantel_haenszel(tables)
    same = None if odds is None else stratified.breslow_day(tables, odds.estimate)
    return PooledPair(
        value=compared.value,
        label=compared.label,
        informative_strata=len(stratified.informative(tables)),
        crude_odds_ratio=two_by_two.odds_ratio(tables.sum(axis=0), confidence).estimate,
        mantel_haenszel_odds_ratio=odds,
        mantel_haenszel_risk_ratio=stratified.mantel_haenszel_risk_ratio(tables, confidence)
        if has_shares
        else None,
        mantel_haenszel_risk_difference=stratified.mantel_haenszel_risk_difference(
            tables, confidence
        )
        if has_shares
        else None,
        cochran_mantel_haenszel=conditional and conditional.plain,
        cochran_mantel_haenszel_continuity_corrected=conditional
        and conditional.continuity_corrected,
        breslow_day=same and same.plain,
        breslow_day_tarone=same and same.tarone,
        woolf_homogeneity=stratified.woolf_homogeneity(tables),
        difference_homogeneity=stratified.difference_homogeneity(tables) if has_shares else None,
        risk_ratio_homogeneity=stratified.risk_ratio_homogeneity(tables) if has_shares else None,
    )
