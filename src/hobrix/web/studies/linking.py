"""Data sets whose rows stay where they are: read their codebook there, count there, keep what was counted."""

import json
import math
from collections.abc import Iterable, Mapping
from dataclasses import asdict, replace
from typing import Any
from uuid import UUID

import polars as pl
from django.conf import settings
from django.db import transaction
from django.db.models import F, Sum
from django.utils import timezone

from hobrix.core.data import Frozen, Variable, propose
from hobrix.core.data.column import as_number
from hobrix.core.data.condense import Needed
from hobrix.core.data.inference import Proposal, missing_in_many
from hobrix.core.data.steps import Band
from hobrix.core.errors import HobrixError
from hobrix.core.progress import Tell, quietly
from hobrix.linked import expression
from hobrix.linked.embedded import Bounds
from hobrix.linked.engine import Engine, engine_for
from hobrix.linked.expression import Bands, Field, Holds, Nearest
from hobrix.linked.patterns import PatternTable, in_order, unpacked
from hobrix.linked.place import PlaceError
from hobrix.web.studies.importing import TellDoing, quiet
from hobrix.web.studies.models import CodebookEntry, DataSet, KeptPatterns, Place, Study

# A variable with more different values than this is seen rounded in the codebook, and counted in bands.
MOST_VALUES = 200_000
# What rounded numbers keep of their digits.
DIGITS = 3
_CHANGED = (
    "The data of “{name}” have changed since its codebook was read there. Choose “Read it again” on Data, so "
    "that categories and counts are those of now."
)


class FoundField(Frozen):
    """A column as it was found, and whether it has too many different numbers to be counted by value."""

    name: str
    holds: Holds
    is_large: bool = False


class Found(Frozen):
    """What was found of a table when its codebook was read: the mark of its files, and its columns."""

    mark: str
    fields: tuple[FoundField, ...]


def found_of(dataset: DataSet) -> Found:
    return Found.model_validate(dataset.linked)


def numbers(dataset: DataSet) -> set[str]:
    """Columns that hold numbers there, which can be added up."""
    return {field.name for field in found_of(dataset).fields if field.holds == "number"}


def large(dataset: DataSet) -> set[str]:
    """Variables with too many different numbers; none where the rows are here."""
    if not dataset.is_linked:
        return set()
    return {field.name for field in found_of(dataset).fields if field.is_large}


def engine_at(name: str) -> Engine:
    """What counts in a place that the operator named.

    Raises:
        PlaceError: there is no such place any more.
    """
    place = Place.objects.filter(name=name).first()
    if place is None:
        raise PlaceError(
            f"There is no place called “{name}” any more. Whoever runs Hobrix can name it again."
        )
    settings.ENGINE_FOLDER.mkdir(parents=True, exist_ok=True)
    bounds = Bounds(
        memory=settings.ENGINE_MEMORY,
        spill=settings.ENGINE_SPILL,
        seconds=settings.ENGINE_SECONDS,
        folder=settings.ENGINE_FOLDER,
    )
    return engine_for(place.name, place.where, bounds)


def patterns_of(
    dataset: DataSet, needed: Needed, variables: Mapping[str, Variable], tell: Tell = quietly
) -> PatternTable:
    """The combinations of what is needed: kept, added up from what is kept, or counted by the engine now
    and kept. ``tell`` hears how far the engine is, and may raise to stop it.

    Raises:
        TooMany: there are too many different ones.
        PlaceError: the data are away, or changed since the codebook was read.
    """
    if not needed.names:
        return PatternTable((), pl.DataFrame({expression.ROWS: [dataset.rows]}))
    found = found_of(dataset)
    made: dict[str, Bands | Nearest] = {
        name: _bands(band, variables) for name, band in needed.bands.items()
    }
    for name, size in needed.rounded.items():
        made[name] = Nearest(name, size, _codes(variables[name]))
    keys = [_key(name, made.get(name)) for name in (*needed.columns, *needed.bands)]
    if needed.weights is not None:
        keys.append(f"{needed.weights}|added up")
    known = _kept(dataset, found.mark, keys)
    if known is not None:
        return PatternTable(needed.names, known.table, is_kept=True, key=tuple(keys))
    engine = engine_at(dataset.place)
    fields = [Field(field.name, field.holds) for field in found.fields]
    most = settings.MOST_PATTERNS
    _refuse_changed(dataset, engine, found)
    by = [*needed.columns, *needed.bands]
    asked = expression.counted(fields, by, made, most, needed.weights)
    table = in_order(engine.ask(dataset.table, fields, asked, tell), needed.names)
    _refuse_changed(dataset, engine, found)
    if len(table) > most:
        raise _too_many(needed, variables, large(dataset))
    _keep(dataset, found.mark, keys, table)
    return replace(table, key=tuple(keys))


