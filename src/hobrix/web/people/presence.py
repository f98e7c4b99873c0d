"""Who is in a study right now, and what they are at. Kept in memory only, and soon forgotten."""

import threading
import time
from dataclasses import dataclass
from uuid import UUID

# Who has not been heard of for so long is not here any more (seconds).
GONE = 8.0


@dataclass(frozen=True)
class Here:
    """Somebody in a study: the screen that is open, and what is being changed there ("" for nothing)."""

    who: str
    screen: str
    editing: str
    at: float


_lock = threading.Lock()
_here: dict[UUID, dict[tuple[str, str], Here]] = {}


def heard(study: UUID, who: str, window: str, screen: str, editing: str) -> None:
    """Somebody is there, in a window of a browser."""
    with _lock:
        _here.setdefault(study, {})[who, window] = Here(who, screen, editing, time.monotonic())


def others(study: UUID, who: str) -> list[Here]:
    """Who else is there; of several windows of one person what was heard of last."""
    now = time.monotonic()
    with _lock:
        there = {key: each for key, each in _here.get(study, {}).items() if now - each.at < GONE}
        _here[study] = there
        if not there:
            del _here[study]
        latest = {each.who: each for each in sorted(there.values(), key=lambda each: each.at)}
    return [each for name, each in sorted(latest.items()) if name != who]
