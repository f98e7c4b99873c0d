"""The columns behind a survey design: the weight, stratum and cluster of every row."""

from dataclasses import dataclass

import numpy as np

from hobrix.core.data.column import CategoricalColumn, IntArray, as_text
from hobrix.core.data.design import SLOT, Design
from hobrix.core.data.frame import Frame
from hobrix.core.data.variable import Category
from hobrix.core.errors import QuestionError


def clusters_of(design: Design, frame: Frame) -> IntArray | None:
    """The cluster of every row as a code, shape (rows,), -1 for none; None without clusters.

    Raises:
        QuestionError: no such variable.
    """
    return None if design.clusters is None else _codes(design.clusters, frame)


@dataclass(frozen=True)
class Strata:
    """The stratum of every row as a code, shape (rows,), -1 for none; as which values strata stand
    in the data, and what they are called, by code."""

    codes: IntArray
    names: tuple[Category, ...]


def strata_of(design: Design, frame: Frame) -> Strata | None:
    """Strata, some of them taken together; None without strata.

    Raises:
        QuestionError: no such variable, or a value to be taken together that there is not, or twice.
    """
    if design.strata is None:
        return None
    codes, column = _codes(design.strata, frame), frame.column(design.strata)
    if isinstance(column, CategoricalColumn):
        names = column.categories
    else:
        distinct = np.unique(column.values[~column.is_missing]).tolist()
        texts = [as_text(number) for number in distinct]
        names = tuple(Category(value=text, label=text) for text in texts)
    if not design.together:
        return Strata(codes, names)
    place = {category.value: i for i, category in enumerate(names)}
    into, called = np.arange(len(names) + 1), [category.label for category in names]
    taken: set[str] = set()
    for group in design.together:
        for value in group:
            if value not in place or value in taken:
                what = (
                    "is named twice"
                    if value in taken
                    else f"is no answer to {frame.variables[design.strata].title}"
                )
                raise QuestionError(f"Strata taken together: “{value}” {what}.", slot=SLOT)
            taken.add(value)
            into[place[value]] = place[group[0]]
        called[place[group[0]]] = " with ".join(names[place[value]].label for value in group)
    # -1 stays -1: it is the last entry of the lookup.
    into[-1] = -1
    renamed = tuple(
        Category(value=c.value, label=text) for c, text in zip(names, called, strict=True)
    )
    return Strata(into[codes], renamed)


def _codes(name: str, frame: Frame) -> IntArray:
    """The answer of every row as a code, numbers in rising order, shape (rows,); -1 for none."""
    frame.variable(name, SLOT)
    column = frame.column(name)
    if isinstance(column, CategoricalColumn):
        return column.codes.astype(np.int64)
    values, codes = np.unique(column.values, return_inverse=True)
    return np.where(np.isnan(values)[codes], -1, codes)


def weights_of(design: Design, frame: Frame) -> np.ndarray:
    """The weights of all rows, NaN where there is none; raises QuestionError as ``look_at``."""
    if design.weights is None:
        return np.ones(frame.rows)
    weights = frame.numeric(design.weights, SLOT).values
    title = frame.variables[design.weights].title
    if np.any(weights < 0):
        row = int(np.argmax(weights < 0)) + 1
        raise QuestionError(f"{title} has a negative weight, in row {row}.", slot=SLOT)
    if not np.any(weights > 0):
        raise QuestionError(f"{title} has no weight above zero.", slot=SLOT)
    return weights
