"""A two-way table of a sample: weighted shares and tests that heed its design."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from hobrix.core.data.subset import Mask
from hobrix.core.progress import Tell
from hobrix.core.questions.estimates import Effect, Limits, NamedTest, Share
from hobrix.core.questions.sampling import strength
from hobrix.core.questions.sampling.shape import Adjust, Apart, Departures, Heads, MeasureOf
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.shares import Shares, WeightedComparison, WeightedRatio, WeightedShare
from hobrix.core.survey.two_way import WeightedTable, weighted_table
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.one_proportion import Method


def weighted_share(value: str, label: str, found: WeightedShare) -> Share:
    return Share(
        value=value,
        label=label,
        n=found.n,
        events=found.unweighted_count_of_events,
        share=found.estimate,
        share_ci=found.ci_logit or found.ci_at_end,
        weighted=found,
    )


@dataclass(frozen=True)
class WeightedPairTable:
    """Totals of R x C cells in row-major order."""

    totals: CellTotals
    kept: tuple[tuple[int, ...], tuple[int, ...]]
    confidence: float
    tell: Tell
    # By the answers that are the event: of all rows, and of everyone behind them.
    events: dict[bytes, Shares] = field(default_factory=dict, compare=False)

    @classmethod
    def of(
        cls, totals: CellTotals, sizes: tuple[int, int], confidence: float, tell: Tell
    ) -> "WeightedPairTable":
        kept, rows, columns = totals.without_empty(sizes)
        return cls(kept, (tuple(rows.tolist()), tuple(columns.tolist())), confidence, tell)

    @property
    def shape(self) -> tuple[int, int]:
        return len(self.kept[0]), len(self.kept[1])

    @property
    def counts(self) -> FloatArray:
        return self.totals.n.reshape(self.shape)

    @property
    def weighed(self) -> FloatArray:
        return self.totals.weighted.reshape(self.shape)

    def collapsed(self, is_event: Mask) -> "WeightedPairTable":
        rows, _ = self.shape
        split = np.column_stack([is_event, ~is_event]).astype(np.float64)
        onto: FloatArray = np.kron(np.eye(rows), split).astype(np.float64)
        return replace(
            self, totals=self.totals.merged(onto), kept=(self.kept[0], (0, 1)), events={}
        )

    def at(self, confidence: float) -> "WeightedPairTable":
        return replace(self, confidence=confidence)

    @property
    def replicates_lost(self) -> int:
        again = self.totals.replicated
        if again is None:
            return 0
        cells = again.reshape(-1, *self.shape)
        empty = (cells.sum(axis=1) == 0).any(axis=1) | (cells.sum(axis=2) == 0).any(axis=1)
        return int(np.count_nonzero(empty))

    @cached_property
    def found(self) -> WeightedTable:
        return weighted_table(self.totals, *self.shape)

    def test(self) -> NamedTest | None:
        """Rao and Scott's, corrected to the second order."""
        found = self.found.rao_scott_pearson
        if found is None:
            return None
        return NamedTest.corrected("Rao–Scott test", found.second_order)

    def departures(self, adjust: Adjust) -> Departures:
        p = self.totals.design.p_of_each(self.found.residual_z)
        return Departures(self.found.residual_z, p, adjust(p.ravel()).reshape(p.shape))

    def cramers_v(self) -> tuple[float, Limits | None]:
        return strength.cramers_v(self.totals, *self.shape, self.confidence)

    def measures(self, keys: Sequence[str]) -> Mapping[str, MeasureOf]:
        v, limits = self.cramers_v()
        unweighted = float(strength.v_of(self.counts))
        found = {"cramers_v": MeasureOf(v, limits, unweighted=unweighted)}
        others = strength.measures(self.totals, *self.shape, self.confidence, keys, self.tell)
        return {**(found if "cramers_v" in keys else {}), **others}

    def _of(self, is_event: Mask) -> Shares:
        """Of the cells of each row, and of all of them."""
        key = is_event.tobytes()
        if key not in self.events:
            rows, columns = self.shape
            sets = np.repeat(np.eye(rows + 1, rows, dtype=bool), columns, axis=1)
            sets[-1] = True
            self.events[key] = Shares.among(self.totals, sets, np.tile(is_event, rows))
        return self.events[key]

    def shares(self, is_event: Mask, heads: Heads, method: Method) -> tuple[list[Share], Share]:
        *rows, whole = self._of(is_event).shares(self.confidence)
        each = [weighted_share(*head, row) for head, row in zip(heads, rows, strict=True)]
        return each, weighted_share("", "everyone counted", whole)

    def against(self, is_event: Mask, base: int) -> list[Apart | None]:
        rows = range(self.shape[0])
        found = self._of(is_event).against(base, self.confidence, rows)
        return [None if i == base else _apart(each) for i, each in zip(rows, found, strict=True)]

    def apart(self, is_event: Mask, row: int, base: int) -> Apart:
        (found,) = self._of(is_event).against(base, self.confidence, [row])
        return _apart(found)

    def within(self, across: bool) -> list[list[WeightedShare]]:
        """Every cell's share of its row, or of its column where ``across``."""
        rows, columns = self.shape
        row, column = np.divmod(np.arange(rows * columns), columns)
        of = column if across else row
        found = Shares.among(self.totals, of[:, None] == of, np.eye(rows * columns, dtype=bool))
        cells = found.shares(self.confidence)
        return [cells[i * columns : (i + 1) * columns] for i in range(rows)]


def _apart(found: WeightedComparison) -> Apart:
    gap = found.risk_difference
    odds = found.odds_ratio
    lead = odds if odds is not None and odds.t is not None else gap
    return Apart(
        odds_ratio=_ratio(odds) or Effect(estimate=None, ci=None, p=None),
        risk_ratio=_ratio(found.risk_ratio),
        risk_difference=Effect(estimate=gap.estimate, ci=gap.ci, p=gap.p, weighted=gap),
        clearness=abs(lead.t or 0.0),
    )


def _ratio(found: WeightedRatio | None) -> Effect | None:
    if found is None:
        return None
    return Effect(estimate=found.estimate, ci=found.ci, p=found.p, weighted=found)
