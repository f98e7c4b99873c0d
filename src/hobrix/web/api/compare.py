"""Answers side by side, also of one question asked in each group of a variable."""

from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from hobrix.core.data import AllOf, IsOneOf
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Question
from hobrix.core.questions.comparing import MOST, SideBySide
from hobrix.figures.comparing import pictures
from hobrix.web.api.problems import Problem
from hobrix.web.api.waiting import StillWorking, beside
from hobrix.web.studies.access import dataset_for
from hobrix.web.studies.frames import frame_of
from hobrix.web.studies.side_by_side import piece_comparing

router = Router(by_alias=True)

Title = Annotated[str, Field(max_length=300)]
REFUSED = {202: StillWorking, 403: Problem, 404: Problem, 422: Problem}


class ComparedQuestion(Schema):
    """A question about a data set, under the title it is compared by."""

    dataset: UUID
    question: Question
    title: Title


class CompareRequest(Schema):
    questions: Annotated[list[ComparedQuestion], Field(min_length=1, max_length=MOST)]


class SpreadRequest(Schema):
    """A question that is to be asked in each group of a variable."""

    dataset: UUID
    question: Question
    by: str


class ComparisonOut(Schema):
    """The comparison, and its pictures by measure."""

    comparison: SideBySide
    figures: dict[str, dict[str, Any]]


@router.post("", response={200: ComparisonOut, **REFUSED})
def compare_answers(
    request: HttpRequest, study_id: Path[UUID], body: CompareRequest
) -> dict[str, Any]:
    """Two to eight answers side by side; the first is what the others are held against."""
    asked = [
        (dataset_for(request.user, study_id, each.dataset), each.question, each.title)
        for each in body.questions
    ]
    found = beside(request, piece_comparing(asked))
    return {"comparison": found, "figures": pictures(found)}


@router.post("/spread", response={200: list[ComparedQuestion], **REFUSED})
def spread_question(
    request: HttpRequest, study_id: Path[UUID], body: SpreadRequest
) -> list[ComparedQuestion]:
    """The same question among each group of a variable that anybody is in."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    frame = frame_of(dataset, [body.by])
    column, variable = frame.categorical(body.by, "by"), frame.variables[body.by]
    among = body.question.among
    made = []
    for at, category in enumerate(column.categories):
        if not (column.codes == at).any():
            continue
        only = IsOneOf(variable=body.by, values=(category.value,))
        also = among.all if isinstance(among, AllOf) else () if among is None else (among,)
        rule = AllOf(all=(only, *also))
        asked = body.question.changed(among=rule)
        title = f"{variable.title}: {category.label}"
        made.append(ComparedQuestion(dataset=body.dataset, question=asked, title=title))
    if not 2 <= len(made) <= MOST:
        raise QuestionError(
            f"{variable.title} has {len(made)} groups; 2 to {MOST} can stand side by side.",
            slot="by",
        )
    return made
