"""Answers to stored questions, remembered by data, codebook version and question."""

import hashlib
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
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


_under_work: dict[str, tuple[threading.Lock, int]] = {}
_registry = threading.Lock()


@contextmanager
def _one_at_a_time(key: str) -> Iterator[None]:
    """Only one thread at a time works under a key."""
    with _registry:
        lock, waiting = _under_work.get(key, (threading.Lock(), 0))
        _under_work[key] = (lock, waiting + 1)
    try:
        with lock:
            yield
    finally:
        with _registry:
            lock, waiting = _under_work.pop(key)
            if waiting > 1:
                _under_work[key] = (lock, waiting - 1)


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
    if found is not None:
        return found
    # The browser asks for an answer and keeps its question at once: the second waits for the first.
    with _one_at_a_time(key):
        found = cache.get(key)
        if found is not None:
            return found
        given = answer(question, frame_of(dataset), tell)
        both = AnswerWithFigures.model_construct(answer=given, figures=figures.of(given))
        found = Answered(
            json=both.model_dump_json(by_alias=True).encode(), headline=given.reading.headline
        )
        cache.set(key, found)
    return found
