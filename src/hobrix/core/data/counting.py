"""How rows count: each once, as often as a counts column says, or by a survey design."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hobrix.core.data.column import FloatArray
from hobrix.core.data.design import Design
from hobrix.core.data.frame import Frame
from hobrix.core.data.variable import Frozen
from hobrix.core.errors import QuestionError

SLOT = "counted_by"


class EachRow(Frozen):
    """Each row counts once."""

    kind: Literal["each"] = "each"


class CountsColumn(Frozen):
    """Each row stands for as many cases as a column says (whole numbers, 0 or more)."""

    kind: Literal["counts"] = "counts"
    variable: str


Counting = Annotated[EachRow | CountsColumn | Design, Field(discriminator="kind")]


def row_counts(counting: EachRow | CountsColumn | Design, frame: Frame) -> FloatArray | None:
    """The number of cases each row stands for, shape (rows,), or None when each counts once; where equal
    rows were counted elsewhere, of all of them together.

    A blank count is 0: summary tables leave empty groups blank. Under a survey design each row
    counts once here; what the weights are for is the survey estimators' business.

    Raises:
        QuestionError: naming the first row whose count is negative or not whole.
    """
    if not isinstance(counting, CountsColumn):
        return frame.stands_for
    counts = frame.numeric(counting.variable, SLOT).values
    title = frame.variables[counting.variable].title
    present = ~np.isnan(counts)
    for bad, complaint in (
        (counts < 0, "is negative"),
        (present & (counts != np.floor(counts)), "is not a whole number"),
    ):
        if bad.any():
            row = int(np.argmax(bad))
            raise QuestionError(
                f"{title} cannot count rows: {counts[row]:g} in row {row + 1} {complaint}. "
                "Weights that correct a sample are not counts.",
                slot=SLOT,
            )
    if not present.any():
        raise QuestionError(f"{title} cannot count rows: it holds no number.", slot=SLOT)
    each = np.where(present, counts, 0.0)
    return each if frame.stands_for is None else each * frame.stands_for
