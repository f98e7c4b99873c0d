"""The association within each stratum, pooled over the strata, and whether it is the same in all."""

import numpy as np

from hobrix.core.questions.crosstab.results import Pooled
from hobrix.core.questions.estimates import Groups
from hobrix.core.questions.pair import Pair
from hobrix.core.questions.pooled import pooled_pairs
from hobrix.core.tables import stratified


def pooled(pair: Pair, groups: Groups | None) -> Pooled | None:
    """Over the strata that hold somebody, two at least; pooling has no design-based form here."""
    held = [stratum for stratum in pair.strata if stratum.n]
    if len(held) < 2 or pair.question.is_designed:
        return None
    rows, columns = pair.whole.kept
    used = np.stack([s.counts for s in pair.strata])[:, list(rows), :][:, :, list(columns)]
    return Pooled(
        pairs=() if groups is None else pooled_pairs(pair, groups),
        generalized_cochran_mantel_haenszel=stratified.generalized_cochran_mantel_haenszel(used),
        three_way_interaction=stratified.three_way_interaction(used),
    )
