"""What is asked of a table that stays where it is, and within which bounds; how is for ``expression`` and the
engines, which only those load who ask one."""

from dataclasses import dataclass
from pathlib import Path
from typing import Literal

# What a column holds, as far as counting goes: numbers, words, or what is written as words.
Holds = Literal["number", "text", "other"]
# Names of columns of what is counted: rows of each combination, their weights and squared weights added up.
ROWS = "rows_alike"
SUM, SQUARES = "weights_together", "squares_together"


@dataclass(frozen=True)
class Field:
    """A column of a linked table: its name there and what it holds."""

    name: str
    holds: Holds


@dataclass(frozen=True)
class Bands:
    """A number counted in bands, each from one cut to below the next: shape of ``labels`` is one more than
    that of ``cuts``. ``missing`` are numbers that are no answers."""

    of: str
    cuts: tuple[float, ...]
    labels: tuple[str, ...]
    missing: tuple[float, ...] = ()


@dataclass(frozen=True)
class Nearest:
    """A number taken to the nearest multiple of a step, halves up; ``missing`` are no answers."""

    of: str
    step: float
    missing: tuple[float, ...] = ()


@dataclass(frozen=True)
class Bounds:
    """What a query may take: ``memory`` and ``spill`` (room on the disk) in bytes, ``seconds``, and where
    it puts down what does not fit into memory."""

    memory: int = 2_000_000_000
    spill: int = 20_000_000_000
    seconds: float = 600.0
    folder: Path | None = None
    threads: int = 2


@dataclass(frozen=True)
class Column:
    """A column as the engine tells it; ``holds`` is None for bytes, lists and records."""

    name: str
    type: str
    holds: Holds | None
