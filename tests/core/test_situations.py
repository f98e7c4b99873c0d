"""Situations: small made-up data, what must be said of them, and what must not be.

The tables of situations stand beside this, in ``situations/*.toml``; anybody can read them. The
words they are made of are told in ``situations/README.md``.
"""

import tomllib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from core.situations import frame_of, question_of
from hobrix.core.data import Frame
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer

FOLDER = Path(__file__).parent / "situations"
SITUATIONS = [
    pytest.param(each, id=f"{file.stem}: {each['name']}")
    for file in sorted(FOLDER.glob("*.toml"))
    for each in tomllib.loads(file.read_text())["situation"]
]


def asked(situation: dict[str, Any]) -> Answer:
    return answer(question_of(situation), frame_of(situation), panels=None)


@pytest.mark.parametrize("situation", SITUATIONS)
def test_a_situation(situation: dict[str, Any]) -> None:
    frame, question = frame_of(situation), question_of(situation)
    if "refused" in situation:
        is_refused(situation, question, frame)
    else:
        given = answer(question, frame, panels=None)
        says_what_it_must(situation, given)
        checks_what_it_must(situation, given)
        for label, way in ways_on(given):
            assert follow(way, frame), label


def is_refused(situation: dict[str, Any], question: Question, frame: Frame) -> None:
    """In the words told, with remedies that lead to answers."""
    with pytest.raises(QuestionError) as refused:
        answer(question, frame, panels=None)
    for words in situation["refused"]:
        assert words in str(refused.value)
    for _, way in refused.value.remedies:
        assert isinstance(way, Question)
        answer(way, frame, panels=None)


def says_what_it_must(situation: dict[str, Any], given: Answer) -> None:
    said = Said(given)
    where = {"says": said.told, "shows": said.figures, "writes": given.write_up}
    for key, text in where.items():
        for words in situation.get(key, []):
            assert words in text
    for words in situation.get("never", []):
        assert words not in said.everything
    for panel, words in situation.get("opens", {}).items():
        assert words in getattr(given.opened, panel).model_dump_json()


def checks_what_it_must(situation: dict[str, Any], given: Answer) -> None:
    standing = {check.id: check for check in given.checks}
    for check, status in situation.get("checks", {}).items():
        assert (check, standing[check].status if check in standing else "none") == (check, status)
    for check, words in situation.get("because", {}).items():
        assert words in standing[check].text


class Said:
    """All words of an answer."""

    def __init__(self, given: Answer) -> None:
        reading = given.reading
        self.told = " ".join([reading.lead, *reading.notes])
        self.figures = " ".join(
            f"{figure.label} {figure.value} {figure.detail}" for figure in reading.figures
        )
        checks = " ".join(check.text for check in given.checks)
        self.everything = " ".join(
            [self.told, self.figures, checks, given.write_up, reading.headline]
        )


def ways_on(given: Answer) -> Iterator[tuple[str, Question]]:
    """Every question that an answer offers to ask next."""
    for check in given.checks:
        for remedy in check.remedies:
            if remedy.question is not None:
                yield remedy.label, remedy.question
    for step in given.next_steps:
        yield step.label, step.question


def follow(way: Question, frame: Frame) -> Answer:
    """An offer that cannot be answered is a dead end."""
    return answer(way, frame, panels=None)
