"""A piece of work that somebody waits for."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, NamedTuple


class Asker(NamedTuple):
    """Who waits, under a name of the browser's choice."""

    user: int
    token: str


@dataclass(frozen=True)
class Piece:
    """``function(*arguments, tell)``, importable by its name. Pieces of the same ``key`` are the same;
    those of the same ``home`` use what one another left in the memory of a process."""

    key: str
    home: str
    function: Callable[..., Any]
    arguments: tuple[Any, ...]


@dataclass
class Waiting:
    """A piece, those who wait for it (with when each last asked), and how far it is."""

    piece: Piece
    owner: int
    askers: dict[Asker, float] = field(default_factory=dict)
    made: float = field(default_factory=time.monotonic)
    done: float | None = None
    # Known to take long: it needs a place among the long ones.
    is_long: bool = False
    result: Any = None
    error: BaseException | None = None
    ended: float | None = None
