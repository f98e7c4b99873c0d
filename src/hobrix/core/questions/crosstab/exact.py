"""The exact test of a table: where it is wanted or needed, and how it is had."""

import numpy as np

from hobrix.core.errors import QuestionError
from hobrix.core.questions.crosstab.options import CrosstabOptions
from hobrix.core.questions.crosstab.results import ExactTable
from hobrix.core.questions.groups import is_whole
from hobrix.core.questions.thresholds import EXPECTED, LEAST_EXPECTED, SPARSE_SHARE
from hobrix.core.tables import exact, independence
from hobrix.core.tables.counts import FloatArray

# Larger tables are drawn from, not gone through, unless that is asked for.
_ENUMERATED_N, _ENUMERATED_CELLS = 60, 20
# Unasked, a sparse table is drawn no more often than keeps the answer quick; asked, no more
# often than a second allows.
_DRAWN_CELLS, _MOST_DRAWN_CELLS = 2_000_000, 10_000_000


def is_sparse(expected: FloatArray) -> bool:
    """Too few expected for the chi-square test: more than a fifth below 5, or one below 1; of a 2x2
    table any below 5 (Cochran 1954)."""
    below = float(np.mean(expected < EXPECTED))
    return below > SPARSE_SHARE or float(expected.min()) < LEAST_EXPECTED


def exact_table(table: FloatArray, options: CrosstabOptions) -> ExactTable | None:
    """The exact test, where it is asked for or the table is sparse; None otherwise, and where
    counts are not whole."""
    if options.exact == "no" or not is_whole(table):
        return None
    if options.exact == "when_sparse" and not is_sparse(independence.expected_counts(table)):
        return None
    # A 2x2 table has so few tables with its margins that it is always gone through.
    is_small = table.size == 4 or (table.sum() <= _ENUMERATED_N and table.size <= _ENUMERATED_CELLS)
    if (
        table.size == 4
        or options.exact == "enumerate"
        or (options.exact == "when_sparse" and is_small)
    ):
        try:
            found = exact.fisher_freeman_halton(table)
        except exact.TooLarge:
            pass
        else:
            return ExactTable(
                method="enumeration",
                fisher_freeman_halton_p=found.p,
                fisher_freeman_halton_mid_p=found.mid_p,
            )
    draws = options.draws
    most = max(1000, _MOST_DRAWN_CELLS // table.size)
    if options.exact != "when_sparse" and draws > most:
        raise QuestionError(
            f"A table of {table.size:,} cells can be drawn up to {most:,} times in reasonable time.",
            slot="options.crosstab.draws",
        )
    if options.exact == "when_sparse":
        draws = min(draws, max(1000, _DRAWN_CELLS // table.size))
    drawn = exact.monte_carlo(table, draws, options.seed)
    return ExactTable(
        method="monte_carlo",
        fisher_freeman_halton_p=drawn.p,
        p_ci=drawn.p_ci,
        draws=drawn.draws,
        seed=drawn.seed,
    )