def counted_where(dataset: DataSet, table: PatternTable) -> str:
    """How the rows of an answer were counted, as a sentence."""
    stands = f"{len(table):,} combinations stand for {dataset.rows:,} rows"
    if table.is_kept:
        return f"Answered from what was kept of “{dataset.table}” in “{dataset.place}”: {stands}."
    return f"Counted in “{dataset.place}”, where the rows of “{dataset.table}” stay: {stands}."


def _bands(band: Band, variables: Mapping[str, Variable]) -> Bands:
    codes = _codes(variables[band.variable])
    return Bands(of=band.variable, cuts=band.cuts, labels=band.band_labels(), missing=codes)


def _codes(variable: Variable) -> tuple[float, ...]:
    """Numbers that are no answers."""
    codes = (as_number(code.value) for code in variable.missing)
    return tuple(code for code in codes if code is not None)


def _key(name: str, made: Bands | Nearest | None) -> str:
    return name if made is None else f"{name}|{json.dumps(asdict(made))}"


def nearest_step(dataset: DataSet, name: str) -> float | None:
    """A step that reads well and leaves about a hundred different numbers; None where there are none."""
    values = dataset.patterns.filter(is_codebook=True, names=[name]).first()
    if values is None:
        return None
    numbers = unpacked([name], bytes(values.data)).table["c0"]
    low, high = numbers.min(), numbers.max()
    if not isinstance(low, float) or not isinstance(high, float) or high <= low:
        return None
    size = 10.0 ** math.floor(math.log10((high - low) / 100))
    return next(size * k for k in (1, 2, 5, 10) if size * k >= (high - low) / 100)


def _refuse_changed(dataset: DataSet, engine: Engine, found: Found) -> None:
    if engine.place.mark(dataset.table) != found.mark:
        raise PlaceError(_CHANGED.format(name=dataset.name))


class TooMany(HobrixError):
    """Too many different combinations; ``names`` are the variables that make them so."""

    def __init__(self, message: str, names: tuple[str, ...]) -> None:
        super().__init__(message)
        self.names = names


def _too_many(needed: Needed, variables: Mapping[str, Variable], wide: Iterable[str]) -> TooMany:
    """Which variable is why, and what helps."""
    named = sorted(set(wide) & set(needed.columns)) or list(needed.columns)
    titles = " and ".join(variables[name].title for name in named[:2])
    return TooMany(
        f"Together these variables have more than {settings.MOST_PATTERNS:,} different combinations, too many "
        f"to bring here. Band {titles} in the Codebook and ask about the bands.",
        tuple(named),
    )


def _kept(dataset: DataSet, mark: str, keys: list[str]) -> PatternTable | None:
    """What is kept of exactly this, or the fewest combinations that hold it, added up."""
    candidates = dataset.patterns.filter(mark=mark).values_list("id", "names")
    for pk, names in candidates:
        if set(keys) <= set(names):
            kept = KeptPatterns.objects.filter(pk=pk)
            kept.update(used_at=timezone.now())
            table = unpacked(names, bytes(kept.values_list("data", flat=True).get()))
            return table if list(names) == keys else table.over(keys)
    return None


def _keep(
    dataset: DataSet, mark: str, keys: list[str], table: PatternTable, *, is_codebook: bool = False
) -> None:
    """Keep what was counted; what was not used for longest goes where there is no room."""
    data = table.packed()
    if len(data) > settings.KEPT_PATTERNS:
        return
    KeptPatterns.objects.create(
        dataset=dataset,
        mark=mark,
        names=keys,
        is_codebook=is_codebook,
        rows=len(table),
        size=len(data),
        data=data,
    )
    if is_codebook:
        return
    others = KeptPatterns.objects.filter(is_codebook=False)
    taken = others.aggregate(size=Sum("size"))["size"] or 0
    for pk, size in others.order_by("used_at").values_list("pk", "size"):
        if taken <= settings.KEPT_PATTERNS:
            return
        KeptPatterns.objects.filter(pk=pk).delete()
        taken -= size


def link(
    study: Study, user: Any, place: str, table: str, dataset_id: UUID, tell: TellDoing = quiet
) -> DataSet:
    """A data set of a table whose rows stay where they are.

    Raises:
        PlaceError: it cannot be read there.
    """
    read = _Read(engine_at(place), table, tell)
    dataset = DataSet(
        id=dataset_id,
        study=study,
        imported_by=user,
        name=table.removesuffix(".parquet")[:200],
        counted_by={"kind": "each"},
        place=place,
        table=table,
        is_draft=False,
        **read.fields,
    )
    with transaction.atomic():
        dataset.save(force_insert=True)
        read.keep(dataset)
    return dataset


def read_again(dataset: DataSet, tell: TellDoing = quiet) -> None:
    """The codebook as the data are now; steps are applied to it as far as they fit.

    Raises:
        PlaceError: it cannot be read there.
    """
    read = _Read(engine_at(dataset.place), dataset.table, tell)
    with transaction.atomic():
        dataset.entries.all().delete()
        dataset.patterns.all().delete()
        DataSet.objects.filter(pk=dataset.pk).update(version=F("version") + 1, **read.fields)
        dataset.refresh_from_db()
        read.keep(dataset)


