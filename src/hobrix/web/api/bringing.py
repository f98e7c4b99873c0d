"""Data sets brought together: what may be the same, what a recipe would make, and making it."""

from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix.core.bringing import (
    Alike,
    CommonVariable,
    GroupsToCompare,
    Recipe,
    RecipeLook,
    alike,
    look,
    proposed,
    with_taken,
)
from hobrix.core.errors import RecipeError
from hobrix.core.questions import Question
from hobrix.core.questions.lenses import lens_that_gives
from hobrix.core.questions.question import Outcome, Term
from hobrix.web.api.dataset_out import DataSetOut
from hobrix.web.api.jobs import JobOut
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.api.studies import Name
from hobrix.web.jobs.models import Job
from hobrix.web.jobs.running import (
    follow,
    is_large,
    start_making,
    start_making_again,
    would_be_large,
)
from hobrix.web.studies.access import MAY_CHANGE, dataset_for, study_for
from hobrix.web.studies.bringing import (
    change_recipe,
    make,
    parts_of,
    recipe_of,
    sources_of,
    turn_recipe,
)
from hobrix.web.studies.models import DataSet

router = Router(by_alias=True)
of_dataset = Router(by_alias=True)

Sources = Annotated[list[UUID], Field(min_length=1, max_length=50)]
REFUSED = {404: Problem, 409: Problem, 422: Problem}


class RecipeIn(Schema):
    """How to make a data set of which others, in the order the recipe speaks of them."""

    sources: Sources
    recipe: Recipe


class NewMade(RecipeIn):
    name: Name


class RecipeChange(Schema):
    """Another way to make it, seen at ``version`` of the data set."""

    version: int
    recipe: Recipe


class RecipeOut(Schema):
    """How a data set is made, of which data sets, whether that can be taken back or made again, and
    the question that groups were built for."""

    recipe: Recipe
    sources: list[UUID]
    can_undo: bool
    can_redo: bool
    question: Question | None


class AlikeRequest(Schema):
    """``used`` are the variables of each data set that are taken already."""

    sources: Sources
    used: list[list[str]] = []


class ProposalRequest(Schema):
    """Variables that are to be one, or none, of each data set."""

    sources: Sources
    variables: list[str | None]
    name: Name


class TakeRequest(Schema):
    """Another variable of the data set at place ``at``, for a common one."""

    sources: Sources
    common: CommonVariable
    at: Annotated[int, Field(ge=0)]
    variable: str


def _sources(request: HttpRequest, study_id: UUID, ids: list[UUID]) -> list[DataSet]:
    return [dataset_for(request.user, study_id, each) for each in ids]


@router.post("", response={201: DataSetOut, 202: JobOut, **REFUSED})
def make_dataset(
    request: HttpRequest, study_id: Path[UUID], body: NewMade
) -> Status[DataSet] | Status[Job]:
    """A data set at once, or the job that will make it where it is large."""
    study = study_for(request.user, study_id, *MAY_CHANGE)
    sources = _sources(request, study_id, body.sources)
    if would_be_large(sources):
        look(body.recipe, parts_of(sources))
        return Status(202, start_making(study, request.user, body.name, body.recipe, sources))
    return Status(201, make(study, request.user, body.name, body.recipe, sources))


@router.post("/look", response={200: RecipeLook, **REFUSED})
def look_at_recipe(request: HttpRequest, study_id: Path[UUID], body: RecipeIn) -> RecipeLook:
    """What would come of a recipe; nothing is kept."""
    study_for(request.user, study_id)
    return look(body.recipe, parts_of(_sources(request, study_id, body.sources)))


@router.post("/alike", response={200: list[Alike], **REFUSED})
def find_alike(request: HttpRequest, study_id: Path[UUID], body: AlikeRequest) -> list[Alike]:
    """Variables that may be the same, the likeliest first."""
    study_for(request.user, study_id)
    used = body.used if len(body.used) == len(body.sources) else []
    return list(alike(parts_of(_sources(request, study_id, body.sources)), used))


