"""Data sets whose rows stay where they are: count there, and keep what was counted."""

import json
import math
from collections.abc import Iterable, Mapping
from dataclasses import asdict, replace

import polars as pl
from django.conf import settings
from django.db.models import Sum
from django.utils import timezone

from hobrix.core.data import Frozen, Variable
from hobrix.core.data.column import as_number
from hobrix.core.data.condense import Needed
from hobrix.core.data.steps import Band
from hobrix.core.errors import HobrixError
from hobrix.core.progress import Tell, quietly
from hobrix.linked.asked import ROWS, Bands, Bounds, Field, Holds, Nearest
from hobrix.linked.engine import Engine, engine_for
from hobrix.linked.patterns import PatternTable, in_order, unpacked
from hobrix.linked.place import PlaceError
from hobrix.web.studies.models import DataSet, KeptPatterns, Place

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
        return PatternTable((), pl.DataFrame({ROWS: [dataset.rows]}))
    found = found_of(dataset)
    made: dict[str, Bands | Nearest] = {
        name: _bands(band, variables) for name, band in needed.bands.items()
    }
    for name, size in needed.rounded.items():
        made[name] = Nearest(name, size, _codes(variables[name]))
    seen_roughly = large(dataset) if needed.is_look and len(needed.names) == 1 else set()
    keys = [
        rough(name) if name in seen_roughly else _key(name, made.get(name))
        for name in (*needed.columns, *needed.bands)
    ]
    if needed.weights is not None:
        keys.append(f"{needed.weights}|added up")
    known = _kept(dataset, found.mark, keys)
    if known is not None:
        if not needed.is_look and changed_to(dataset):
            raise PlaceError(_CHANGED.format(name=dataset.name))
        return PatternTable(needed.names, known.table, is_kept=True, key=tuple(keys))
    engine = engine_at(dataset.place)
    fields = [Field(field.name, field.holds) for field in found.fields]
    most = settings.MOST_PATTERNS
    _refuse_changed(dataset, engine, found)
    from hobrix.linked import expression  # takes a third of a second, once

    by = [*needed.columns, *needed.bands]
    asked = expression.counted(fields, by, made, most, needed.weights)
    table = in_order(engine.ask(dataset.table, fields, asked, tell), needed.names)
    _refuse_changed(dataset, engine, found)
    if len(table) > most:
        raise _too_many(needed, variables, large(dataset))
    keep(dataset, found.mark, keys, table, is_codebook=needed.is_look)
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


def rough(name: str) -> str:
    """What the codebook keeps of a variable with too many values, which no question is answered from."""
    return f"{name}|as the codebook shows it"


def nearest_step(dataset: DataSet, name: str) -> float | None:
    """A step that reads well and leaves about a hundred different numbers; None where there are none."""
    key = rough(name) if name in large(dataset) else name
    values = dataset.patterns.filter(is_codebook=True, names=[key]).first()
    if values is None:
        return None
    numbers = unpacked([name], bytes(values.data)).table["c0"]
    low, high = numbers.min(), numbers.max()
    if not isinstance(low, float) or not isinstance(high, float) or high <= low:
        return None
    size = 10.0 ** math.floor(math.log10((high - low) / 100))
    return next(size * k for k in (1, 2, 5, 10) if size * k >= (high - low) / 100)


def changed_to(dataset: DataSet) -> str:
    """The mark of the files as they are now, where it is another than when the codebook was read; blank where it
    is not, or where nobody can tell because the place is away: what was counted then still holds."""
    try:
        now = engine_at(dataset.place).place.mark(dataset.table)
    except PlaceError:
        return ""
    return "" if now == found_of(dataset).mark else now


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


def keep(
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


def rows_with(dataset: DataSet, name: str, value: str) -> int:
    """How many rows there hold a value, of a variable that the codebook shows roughly.

    Raises:
        PlaceError: they cannot be counted now.
    """
    from hobrix.linked import expression

    fields = [Field(field.name, field.holds) for field in found_of(dataset).fields]
    asked = expression.holding(fields, name, value)
    if asked is None:
        return 0
    return int(engine_at(dataset.place).ask(dataset.table, fields, asked)[ROWS][0])


def page_of(dataset: DataSet, offset: int, limit: int) -> PatternTable:
    """Rows as they stand there, each by itself.

    Raises:
        PlaceError: they cannot be read now.
    """
    found = found_of(dataset)
    fields = [Field(field.name, field.holds) for field in found.fields]
    page = engine_at(dataset.place).page(dataset.table, fields, offset, limit)
    names = tuple(field.name for field in fields)
    return PatternTable(names, page.with_columns(pl.lit(1).alias(ROWS)))


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
