"""What stands out, once everything that was looked at is allowed for."""

from hobrix.core.questions.estimates import Mark, Marks
from hobrix.core.questions.thresholds import MARKED, STRONG
from hobrix.core.tables.counts import FloatArray


def mark_of(away: float, p_adjusted: float) -> Mark:
    """From a departure in standard errors and its p."""
    if p_adjusted >= MARKED:
        return ""
    if away > 0:
        return "much more" if away > STRONG else "more"
    return "much fewer" if away < -STRONG else "fewer"


def marks_of(away: FloatArray, p_adjusted: FloatArray) -> Marks:
    """Of every cell, shape (R, C)."""
    return tuple(
        tuple(mark_of(*cell) for cell in zip(*row, strict=True))
        for row in zip(away.tolist(), p_adjusted.tolist(), strict=True)
    )
