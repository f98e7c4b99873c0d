"""Pieces of work over many variables or rows of a data set, done beside the threads that serve."""

from collections.abc import Callable
from typing import Any
from uuid import UUID

from hobrix.core.progress import Tell
from hobrix.core.questions import (
    FirstTable,
    Glance,
    Numbers,
    Question,
    Screening,
    Within,
    at_a_glance,
    first_table,
    screen,
)
from hobrix.web.beside import Piece
from hobrix.web.studies.frames import frame_of
from hobrix.web.studies.models import DataSet


def piece_over(
    function: Callable[..., Any], dataset: DataSet, question: Question, *arguments: Any
) -> Piece:
    """One of the functions below, for a data set as it stands."""
    asked = question.model_dump_json(by_alias=True)
    key = f"{function.__name__}|{dataset.state}|{asked}|{arguments!r}"
    return Piece(key, key, function, (dataset.id, question, *arguments))


def glances(
    dataset: UUID,
    question: Question,
    variables: list[str] | None,
    shares: list[float] | None,
    _tell: Tell,
) -> list[Glance]:
    return list(at_a_glance(question, _frame(dataset), variables, shares))


def screened(
    dataset: UUID, question: Question, variables: list[str] | None, _tell: Tell
) -> Screening:
    return screen(question, _frame(dataset), variables)


def characteristics(
    dataset: UUID, question: Question, within: Within, numbers: Numbers, tests: bool, _tell: Tell
) -> FirstTable:
    return first_table(question, _frame(dataset), within=within, numbers=numbers, tests=tests)


def _frame(dataset: UUID) -> Any:
    return frame_of(DataSet.objects.get(id=dataset))
