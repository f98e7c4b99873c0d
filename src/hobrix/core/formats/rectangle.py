"""Whether delimited text is well-formed, told by its bytes alone, so that it can be read the fast way."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_PART = 8 * 1024 * 1024
# Bytes looked at together that stay in the processor's cache.
_IN_CACHE = 1024 * 1024


def lines_of_rectangle(raw: bytes, delimiter: str) -> int | None:
    """How many lines there are, if every one has as many delimiters outside quotes as the first and none is
    blank; otherwise None.

    Quotes must enclose whole cells: what else people do with them is left to csv.reader. Looks
    at a few megabytes at a time.
    """
    array = np.frombuffer(raw, dtype=np.uint8)
    per_row = raw[: raw.index(b"\n")].count(delimiter.encode())
    if (looked := _plainly(array, delimiter)) is not None:
        found, lines, is_blank = looked
        # As many delimiters as rows ask for: were one row short another would be long, which polars refuses.
        return None if is_blank or found != per_row * lines else lines
    expected, lines = -1, 0
    is_inside = False  # a quote is open where the part begins
    open_delimiters, last_end = 0, -1
    for start in range(0, len(array), _PART):
        part = array[start : start + _PART]
        is_end, is_delimiter = part == ord("\n"), part == ord(delimiter)
        before = array[start - 1 : start] if start else array[:0]
        if not _quotes_enclose_cells(part, before, delimiter, is_inside=is_inside):
            return None
        inside = np.bitwise_xor.accumulate((part == ord('"')).view(np.uint8)).view(np.bool_)
        inside = inside ^ is_inside
        is_end &= ~inside
        is_delimiter &= ~inside
        is_inside = bool(inside[-1])
        ends = np.flatnonzero(is_end)
        delimiters = np.flatnonzero(is_delimiter)
        if len(ends) == 0:
            open_delimiters += len(delimiters)
            continue
        if np.any(np.diff(ends + start, prepend=last_end) == 1):
            return None
        counts = np.diff(np.searchsorted(delimiters, ends), prepend=0)
        counts[0] += open_delimiters
        expected = int(counts[0]) if expected < 0 else expected
        if np.any(counts != expected):
            return None
        lines += len(ends)
        open_delimiters = len(delimiters) - int(np.searchsorted(delimiters, ends[-1]))
        last_end = int(ends[-1]) + start
    return None if is_inside or expected < 0 else lines


@dataclass(frozen=True)
class _Seen:
    """What there is of each in a stretch of a file."""

    delimiters: int
    lines: int
    blank_lines: int
    quotes: int
    empty_cells: int


def _plainly(array: NDArray[np.uint8], delimiter: str) -> tuple[int, int, bool] | None:
    """Delimiters, lines and whether a line is blank in a file whose quotes, if it has any, are empty cells ("")
    and nothing else; None for others."""
    starts = range(0, len(array), _IN_CACHE)
    with ThreadPoolExecutor() as pool:
        seen = list(pool.map(lambda start: _look(array, start, delimiter), starts))
    if sum(each.quotes for each in seen) != 2 * sum(each.empty_cells for each in seen):
        return None
    is_blank = any(each.blank_lines for each in seen)
    return sum(each.delimiters for each in seen), sum(each.lines for each in seen), is_blank


def _look(array: NDArray[np.uint8], start: int, delimiter: str) -> _Seen:
    """A blank line and an empty cell belong to the stretch in which they begin."""
    end, stop = np.uint8(ord("\n")), min(start + _IN_CACHE, len(array))
    # A byte more before and two behind: where there are none, as if lines ended there.
    part = array[max(start - 1, 0) : stop + 2]
    before, after = int(start == 0), max(0, stop + 2 - len(array))
    if before or after:
        part = np.concatenate([[end] * before, part, [end] * after]).astype(np.uint8)
    is_end, is_delimiter, is_quote = part == end, part == ord(delimiter), part == ord('"')
    quotes, empty_cells = int(np.count_nonzero(is_quote[1:-2])), 0
    if quotes:
        apart = is_end | is_delimiter
        empty = apart[:-3] & is_quote[1:-2] & is_quote[2:-1] & apart[3:]
        empty_cells = int(np.count_nonzero(empty))
    return _Seen(
        delimiters=int(np.count_nonzero(is_delimiter[1:-2])),
        lines=int(np.count_nonzero(is_end[1:-2])),
        blank_lines=int(np.count_nonzero(is_end[1:-2] & is_end[:-3])),
        quotes=quotes,
        empty_cells=empty_cells,
    )


def _quotes_enclose_cells(
    part: NDArray[np.uint8], before: NDArray[np.uint8], delimiter: str, *, is_inside: bool
) -> bool:
    """Whether every opening quote starts a cell (or follows the quote it doubles)."""
    openers = np.flatnonzero(part == ord('"'))[int(is_inside) :: 2]
    first = openers[:1] if len(openers) and openers[0] == 0 else openers[:0]
    preceding = part[openers[len(first) :] - 1]
    if len(first):
        preceding = np.concatenate([before, preceding])
    return bool(np.all(np.isin(preceding, [ord(delimiter), ord("\n"), ord('"')])))
