"""Steps that prepare a data set: made on what the person saw, undone, redone."""

import zlib
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import F
from django.http import Http404

from hobrix.core.data import (
    CategoricalColumn,
    Category,
    Coded,
    Prepared,
    Variable,
    apply,
    replay_what_fits,
)
from hobrix.core.data.column import as_coded, as_number
from hobrix.core.data.dates import best_form, day_of_number
from hobrix.core.data.steps import Describe
from hobrix.core.errors import CodebookError
from hobrix.web.studies.frames import Workspace, prepared, steps_adapter, stored_columns
from hobrix.web.studies.models import DataSet, PreparationStep

# More categories than this cannot be looked at.
MANY = 1000


class SeenOld(Exception):
    """The variables a change was made on have changed meanwhile."""


def version_of(variable: Variable) -> int:
    """A number that changes whenever the codebook entry does."""
    return zlib.crc32(variable.model_dump_json().encode())


def add_step(dataset: DataSet, user: Any, step: Any, seen: dict[str, int]) -> PreparationStep:
    """Apply a step to the codebook and keep it.

    ``seen`` gives the version of each variable as the person saw it.

    Raises:
        SeenOld: a variable has another version by now; nothing is changed.
        CodebookError: the step does not fit the codebook.
    """
    state = prepared(dataset)
    for name, version in seen.items():
        if name in state.variables and version_of(state.variables[name]) != version:
            raise SeenOld
    step = _with_categories(Workspace(dataset, state), step)
    after = apply(state, step)
    name = step.touches()[0]
    titled = state.variables.get(getattr(step, "variable", name), after.variables[name])
    kept = PreparationStep(
        dataset=dataset,
        step=step.model_dump(mode="json"),
        words=step.words(titled.title),
        effect=_effect(dataset, state, after, name),
        made_by=user,
    )
    with transaction.atomic():
        _raise_version(dataset)
        dataset.steps.filter(is_active=False).delete()
        kept.save()
    dataset.refresh_from_db()
    return kept


def preview(dataset: DataSet, step: Any) -> Prepared:
    """The codebook as it would be with one more step; raises CodebookError."""
    state = prepared(dataset)
    return apply(state, _with_categories(Workspace(dataset, state), step))


def undo(dataset: DataSet) -> PreparationStep:
    """Take back the last step; raises Http404 when there is none."""
    return _turn(dataset, dataset.steps.filter(is_active=True).last(), active=False)


def redo(dataset: DataSet) -> PreparationStep:
    """Make the step again that was taken back last; raises Http404 when there is none."""
    last = dataset.steps.filter(is_active=True).last()
    undone = dataset.steps.filter(is_active=False)
    after = undone.filter(id__gt=last.id) if last else undone
    return _turn(dataset, after.first() or undone.first(), active=True)


def turn(dataset: DataSet, step_id: int, *, active: bool) -> PreparationStep:
    """Take back or make again one step, wherever it stands.

    Raises:
        Http404: there is no such step.
        CodebookError: a later step rests on it.
    """
    return _turn(dataset, dataset.steps.filter(id=step_id).first(), active=active)


def _turn(dataset: DataSet, step: PreparationStep | None, *, active: bool) -> PreparationStep:
    if step is None:
        raise Http404("There is no such step.")
    kept = list(dataset.steps.all())
    before = failing(dataset, [each for each in kept if each.is_active])
    after = failing(
        dataset, [each for each in kept if (active if each.id == step.id else each.is_active)]
    )
    if broken := [message for id_, message in after.items() if id_ not in before]:
        message = (
            broken[0]
            if active
            else f"A later step rests on this one: {broken[0]} Take that back first."
        )
        raise CodebookError(message, variable=step.words, field="steps")
    step.is_active = active
    with transaction.atomic():
        _raise_version(dataset)
        step.save(update_fields=["is_active"])
    dataset.refresh_from_db()
    return step


def failing(dataset: DataSet, steps: list[PreparationStep]) -> dict[int, str]:
    """Steps that do not fit, by id, and why."""
    variables = stored_columns(dataset).variables.values()
    plain = [steps_adapter.validate_python(each.step) for each in steps]
    return {steps[f.index].id: f.message for f in replay_what_fits(variables, plain)[1]}


def _raise_version(dataset: DataSet) -> None:
    """Move to the next version, unless somebody else has meanwhile."""
    moved = DataSet.objects.filter(pk=dataset.pk, version=dataset.version).update(
        version=F("version") + 1
    )
    if not moved:
        raise SeenOld


def _with_categories(workspace: Workspace, step: Any) -> Any:
    """A variable read as categories for the first time takes all values of the data; one read as dates
    the form in which most of them are."""
    if isinstance(step, Describe) and step.kind == "date" and step.date_form is None:
        return _with_date_form(workspace, step)
    if not isinstance(step, Describe) or step.kind not in ("nominal", "ordinal"):
        return step
    variable = workspace.state.variables.get(step.variable)
    if variable is None or variable.categories or step.categories:
        return step
    source = workspace.source(step.variable)
    values = (source if isinstance(source, Coded) else as_coded(source)).values
    if len(values) > MANY:
        raise CodebookError(
            f"{variable.title} has {len(values):,} different values, too many for categories. "
            "Band it instead.",
            variable=variable.name,
            field="kind",
        )
    missing = {code.value for code in variable.missing}
    answers = [value for value in values if value not in missing]
    if all(as_number(value) is not None for value in answers):
        answers.sort(key=float)
    categories = tuple(Category(value=value, label=value) for value in answers)
    return step.model_copy(update={"categories": categories})


def _with_date_form(workspace: Workspace, step: Describe) -> Describe:
    if step.variable not in workspace.state.variables:
        return step
    source = workspace.source(step.variable)
    texts = source.values if isinstance(source, Coded) else source.word_values
    form, n = best_form(texts)
    is_number = any(day_of_number(number) for number in map(as_number, texts) if number is not None)
    if not n and not is_number and isinstance(source, Coded):
        title = workspace.state.variables[step.variable].title
        raise CodebookError(
            f"{title} holds no date written as 2024-05-31, 31/05/2024 or 05/31/2024.",
            variable=step.variable,
            field="kind",
        )
    return step.model_copy(update={"date_form": form})


def _effect(dataset: DataSet, before: Prepared, after: Prepared, name: str) -> dict[str, Any]:
    def count(state: Prepared) -> dict[str, int] | None:
        if name not in state.variables:
            return None
        workspace = Workspace(dataset, state, strict=True)
        column = workspace.column(name)
        answered = workspace.how_many(name, ~column.is_missing)
        if isinstance(column, CategoricalColumn):
            different = len(np.unique(column.codes[column.codes >= 0]))
            return {"answered": answered, "categories": different}
        return {"answered": answered}

    return {"variable": name, "before": count(before), "after": count(after)}
