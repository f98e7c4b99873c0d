"""Answers to questions about stored data sets, remembered by what they depend on.

What is remembered is bounded by bytes: answers and panels as they are sent, and questions that were
begun, so that a panel need not count or fit again.
"""

import hashlib
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from operator import itemgetter
from typing import Any, TypeVar, cast
from uuid import UUID

from cachetools import LRUCache
from django.conf import settings

from hobrix import figures
from hobrix.core.data import Frozen
from hobrix.core.errors import QuestionError
from hobrix.core.progress import Tell, quietly
from hobrix.core.questions import (
    Answer,
    Begun,
    PanelAnswer,
    Question,
    begin,
    finish,
    panel,
    takes_long,
)
from hobrix.web.beside import Asker, Piece, UnderWay, run
from hobrix.web.studies.bytes_of import bytes_of
from hobrix.web.studies.dependence import frame_about, mark_of
from hobrix.web.studies.models import DataSet, SavedQuestion


class AnswerWithFigures(Frozen):
    """An answer and its pictures as Vega-Lite specifications."""

    answer: Answer
    figures: dict[str, figures.Spec]


class PanelWithFigures(Frozen):
    """A panel of an answer and its pictures."""

    panel: PanelAnswer
    figures: dict[str, figures.Spec]


Kept = TypeVar("Kept")


@dataclass(frozen=True)
class Sent:
    """JSON as it is sent, and the short form of an answer."""

    json: bytes
    headline: str = ""


_registry = threading.RLock()
_sent: LRUCache[str, Sent] = LRUCache(
    settings.ANSWER_CACHE_SIZE, getsizeof=lambda sent: len(sent.json) + 1000
)
# What was begun, with its size.
_begun: LRUCache[str, tuple[Begun, int]] = LRUCache(
    settings.WORK_CACHE_SIZE, getsizeof=itemgetter(1)
)
_under_work: dict[str, tuple[threading.Lock, int]] = {}


def asked(asker: Asker, dataset: DataSet, question: Question) -> Sent | UnderWay:
    """``answered``, worked out beside the thread that serves."""
    return _beside(asker, dataset, question, "", answer_beside, (question,))


def asked_for_panel(
    asker: Asker, dataset: DataSet, question: Question, name: str
) -> Sent | UnderWay:
    """``opened``, worked out beside the thread that serves."""
    return _beside(asker, dataset, question, f"|{name}", panel_beside, (question, name))


def _beside(
    asker: Asker,
    dataset: DataSet,
    question: Question,
    what: str,
    function: Callable[..., tuple[str, Sent]],
    arguments: tuple[Any, ...],
) -> Sent | UnderWay:
    key = _key(dataset, question)
    found = _look_up(_sent, key + what)
    if found is not None:
        return found
    try:
        given = run(asker, Piece(key + what, key, function, (dataset.id, *arguments)))
    except QuestionError:
        if not what:
            _keep_headline(dataset, question, "")
        raise
    if isinstance(given, UnderWay):
        return given
    told, sent = given
    # The data may have changed before the work began.
    if told == key:
        _remember(_sent, key + what, sent)
        if not what:
            # Once it is remembered: a question saved before this gets it here, one saved later finds it.
            _keep_headline(dataset, question, sent.headline)
    return cast(Sent, sent)


def answer_beside(dataset: UUID, question: Question, tell: Tell) -> tuple[str, Sent]:
    """A piece of work: the answer, and under which key."""
    found = DataSet.objects.get(id=dataset)
    return _key(found, question), answered(found, question, tell)


def panel_beside(dataset: UUID, question: Question, name: str, tell: Tell) -> tuple[str, Sent]:
    """A piece of work: a panel, and under which key of its answer."""
    found = DataSet.objects.get(id=dataset)
    return _key(found, question), opened(found, question, name, tell)


def answered(dataset: DataSet, question: Question, tell: Tell = quietly) -> Sent:
    """The answer to a question about a stored data set (JSON of AnswerWithFigures). ``tell`` hears
    how much is done and may raise to end the work. Raises QuestionError."""
    key = _key(dataset, question)

    def work() -> Sent:
        begun = _begin(key, dataset, question, tell)
        given = finish(begun)
        _remember(_begun, key, (begun, bytes_of(begun)))
        both = AnswerWithFigures.model_construct(answer=given, figures=figures.of(given))
        return Sent(both.model_dump_json(by_alias=True).encode(), given.reading.headline)

    return _once(key, key, work)


