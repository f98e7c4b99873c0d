"""Answers to stored questions, remembered by data, codebook version and question."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass

from django.core.cache import cache

from hobrix import figures
from hobrix.core.data import Frozen
from hobrix.core.questions import Answer, Question, answer, takes_long
from hobrix.web.studies.frames import frame_of
from hobrix.web.studies.models import DataSet


class AnswerWithFigures(Frozen):
    """An answer and its pictures as Vega-Lite specifications."""

    answer: Answer
    figures: dict[str, figures.Spec]


@dataclass(frozen=True)
class Answered:
    """An answer as it is sent (JSON of AnswerWithFigures), and its short form."""

    json: bytes
    headline: str


def headline(dataset: DataSet, question: Question) -> str | None:
    """The short form of an answer; None for one that takes long and was not asked for yet. Raises
    QuestionError."""
    if takes_long(question):
        found: Answered | None = cache.get(_key(dataset, question))
        return None if found is None else found.headline
    return answered(dataset, question).headline


def _key(dataset: DataSet, question: Question) -> str:
    asked = question.model_dump_json(by_alias=True)
    return hashlib.sha256(f"{dataset.id}|{dataset.version}|{asked}".encode()).hexdigest()


def answered(
    dataset: DataSet, question: Question, tell: Callable[[float], None] = lambda _: None
) -> Answered:
    """The answer to a question about a stored data set. ``tell`` hears how much is done and may
    raise to end the work. Raises QuestionError."""
    key = _key(dataset, question)
    found: Answered | None = cache.get(key)
    if found is None:
        given = answer(question, frame_of(dataset), tell)
        both = AnswerWithFigures.model_construct(answer=given, figures=figures.of(given))
        found = Answered(
            json=both.model_dump_json(by_alias=True).encode(), headline=given.reading.headline
        )
        cache.set(key, found)
    return found
