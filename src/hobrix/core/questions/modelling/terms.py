"""The terms of a sentence as columns of a design matrix, for any values of their variables.

Values of a categorical variable are its codes, those of a numeric one its numbers.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.logistic.patterns import FloatArray, blocks, in_stretches
from hobrix.core.logistic.splines import spline_columns, spline_slopes

Role = Literal["vary_with", "allowing_for"]
Values = Mapping[str, FloatArray]


@dataclass(frozen=True)
class Part:
    """One variable as it enters: a column per category but the reference, or a number by its unit,
    bent or straight.

    ``base`` is the code of the reference, or the median. ``knots`` are in units of ``per``.
    """

    variable: Variable
    base: float
    reference: str | None = None
    levels: tuple[str, ...] = ()
    codes: tuple[int, ...] = ()
    per: float = 1.0
    bend: Literal["quadratic", "spline"] | None = None
    knots: tuple[float, ...] = ()
    # The 10th, 25th, 75th and 90th percentile of a number.
    at: tuple[float, ...] = ()

    @property
    def name(self) -> str:
        return self.variable.name

    @property
    def is_numeric(self) -> bool:
        return self.reference is None

    @property
    def column_levels(self) -> tuple[str | None, ...]:
        """What each column stands for; bending adds columns named by their piece."""
        if not self.is_numeric:
            return self.levels
        if self.bend == "quadratic":
            return (None, "squared")
        if self.bend == "spline":
            return (None, *(f"piece {i}" for i in range(1, len(self.knots) - 1)))
        return (None,)

    def columns(self, values: FloatArray) -> FloatArray:
        """Shape (m, columns)."""
        if not self.is_numeric:
            matched: FloatArray = (values[:, None] == np.array(self.codes)).astype(np.float64)
            return matched
        x = values / self.per
        if self.bend == "quadratic":
            return np.column_stack([x, x**2])
        return spline_columns(x, self.knots) if self.bend == "spline" else x[:, None]

    def slopes(self, values: FloatArray) -> FloatArray:
        """Derivatives of the columns of a number in units of ``per``, shape (m, columns)."""
        x = values / self.per
        if self.bend == "quadratic":
            return np.column_stack([np.ones_like(x), 2 * x])
        return spline_slopes(x, self.knots) if self.bend == "spline" else np.ones((len(x), 1))

    def label_of(self, code: float) -> str:
        return self.variable.label_of(self.variable.categories[int(code)].value)


@dataclass(frozen=True)
class ModelTerm:
    """One variable, or the interaction of two: products of the columns of both."""

    role: Role
    parts: tuple[Part, ...]

    @property
    def name(self) -> str:
        return "*".join(part.name for part in self.parts)

    @property
    def title(self) -> str:
        return " with ".join(part.variable.title for part in self.parts)

    @property
    def is_interaction(self) -> bool:
        return len(self.parts) == 2

    @property
    def column_levels(self) -> tuple[str | None, ...]:
        """As in ``Part``; "l1:l2" for an interaction."""
        if not self.is_interaction:
            return self.parts[0].column_levels
        first, second = (part.column_levels for part in self.parts)
        return tuple(
            ":".join(level for level in (one, other) if level is not None) or None
            for one in first
            for other in second
        )

    def columns(self, values: Values) -> FloatArray:
        return _product([part.columns(values[part.name]) for part in self.parts])

    def slopes(self, values: Values, name: str) -> FloatArray:
        """Derivatives in one numeric variable, zeros where the term does not hold it."""
        if name not in [part.name for part in self.parts]:
            return np.zeros((len(next(iter(values.values()))), len(self.column_levels)))
        return _product(
            [
                (part.slopes if part.name == name else part.columns)(values[part.name])
                for part in self.parts
            ]
        )


def _product(sides: list[FloatArray]) -> FloatArray:
    if len(sides) == 1:
        return sides[0]
    first, second = sides
    return (first[:, :, None] * second[:, None, :]).reshape(len(first), -1)


def design_of(terms: Sequence[ModelTerm], values: Values) -> FloatArray:
    """The intercept and every term, shape (m, k); values of shape (m,) by variable."""
    rows = len(next(iter(values.values())))
    design = np.empty((rows, 1 + sum(len(term.column_levels) for term in terms)), order="F")
    design[:, 0] = 1.0
    places = places_of(terms)

    def fill(stretch: slice) -> None:
        for part in blocks(stretch):
            here = {name: column[part] for name, column in values.items()}
            for term, at in zip(terms, places, strict=True):
                design[part, at[0] : at[-1] + 1] = term.columns(here)

    in_stretches(fill, rows)
    return design


def slopes_of(terms: Sequence[ModelTerm], values: Values, name: str) -> FloatArray:
    """The derivative of the design in one numeric variable, in units of its ``per``."""
    parts = [np.zeros((len(values[name]), 1)), *(term.slopes(values, name) for term in terms)]
    return np.column_stack(parts)


def places_of(terms: Sequence[ModelTerm]) -> list[list[int]]:
    """The columns of each term in the design, the intercept being column 0."""
    places, at = [], 1
    for term in terms:
        width = len(term.column_levels)
        places.append(list(range(at, at + width)))
        at += width
    return places


def parts_of(terms: Sequence[ModelTerm]) -> dict[str, Part]:
    """Every variable of the model by name, in the order of the terms."""
    return {part.name: part for term in terms for part in term.parts}


def base_values(terms: Sequence[ModelTerm]) -> dict[str, FloatArray]:
    """Everybody at the references, and at the medians of numbers: one row."""
    return {name: np.array([part.base]) for name, part in parts_of(terms).items()}
