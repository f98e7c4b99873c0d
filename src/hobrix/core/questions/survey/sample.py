"""The sample behind a question: its design, and which of its rows the question is about."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import CategoricalColumn, Design, Frame
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.survey.results import SurveyDesign
from hobrix.core.survey.design import SampleDesign

SLOT = "counted_by"


@dataclass(frozen=True)
class Sample:
    """``rows`` of the data with a weight above 0, None where all have one; ``inside`` those of the
    sample in the subset asked about, None where all are."""

    design: SampleDesign
    rows: IntArray | None
    inside: Mask | None
    labels_of_strata: tuple[str, ...]

    def of(self, column: NDArray[Any]) -> NDArray[Any]:
        """A whole column for the rows of the sample."""
        return column if self.rows is None else column[self.rows]

    def codes(self, column: NDArray[Any]) -> NDArray[Any]:
        """Codes of a whole column for the rows of the sample; -1 outside the subset."""
        found = self.of(column)
        return found if self.inside is None else np.where(self.inside, found, -1)

    def told(self) -> SurveyDesign:
        single = [
            self.labels_of_strata[i] if i < len(self.labels_of_strata) else str(i + 1)
            for i in self.design.single_strata
        ]
        return SurveyDesign(
            rows=len(self.design.weights),
            clusters=self.design.clusters,
            strata=self.design.strata,
            design_df=self.design.df,
            population=self.design.population,
            kish_weighting_deff=self.design.kish_effect,
            single_psu_strata=tuple(single),
        )


def sample_of(design: Design, frame: Frame, mask: Mask | None) -> Sample:
    """Rows of the data with a weight; the subset stays inside the design.

    Raises:
        QuestionError: weights that are no numbers, negative or all 0, or rows with a weight but
            without a stratum or cluster.
    """
    whole = frame.once(design, lambda: _whole(design, frame))
    return whole if mask is None else replace(whole, inside=whole.of(mask))


def _whole(design: Design, frame: Frame) -> Sample:
    weights = frame.numeric(design.weights, SLOT).values
    title = frame.variables[design.weights].title
    if np.any(weights < 0):
        row = int(np.argmax(weights < 0)) + 1
        raise QuestionError(f"{title} has a negative weight, in row {row}.", slot=SLOT)
    rows = np.flatnonzero(weights > 0)
    if not len(rows):
        raise QuestionError(f"{title} has no weight above zero.", slot=SLOT)
    strata = _units(design.strata, frame, rows, "stratum")
    clusters = _units(design.clusters, frame, rows, "cluster")
    labels: tuple[str, ...] = ()
    if design.strata is not None:
        labels = tuple(c.label for c in frame.variables[design.strata].categories)
    found = SampleDesign.of(weights[rows], strata, clusters)
    return Sample(found, None if len(rows) == len(weights) else rows, None, labels)


def _units(name: str | None, frame: Frame, rows: IntArray, what: str) -> IntArray | None:
    if name is None:
        return None
    variable = frame.variable(name, SLOT)
    column = frame.column(name)
    missing = column.is_missing[rows]
    if missing.any():
        row = int(rows[np.argmax(missing)]) + 1
        n = int(missing.sum())
        message = f"{variable.title}: {n:,} rows with a weight have no {what}, first row {row}."
        raise QuestionError(message, slot=SLOT)
    if isinstance(column, CategoricalColumn):
        return np.asarray(column.codes[rows], dtype=np.int64)
    _, codes = np.unique(column.values[rows], return_inverse=True)
    return np.asarray(codes, dtype=np.int64)
