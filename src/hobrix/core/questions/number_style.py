"""How numbers are written: as usual, or as a report for print asks."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen

# A narrow space that no line breaks at, between thousands where the comma marks decimals.
THIN = "\u202f"


class NumberStyle(Frozen):
    """``leading_zero`` concerns what cannot exceed 1 (p, Cramér's V); ``p_digits`` None means two or
    three, as many as the value needs. ``percent_digits`` are the least: what would look like 0 or 100
    is given more."""

    decimal_comma: bool = False
    leading_zero: bool = False
    p_digits: Literal[2, 3] | None = None
    percent_digits: Annotated[int, Field(ge=0, le=3)] = 1


_asked: ContextVar[NumberStyle | None] = ContextVar("number_style", default=None)


def style_asked() -> NumberStyle | None:
    """What was asked for where this is run; None: as the screen writes."""
    return _asked.get()


@contextmanager
def written_in(style: NumberStyle) -> Iterator[None]:
    """All that is put into words within is written in this style."""
    token = _asked.set(style)
    try:
        yield
    finally:
        _asked.reset(token)


def marked(text: str) -> str:
    """A number with a decimal point and commas between thousands, with the marks asked for."""
    style = _asked.get()
    if style is None or not style.decimal_comma:
        return text
    return text.replace(",", THIN).replace(".", ",")


def apart() -> str:
    """What stands between two numbers: a comma would be taken for a decimal one."""
    style = _asked.get()
    return "; " if style is not None and style.decimal_comma else ", "


def below_one(text: str, usual: bool) -> str:
    """With or without the zero before the point, as asked or else as is ``usual``."""
    style = _asked.get()
    keeps = usual if style is None else style.leading_zero
    return text if keeps else text.replace("0.", ".", 1).replace("0,", ",", 1)
