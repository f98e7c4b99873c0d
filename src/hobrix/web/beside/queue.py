"""Whose turn it is: pieces that wait, and the rule that nobody takes more than a share.

A piece starts among the short ones. One that is not done after ``SHORT`` seconds of computing is long: it
goes on if there is a place among the long ones, and otherwise waits for one and begins anew.
"""

import time
from collections import Counter
from collections.abc import Iterable

from hobrix.web.beside.pieces import Asker, Waiting

SHORT = 2.0
# Who has not asked again for so long waits no more (seconds).
PATIENCE = 6.0


class Line:
    """Pieces in the order in which they were asked for."""

    def __init__(self, short_places: int, long_places: int) -> None:
        self.long_places = long_places
        # One person leaves a short place to the others, where there are several.
        self.short_each = max(1, short_places - 1)
        # One person may hold half of the long places, rounded down, but one in any case.
        self.long_each = max(1, long_places // 2)
        self.pieces: dict[str, Waiting] = {}

    def next(self, running: Iterable[Waiting]) -> Waiting | None:
        """The piece to begin with, if there is one that may: of whoever has the fewest under way, what
        was asked for first."""
        running = list(running)
        under_way = {id(each) for each in running}
        homes = {each.piece.home for each in running}
        held = Counter(each.owner for each in running)
        short = Counter(each.owner for each in running if not each.is_long)
        may = [
            each
            for each in self.pieces.values()
            if each.ended is None
            and id(each) not in under_way
            and each.piece.home not in homes
            and (
                self.has_place(each, running)
                if each.is_long
                else short[each.owner] < self.short_each
            )
        ]
        return min(may, key=lambda each: (held[each.owner], each.made), default=None)

    def has_place(self, waiting: Waiting, running: Iterable[Waiting]) -> bool:
        """Whether one more long piece of this person may run."""
        long = [each for each in running if each.is_long and each is not waiting]
        of_the_same = sum(each.owner == waiting.owner for each in long)
        return len(long) < self.long_places and of_the_same < self.long_each

    def place(self, waiting: Waiting, running: Iterable[Waiting]) -> int | None:
        """How many are before it and it, where it waits; None where it is under way."""
        running = list(running)
        if any(each is waiting for each in running):
            return None
        before = [
            each
            for each in self.pieces.values()
            if each.ended is None
            and each.made < waiting.made
            and each.is_long == waiting.is_long
            and not any(each is one for one in running)
        ]
        return len(before) + 1

    def left(self, now: float | None = None) -> list[Waiting]:
        """Pieces nobody waits for any more; whoever has not asked for long is forgotten."""
        now = time.monotonic() if now is None else now
        for each in self.pieces.values():
            each.askers = {who: at for who, at in each.askers.items() if now - at < PATIENCE}
        return [each for each in self.pieces.values() if not each.askers]

    def of(self, asker: Asker) -> Waiting | None:
        """What somebody waits for."""
        return next((each for each in self.pieces.values() if asker in each.askers), None)
