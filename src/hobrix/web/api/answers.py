"""Answers to questions, kept or not."""

from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema

from hobrix.core.questions import Question
from hobrix.web.api.problems import Problem
from hobrix.web.studies.access import dataset_for
from hobrix.web.studies.answers import AnswerWithFigures, answered

router = Router(by_alias=True)


class AnswerRequest(Schema):
    dataset: UUID
    question: Question


@router.post("", response={200: AnswerWithFigures, 404: Problem, 422: Problem})
def answer_question(
    request: HttpRequest, study_id: Path[UUID], body: AnswerRequest
) -> HttpResponse:
    """Answer a question without keeping it. Members in any role may ask."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    return HttpResponse(answered(dataset, body.question).json, content_type="application/json")
