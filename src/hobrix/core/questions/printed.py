"""Tables as papers print them, whose numbers have names: a sentence can hold any of them.

A number is written when it is made, in the style asked for (``number_style``); its key is stable as
long as the question and the values of its variables are.
"""

import math
from collections.abc import Callable, Sequence
from typing import Literal, TypeAlias

from hobrix.core.data import Frozen
from hobrix.core.questions.estimates import NamedTest, SomeLimits
from hobrix.core.questions.wording import (
    count,
    interval,
    number,
    p_in_print,
    percent,
    plain,
    points,
    ratio,
    reported_test,
)
from hobrix.core.tables.interval import MaybeInfinite

NONE = "–"


class Number(Frozen):
    """A number of an answer: ``text`` in a sentence, ``cell`` in a table; ``value`` or ``limits`` as they
    were computed (shares from 0 to 1)."""

    key: str
    label: str
    text: str
    cell: str
    value: MaybeInfinite | None = None
    limits: SomeLimits | None = None


Part: TypeAlias = str | Number
# What stands in a cell, one after the other.
Cell: TypeAlias = tuple[Part, ...]


class Column(Frozen):
    heading: str
    is_number: bool = True


class Row(Frozen):
    """A row of a table; ``is_head`` names those below it, which are ``indented``."""

    cells: tuple[Cell, ...]
    is_head: bool = False
    indented: bool = False

    @property
    def spans(self) -> bool:
        """Whether its first cell is all it says: it may run across the table."""
        return len(self.cells) > 1 and not any(text_of(cell) for cell in self.cells[1:])


class Table(Frozen):
    """A table of an answer. ``name`` tells it from the others of its answer; ``title`` is its usual
    caption; ``notes`` stand below it and say directions and tests."""

    name: str
    title: str
    columns: tuple[Column, ...]
    rows: tuple[Row, ...]
    notes: tuple[str, ...] = ()

    @property
    def numbers(self) -> list[Number]:
        """All that a sentence can hold, in the order of the table."""
        parts = (part for row in self.rows for cell in row.cells for part in cell)
        return [part for part in parts if isinstance(part, Number)]


class PaperPanel(Frozen):
    """A model as papers print it."""

    table: Table


def text_of(cell: Cell) -> str:
    """A cell as it is read."""
    return "".join(part if isinstance(part, str) else part.cell for part in cell)


def cases(key: str, label: str, n: float) -> Number:
    return Number(key=key, label=label, text=count(n), cell=count(n), value=n)


def share(key: str, label: str, value: float) -> Number:
    """With its sign in a sentence, without in a table, whose column says it."""
    return Number(key=key, label=label, text=percent(value), cell=points(value), value=value)


def difference(key: str, label: str, value: float) -> Number:
    """Of shares, in percentage points."""
    text = f"{points(value)} percentage points"
    return Number(key=key, label=label, text=text, cell=points(value), value=value)


def ratio_number(key: str, label: str, value: float) -> Number:
    return Number(key=key, label=label, text=ratio(value), cell=ratio(value), value=value)


def measurement(key: str, label: str, value: float) -> Number:
    return Number(key=key, label=label, text=number(value), cell=number(value), value=value)


def two_decimals(key: str, label: str, value: float) -> Number:
    """Of measures that have no unit: R², Cramér's V."""
    return Number(key=key, label=label, text=plain(value, 2), cell=plain(value, 2), value=value)


def probability(key: str, label: str, p: float) -> Number:
    """A p-value: "p = .042" in a sentence, ".042" in a table."""
    text = p_in_print(p)
    return Number(
        key=key, label=label, text=text, cell=text.removeprefix("p ").removeprefix("= "), value=p
    )


def limits(key: str, label: str, ci: SomeLimits, words: Callable[[float], str]) -> Number:
    """ "2.04 to 4.09"."""
    text = interval(ci, words) if math.isfinite(ci[1]) else f"{words(ci[0])} to ∞"
    return Number(key=key, label=label, text=text, cell=text, limits=ci)


def reported(key: str, label: str, test: NamedTest, n: float | None = None) -> Number:
    """A test as it is reported: "χ²(2) = 12.3, p = .002"."""
    text = reported_test(test, n)
    return Number(key=key, label=label, text=text, cell=text, value=test.p)


def with_limits(
    key: str,
    label: str,
    value: Number | None,
    ci: SomeLimits | None,
    words: Callable[[float], str],
) -> Cell:
    """ "3.00 (2.20 to 4.09)", two numbers of their own; what is not known is a dash."""
    if value is None:
        return (NONE,)
    if ci is None:
        return (value,)
    return (value, " (", limits(f"{key}/ci", f"{label}, interval", ci, words), ")")


def columns(first: str, *others: str) -> tuple[Column, ...]:
    """Words first, numbers in the others."""
    return (Column(heading=first, is_number=False), *(Column(heading=name) for name in others))


Align = Literal["left", "right"]


def plain_row(cells: Sequence[Cell | Part], *, indented: bool = False) -> Row:
    return Row(
        cells=tuple(cell if isinstance(cell, tuple) else (cell,) for cell in cells),
        indented=indented,
    )


def head_row(text: str, width: int, first: Cell = ()) -> Row:
    """Names those below it; ``first`` stands in the last column."""
    empty: list[Cell] = [() for _ in range(width - 2)]
    return Row(cells=((text,), *empty, first) if width > 1 else ((text,),), is_head=True)
