"""Shapes of results that several lenses share."""

from typing import Annotated

from pydantic import WithJsonSchema

from hobrix.core.data import Frozen

Row = tuple[float, ...]
Grid = tuple[Row, ...]
Limits = tuple[float, float]
# JSON has no infinity: it is written as the word.
MaybeInfinite = Annotated[
    float, WithJsonSchema({"anyOf": [{"type": "number"}, {"const": "Infinity", "type": "string"}]})
]

SomeLimits = tuple[float, MaybeInfinite]


class ChiSquare(Frozen):
    statistic: float
    df: int
    p: float


class Unavailable(Frozen):
    """A quantity that does not exist for these data, and why."""

    quantity: str
    reason: str
