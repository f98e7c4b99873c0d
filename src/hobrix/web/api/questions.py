"""Lines of questions: kept, changed, ordered, deleted and brought back."""

from typing import Annotated, Any, Literal
from uuid import UUID

from cachetools import LRUCache
from django.db.models import F, Max, TextField
from django.db.models.functions import Cast
from django.http import Http404, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Path, Router, Schema, Status
from pydantic import Field
from pydantic_core import to_json

from hobrix.core.questions import Question
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, question_for, study_for
from hobrix.web.studies.answers import fingerprint_of, known_headline
from hobrix.web.studies.dependence import mark_of
from hobrix.web.studies.models import SavedQuestion, state_of
from hobrix.web.studies.terms import pending_in

router = Router(by_alias=True)


StandingName = Literal["draft", "kept", "dropped"]


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
    standing: StandingName | None = None


class Move(Schema):
    """Place the question before another; null is the end of the list."""

    before: UUID | None


class QuestionOut(Schema):
    """``headline`` is the short form of the last answer; null where it was not asked for yet. It
    ``is_current`` as long as nothing has changed since that the answer rests on."""

    id: UUID
    dataset: UUID
    parent: UUID | None
    title: str
    note: str
    standing: StandingName
    question: Question
    version: int
    headline: str | None
    is_current: bool


def _kept(question: Question) -> dict[str, Any]:
    """What is stored of a question."""
    return {
        "question": question.model_dump(mode="json", by_alias=True),
        "fingerprint": fingerprint_of(question),
        "headline": "",
        "answered_for": "",
        "rests_on": "",
    }


def _with_headline(saved: SavedQuestion) -> SavedQuestion:
    """Its question is new: the headline is that of an answer that is remembered, if there is one."""
    found = known_headline(saved.dataset, Question.model_validate(saved.question))
    if found is not None:
        saved.headline, saved.answered_for = found, saved.dataset.state
        saved.rests_on = mark_of(saved.dataset, Question.model_validate(saved.question))
        saved.save(update_fields=["headline", "answered_for", "rests_on"])
    return saved


def _out(saved: SavedQuestion) -> dict[str, Any]:
    return {
        "id": saved.id,
        "dataset": saved.dataset_id,
        "parent": saved.parent_id,
        "title": saved.title,
        "note": saved.note,
        "standing": saved.standing,
        "question": saved.question,
        "version": saved.version,
        "headline": saved.headline or None,
        "is_current": saved.answered_for == saved.dataset.state or _still_rests_on(saved),
    }


@router.get("", response={200: list[QuestionOut], 404: Problem})
def list_questions(request: HttpRequest, study_id: Path[UUID]) -> HttpResponse:
    """Long lines are listed often: nothing is worked out, and questions go as they are stored."""
    study = study_for(request.user, study_id)
    rows = list(
        study.questions.filter(deleted_at__isnull=True, dataset__deleted_at__isnull=True)
        .annotate(stored=Cast("question", TextField()))
        .values_list(*_LISTED, "answered_for", "dataset__version", "stored", "rests_on")
    )
    current = _current_again(
        [row[0] for row in rows if row[-1] and row[8] != state_of(row[1], row[9])]
    )
    hidden = pending_in(request.user, study.id)
    lines = [_line(row[1] in hidden, row[0] in current, *row[:-1]) for row in rows]
    return HttpResponse(f"[{','.join(lines)}]", content_type="application/json")


_NAMES = ("id", "dataset", "parent", "title", "note", "standing", "version")
_LISTED = ("id", "dataset_id", "parent_id", "title", "note", "standing", "version", "headline")


def _current_again(changed: list[UUID]) -> set[UUID]:
    """Of questions whose data set changed since they were answered those whose answers rest on nothing that
    did. Looked for once after each change."""
    found = set()
    for saved in SavedQuestion.objects.filter(id__in=changed).select_related("dataset"):
        key = (saved.id, saved.version, saved.dataset.state)
        if key not in _still:
            _still[key] = _still_rests_on(saved)
        if _still[key]:
            found.add(saved.id)
    return found


_still: LRUCache[tuple[UUID, int, str], bool] = LRUCache(20_000)


def _still_rests_on(saved: SavedQuestion) -> bool:
    if not saved.rests_on:
        return False
    return saved.rests_on == mark_of(saved.dataset, Question.model_validate(saved.question))


def _line(is_hidden: bool, is_current_again: bool, *row: Any) -> str:
    """A question of the list as JSON; its headline is ``is_hidden`` before terms are accepted."""
    *known, headline, answered_for, dataset_version, stored = row
    found = dict(zip(_NAMES, known, strict=True))
    state = state_of(found["dataset"], dataset_version)
    found |= {
        "headline": None if is_hidden else headline or None,
        "is_current": answered_for == state or is_current_again,
    }
    return f'{to_json(found).decode()[:-1]},"question":{stored}}}'


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
        **_kept(body.question),
    )
    return Status(201, _out(_with_headline(saved)))


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
    changes = body.model_dump(include={"title", "note", "standing"}, exclude_none=True)
    if body.question is not None:
        changes |= _kept(body.question)
    changed = SavedQuestion.objects.filter(id=saved.id, version=body.version).update(
        **changes, version=F("version") + 1
    )
    saved.refresh_from_db()
    if not changed:
        raise Stale(QuestionOut(**_out(saved)).model_dump(mode="json", by_alias=True))
    if body.question is not None:
        saved = _with_headline(saved)
    return _out(saved)


@router.post("/{question_id}/move", response={200: list[QuestionOut], 404: Problem})
def move_question(
    request: HttpRequest, study_id: Path[UUID], question_id: Path[UUID], body: Move
) -> HttpResponse:
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
