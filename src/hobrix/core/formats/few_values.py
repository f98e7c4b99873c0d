"""Columns of few values in a large text. What they hold is told by parts of it, so that they are read as codes at
once: millions of texts need not be made, nor looked up again."""

from collections.abc import Callable

import polars as pl

from hobrix.core.formats.table import MANY_VALUES

# Text of fewer bytes is read in no time. Of larger ones so many rows are read first, and so many bytes at some
# places after them.
_LARGE, _ROWS, _GLIMPSE = 8_000_000, 20_000, 200_000
_PLACES = (0.25, 0.5, 0.75, 1.0)


def few_values(raw: bytes, read: Callable[[bytes, int | None], pl.DataFrame]) -> dict[str, pl.Enum]:
    """The values of columns by name, in order of first appearance, where there are few in the first rows and no
    others in what is seen of the rest. Whoever reads a column as these is told by an error of one that was not seen.

    ``read`` makes texts of the lines after the first, of so many or of all.
    """
    if len(raw) < _LARGE:
        return {}
    first = read(raw, _ROWS)
    distinct = {each.name: each.drop_nulls().unique(maintain_order=True) for each in first}
    few = {name: values for name, values in distinct.items() if len(values) <= MANY_VALUES}
    for place in _PLACES:
        for seen in _glimpse(raw, int(place * len(raw)), read):
            if seen.name in few and not seen.drop_nulls().is_in(few[seen.name].implode()).all():
                del few[seen.name]
    return {name: pl.Enum(values) for name, values in few.items()}


def _glimpse(
    raw: bytes, before: int, read: Callable[[bytes, int | None], pl.DataFrame]
) -> list[pl.Series]:
    """Columns of the lines there; nothing where they cannot be read by themselves, as within a quoted text."""
    start = raw.find(b"\n", max(0, before - _GLIMPSE))
    end = raw.rfind(b"\n", start, before) + 1
    try:
        return read(raw[start:end], None).get_columns() if end - start > 1 else []
    except pl.exceptions.PolarsError:
        return []
