"""Pieces of work over many variables or rows of a data set, done beside the threads that serve."""

from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any
from uuid import UUID

from hobrix.core.data import Frame
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
from hobrix.web.studies.dependence import frame_about
from hobrix.web.studies.frames import codebook_frame, frame_of
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
    tell: Tell,
) -> list[Glance]:
    return list(at_a_glance(question, _frame(dataset, question), variables, shares, tell))


def screened(
    dataset: UUID, question: Question, variables: list[str] | None, tell: Tell
) -> Screening:
    return screen(question, _frame(dataset, question), variables, tell)


def characteristics(
    dataset: UUID, question: Question, within: Within, numbers: Numbers, tests: bool, tell: Tell
) -> FirstTable:
    frame = _frame(dataset, question)
    return first_table(question, frame, within=within, numbers=numbers, tests=tests, tell=tell)


def _frame(dataset: UUID, question: Question) -> Frame:
    """All variables of a data set; of one whose rows stay elsewhere a few at a time, with those that say who is
    counted and how."""
    found = DataSet.objects.get(id=dataset)
    if not found.is_linked:
        return frame_of(found)
    counted = question.changed(outcome=None, vary_with=(), allowing_for=(), within=())

    def narrow(names: Iterable[str]) -> Frame:
        return frame_about(found, counted, also=names)

    return replace(codebook_frame(found), narrow=narrow)
