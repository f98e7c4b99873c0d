"""What made-up columns of several benchmarks have in common."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data.column import Source


def as_texts(codes: NDArray[np.int8]) -> NDArray[Any]:
    """Codes as a general-purpose library has them, without an answer None; shape (n,)."""
    texts = codes.astype(str).astype(object)
    texts[codes < 0] = None
    return texts


def no_source(name: str) -> Source:
    """Nothing here asks why an answer is missing."""
    raise KeyError(name)
