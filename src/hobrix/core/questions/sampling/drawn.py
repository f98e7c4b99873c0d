"""The rows of a sample: its design, and which of its rows a question is about."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Design, Frame
from hobrix.core.data.column import IntArray
from hobrix.core.data.design import SLOT
from hobrix.core.data.design_columns import clusters_of, strata_of, weights_of
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Sample
from hobrix.core.questions.wording import count
from hobrix.core.survey.design import SampleDesign
from hobrix.core.survey.replicates import Replication, TooManyReplicates


@dataclass(frozen=True)
class Drawn:
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

    def described(self, asked: Design, frame: Frame) -> Sample:
        single = [
            self.labels_of_strata[i] if self.labels_of_strata else "the sample"
            for i in self.design.single_strata
        ]
        return Sample(
            rows=self.design.rows,
            psus=self.design.clusters,
            strata=self.design.strata,
            design_df=self.design.df,
            sum_of_weights=self.design.population,
            sum_of_weights_in_subset=None
            if self.inside is None
            else float(self.design.weights[self.inside].sum()),
            kish_weighting_deff=self.design.kish_effect,
            single_psu_strata=tuple(single),
            errors=self._errors(),
            drawn=self._drawn(asked, frame),
        )

    def _drawn(self, asked: Design, frame: Frame) -> str:
        """What was drawn: "60 clusters in 5 strata", "2,412 households one by one"."""
        units = f"{count(self.design.rows)} {frame.noun.many} drawn one by one"
        if asked.clusters:
            units = f"{count(self.design.clusters)} clusters"
        if not asked.strata:
            return units
        many = self.design.strata
        return f"{units} in {count(many)} {'stratum' if many == 1 else 'strata'}"

    def _errors(self) -> str:
        match self.design.replication:
            case None:
                return "linearised errors"
            case Replication(method="jackknife"):
                return "errors from leaving out a cluster at a time"
            case Replication(draws=draws, seed=seed):
                return f"errors from {draws:,} draws of clusters (seed {seed})"


def drawn_by(design: Design, frame: Frame, mask: Mask | None) -> Drawn:
    """Rows of the data with a weight; the subset stays inside the design.

    Raises:
        QuestionError: weights that are no numbers, negative or all 0, or rows with a weight but
            without a stratum or cluster.
    """
    whole = frame.once(design, lambda: _whole(design, frame))
    return whole if mask is None else replace(whole, inside=whole.of(mask))


def _whole(design: Design, frame: Frame) -> Drawn:
    weights = weights_of(design, frame)
    rows = np.flatnonzero(weights > 0)
    strata, clusters = strata_of(design, frame), clusters_of(design, frame)
    of_stratum = None if strata is None else strata.codes[rows]
    of_cluster = None if clusters is None else clusters[rows]
    for codes, name, what in (
        (of_stratum, design.strata, "stratum"),
        (of_cluster, design.clusters, "cluster"),
    ):
        if codes is not None and name is not None:
            _refuse_rows_without(codes, rows, frame.variables[name].title, what)
    replication = None
    if design.errors != "linearised":
        replication = Replication(design.errors, design.draws, design.seed)
    counts = None if frame.stands_for is None else frame.stands_for[rows]
    if counts is not None and replication is not None and of_cluster is None:
        raise QuestionError(
            "Rows of data that stay where they are cannot be drawn again one by one: take linearised errors.",
            slot=SLOT,
        )
    squared = None
    if frame.averaged is not None and frame.averaged[0] == design.weights:
        squared = frame.averaged[1][rows]
    found = SampleDesign.of(
        weights[rows] if counts is None else weights[rows] * counts,
        of_stratum,
        of_cluster,
        design.single,
        replication,
        counts,
        squared,
    )
    try:
        _ = found.replicates
    except TooManyReplicates:
        message = (
            f"The {design.errors} of {found.clusters:,} clusters takes too long: take fewer draws, "
            "or linearised errors."
        )
        raise QuestionError(message, slot=SLOT) from None
    labels = () if strata is None else tuple(category.label for category in strata.names)
    return Drawn(found, None if len(rows) == len(weights) else rows, None, labels)


def _refuse_rows_without(codes: IntArray, rows: IntArray, title: str, what: str) -> None:
    missing = codes < 0
    if missing.any():
        row, n = int(rows[np.argmax(missing)]) + 1, int(missing.sum())
        message = f"{title}: {n:,} rows with a weight have no {what}, first row {row}."
        raise QuestionError(message, slot=SLOT)
