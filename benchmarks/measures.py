"""All measures of association with standard errors for a 10 x 10 table of a million rows, and the
exact test of a sparse table beside the Monte Carlo test of a general-purpose library."""

import numpy as np
from scipy import stats

from benchmarks.timing import best_of, milliseconds
from hobrix.core.tables import association, exact
from hobrix.core.tables.counts import count_table
from hobrix.core.tables.independence import drop_empty

ROWS, SIZE = 1_000_000, 10
# A sparse 5 x 4 table of 60.
SPARSE = np.array(
    [[6, 2, 1, 1], [3, 5, 2, 3], [1, 4, 6, 2], [2, 1, 5, 5], [1, 2, 2, 6]], dtype=float
)
DRAWS = 20_000


def run(rows: int = ROWS, draws: int = DRAWS) -> None:
    random = np.random.default_rng(4)
    codes = [random.integers(-1, SIZE, rows).astype(np.int8) for _ in range(2)]

    def measures() -> None:
        table = drop_empty(count_table(codes, [SIZE, SIZE])[1:, 1:]).counts
        association.ordinal_measures(table)
        association.lambda_measures(table)
        association.tau_and_uncertainty(table)

    def library() -> float:
        method = stats.MonteCarloMethod(n_resamples=draws, rng=np.random.default_rng(1))
        return float(stats.fisher_exact(SPARSE.astype(int), method=method).pvalue)

    taken = best_of({"measures": measures})["measures"]
    print(
        f"\nAll measures with errors, {SIZE} x {SIZE}, {rows:,} rows{milliseconds(taken)} (aim: 50)"
    )
    times = best_of(
        {
            "exact": lambda: exact.fisher_freeman_halton(SPARSE),
            "drawn": lambda: exact.monte_carlo(SPARSE, draws, 1),
            "library": library,
        },
        rounds=3,
    )
    found, drawn = exact.fisher_freeman_halton(SPARSE), exact.monte_carlo(SPARSE, draws, 1)
    assert abs(library() - found.p) < 0.02
    print(f"Exact test of a 5 x 4 table, n = {SPARSE.sum():.0f}")
    print(f"  Hobrix, all tables gone through   {milliseconds(times['exact'])}   p = {found.p:.6f}")
    print(
        f"  Hobrix, {draws:,} tables drawn      {milliseconds(times['drawn'])}   p = {drawn.p:.4f}"
    )
    print(
        f"  scipy.stats.fisher_exact, as many {milliseconds(times['library'])}   p = {library():.4f}"
    )
    print(f"  {times['library'] / times['drawn']:.1f} times as fast drawing as many")
