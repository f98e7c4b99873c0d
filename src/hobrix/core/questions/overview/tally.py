"""Who is counted and what they weigh, for many variables one after another.

Cases are counted as the question says; under a survey design they are rows with a weight, shares
and numbers are those of the weighted population, and tests allow for strata and clusters.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hobrix.core.data import Design, Frame, NumericColumn
from hobrix.core.data.column import IntArray
from hobrix.core.data.design_columns import weights_of
from hobrix.core.progress import Tell, quietly
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling.drawn import Drawn, drawn_by
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.numbers import mean_and_sd, weighted_quantiles
from hobrix.core.tables.counts import Codes, FloatArray, count_table
from hobrix.core.tables.numeric_summary import distinct, quantile, summarise

_QUARTILES = (0.25, 0.5, 0.75)


@dataclass(frozen=True)
class Cells:
    """Answers to k variables together: ``n`` cases and what they ``weigh`` (the same without a
    design), of shape (sizes[0] + 1, ...) with those who gave no answer at index 0."""

    n: FloatArray
    weigh: FloatArray


def counting_of(question: Question) -> str | None:
    """The variable that says how rows count."""
    counted_by = question.counted_by
    if isinstance(counted_by, Design):
        return counted_by.weights
    return getattr(counted_by, "variable", None)


class Tallies:
    """A tally for each few variables that are looked at together: the same for all where all are here."""

    def __init__(
        self, question: Question, frame: Frame, tell: Tell = quietly, many: int = 1
    ) -> None:
        self._question, self._frame = question, frame
        self._tell, self._many, self._done = tell, many, 0
        self._one = Tally(question, frame) if frame.narrow is None else None

    def of(self, *names: str) -> "Tally":
        """Raises what counting raises, and what ``tell`` does."""
        self._tell(min(1.0, self._done / max(1, self._many)))
        self._done += 1
        return self._one or Tally(self._question, self._frame.over(*names))


class Tally:
    """Counts for one question; ``drawn`` is None without a survey design."""

    def __init__(self, question: Question, frame: Frame) -> None:
        self.rows = Rows(question, frame)
        self.frame = frame
        self.drawn: Drawn | None = None
        self._weights = self.rows.weights
        if isinstance(question.counted_by, Design):
            self.drawn = drawn_by(question.counted_by, frame, self.rows.subset)
            self._weights = weights_of(question.counted_by, frame)
            if frame.stands_for is not None:
                self._weights = self._weights * frame.stands_for

    @property
    def everyone(self) -> float:
        """Cases in the subset, with a weight under a design."""
        mask = self.rows.mask
        return self.rows.surveyed if mask is None else self.n_of(mask)

    def n_of(self, where: np.ndarray) -> float:
        """Cases in a mask of rows."""
        weights = self.rows.weights
        return float(np.count_nonzero(where) if weights is None else weights[where].sum())

    def answered(self, column: NumericColumn) -> np.ndarray:
        """Rows counted that have a number, as a mask."""
        mask = self.rows.mask
        return ~column.is_missing if mask is None else ~column.is_missing & mask

    def cells(self, codes: Sequence[Codes], sizes: Sequence[int]) -> Cells:
        n = count_table(codes, sizes, weights=self.rows.weights, where=self.rows.mask)
        if self.drawn is None:
            return Cells(n, n)
        return Cells(n, count_table(codes, sizes, weights=self._weights, where=self.rows.mask))

    def totals(self, codes: Sequence[IntArray], sizes: Sequence[int]) -> CellTotals:
        """Of the sample, for errors and tests under a design."""
        assert self.drawn is not None
        own = [self.drawn.of(each) for each in codes]
        return CellTotals.count(self.drawn.design, own, sizes, self.drawn.inside)

    def quartiles(self, values: FloatArray, where: np.ndarray) -> tuple[float, float, float]:
        """Lower quartile, median and upper quartile of the rows in a mask, one at least."""
        weights = None if self._weights is None else self._weights[where]
        if self.drawn is None:
            found = distinct(values[where], weights)
            return tuple(quantile(found, share) for share in _QUARTILES)  # type: ignore[return-value]
        assert weights is not None
        low, middle, high = weighted_quantiles(values[where], weights, np.array(_QUARTILES))
        return float(low), float(middle), float(high)

    def mean_and_sd(self, values: FloatArray, where: np.ndarray) -> tuple[float, float | None]:
        """Of the rows in a mask, one at least; no spread of a single case."""
        weights = None if self._weights is None else self._weights[where]
        if self.drawn is None:
            found = summarise(distinct(values[where], weights))
            return found.mean, found.sd
        assert weights is not None
        return mean_and_sd(values[where], weights)
