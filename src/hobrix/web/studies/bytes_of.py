"""How much memory the arrays of a piece of work hold."""

from dataclasses import is_dataclass

import numpy as np
from scipy import sparse

from hobrix.core.data import Frame, Frozen

# Elements of lists are counted, not followed, beyond so many.
_FOLLOWED = 1000
# Nothing below these is counted.
_WITHOUT = (str, int, float, type(None), bytes, type, Frame, Frozen)


def bytes_of(thing: object) -> int:
    """Bytes of the arrays reachable from a data class by its attributes and collections, each once.
    Frames, which others share, and models, which hold none, are left out."""
    return 1000 + _arrays(thing, set())


def _arrays(thing: object, seen: set[int]) -> int:
    if isinstance(thing, _WITHOUT) or id(thing) in seen:
        return 0
    seen.add(id(thing))
    if isinstance(thing, np.ndarray):
        return int(thing.nbytes)
    if isinstance(thing, dict):
        return sum(_arrays(part, seen) for part in thing.values())
    if isinstance(thing, list | tuple | set):
        if len(thing) > _FOLLOWED:
            return 64 * len(thing)
        return sum(_arrays(part, seen) for part in thing)
    if is_dataclass(thing):
        return sum(_arrays(part, seen) for part in vars(thing).values())
    return int(thing.data.nbytes) if sparse.issparse(thing) else 0  # type: ignore[attr-defined]
