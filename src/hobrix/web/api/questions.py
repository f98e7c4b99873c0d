"""Lines of questions: kept, changed, ordered, deleted and brought back."""

from typing import Annotated, Any
from uuid import UUID

from django.db.models import F, Max
from django.http import Http404, HttpRequest
from django.utils import timezone
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix.core.errors import QuestionError
from hobrix.core.questions import Question
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, question_for, study_for
from hobrix.web.studies.answers import headline
from hobrix.web.studies.models import SavedQuestion

router = Router(by_alias=True)


class QuestionIn(Schema):
    """A new question; ``after`` places it, ``parent`` makes it a follow-up."""

    dataset: UUID
    question: Question
    parent: UUID | None = None
    after: UUID | None = None
    title: Annotated[str, Field(max_length=200)] = ""


class QuestionChange(Schema):
    """What is left out stays as it is."""

    version: int
    question: Question | None = None
    title: Annotated[str, Field(max_length=200)] | None = None
    note: Annotated[str, Field(max_length=5000)] | None = None


class Move(Schema):
    """Place the question before another; null is the end of the list."""

    before: UUID | None


class QuestionOut(Schema):
    id: UUID
    dataset: UUID
    parent: UUID | None
    title: str
    note: str
    question: Question
    version: int
    headline: str | None


def _out(saved: SavedQuestion) -> dict[str, Any]:
    question = Question.model_validate(saved.question)
    try:
        short = headline(saved.dataset, question)
    except QuestionError:
        short = None
    return {
        "id": saved.id,
        "dataset": saved.dataset_id,
        "parent": saved.parent_id,
        "title": saved.title,
        "note": saved.note,
        "question": question,
        "version": saved.version,
        "headline": short,
    }


@router.get("", response={200: list[QuestionOut], 404: Problem})
def list_questions(request: HttpRequest, study_id: Path[UUID]) -> list[dict[str, Any]]:
    study = study_for(request.user, study_id)
    questions = study.questions.filter(
        deleted_at__isnull=True, dataset__deleted_at__isnull=True
    ).select_related("dataset")
    return [_out(saved) for saved in questions]


@router.post("", response={201: QuestionOut, 404: Problem, 422: Problem})
def create_question(
    request: HttpRequest, study_id: Path[UUID], body: QuestionIn
) -> Status[dict[str, Any]]:
    dataset = dataset_for(request.user, study_id, body.dataset, *MAY_CHANGE)
    parent = None
    if body.parent is not None:
        parent = question_for(request.user, study_id, body.parent)
    saved = SavedQuestion.objects.create(
        study_id=study_id,
        dataset=dataset,
        parent=parent,
        position=_place(study_id, body.after),
        title=body.title,
        question=body.question.model_dump(mode="json", by_alias=True),
    )
    return Status(201, _out(saved))


def _place(study_id: UUID, after: UUID | None) -> float:
    """A position right after a question, or at the end."""
    questions = SavedQuestion.objects.filter(study_id=study_id)
    last = questions.aggregate(last=Max("position"))["last"] or 0.0
    found = SavedQuestion.objects.none() if after is None else questions.filter(id=after)
    here = found.values_list("position", flat=True).first()
    if here is None:
        return float(last + 1)
    following = questions.filter(position__gt=here).values_list("position", flat=True).first()
    return float(here + 1 if following is None else (here + following) / 2)


@router.patch(
    "/{question_id}", response={200: QuestionOut, 404: Problem, 409: Problem, 422: Problem}
)
def change_question(
    request: HttpRequest, study_id: Path[UUID], question_id: Path[UUID], body: QuestionChange
) -> dict[str, Any]:
    saved = question_for(request.user, study_id, question_id, *MAY_CHANGE)
    changes = body.model_dump(include={"title", "note"}, exclude_none=True)
    if body.question is not None:
        changes["question"] = body.question.model_dump(mode="json", by_alias=True)
    changed = SavedQuestion.objects.filter(id=saved.id, version=body.version).update(
        **changes, version=F("version") + 1
    )
    saved.refresh_from_db()
    if not changed:
        raise Stale(QuestionOut(**_out(saved)).model_dump(mode="json", by_alias=True))
    return _out(saved)


@router.post("/{question_id}/move", response={200: list[QuestionOut], 404: Problem})
def move_question(
    request: HttpRequest, study_id: Path[UUID], question_id: Path[UUID], body: Move
) -> list[dict[str, Any]]:
    saved = question_for(request.user, study_id, question_id, *MAY_CHANGE)
    others = SavedQuestion.objects.filter(study_id=study_id).exclude(id=saved.id)
    if body.before is None:
        position = (others.aggregate(last=Max("position"))["last"] or 0.0) + 1
    else:
        target = others.filter(id=body.before).first()
        if target is None:
            raise Http404("There is no such question.")
        previous = others.filter(position__lt=target.position).last()
        start = previous.position if previous else target.position - 2
        position = (start + target.position) / 2
    SavedQuestion.objects.filter(id=saved.id).update(position=position)
    return list_questions(request, study_id)


@router.delete("/{question_id}", response={204: None, 404: Problem})
def delete_question(
    request: HttpRequest, study_id: Path[UUID], question_id: Path[UUID]
) -> Status[None]:
    saved = question_for(request.user, study_id, question_id, *MAY_CHANGE)
    SavedQuestion.objects.filter(id=saved.id).update(deleted_at=timezone.now())
    return Status(204, None)


@router.post("/{question_id}/restore", response={200: QuestionOut, 404: Problem})
def restore_question(
    request: HttpRequest, study_id: Path[UUID], question_id: Path[UUID]
) -> dict[str, Any]:
    saved = question_for(request.user, study_id, question_id, *MAY_CHANGE, deleted=True)
    SavedQuestion.objects.filter(id=saved.id).update(deleted_at=None)
    return _out(saved)