class _Read:
    """The codebook of a table, read by its engine: a count of the values of each column."""

    def __init__(self, engine: Engine, table: str, tell: TellDoing) -> None:
        tell(0.0, "Looking at its columns")
        mark = engine.place.mark(table)
        columns = engine.columns(table)
        remarks = [
            f"{column.name} holds lists, records or bytes, and is left out."
            for column in columns
            if column.holds is None
        ]
        fields = [Field(c.name, c.holds) for c in columns if c.holds is not None]
        if not fields:
            raise PlaceError(f"“{table}” has no column that holds answers.")
        rows = engine.rows(table)
        if not rows:
            raise PlaceError(f"“{table}” has columns but no rows.")
        self.tables: list[PatternTable] = []
        self.proposals: list[Proposal] = []
        found = []
        for i, field in enumerate(fields):
            share = len(fields)

            def told(part: float, i: int = i, field: Field = field, share: int = share) -> None:
                tell(
                    0.02 + 0.96 * (i + part) / share, f"Counting {field.name} ({i + 1} of {share})"
                )

            counted, is_large = _values(engine, table, fields, field, told)
            found.append(FoundField(name=field.name, holds=field.holds, is_large=is_large))
            self.tables.append(counted)
            self.proposals.append(_proposed(counted, field.name, is_large=is_large))
        if engine.place.mark(table) != mark:
            raise PlaceError(f"“{table}” changed while it was being read. Link it again.")
        self.mark = mark
        self.fields: dict[str, Any] = {
            "rows": rows,
            "remarks": [*remarks, *missing_in_many(self.proposals)],
            "linked": Found(mark=mark, fields=tuple(found)).model_dump(mode="json"),
        }

    def keep(self, dataset: DataSet) -> None:
        CodebookEntry.objects.bulk_create(
            CodebookEntry(
                dataset=dataset,
                position=position,
                name=proposal.variable.name,
                variable=proposal.variable.model_dump(mode="json"),
                reason=proposal.reason,
                to_look_at=list(proposal.to_look_at),
            )
            for position, proposal in enumerate(self.proposals)
        )
        for table in self.tables:
            _keep(dataset, self.mark, list(table.names), table, is_codebook=True)


def _values(
    engine: Engine, table: str, fields: list[Field], field: Field, tell: Tell
) -> tuple[PatternTable, bool]:
    """The values of a column with their rows, rounded where there are too many."""
    asked = expression.counted(fields, [field.name], {}, MOST_VALUES)
    found = engine.ask(table, fields, asked, tell)
    is_large = found.height > MOST_VALUES
    if is_large and field.holds != "number":
        # Free text or a key: what it says of itself is enough.
        found = found.head(MOST_VALUES)
    digits = DIGITS
    while is_large and field.holds == "number" and found.height > MOST_VALUES and digits:
        asked = expression.rounded(fields, field.name, digits, MOST_VALUES)
        found = engine.ask(table, fields, asked, tell)
        digits -= 1
    return in_order(found, [field.name]), is_large


def _proposed(counted: PatternTable, name: str, *, is_large: bool) -> Proposal:
    # The order of the file is not known there: common answers come first, and one of them is the reference.
    common = replace(
        counted, table=counted.table.sort(expression.ROWS, "c0", descending=[True, False])
    )
    proposal = propose(name, common.source(name), counted.rows)
    reason = proposal.reason.replace("in the order of the file", "the most common first")
    proposal = replace(proposal, reason=reason)
    if not is_large:
        return proposal
    kind = proposal.variable.kind
    look = (
        f"More than {MOST_VALUES:,} different values: pictures here are of numbers rounded to {DIGITS} "
        "digits or fewer. Band it to ask with it."
        if kind == "numeric"
        else f"More than {MOST_VALUES:,} different values, of which only some are looked at."
    )
    return Proposal(proposal.variable, proposal.reason, (look, *proposal.to_look_at))


def page_of(dataset: DataSet, offset: int, limit: int) -> PatternTable:
    """Rows as they stand there, each by itself.

    Raises:
        PlaceError: they cannot be read now.
    """
    found = found_of(dataset)
    fields = [Field(field.name, field.holds) for field in found.fields]
    page = engine_at(dataset.place).page(dataset.table, fields, offset, limit)
    names = tuple(field.name for field in fields)
    return PatternTable(names, page.with_columns(pl.lit(1).alias(expression.ROWS)))


def refuse_linked(dataset: DataSet, what: str) -> None:
    """
    Raises:
        HobrixError: its rows are not here.
    """
    if dataset.is_linked:
        raise HobrixError(f"The rows of “{dataset.name}” stay where they are: {what}")


def refuse_kept_here(dataset: DataSet) -> None:
    """
    Raises:
        HobrixError: its rows are here.
    """
    if not dataset.is_linked:
        raise HobrixError(
            f"The rows of “{dataset.name}” are kept here: put a newer file in its place."
        )
