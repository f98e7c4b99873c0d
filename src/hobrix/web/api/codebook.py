"""The codebook of a data set, and the steps that prepare it."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix.core.data import (
    Look,
    NetworkWeights,
    Rake,
    Step,
    Variable,
    WeightsLook,
    look_at_weights,
    parents_of,
    suggested_cuts,
)
from hobrix.core.data.spelling import spelled_twice
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.jobs.running import follow
from hobrix.web.studies import linking
from hobrix.web.studies.access import MAY_CHANGE, dataset_for
from hobrix.web.studies.frames import Workspace, workspace_of
from hobrix.web.studies.models import CodebookEntry, DataSet, PreparationStep
from hobrix.web.studies.preparing import SeenOld, add_step, preview, redo, turn, undo, version_of
from hobrix.web.studies.summaries import Summary, rows_with, summary_of

router = Router(by_alias=True)


class EntryOut(Schema):
    """A variable with the reasons for its reading, what to look at, and its miniature.

    ``made_from`` names the variables it was made from; empty for those of the file.
    """

    variable: Variable
    version: int
    reason: str
    to_look_at: list[Look]
    made_from: list[str]
    # Answers that differ from another only in capitals or blanks.
    spelled_twice: list[str]
    summary: Summary


class StepIn(Schema):
    """A step, and the versions of the variables it was made on."""

    step: Step
    seen: dict[str, int]


class StepOut(Schema):
    id: int
    step: Step
    words: str
    is_active: bool
    effect: dict[str, Any]
    made_at: datetime
    made_by: str | None

    @staticmethod
    def resolve_made_by(step: PreparationStep) -> str | None:
        return step.made_by.get_username() if step.made_by else None


class StepChange(Schema):
    is_active: bool


class ValueFound(Schema):
    """A variable that holds a value; ``is_missing`` when it is declared to be no answer."""

    variable: str
    n: int
    is_missing: bool


REFUSED = {404: Problem, 409: Problem, 422: Problem}


@router.get("/codebook", response={200: list[EntryOut], 404: Problem})
def read_codebook(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]
) -> list[EntryOut]:
    return _entries(dataset_for(request.user, study_id, dataset_id))


@router.get("/steps", response={200: list[StepOut], 404: Problem})
def list_steps(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> Any:
    dataset = dataset_for(request.user, study_id, dataset_id)
    return dataset.steps.select_related("made_by")


@router.post("/steps", response={201: StepOut, **REFUSED})
def make_step(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: StepIn
) -> Status[PreparationStep]:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    try:
        step = add_step(dataset, request.user, body.step, body.seen)
        follow(dataset, request.user)
        return Status(201, step)
    except SeenOld:
        names = set(body.seen)
        dataset.refresh_from_db()
        current = [entry for entry in _entries(dataset) if entry.variable.name in names]
        raise Stale({"entries": [entry.model_dump(mode="json") for entry in current]}) from None


@router.post("/steps/preview", response={200: EntryOut, **REFUSED})
def preview_step(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: StepIn
) -> EntryOut:
    """What the variable a step makes or changes would look like; nothing is kept."""
    dataset = dataset_for(request.user, study_id, dataset_id)
    state = preview(dataset, body.step)
    return _entry(Workspace(dataset, state), body.step.touches()[0])


class WeightsRequest(Schema):
    """A step that makes weights."""

    step: Annotated[NetworkWeights | Rake, Field(discriminator="step")]


@router.post("/steps/weights", response={200: WeightsLook, 404: Problem, 422: Problem})
def preview_weights(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: WeightsRequest
) -> WeightsLook:
    """Weights before and after a step that makes them; nothing is kept."""
    dataset = dataset_for(request.user, study_id, dataset_id)
    linking.refuse_linked(
        dataset, "weights are made where rows are. Bring the file in to make them."
    )
    return look_at_weights(body.step, workspace_of(dataset).frame())


@router.get("/values", response={200: list[ValueFound], 404: Problem})
def find_value(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    value: Annotated[str, Field(min_length=1, max_length=300)],
) -> list[ValueFound]:
    """The variables of the file in which a value stands, and in how many rows."""
    dataset = dataset_for(request.user, study_id, dataset_id)
    workspace, roughly = workspace_of(dataset), linking.large(dataset)
    found = []
    for name, variable in workspace.state.variables.items():
        if name in workspace.state.made:
            continue
        if name in roughly:
            n = linking.rows_with(dataset, name, value)
        else:
            n = workspace.how_many(name, rows_with(workspace.source(name), value))
        if n:
            is_missing = any(code.value == value for code in variable.missing)
            found.append(ValueFound(variable=name, n=n, is_missing=is_missing))
    return found


@router.get("/codebook/{name}/cuts", response={200: list[float], **REFUSED})
def suggest_cuts(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    name: Path[str],
    how: Literal["equal_width", "equal_count"],
    bands: Annotated[int, Field(ge=2, le=50)],
) -> list[float]:
    """Cuts for a numeric variable: bands of equal width, or of equal counts as far as ties allow."""
    workspace = workspace_of(dataset_for(request.user, study_id, dataset_id))
    return list(suggested_cuts(workspace.over([name]).frame(), name, how, bands))


@router.post("/steps/undo", response={200: StepOut, **REFUSED})
def undo_step(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]
) -> PreparationStep:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    step = undo(dataset)
    follow(dataset, request.user)
    return step


@router.post("/steps/redo", response={200: StepOut, **REFUSED})
def redo_step(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]
) -> PreparationStep:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    step = redo(dataset)
    follow(dataset, request.user)
    return step


@router.patch("/steps/{int:step_id}", response={200: StepOut, **REFUSED})
def change_step(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    step_id: Path[int],
    body: StepChange,
) -> PreparationStep:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    step = turn(dataset, step_id, active=body.is_active)
    follow(dataset, request.user)
    return step


def _entries(dataset: DataSet) -> list[EntryOut]:
    workspace = workspace_of(dataset)
    first_read = {entry.name: entry for entry in dataset.entries.all()}
    return [_entry(workspace, name, first_read.get(name)) for name in workspace.state.variables]


def _to_look_at(workspace: Workspace, name: str, first_read: CodebookEntry | None) -> list[Look]:
    """What was seen at first, as far as it is not decided by now."""
    if first_read is None:
        why = workspace.trouble(name)
        return [] if why is None else [Look(text=f"It cannot be made of these data: {why}")]
    looks = [Look.model_validate(look) for look in first_read.to_look_at]
    decided = workspace.state.decided.get(name, frozenset())
    return [look for look in looks if not look.values or not decided.issuperset(look.values)]


def _entry(workspace: Workspace, name: str, first_read: CodebookEntry | None = None) -> EntryOut:
    variable = workspace.state.variables[name]
    making = workspace.state.made.get(name)
    parents = [] if making is None else list(parents_of(making))
    alone = workspace.over([name])
    fields: dict[str, Any] = {
        "variable": variable,
        "version": version_of(variable),
        "reason": first_read.reason if first_read else f"made from {', '.join(parents)}",
        "to_look_at": _to_look_at(workspace, name, first_read),
        "made_from": parents,
        "spelled_twice": [twin.label for twin, _ in spelled_twice(variable)],
        "summary": summary_of(alone.frame(), variable, alone.source(name)),
    }
    return EntryOut(**fields)
