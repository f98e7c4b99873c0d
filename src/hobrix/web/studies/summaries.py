"""A miniature of every variable: counts per category, or a small histogram."""

import datetime
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hobrix.core.data import (
    CategoricalColumn,
    Coded,
    Frame,
    Frozen,
    Source,
    Variable,
    missing_reasons,
)
from hobrix.core.data.column import as_number
from hobrix.core.data.dates import date_of

BINS = 20


class MissingCount(Frozen):
    """How many rows have a missing code; value "" stands for blank cells."""

    value: str
    label: str
    n: int


class CategorySummary(Frozen):
    """Rows per category in codebook order. For text, the number of different answers."""

    kind: Literal["categories"] = "categories"
    counts: tuple[int, ...]
    different: int
    missing: tuple[MissingCount, ...]
    n_missing: int


class NumberSummary(Frozen):
    """Rows per bin of equal width (or per whole number) from ``low`` to ``high``."""

    kind: Literal["numbers"] = "numbers"
    low: float | None
    high: float | None
    mean: float | None
    counts: tuple[int, ...]
    missing: tuple[MissingCount, ...]
    n_missing: int


class DateSummary(Frozen):
    """Rows per span of equal length from the first to the last day."""

    kind: Literal["dates"] = "dates"
    first: datetime.date | None
    last: datetime.date | None
    counts: tuple[int, ...]
    missing: tuple[MissingCount, ...]
    n_missing: int


Summary = Annotated[CategorySummary | NumberSummary | DateSummary, Field(discriminator="kind")]


def summary_of(
    frame: Frame, variable: Variable, source: Source
) -> CategorySummary | NumberSummary | DateSummary:
    """The miniature of one variable, each row of the data counted once."""
    column, n = frame.column(variable.name), frame.stands_for
    missing = tuple(
        MissingCount(value=reason.value, label=reason.label, n=int(reason.n))
        for reason in missing_reasons(variable, source, column, weights=n)
    )
    n_missing = frame.how_many(column.is_missing)
    there = ~column.is_missing
    n = None if n is None else n[there]
    if isinstance(column, CategoricalColumn):
        counts = _whole(np.bincount(column.codes[there], n, minlength=len(column.categories)))
        shown = counts.tolist() if variable.is_categorical else []
        return CategorySummary(
            counts=tuple(shown),
            different=int(np.count_nonzero(counts)),
            missing=missing,
            n_missing=n_missing,
        )
    values = column.values[there]
    if variable.kind == "date":
        return _of_dates(values, n, missing, n_missing)
    if not values.size:
        return NumberSummary(
            low=None, high=None, mean=None, counts=(), missing=missing, n_missing=n_missing
        )
    low, high = float(values.min()), float(values.max())
    counts = _histogram(values, n, low, high)
    return NumberSummary(
        low=low,
        high=high,
        mean=float(np.average(values, weights=n)),
        counts=tuple(counts.tolist()),
        missing=missing,
        n_missing=n_missing,
    )


def _of_dates(
    days: np.ndarray, n: np.ndarray | None, missing: tuple[MissingCount, ...], n_missing: int
) -> DateSummary:
    first, last = (float(days.min()), float(days.max())) if days.size else (0.0, 0.0)
    return DateSummary(
        first=date_of(first) if days.size else None,
        last=date_of(last) if days.size else None,
        counts=tuple(_histogram(days, n, first, last).tolist()) if days.size else (),
        missing=missing,
        n_missing=n_missing,
    )


def rows_with(source: Source, value: str) -> np.ndarray:
    """Which rows of a column hold a value as it stands in the file, shape (rows,)."""
    if isinstance(source, Coded):
        values, codes = source.values, source.codes
    else:
        number = as_number(value)
        if number is not None:
            return np.asarray(source.numbers == number)
        values, codes = source.word_values, source.words
    return codes == values.index(value) if value in values else np.zeros(len(codes), dtype=bool)


def _histogram(values: np.ndarray, n: np.ndarray | None, low: float, high: float) -> np.ndarray:
    """Bins of equal width; a bar per number where the numbers are few and whole."""
    if 0 < high - low < BINS and not np.any(values % 1):
        return _whole(np.bincount((values - low).astype(np.int64), n))
    span = (low, high if high > low else low + 1)
    return _whole(np.histogram(values, bins=BINS, range=span, weights=n)[0])


def _whole(counts: np.ndarray) -> np.ndarray:
    return np.rint(counts).astype(np.int64)
