"""Patterns: rows alike in everything the model looks at are one pattern, with events of trials.

A million rows of categorical terms cost no more than their table.
"""

import itertools
import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]
Result = TypeVar("Result")

# Rows are worked through in stretches that stay in the processor's cache.
BLOCK = 8_192
# So many patterns tell much of the others.
SAMPLE = 20_000
# Few rows are not worth putting together; many are worked on side by side.
_FEW, _MANY, _STRETCHES = 256, 200_000, 8
# Codes up to this many times the rows are counted in place; beyond, they are sorted.
_ROOMY = 4
# So many rows are counted at a time where there are few places.
_STRETCH, _SMALL = 65_536, 16_384
# Whole numbers within this range are codes.
_NEAR = 4096
# Where columns have a middle this many times their spread, it is taken off first.
_OFF_CENTRE = 1e3
_MIX = np.uint64(0x9E3779B97F4A7C15)


@dataclass(frozen=True)
class Patterns:
    """Distinct rows of a design matrix, shape (J, k), with events out of trials, shape (J,).

    A design of one block lies column by column, as columns are what is scaled, kept and left out;
    longer ones are worked on as they come.
    """

    design: FloatArray
    events: FloatArray
    trials: FloatArray

    def __post_init__(self) -> None:
        if len(self.design) <= BLOCK:
            object.__setattr__(self, "design", np.asfortranarray(self.design))

    def keep(self, columns: Sequence[int]) -> "Patterns":
        """The same people with fewer columns; patterns that become equal are put together where
        that is quickly done."""
        chosen = list(columns)
        coded = None
        # Most numbers show in their first rows that they are no codes.
        if len(self.trials) > _FEW and _are_whole(self.design[:_FEW, chosen]):
            design = np.ascontiguousarray(self.design[:, chosen].T)
            coded = _coded(list(design), most=len(self.trials) // 4)
        if coded is None:
            return Patterns(self.design[:, chosen], self.events, self.trials)
        first, place = coded
        return Patterns(
            self.design[first][:, chosen],
            sums(place, self.events, len(first)),
            sums(place, self.trials, len(first)),
        )

    @cached_property
    def squares(self) -> FloatArray:
        """X'X over the patterns, shape (k, k)."""

        def of(rows: slice) -> FloatArray:
            parts = [self.design[at].T @ self.design[at] for at in blocks(rows)]
            return np.asarray(np.sum(parts, axis=0))

        return np.asarray(np.sum(in_stretches(of, len(self.design)), axis=0))

    @cached_property
    def has_intercept(self) -> bool:
        """Whether the first column is 1 everywhere."""

        def of(rows: slice) -> bool:
            return bool(np.all(self.design[rows, 0] == 1))

        return self.design.shape[1] > 0 and all(in_stretches(of, len(self.design)))

    @cached_property
    def scaling(self) -> tuple[FloatArray, FloatArray]:
        """What to take off each column and to divide it by, about, so that values of 1e12 do no harm.

        The mean is taken off only where it is far from 0 for the spread, and where the first
        column is an intercept that can take it up.
        """
        some = self.some
        n, size = len(some.design), np.sqrt(np.diag(some.squares) / len(some.design))
        if some is not self and not size.all():
            # Columns that are 0 wherever the sample looks.
            size[size == 0] = np.sqrt(np.mean(self.design[:, size == 0] ** 2, axis=0))
        shift = np.zeros(self.design.shape[1])
        if some.has_intercept:
            mean = some.squares[0] / n
            far = mean**2 > (1 - 1 / _OFF_CENTRE**2) * size**2
            far[0] = False
            if far.any() and self.has_intercept:
                shift[far] = mean[far]
                for column in np.flatnonzero(far):
                    size[column] = np.sqrt(np.mean((some.design[:, column] - mean[column]) ** 2))
        size[size == 0] = 1.0
        return shift, size

    @cached_property
    def some(self) -> "Patterns":
        """So many of the patterns that they tell how large the columns are; all where they are few."""
        return self.sample(SAMPLE) or self

    def sample(self, most: int) -> "Patterns | None":
        """Every so manieth pattern, ``most`` of them; None where there are hardly more."""
        step = len(self.trials) // most
        if step < 4:
            return None
        # Side by side, they are gone through more than once.
        design = np.empty_like(self.design[::step])
        in_stretches(lambda at: np.copyto(design[at], self.design[::step][at]), len(design))
        return Patterns(design, self.events[::step].copy(), self.trials[::step].copy())


def sums(place: NDArray[np.signedinteger], values: FloatArray | None, size: int) -> FloatArray:
    """Values added up by place, shape (size,); None counts rows."""
    if not 0 < size <= _SMALL:
        return np.bincount(place, weights=values, minlength=size).astype(np.float64)
    # A stretch at a time: what a count makes for itself of all rows would be fresh memory.
    found = np.zeros(size)
    for start in range(0, len(place), _STRETCH):
        rows = slice(start, start + _STRETCH)
        weights = None if values is None else values[rows]
        found += np.bincount(place[rows], weights=weights, minlength=size)
    return found


def blocks(rows: slice) -> Iterator[slice]:
    """Stretches of rows that fit the cache."""
    for start in range(rows.start, rows.stop, BLOCK):
        yield slice(start, min(rows.stop, start + BLOCK))


def in_stretches(work: Callable[[slice], Result], rows: int) -> list[Result]:
    """``work`` on all rows, in stretches side by side where there are many; in their order."""
    if rows < _MANY:
        return [work(slice(0, rows))]
    edges = np.linspace(0, rows, _STRETCHES + 1).astype(int).tolist()
    stretches = [slice(start, end) for start, end in itertools.pairwise(edges)]
    with ThreadPoolExecutor(min(4, os.cpu_count() or 1)) as pool:
        return list(pool.map(work, stretches))


def distinct_rows(
    columns: Sequence[NDArray[np.generic]],
) -> tuple[IntArray, NDArray[np.signedinteger]]:
    """Where each distinct row first stands, and for every row which of them it is.

    ``columns`` hold codes or any numbers, shape (n,) each.
    """
    n = len(columns[0])
    if (quick := _coded(columns, most=_ROOMY * n + 1000)) is not None:
        return quick
    codes, size, numbers = np.zeros(n, dtype=np.int64), 1, []
    for column in columns:
        low, many = _whole_from(column)
        if many is None:
            numbers.append(column)
            continue
        if size * many >= 2**62:
            _, codes = np.unique(codes, return_inverse=True)
            size = int(codes.max()) + 1
        codes = codes * many + (column.astype(np.int64) - low)
        size *= many
    if numbers:
        return _by_hash([codes, *numbers])
    _, first, place = np.unique(codes, return_index=True, return_inverse=True)
    return first, place


def _coded(
    columns: Sequence[NDArray[np.generic]], most: int
) -> tuple[IntArray, NDArray[np.signedinteger]] | None:
    """The same for whole numbers with few combinations, counted in place; None for others."""
    ranges, size = [], 1
    for column in columns:
        low, many = _whole_from(column)
        if many is None or (size := size * many) > most:
            return None
        ranges.append((low, many))
    # In the narrowest type: fresh memory for wide ones takes longer than counting.
    kind = np.int16 if size <= 32767 else np.int32 if size < 2**30 else np.int64
    codes: NDArray[Any] = np.zeros(len(columns[0]), dtype=kind)
    for column, (low, many) in zip(columns, ranges, strict=True):
        if many > 1:
            codes *= many
            part = column.astype(np.float64) - low if low else column
            np.add(codes, part, out=codes, casting="unsafe")
    present = sums(codes, None, size) > 0
    many = int(np.count_nonzero(present))
    if many == size:
        place = codes.astype(np.int32)
    else:
        numbered = (np.cumsum(present) - 1).astype(np.int32)
        place = np.take(numbered, codes, mode="wrap")
    return _first_of_each(codes, size, many)[present], place


def _first_of_each(codes: NDArray[Any], size: int, many: int) -> IntArray:
    """Where each of ``many`` codes first stands, -1 for those that do not; most stand near the beginning."""
    first = np.full(size, -1, dtype=np.int64)
    # Where there may be very many, one look at all rows is quicker than a few at some.
    found, start, stretch = 0, 0, BLOCK if size <= BLOCK else len(codes)
    while found < many:
        part = codes[start : start + stretch]
        here = np.full(size, -1, dtype=np.int64)
        here[part[::-1]] = np.arange(start + len(part) - 1, start - 1, -1)
        new = (first < 0) & (here >= 0)
        first[new] = here[new]
        found += int(np.count_nonzero(new))
        start, stretch = start + stretch, 2 * stretch
    return first


def _whole_from(column: NDArray[np.generic]) -> tuple[int, int | None]:
    """The lowest value, and how many whole numbers a column may hold from there; None where it does
    not hold whole numbers near each other."""
    low, high = float(column.min()), float(column.max())
    is_near = high - low < _NEAR and abs(low) < 2**53
    if not is_near or (column.dtype.kind == "f" and not _are_whole(column)):
        return 0, None
    return int(low), int(high - low) + 1


def _are_whole(numbers: NDArray[np.generic]) -> bool:
    return bool(np.all(numbers == np.floor(numbers)))


def _by_hash(columns: list[NDArray[np.generic]]) -> tuple[IntArray, IntArray]:
    """Rows told apart by a hash of 64 bits, checked against the rows themselves: sorting the hash
    takes a tenth of the time that sorting rows does."""
    mixed = np.zeros(len(columns[0]), dtype=np.uint64)
    for column in columns:
        # Adding 0 makes -0.0 and 0.0 the same bits.
        mixed ^= (column.astype(np.float64) + 0.0).view(np.uint64)
        mixed *= _MIX
        mixed ^= mixed >> np.uint64(29)
    in_order = np.sort(mixed)
    if np.all(in_order[1:] != in_order[:-1]):
        every = np.arange(len(mixed))
        return every, every
    _, first, place = np.unique(mixed, return_index=True, return_inverse=True)
    if all(np.array_equal(column[first][place], column) for column in columns):
        return first, place
    stacked = np.column_stack([column.astype(np.float64) for column in columns])
    _, first, place = np.unique(stacked, axis=0, return_index=True, return_inverse=True)
    return first, place


def collapse(design: FloatArray, outcome: FloatArray, counts: FloatArray | None = None) -> Patterns:
    """Patterns of a design matrix of shape (n, k) and outcomes 0 or 1 of shape (n,).

    ``counts`` says how many people each row stands for; rows of 0 fall out.
    """
    weights = np.ones(len(outcome)) if counts is None else counts
    used = weights > 0
    first, place = distinct_rows(list(design[used].T))
    events = sums(place, (weights * outcome)[used], len(first))
    return Patterns(design[used][first], events, sums(place, weights[used], len(first)))