@router.post("/proposed", response={200: CommonVariable, **REFUSED})
def propose_common(
    request: HttpRequest, study_id: Path[UUID], body: ProposalRequest
) -> CommonVariable:
    """A common variable of these, with the answers placed whose labels are the same."""
    study_for(request.user, study_id)
    parts = parts_of(_sources(request, study_id, body.sources))
    if len(body.variables) != len(parts) or not any(
        name in part.frame.variables
        for name, part in zip(body.variables, parts, strict=True)
        if name
    ):
        raise RecipeError("Choose a variable of at least one data set.", field="variables")
    return proposed(parts, body.variables, body.name)


@router.post("/taken", response={200: CommonVariable, **REFUSED})
def take_variable(request: HttpRequest, study_id: Path[UUID], body: TakeRequest) -> CommonVariable:
    """The common variable with that variable taken, its answers placed as far as others tell."""
    study_for(request.user, study_id)
    parts = parts_of(_sources(request, study_id, body.sources))
    is_there = body.at < len(parts) == len(body.common.taken)
    if not is_there or body.variable not in parts[body.at].frame.variables:
        raise RecipeError("There is no such variable in that data set.", field="variable")
    variable = parts[body.at].frame.variables[body.variable]
    return with_taken(body.common, body.at, variable, parts)


@of_dataset.get("", response={200: RecipeOut, 404: Problem})
def read_recipe(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> RecipeOut:
    return _recipe(dataset_for(request.user, study_id, dataset_id))


@of_dataset.put("", response={200: DataSetOut, 202: JobOut, **REFUSED})
def put_recipe(
    request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID], body: RecipeChange
) -> Status[DataSet] | Status[Job]:
    """Make the data set in another way, at once or, where it is large, as a job."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    if body.version != dataset.version:
        raise Stale(DataSetOut.from_orm(dataset).model_dump(mode="json"))
    if recipe_of(dataset).recipe != body.recipe.recipe:
        raise RecipeError("This data set is made in another way.", field="recipe")
    if is_large(dataset):
        look(body.recipe, parts_of(sources_of(dataset)))
        return Status(202, start_making_again(dataset, request.user, body.recipe))
    changed = change_recipe(dataset, request.user, body.recipe)
    follow(changed, request.user)
    return Status(200, changed)


@of_dataset.post("/undo", response={200: DataSetOut, **REFUSED})
def undo_recipe(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> DataSet:
    return _turned(request, study_id, dataset_id, back=True)


@of_dataset.post("/redo", response={200: DataSetOut, **REFUSED})
def redo_recipe(request: HttpRequest, study_id: Path[UUID], dataset_id: Path[UUID]) -> DataSet:
    return _turned(request, study_id, dataset_id, back=False)


def _turned(request: HttpRequest, study_id: UUID, dataset_id: UUID, *, back: bool) -> DataSet:
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    turned = turn_recipe(dataset, back=back)
    follow(turned, request.user)
    return turned


def _recipe(dataset: DataSet) -> RecipeOut:
    active = list(dataset.recipes.values_list("is_active", flat=True))
    made: dict[str, Any] = {
        "recipe": recipe_of(dataset),
        "sources": [source.id for source in sources_of(dataset)],
        "can_undo": active.count(True) > 1,
        "can_redo": False in active,
    }
    return RecipeOut(**made, question=_question(made["recipe"]))


def _question(recipe: Any) -> Question | None:
    """Odds ratios of each condition, by itself and together; None but for two groups."""
    if not isinstance(recipe, GroupsToCompare) or len(recipe.groups) != 2 or not recipe.conditions:
        return None
    return Question(
        lens=lens_that_gives("model").name,
        outcome=Outcome(variable=recipe.name, event=(recipe.groups[0].name,)),
        vary_with=tuple(Term(variable=name) for name in recipe.conditions),
    )
