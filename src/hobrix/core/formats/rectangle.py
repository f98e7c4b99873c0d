"""Whether delimited text is well-formed, told by its bytes alone, so that it can be read the fast way."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
from numpy.typing import NDArray

_PART = 8 * 1024 * 1024
# Bytes looked at together that stay in the processor's cache.
_IN_CACHE = 1024 * 1024


def is_rectangular(raw: bytes, delimiter: str) -> bool:
    """Whether every line has as many delimiters outside quotes as the first, none being blank.

    Quotes must enclose whole cells: what else people do with them is left to csv.reader. Looks
    at a few megabytes at a time.
    """
    array = np.frombuffer(raw, dtype=np.uint8)
    per_row = raw[: raw.index(b"\n")].count(delimiter.encode())
    if (plain := _plainly(array, delimiter, per_row)) is not None:
        return plain
    expected = -1
    is_inside = False  # a quote is open where the part begins
    open_delimiters, last_end = 0, -1
    for start in range(0, len(array), _PART):
        part = array[start : start + _PART]
        is_end, is_delimiter = part == ord("\n"), part == ord(delimiter)
        before = array[start - 1 : start] if start else array[:0]
        if not _quotes_enclose_cells(part, before, delimiter, is_inside=is_inside):
            return False
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
            return False
        counts = np.diff(np.searchsorted(delimiters, ends), prepend=0)
        counts[0] += open_delimiters
        expected = int(counts[0]) if expected < 0 else expected
        if np.any(counts != expected):
            return False
        open_delimiters = len(delimiters) - int(np.searchsorted(delimiters, ends[-1]))
        last_end = int(ends[-1]) + start
    return not is_inside and expected >= 0


def _plainly(array: NDArray[np.uint8], delimiter: str, per_row: int) -> bool | None:
    """The same for a file whose quotes, if it has any, are empty cells ("") and nothing else; None for others.

    As many delimiters as rows ask for: were one row short another would be long, which polars refuses.
    """
    starts = range(0, len(array), _IN_CACHE)
    with ThreadPoolExecutor() as pool:
        found = list(pool.map(lambda start: _look(array, start, delimiter), starts))
    seen = [each for each in found if each is not None]
    if len(seen) < len(found):
        return None
    delimiters, lines = (sum(each[i] for each in seen) for i in (0, 1))
    return not any(blank for *_, blank in seen) and delimiters == per_row * lines


def _look(array: NDArray[np.uint8], start: int, delimiter: str) -> tuple[int, int, bool] | None:
    """Delimiters and ends of lines in a stretch, and whether a line in it is blank; None where a quote is not
    that of an empty cell."""
    # One byte more at either side: where there is none, as if a line ended there.
    end, stop = np.uint8(ord("\n")), start + _IN_CACHE
    part = array[max(start - 1, 0) : stop + 1]
    if start == 0 or stop >= len(array):
        before, after = [end] * (start == 0), [end] * (stop >= len(array))
        part = np.concatenate([before, part, after]).astype(np.uint8)
    is_end, is_delimiter, is_quote = part == end, part == ord(delimiter), part == ord('"')
    middle = slice(1, -1)
    if is_quote.any():
        apart = is_end | is_delimiter
        opens = apart[:-2] & is_quote[2:]
        closes = is_quote[:-2] & apart[2:]
        if np.any(is_quote[middle] & ~(opens | closes)):
            return None
    blank = bool(np.any(is_end[middle] & is_end[:-2]))
    return int(is_delimiter[middle].sum()), int(is_end[middle].sum()), blank


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
