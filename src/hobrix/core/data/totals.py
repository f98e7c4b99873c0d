"""A row of totals under the rows it sums up, which would count as one row more."""

from collections.abc import Mapping

import numpy as np

from hobrix.core.data.column import Coded, FloatArray, Source, as_number

_WORDS = {"total", "totals", "sum", "all", "overall", "grand total", "together", "in all"}


def total_row(columns: Mapping[str, Source], rows: int) -> str | None:
    """A remark where the last row looks like the total of those above, otherwise None: it is called
    so, or all its numbers, two at least, are sums; and none of its numbers is anything else."""
    if rows < 3:
        return None
    called = [word for source in columns.values() if (word := _called(source))]
    numbers = [found for source in columns.values() if (found := _numbers(source)) is not None]
    sums = [bool(np.isclose(n[-1], np.nansum(n[:-1]), rtol=1e-9)) for n in numbers]
    if not all(sums) or not (called or len(sums) >= 2):
        return None
    name = f" (“{called[0]}”)" if called else ""
    return (
        f"The last row, row {rows:,}, looks like a total of those above{name}. It would count as one "
        "row more: take it out of the file and bring that again."
    )


def _called(source: Source) -> str | None:
    """The word for a total in the last row, where no other row has it."""
    if not isinstance(source, Coded) or source.codes[-1] < 0:
        return None
    word = source.values[source.codes[-1]]
    is_only = np.count_nonzero(source.codes == source.codes[-1]) == 1
    return word if is_only and word.casefold().strip(" :.") in _WORDS else None


def _numbers(source: Source) -> FloatArray | None:
    """The numbers of a column that has one in the last row and in most others."""
    if isinstance(source, Coded):
        values = np.array([as_number(value) for value in source.values] + [None], dtype=float)
        numbers: FloatArray = values[source.codes]
    else:
        numbers = source.numbers
    known = ~np.isnan(numbers)
    return numbers if known[-1] and known.sum() > len(numbers) / 2 else None
