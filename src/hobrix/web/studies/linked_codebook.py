"""The codebook of a table whose rows stay where they are, read there: linking it, and reading it again."""

from dataclasses import replace
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import F

from hobrix.core.data import Look, Proposal, missing_in_many, propose
from hobrix.core.progress import Tell
from hobrix.linked.asked import ROWS, Field
from hobrix.linked.engine import Engine
from hobrix.linked.patterns import PatternTable, in_order
from hobrix.linked.place import PlaceError
from hobrix.web.studies.importing import TellDoing, quiet
from hobrix.web.studies.linking import Found, FoundField, engine_at, keep, large, rough
from hobrix.web.studies.models import CodebookEntry, DataSet, Study

# A variable with more different values than this is seen rounded in the codebook, and counted in bands.
MOST_VALUES = 200_000
# What rounded numbers keep of their digits.
DIGITS = 3


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
                to_look_at=[look.model_dump() for look in proposal.to_look_at],
            )
            for position, proposal in enumerate(self.proposals)
        )
        wide = large(dataset)
        for table in self.tables:
            keys = [rough(name) if name in wide else name for name in table.names]
            keep(dataset, self.mark, keys, table, is_codebook=True)


def _values(
    engine: Engine, table: str, fields: list[Field], field: Field, tell: Tell
) -> tuple[PatternTable, bool]:
    """The values of a column with their rows, rounded where there are too many."""
    from hobrix.linked import expression

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
    common = replace(counted, table=counted.table.sort(ROWS, "c0", descending=[True, False]))
    proposal = propose(name, common.source(name), counted.rows)
    reason = proposal.reason.replace("in the order of the file", "the most common first")
    proposal = replace(proposal, reason=reason)
    if not is_large:
        return proposal
    kind = proposal.variable.kind
    text = (
        f"More than {MOST_VALUES:,} different values: what is shown here is of numbers rounded to {DIGITS} "
        "digits or fewer. Band it to ask with it."
        if kind == "numeric"
        else f"More than {MOST_VALUES:,} different values, of which only some are looked at."
    )
    return Proposal(proposal.variable, proposal.reason, (Look(text=text), *proposal.to_look_at))