def opened(dataset: DataSet, question: Question, name: str, tell: Tell = quietly) -> Sent:
    """A panel of an answer (JSON of PanelWithFigures); otherwise as ``answered``."""
    key = _key(dataset, question)

    def work() -> Sent:
        begun = _begin(key, dataset, question, tell)
        given = panel(begun, name, tell)
        # What panels have worked out belongs to it now.
        _remember(_begun, key, (begun, bytes_of(begun)))
        drawn = figures.of_opened(given.opened)
        both = PanelWithFigures.model_construct(panel=given, figures=drawn)
        return Sent(both.model_dump_json(by_alias=True).encode())

    return _once(f"{key}|{name}", key, work)


def begun_for(dataset: DataSet, question: Question, tell: Tell = quietly) -> Begun:
    """The question as it was begun before, or begun now and remembered. Raises QuestionError."""
    key = _key(dataset, question)
    with _one_at_a_time(key):
        begun = _begin(key, dataset, question, tell)
        _remember(_begun, key, (begun, bytes_of(begun)))
    return begun


def headline_now(dataset: DataSet, question: Question) -> str | None:
    """The short form of an answer, worked out where it takes no long; None where it would and was
    not asked for yet. Raises QuestionError."""
    found = known_headline(dataset, question)
    if found is None and not takes_long(question):
        return keep_headline(dataset, question)
    return found


def keep_headline(dataset: DataSet, question: Question) -> str:
    """The short form of an answer, worked out here and kept with the questions that ask this. Raises
    QuestionError."""
    try:
        headline = answered(dataset, question).headline
    except QuestionError:
        _keep_headline(dataset, question, "")
        raise
    _keep_headline(dataset, question, headline)
    return headline


def known_headline(dataset: DataSet, question: Question) -> str | None:
    """The short form of an answer that is remembered."""
    sent = _look_up(_sent, _key(dataset, question))
    return None if sent is None else sent.headline


def keep_known_headlines(dataset: DataSet) -> None:
    """With the questions of a data set, where their answers are remembered."""
    for saved in dataset.questions.filter(deleted_at__isnull=True):
        question = Question.model_validate(saved.question)
        if (headline := known_headline(dataset, question)) is not None:
            _keep_headline(dataset, question, headline)


def fingerprint_of(question: Question) -> str:
    """Tells questions apart, however they were written down."""
    return hashlib.sha256(question.model_dump_json(by_alias=True).encode()).hexdigest()


def _key(dataset: DataSet, question: Question) -> str:
    return f"{dataset.id}|{mark_of(dataset, question)}|{fingerprint_of(question)}"


def _begin(key: str, dataset: DataSet, question: Question, tell: Tell) -> Begun:
    """A question as it was begun before, or begun now."""
    kept = _look_up(_begun, key)
    return begin(question, frame_about(dataset, question, tell), tell) if kept is None else kept[0]


def _keep_headline(dataset: DataSet, question: Question, headline: str) -> None:
    """With every saved question that asks this."""
    SavedQuestion.objects.filter(dataset=dataset, fingerprint=fingerprint_of(question)).update(
        headline=headline, answered_for=dataset.state, rests_on=mark_of(dataset, question)
    )


def _look_up(cache: LRUCache[str, Kept], key: str) -> Kept | None:
    with _registry:
        found: Kept | None = cache.get(key)
        return found


def _remember(cache: LRUCache[str, Kept], key: str, kept: Kept) -> None:
    with _registry:
        cache.pop(key, None)
        # What is larger than the whole room is not kept.
        if cache.getsizeof(kept) <= cache.maxsize:
            cache[key] = kept


def _once(key: str, lock: str, work: Callable[[], Sent]) -> Sent:
    """What is remembered under the key, or worked out by one thread at a time under the lock."""
    found = _look_up(_sent, key)
    if found is None:
        with _one_at_a_time(lock):
            found = _look_up(_sent, key)
            if found is None:
                found = work()
                _remember(_sent, key, found)
    return found


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
