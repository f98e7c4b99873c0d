"""Answers to questions, kept or not."""

from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix.core.questions import (
    FirstTable,
    Glance,
    LensOffered,
    Numbers,
    Question,
    Screening,
    Within,
    compare_set_aside,
    offered,
    rows_set_aside,
)
from hobrix.web.api.problems import Problem
from hobrix.web.api.waiting import Progress, StillWorking, asker_of, beside, there
from hobrix.web.beside import Asker, look, stop
from hobrix.web.studies.access import dataset_for, study_for
from hobrix.web.studies.answers import (
    AnswerWithFigures,
    PanelWithFigures,
    asked,
    asked_for_panel,
)
from hobrix.web.studies.dependence import frame_about
from hobrix.web.studies.frames import codebook_frame
from hobrix.web.studies.looking_over import characteristics, glances, piece_over, screened
from hobrix.web.studies.rows import picked_rows

router = Router(by_alias=True)


Token = Annotated[str, Field(min_length=1, max_length=80)]


REFUSED = {202: StillWorking, 404: Problem, 409: Problem, 422: Problem}


class AnswerRequest(Schema):
    dataset: UUID
    question: Question


@router.post("", response={200: AnswerWithFigures, **REFUSED})
def answer_question(
    request: HttpRequest, study_id: Path[UUID], body: AnswerRequest
) -> HttpResponse:
    """Answer a question without keeping it. Members in any role may ask."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    found = there(asked(asker_of(request), dataset, body.question))
    return HttpResponse(found.json, content_type="application/json")


@router.post("/panels/{panel}", response={200: PanelWithFigures, **REFUSED})
def open_panel(
    request: HttpRequest, study_id: Path[UUID], panel: Path[str], body: AnswerRequest
) -> HttpResponse:
    """One panel of the answer to a question: what it shows, the checks that need its numbers, and
    what it adds to the write-up."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    found = there(asked_for_panel(asker_of(request), dataset, body.question, panel))
    return HttpResponse(found.json, content_type="application/json")


class LensesRequest(Schema):
    dataset: UUID
    question: Question


@router.post("/lenses", response={200: list[LensOffered], 404: Problem, 422: Problem})
def lenses(request: HttpRequest, study_id: Path[UUID], body: LensesRequest) -> list[LensOffered]:
    """Every lens for a question, and why it cannot answer it, as far as the codebook tells."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    return list(offered(body.question, codebook_frame(dataset)))


@router.get("/under-way/{token}", response={200: Progress, 404: Problem})
def read_progress(request: HttpRequest, study_id: Path[UUID], token: Path[Token]) -> Progress:
    """How far the work of this name is, and whose turn it is."""
    study_for(request.user, study_id)
    found = look(Asker(int(request.user.pk or 0), token))
    return Progress(done=None) if found is None else Progress(done=found.done, place=found.place)


@router.delete("/under-way/{token}", response={204: None, 404: Problem})
def stop_answer(request: HttpRequest, study_id: Path[UUID], token: Path[Token]) -> Status[None]:
    """End the work on an answer; its request ends with 409."""
    study_for(request.user, study_id)
    stop(Asker(int(request.user.pk or 0), token))
    return Status(204, None)


class ManyRequest(Schema):
    """``variables`` null: all that can be looked at. Of the question, the subset and how rows
    count are used, for the screening also the outcome."""

    dataset: UUID
    question: Question
    variables: Annotated[list[str], Field(max_length=5000)] | None = None


class GlanceRequest(ManyRequest):
    """``shares`` null: equal ones are tested."""

    shares: Annotated[list[float], Field(max_length=200)] | None = None


@router.post("/at-a-glance", response={200: list[Glance], **REFUSED})
def many_at_a_glance(request: HttpRequest, study_id: Path[UUID], body: GlanceRequest) -> Any:
    """Many variables at once: answers, missing, and the test of equal shares."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    piece = piece_over(glances, dataset, body.question, body.variables, body.shares)
    return beside(request, piece)


@router.post("/screening", response={200: Screening, **REFUSED})
def screening(request: HttpRequest, study_id: Path[UUID], body: ManyRequest) -> Any:
    """Which variables go with the outcome, the strongest first; an exploration."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    return beside(request, piece_over(screened, dataset, body.question, body.variables))


class FirstTableRequest(Schema):
    """The outcome and the variables of the question are listed; see ``FirstTable``."""

    dataset: UUID
    question: Question
    within: Within = "outcome"
    numbers: Numbers = "mean"
    tests: bool = False


@router.post("/first-table", response={200: FirstTable, **REFUSED})
def first_table(request: HttpRequest, study_id: Path[UUID], body: FirstTableRequest) -> Any:
    """Characteristics by outcome, as the first table of a paper."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    how = body.within, body.numbers, body.tests
    return beside(request, piece_over(characteristics, dataset, body.question, *how))


class AsideRequest(Schema):
    dataset: UUID
    question: Question
    offset: Annotated[int, Field(ge=0)] = 0
    limit: Annotated[int, Field(ge=1, le=200)] = 50


class AsideRow(Schema):
    """A row that is set aside: its number in the file, what it lacks, its answers as text."""

    row: int
    lacking: list[str]
    cells: list[str]


class ComparedAnswer(Schema):
    """An answer's share among the counted and among those set aside who gave one."""

    label: str
    counted: float | None
    set_aside: float | None


class ComparedVariable(Schema):
    title: str
    p: float | None
    answers: list[ComparedAnswer]


class Aside(Schema):
    """Those a question sets aside, a page of them, and how they compare with those counted."""

    total: int
    names: list[str]
    rows: list[AsideRow]
    comparison: list[ComparedVariable]


@router.post("/set-aside", response={200: Aside, 404: Problem, 422: Problem})
def set_aside(request: HttpRequest, study_id: Path[UUID], body: AsideRequest) -> Aside:
    """Which rows fell out of an answer and why, and whether they differ from those counted."""
    dataset = dataset_for(request.user, study_id, body.dataset)
    frame = frame_about(dataset, body.question)
    aside = rows_set_aside(body.question, frame, body.offset, body.limit)
    names, cells = picked_rows(dataset, aside.rows.tolist())
    return Aside(
        total=aside.total,
        names=names,
        rows=[
            AsideRow(row=row + 1, lacking=list(lacking), cells=texts)
            for row, lacking, texts in zip(
                aside.rows.tolist(), aside.unanswered, cells, strict=True
            )
        ],
        comparison=[
            ComparedVariable(
                title=each.title,
                p=each.p,
                answers=[
                    ComparedAnswer(label=label, counted=counted, set_aside=aside_share)
                    for label, counted, aside_share in each.answers
                ],
            )
            for each in compare_set_aside(body.question, frame)
        ],
    )
