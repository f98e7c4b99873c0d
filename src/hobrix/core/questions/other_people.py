"""Whether two questions are about different people: what decides if their answers can be tested."""

from dataclasses import dataclass

import numpy as np

from hobrix.core.data import Design, Frame
from hobrix.core.data.cases_look import case_keys
from hobrix.core.data.column import IntArray
from hobrix.core.data.design_columns import clusters_of
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.lenses import lens_of
from hobrix.core.questions.question import Question


@dataclass(frozen=True)
class Asked:
    """A question about a data set. ``data_sets`` are those its rows come from, by any name that tells
    them apart: questions that share one may be about the same people."""

    question: Question
    frame: Frame
    title: str
    data_set: str
    data_sets: frozenset[str]


def why_not_other_people(one: Asked, other: Asked) -> str | None:
    """Why two answers do not rest on different people; None where they do."""
    if not one.data_sets & other.data_sets:
        return None
    if one.data_set != other.data_set or one.frame.rows != other.frame.rows:
        return "these data sets may hold the same rows: shown as change, not tested"
    if not one.frame.has_own_rows:
        return "rows that stay where they are cannot be told apart: shown as change, not tested"
    first, second = _rows(one), _rows(other)
    both = int(np.count_nonzero(first & second))
    if not both:
        units = _units(one) if _units(one) is not None else _units(other)
        if units is not None and np.isin(units[first], units[second]).any():
            return "both are drawn from the same clusters: shown as change, not tested"
        return None
    if np.array_equal(first, second):
        return "the same people: shown as change, not tested"
    return f"{both:,} rows are in both: shown as change, not tested"


def _units(asked: Asked) -> IntArray | None:
    """The cluster or case of every row, where rows are not drawn one by one."""
    counting, frame = asked.question.counted_by, asked.frame
    if isinstance(counting, Design) and counting.clusters is not None:
        return clusters_of(counting, frame)
    if frame.cases.is_repeated and frame.cases.case:
        return case_keys(frame, frame.cases.case)
    return None


def _rows(asked: Asked) -> np.ndarray:
    mask = Rows(asked.question, asked.frame).subset
    return np.ones(asked.frame.rows, dtype=bool) if mask is None else mask


def rows_used(asked: Asked) -> np.ndarray:
    """Rows that are in the subset and answered all that the question needs."""
    used = _rows(asked)
    for name in lens_of(asked.question).needs(asked.question):
        used = used & ~asked.frame.column(name).is_missing
    return used
