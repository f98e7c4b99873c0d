"""Comparing answers, as a piece of work done beside the threads that serve."""

from typing import NamedTuple
from uuid import UUID

from hobrix.core.progress import Tell
from hobrix.core.questions import Question
from hobrix.core.questions.comparing import SideBySide, compare
from hobrix.core.questions.other_people import Asked
from hobrix.web.beside import Piece
from hobrix.web.studies.dependence import frame_about
from hobrix.web.studies.models import DataSet
from hobrix.web.studies.terms import lineage


class Beside(NamedTuple):
    """A question about a data set, under the title it is compared by."""

    dataset: UUID
    question: Question
    title: str


def piece_comparing(each: list[tuple[DataSet, Question, str]]) -> Piece:
    """Data sets as they stand, questions and titles."""
    named = [f"{dataset.state}|{q.model_dump_json()}|{title}" for dataset, q, title in each]
    key = "compare|" + "|".join(named)
    given = [Beside(dataset.id, question, title) for dataset, question, title in each]
    return Piece(key, key, compared, (given,))


def compared(each: list[Beside], _tell: Tell) -> SideBySide:
    asked = []
    for one in each:
        dataset = DataSet.objects.get(id=one.dataset)
        asked.append(
            Asked(
                question=one.question,
                frame=frame_about(dataset, one.question),
                title=one.title,
                data_set=dataset.name,
                data_sets=frozenset(str(of.id) for of in lineage(dataset)),
            )
        )
    return compare(asked)
