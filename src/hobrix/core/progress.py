"""How far long work is, and ending it."""

from collections.abc import Callable
from dataclasses import dataclass

# Told how much of the work is done, from 0 to 1; raises Stopped to end it.
Tell = Callable[[float], None]


class Stopped(Exception):
    """Somebody asked for the work to end."""


def quietly(_done: float) -> None:
    """Tells nobody."""


@dataclass
class Stages:
    """Several parts one after the other, of which each tells its own part of the whole."""

    tell: Tell
    total: int
    done: int = 0

    def part(self, share: float) -> None:
        """How much of the part under way is done, from 0 to 1."""
        self.tell(min(1.0, (self.done + share) / self.total))

    def restart(self, total: int = 1) -> None:
        """Begin other work of so many parts."""
        self.total, self.done = total, 0

    def next(self) -> None:
        """The part under way is finished."""
        self.done += 1
