"""Tables of counts: the one place where rows become counts."""

from collections.abc import Sequence
from math import prod
from typing import Any

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
# Rows that are counted together.
_IN_CACHE = 65_536
Codes = NDArray[np.signedinteger]
# Up to how many cells a type tells apart.
_HOLDS = {kind: np.iinfo(kind).max for kind in (np.int8, np.int16, np.int32, np.int64)}


def count_table(
    codes: Sequence[Codes],
    sizes: Sequence[int],
    *,
    weights: FloatArray | None = None,
    where: NDArray[np.bool_] | None = None,
) -> FloatArray:
    """Count rows by k codes at once, in one pass.

    Missing answers are kept: index 0 of every axis counts the code -1, index i + 1 the code i,
    so one pass gives the table together with all that is set aside from it.

    Args:
        codes: k arrays of shape (rows,) with values -1..size-1.
        sizes: the k numbers of categories.
        weights: shape (rows,), how many cases each row stands for; None counts each row once.
        where: shape (rows,), the rows to count; None counts all.

    Returns:
        Counts of shape (sizes[0] + 1, ..., sizes[k-1] + 1).
    """
    shape = tuple(size + 1 for size in sizes)
    cells = prod(shape)
    if where is not None:
        codes = [code[where] for code in codes]
        weights = None if weights is None else weights[where]
    counts = np.zeros(cells)
    # Codes are small integers: in the narrowest type, a stretch at a time stays in the processor's cache.
    stretch = _IN_CACHE if cells <= _IN_CACHE // 4 else max(1, len(codes[0]))
    for start in range(0, len(codes[0]), stretch):
        part = slice(start, start + stretch)
        flat = combination_of([code[part] for code in codes], shape)
        own = None if weights is None else weights[part]
        counts += np.bincount(flat, weights=own, minlength=cells)
    return counts.reshape(shape)


def combination_of(codes: Sequence[Codes], shape: Sequence[int]) -> NDArray[np.signedinteger]:
    """The place of each row in a table as ``count_table`` gives it, in the narrowest type: rows pass through it
    fastest."""
    cells = prod(shape)
    narrow = next(kind for kind, most in _HOLDS.items() if cells <= most)
    place: NDArray[Any] = codes[0].astype(narrow)
    place += 1
    for code, size in zip(codes[1:], shape[1:], strict=True):
        place *= size
        place += code
        place += 1
    return place
