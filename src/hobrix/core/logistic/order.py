"""Values by their place among people."""

import math
from collections.abc import Sequence

import numpy as np

from hobrix.core.logistic.patterns import FloatArray


def values_at_shares(
    values: FloatArray, people: FloatArray | None, shares: Sequence[float]
) -> FloatArray:
    """The lowest value that each share of the people does not exceed, shape (len(shares),).

    ``values`` and ``people``, shape (n,); None: one for each value.
    """
    n = len(values)
    if people is None or bool(np.all(people == 1)):
        # No need to sort where places are known.
        places = [min(n - 1, _place(share, n)) for share in shares]
        return np.partition(values, sorted(set(places)))[places]
    order = np.argsort(values, kind="stable")
    reached = np.cumsum(people[order]) / people.sum()
    return values[order][np.minimum(np.searchsorted(reached, shares), n - 1)]


def _place(share: float, n: int) -> int:
    """The first i with (i + 1) / n >= share, as counted in doubles."""
    place = max(0, math.ceil(share * n) - 1)
    while place > 0 and place / n >= share:
        place -= 1
    while (place + 1) / n < share:
        place += 1
    return place
