"""Answers to stored questions, remembered by data, codebook version and question."""

import hashlib
from dataclasses import dataclass

from django.core.cache import cache

from hobrix import figures
from hobrix.core.data import Frozen
from hobrix.core.questions import Answer, Question, answer
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


def answered(dataset: DataSet, question: Question) -> Answered:
    """The answer to a question about a stored data set; raises QuestionError."""
    asked = question.model_dump_json(by_alias=True)
    key = hashlib.sha256(f"{dataset.id}|{dataset.version}|{asked}".encode()).hexdigest()
    found: Answered | None = cache.get(key)
    if found is None:
        given = answer(question, frame_of(dataset))
        both = AnswerWithFigures.model_construct(answer=given, figures=figures.of(given))
        found = Answered(
            json=both.model_dump_json(by_alias=True).encode(), headline=given.reading.headline
        )
        cache.set(key, found)
    return found
