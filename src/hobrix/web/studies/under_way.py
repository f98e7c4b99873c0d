"""Long answers while they are worked out: how far they are, and stopping them.

Kept in memory: the process that works an answer out is the one that is asked about it.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from hobrix.core.progress import Stopped, Tell


@dataclass
class _Work:
    done: float = 0.0
    is_stopped: bool = False


_works: dict[tuple[int, str], _Work] = {}


@contextmanager
def under_way(user: int, token: str) -> Iterator[Tell]:
    """While work of this user goes on under a name of the browser's choice: gives what the work
    tells how far it is to, which raises Stopped once it should end."""
    work = _works[(user, token)] = _Work()

    def tell(done: float) -> None:
        work.done = done
        if work.is_stopped:
            raise Stopped

    try:
        yield tell
    finally:
        _works.pop((user, token), None)


def progress(user: int, token: str) -> float | None:
    """From 0 to 1; None where nothing of that name is under way."""
    work = _works.get((user, token))
    return None if work is None else work.done


def stop(user: int, token: str) -> None:
    """End the work where it is under way."""
    if (work := _works.get((user, token))) is not None:
        work.is_stopped = True
