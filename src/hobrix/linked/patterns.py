"""Distinct combinations of some variables, with the number of rows of each."""

import io
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import polars as pl

from hobrix.core.data import Measured, Source
from hobrix.core.data.column import FloatArray
from hobrix.core.formats.parquet import source_of
from hobrix.linked.asked import ROWS, SQUARES, SUM


@dataclass(frozen=True)
class PatternTable:
    """``names`` of the variables, in the order of the columns ``c0``, … of ``table``, whose last columns have
    the number of rows and, where weights were added up, their sums; those are the last of the names then."""

    names: tuple[str, ...]
    table: pl.DataFrame
    # Whether an engine was asked for it just now, or it was kept from before.
    is_kept: bool = False
    # What was counted, with the bands it was counted in: equal keys have equal rows.
    key: tuple[str, ...] = ()

    def __len__(self) -> int:
        return self.table.height

    @cached_property
    def n(self) -> FloatArray:
        """Rows of each combination, shape (P,)."""
        found: FloatArray = self.table[ROWS].cast(pl.Float64).to_numpy().astype(np.float64)
        return found

    @property
    def rows(self) -> int:
        return int(self.table[ROWS].sum())

    @property
    def averaged(self) -> str | None:
        """The variable of which only sums are known."""
        return self.names[-1] if SUM in self.table.columns else None

    @property
    def squares(self) -> FloatArray:
        """Of that variable, the squares added up, shape (P,); NaN where there is no number."""
        found: FloatArray = self.table[SQUARES].fill_null(np.nan).to_numpy()
        return found

    def source(self, name: str) -> Source:
        """The values of a variable, shape (P,); means of those that were added up."""
        if name == self.averaged:
            means = self.table[SUM].fill_null(np.nan).to_numpy() / self.n
            return Measured.of(np.ascontiguousarray(means))
        return source_of(self.table[f"c{self.names.index(name)}"].alias(name))

    def over(self, names: Iterable[str]) -> "PatternTable":
        """The combinations of fewer variables, added up; in the order in which they would be counted, so
        that columns of one may stand beside those of the other."""
        kept = tuple(names)
        columns = [f"c{self.names.index(name)}" for name in kept]
        sums = [ROWS, SUM, SQUARES] if self.averaged in kept else [ROWS]
        # Nothing added up is nothing, not 0.
        added = [pl.when(pl.col(s).is_not_null().any()).then(pl.col(s).sum()) for s in sums]
        found = self.table.group_by(columns).agg(
            each.alias(s) for s, each in zip(sums, added, strict=True)
        )
        found.columns = [*(f"c{i}" for i in range(len(kept))), *sums]
        return in_order(found, kept)

    def packed(self) -> bytes:
        """As an Arrow file, compressed."""
        file = io.BytesIO()
        self.table.write_ipc(file, compression="zstd")
        return file.getvalue()


def unpacked(names: Iterable[str], data: bytes) -> PatternTable:
    """What was packed."""
    return PatternTable(tuple(names), pl.read_ipc(io.BytesIO(data)))


def in_order(table: pl.DataFrame, names: Iterable[str]) -> PatternTable:
    """As an engine gave it, in an order that does not hang on how it counted."""
    columns = [name for name in table.columns if name not in (ROWS, SUM, SQUARES)]
    return PatternTable(tuple(names), table.sort(columns, nulls_last=True))
