"""Data sets made of others: made, changed, and made again when their sources change."""

from collections.abc import Iterator, Sequence
from typing import Any
from uuid import UUID, uuid4

from django.db import transaction
from django.db.models import F
from django.http import Http404

from hobrix.core.bringing import MadeData, Part, carry_out, recipes
from hobrix.core.data import Proposal
from hobrix.core.errors import HobrixError, RecipeError
from hobrix.web.studies.blobs import pack_all
from hobrix.web.studies.frames import Workspace, frame_of, prepared
from hobrix.web.studies.importing import PackedColumn, TellDoing, quiet, store
from hobrix.web.studies.models import DataSet, MadeFrom, RecipeVersion, Study
from hobrix.web.studies.preparing import SeenOld, failing
from hobrix.web.studies.reporting import Before, report_of, says_nothing, seen_before


def parts_of(sources: Sequence[DataSet]) -> list[Part]:
    """Data sets as the core takes them, with their codebooks as they stand."""
    return [Part(source.name, frame_of(source)) for source in sources]


def make(
    study: Study,
    user: Any,
    name: str,
    recipe: Any,
    sources: Sequence[DataSet],
    dataset_id: UUID | None = None,
    tell: TellDoing = quiet,
) -> DataSet:
    """Make a data set of others and keep it, with how it was made.

    Raises:
        RecipeError, QuestionError: it cannot be made so; nothing is kept then.
    """
    _refuse_drafts(sources)
    made, columns = _packed(recipe, sources, tell)
    noun_one, noun_many = _noun_of(made, sources)
    dataset = DataSet(
        id=dataset_id or uuid4(),
        study=study,
        name=name,
        imported_by=user,
        is_draft=False,
        recipe=recipe.recipe,
        noun_one=noun_one,
        noun_many=noun_many,
        **_fields(made),
        **_of_lenders(sources),
    )
    with transaction.atomic():
        dataset.save(force_insert=True)
        store(dataset, columns)
        _keep_sources(dataset, sources)
        RecipeVersion.objects.create(
            dataset=dataset, recipe=recipe.model_dump(mode="json", by_alias=True), made_by=user
        )
    return dataset


def change_recipe(dataset: DataSet, user: Any, recipe: Any, tell: TellDoing = quiet) -> DataSet:
    """Make a data set in another way. Undone versions give place.

    Raises:
        RecipeError, QuestionError: it cannot be made so; it stays as it was then.
    """
    with transaction.atomic():
        dataset.recipes.filter(is_active=False).delete()
        RecipeVersion.objects.create(
            dataset=dataset, recipe=recipe.model_dump(mode="json", by_alias=True), made_by=user
        )
        before = _made_anew(dataset, recipe, tell)
    return _reported(dataset, before)


def turn_recipe(dataset: DataSet, *, back: bool) -> DataSet:
    """To the way it was made before, or forth again; raises Http404 where there is none."""
    kept = list(dataset.recipes.all())
    active = [version for version in kept if version.is_active]
    undone = [version for version in kept if not version.is_active]
    if (back and len(active) < 2) or (not back and not undone):
        raise Http404("There is no such version.")
    version = active[-1] if back else undone[0]
    version.is_active = not back
    with transaction.atomic():
        version.save(update_fields=["is_active"])
        before = _made_anew(dataset, recipe_of(dataset), quiet)
    return _reported(dataset, before)


def make_again(dataset: DataSet, tell: TellDoing = quiet) -> DataSet:
    """Make it of its sources as they are now. What cannot be made so is said in its ``trouble``,
    and the data stay as they were."""
    try:
        with transaction.atomic():
            before = _made_anew(dataset, recipe_of(dataset), tell)
        return _reported(dataset, before)
    except HobrixError as error:
        DataSet.objects.filter(pk=dataset.pk).update(
            trouble=error.message, version=F("version") + 1
        )
        with transaction.atomic():
            _keep_sources(dataset, sources_of(dataset))
        dataset.refresh_from_db()
        return dataset


def recipe_of(dataset: DataSet) -> Any:
    """How it is made now; raises Http404 when it was not made of others."""
    version = dataset.recipes.filter(is_active=True).last()
    if version is None:
        raise Http404("This data set was not made of others.")
    return recipes.validate_python(version.recipe)


def sources_of(dataset: DataSet) -> list[DataSet]:
    """What it is made from, in order, also what was deleted since."""
    return [each.source for each in dataset.made_from.select_related("source")]


def behind(dataset: DataSet) -> list[DataSet]:
    """The sources that changed since it was made."""
    made_from = dataset.made_from.select_related("source")
    return [each.source for each in made_from if each.state != each.source.state]


