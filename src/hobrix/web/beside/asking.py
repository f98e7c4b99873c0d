"""Asking for work beside, from the threads that serve."""

import threading
from dataclasses import dataclass
from typing import Any
from uuid import uuid4

from django.conf import settings

from hobrix.core.progress import Stopped
from hobrix.web.beside.pieces import Asker, Piece
from hobrix.web.beside.pool import Pool

# How long a request waits for its answer before it says that this takes longer, and how long one of a
# client that does not ask again (seconds).
PATIENCE = 1.5
PATIENCE_OF_SCRIPTS = 600.0


@dataclass(frozen=True)
class UnderWay:
    """Work that goes on: from 0 to 1, where it tells, and its place where it waits for its turn."""

    done: float | None = None
    place: int | None = None


_making = threading.Lock()
_pool: list[Pool] = []
_here: dict[Asker, list[float | None]] = {}


def pool() -> Pool:
    """The processes beside this server, started when they are first needed."""
    with _making:
        if not _pool:
            places = settings.SHORT_PLACES, settings.LONG_PLACES
            _pool.append(Pool(*places, settings.ANSWER_MEMORY))
        return _pool[0]


def get_ready() -> None:
    """Start what answers are worked out in, before anybody asks."""
    if settings.BESIDE:
        pool()


def run(asker: Asker, piece: Piece) -> Any:
    """What the piece gives, or UnderWay where it takes longer: ask again then, under the same name.
    Who has no name waits until it is there.

    Raises:
        HobrixError: what the work raised.
        Stopped: somebody stopped it.
    """
    if not settings.BESIDE:
        return _run_here(asker, piece)
    if not asker.token:
        asker = Asker(asker.user, f"script {uuid4()}")
        waiting = pool().ask(asker, piece, PATIENCE_OF_SCRIPTS)
    else:
        waiting = pool().ask(asker, piece, PATIENCE)
    if waiting.error is not None:
        raise waiting.error
    if waiting.ended is None:
        done, place = pool().look(asker) or (None, None)
        return UnderWay(done, place)
    return waiting.result


def look(asker: Asker) -> UnderWay | None:
    """How far work is; None where nothing of that name is under way."""
    if not settings.BESIDE:
        return UnderWay(_here[asker][0]) if asker in _here else None
    found = pool().look(asker)
    return None if found is None else UnderWay(*found)


@dataclass(frozen=True)
class Numbers:
    """Pieces of work that wait and that are under way, and the processes with the bytes they hold."""

    waiting: int = 0
    running: int = 0
    processes: int = 0
    memory: int = 0


def numbers() -> Numbers:
    """How busy it is beside."""
    return Numbers(*_pool[0].numbers()) if _pool else Numbers()


def stop(asker: Asker) -> None:
    """End the work where it is under way and nobody else waits for it."""
    if settings.BESIDE:
        pool().stop(asker)
    elif asker in _here:
        _here[asker].append(None)


def _run_here(asker: Asker, piece: Piece) -> Any:
    """In the thread that serves (in tests, and where the development server reloads itself)."""
    state = _here[asker] = [0.0]

    def tell(share: float) -> None:
        state[0] = share
        if len(state) > 1:
            raise Stopped

    try:
        return piece.function(*piece.arguments, tell)
    finally:
        _here.pop(asker, None)
