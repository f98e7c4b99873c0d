"""The sample behind a question: its design, and which of its rows the question is about."""

from dataclasses import dataclass

import numpy as np

from hobrix.core.data import CategoricalColumn, Design, Frame
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.survey.results import SurveyDesign
from hobrix.core.survey.design import SampleDesign, kish_effect

SLOT = "counted_by"


@dataclass(frozen=True)
class Sample:
    """``rows`` of the data with a weight above 0; of those, ``inside`` the subset asked about."""

    design: SampleDesign
    rows: IntArray
    inside: Mask
    labels_of_strata: tuple[str, ...]

    def codes(self, column: IntArray) -> IntArray:
        """Codes of a whole column for the rows of the sample; -1 outside the subset."""
        found = column[self.rows].astype(np.int64)
        found[~self.inside] = -1
        return found

    def told(self) -> SurveyDesign:
        single = [
            self.labels_of_strata[i] if i < len(self.labels_of_strata) else str(i + 1)
            for i in self.design.single_strata
        ]
        return SurveyDesign(
            rows=len(self.rows),
            clusters=self.design.clusters,
            strata=self.design.strata,
            design_df=self.design.df,
            population=float(self.design.weights.sum()),
            kish_weighting_deff=kish_effect(self.design.weights),
            single_psu_strata=tuple(single),
        )


def sample_of(design: Design, frame: Frame, mask: Mask | None) -> Sample:
    """Rows of the data with a weight; the subset stays inside the design.

    Raises:
        QuestionError: weights that are no numbers, negative or all 0, or rows with a weight but
            without a stratum or cluster.
    """
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
    return Sample(
        SampleDesign.of(weights[rows], strata, clusters),
        rows,
        np.ones(len(rows), dtype=bool) if mask is None else mask[rows],
        labels,
    )


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
