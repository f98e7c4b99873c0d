"""Timing that can be compared: the best of several runs, alternating between the rivals."""

import time
from collections.abc import Callable
from typing import Any


def best_of(rivals: dict[str, Callable[[], Any]], rounds: int = 7) -> dict[str, float]:
    """Seconds of the fastest round of each rival; rounds alternate, so that noise hits all."""
    best = dict.fromkeys(rivals, float("inf"))
    for _ in range(rounds):
        for name, work in rivals.items():
            start = time.perf_counter()
            work()
            best[name] = min(best[name], time.perf_counter() - start)
    return best


def milliseconds(seconds: float) -> str:
    return f"{1000 * seconds:8.1f} ms"