def resting_on(dataset: DataSet) -> Iterator[DataSet]:
    """Data sets made directly from this one."""
    links = dataset.rests_on_it.filter(dataset__deleted_at__isnull=True)
    for link in links.select_related("dataset", "dataset__study").distinct():
        yield link.dataset


def _made_anew(dataset: DataSet, recipe: Any, tell: TellDoing) -> Before:
    """Put other columns in the place of those it has; call it inside a transaction."""
    before = seen_before(dataset)
    sources = sources_of(dataset)
    made, columns = _packed(recipe, sources, tell)
    seen = dataset.version
    fields = {**_fields(made), **_of_lenders(sources), "trouble": ""}
    # What its sources do not say may have been said of it by people.
    kept = {name for name in _SAID_BY_PEOPLE if fields[name] == _fields(NOTHING_SAID)[name]}
    fields = {name: value for name, value in fields.items() if name not in kept}
    moved = DataSet.objects.filter(pk=dataset.pk, version=seen).update(
        **fields, version=F("version") + 1
    )
    if not moved:
        raise SeenOld
    dataset.refresh_from_db()
    dataset.entries.all().delete()
    store(dataset, columns)
    _keep_sources(dataset, sources)
    return before


def _reported(dataset: DataSet, before: Before) -> DataSet:
    """What moved. Only once the new columns are kept: what is read of them is remembered."""
    active = list(dataset.steps.filter(is_active=True))
    failed = failing(dataset, active)
    words = {step.id: step.words for step in active}
    workspace = Workspace(dataset, prepared(dataset))
    report = report_of(before, workspace, [(words[id_], why) for id_, why in failed.items()])
    dataset.report = None if says_nothing(report) else report
    dataset.save(update_fields=["report"])
    return dataset


def _packed(
    recipe: Any, sources: Sequence[DataSet], tell: TellDoing
) -> tuple[MadeData, list[PackedColumn]]:
    tell(0.0, "Bringing the data sets together")
    made = carry_out(recipe, parts_of(sources))
    many, reason = len(made.columns), _REASONS[recipe.recipe]
    packed = pack_all(
        [source for _, source in made.columns],
        lambda done: tell(0.4 + 0.5 * done / many, f"Packing {done + 1} of {many} variables"),
    )
    columns = [
        PackedColumn(Proposal(variable, reason), *each)
        for (variable, _), each in zip(made.columns, packed, strict=True)
    ]
    tell(0.9, "Keeping it")
    return made, columns


_REASONS = {
    "stack": "stacked from several data sets",
    "match": "as in the data sets that were matched",
    "one_per_case": "as in the row of each case that counts",
    "groups": "as in the row of each case that counts",
}


_SAID_BY_PEOPLE = ("counted_by", "cases", "study_design", "case_status")
NOTHING_SAID = MadeData(rows=0, columns=())


def _fields(made: MadeData) -> dict[str, Any]:
    counted_by = made.design.model_dump(mode="json") if made.design else {"kind": "each"}
    return {
        "rows": made.rows,
        "cases": made.cases.model_dump(mode="json"),
        "counted_by": counted_by,
        "study_design": made.study_design,
        "case_status": made.case_status,
        "pooled_by": made.pooled_by,
        "findings": [finding.model_dump(mode="json") for finding in made.findings],
    }


def _keep_sources(dataset: DataSet, sources: Sequence[DataSet]) -> None:
    dataset.made_from.all().delete()
    MadeFrom.objects.bulk_create(
        MadeFrom(dataset=dataset, source=source, position=position, state=source.state)
        for position, source in enumerate(sources)
    )


def _of_lenders(sources: Sequence[DataSet]) -> dict[str, Any]:
    """Terms and notes of the sources go with what is made of them."""
    notes = dict.fromkeys(source.noted for source in sources if source.noted)
    return {
        "note": "; ".join(notes)[:300],
        "is_bound": any(source.is_bound for source in sources),
    }


def _noun_of(made: MadeData, sources: Sequence[DataSet]) -> tuple[str, str]:
    """A row is what it was in the first source, but where several rows became one of a case."""
    first = sources[0]
    if first.cases.get("rows") == "several" and not made.cases.is_repeated:
        return "case", "cases"
    return first.noun_one, first.noun_many


def _refuse_drafts(sources: Sequence[DataSet]) -> None:
    for source in sources:
        if source.is_draft:
            raise RecipeError(
                f"{source.name} is not confirmed yet: look at its preview first.", field="sources"
            )
