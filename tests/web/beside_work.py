"""Pieces of work for tests of the processes beside the server; importable there, too."""

import os
import time
from pathlib import Path

from hobrix.core.errors import QuestionError
from hobrix.core.progress import Tell


def doubled(number: int, tell: Tell) -> tuple[int, int]:
    """Also says in which process."""
    tell(0.5)
    return 2 * number, os.getpid()


def polite(seconds: float, mark: str, tell: Tell) -> str:
    """Tells how far it is, leaves a line in ``mark`` when it begins."""
    with Path(mark).open("a") as file:
        file.write(f"{os.getpid()}\n")
    began = time.monotonic()
    while (gone := time.monotonic() - began) < seconds:
        tell(gone / seconds)
        sum(range(50_000))
    return "done"


def stubborn(seconds: float, _tell: Tell) -> str:
    """Never tells."""
    time.sleep(seconds)
    return "done"


def refuses(_tell: Tell) -> None:
    raise QuestionError("Not so.", slot="outcome", remedies=(("other", 1),))


def wrong(_tell: Tell) -> None:
    raise ZeroDivisionError


def dies(_tell: Tell) -> None:
    os._exit(3)


def greedy(_tell: Tell) -> None:
    held = []
    while True:
        held.append(bytearray(10_000_000))
        time.sleep(0.005)
