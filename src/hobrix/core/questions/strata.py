"""Stratifying variables: one code per row for the combination of their answers."""

from collections.abc import Collection

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.data.column import IntArray
from hobrix.core.errors import QuestionError
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import group_name

MOST_COMBINATIONS, MOST_STRATA = 5000, 60


def strata_codes(
    question: Question, frame: Frame, taken: Collection[str]
) -> tuple[IntArray | None, list[tuple[tuple[str, ...], str]]]:
    """One code per row for the combination of stratifying answers (-1: not answered), and the
    values and label of each combination. ``taken`` are variables that stand in the sentence already.

    Raises:
        QuestionError: a variable that is not in categories or in the sentence already, or far too
            many combinations.
    """
    within = question.within
    if not within:
        return None, []
    columns = [frame.categorical(name, "within") for name in within]
    for name in within:
        if name in taken:
            title = frame.variables[name].title
            raise QuestionError(f"{title} is in the sentence already.", slot="within")
    combinations = np.prod([len(column.categories) for column in columns], dtype=np.float64)
    if combinations > MOST_COMBINATIONS:
        raise _too_many(question, frame, int(combinations))
    codes = np.zeros(frame.rows, dtype=np.int64)
    lacking = np.zeros(frame.rows, dtype=bool)
    labels: list[tuple[tuple[str, ...], str]] = [((), "")]
    for name, column in zip(within, columns, strict=True):
        variable = frame.variables[name]
        codes = codes * len(column.categories) + column.codes
        lacking |= column.codes < 0
        labels = [
            (
                (*values, c.value),
                " · ".join(part for part in (label, group_name(variable, c)) if part),
            )
            for values, label in labels
            for c in column.categories
        ]
    codes[lacking] = -1
    return codes, labels


def refuse_too_many(question: Question, frame: Frame, present: int) -> None:
    """Raises QuestionError when more strata hold somebody than can be compared."""
    if present > MOST_STRATA:
        raise _too_many(question, frame, present)


def _too_many(question: Question, frame: Frame, n: int) -> QuestionError:
    titles = " and ".join(frame.variables[name].title for name in question.within)
    return QuestionError(
        f"{titles} makes {n:,} strata; up to {MOST_STRATA} can be compared. Combine "
        "categories in the Codebook, or choose fewer variables.",
        slot="within",
    )
