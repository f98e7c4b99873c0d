"""A codebook as JSON: ``{"noun": {"one", "many"}, "variables": [Variable, ...]}``."""

from collections.abc import Mapping
from typing import Protocol

from pydantic import ValidationError

from hobrix.core.data import Category, Coded, Frame, Frozen, RowNoun, Variable, propose
from hobrix.core.data.column import as_coded
from hobrix.core.data.dates import best_form
from hobrix.core.errors import FormatError
from hobrix.core.formats.table import Table
from hobrix.core.text import has_half_characters

HALF = "A text of this codebook holds half of a character, which cannot be kept."


class Noun(Frozen):
    one: str = "row"
    many: str = "rows"


class Codebook(Frozen):
    """What is known of the variables of a file. Variables it does not name are inferred."""

    noun: Noun = Noun()
    # What is to be said with everything made of the data, such as "preliminary".
    note: str = ""
    variables: tuple[Variable, ...] = ()

    def describing(self, _table: Table) -> "Codebook":
        """It says all by itself; a data dictionary needs the table it describes."""
        return self


class Describes(Protocol):
    """What can tell what the columns of a table hold."""

    def describing(self, _table: Table, /) -> Codebook: ...


def read_codebook(data: bytes) -> Codebook:
    """Read a codebook; raises FormatError naming the entry that is wrong."""
    try:
        found = Codebook.model_validate_json(data)
        if has_half_characters(found.model_dump()):
            raise FormatError(HALF)
        return found
    except ValidationError as error:
        first = error.errors()[0]
        where = " › ".join(str(part) for part in first["loc"])
        raise FormatError(f"The codebook cannot be read: {where}: {first['msg']}.") from None


def frame_of(table: Table, codebook: Codebook) -> Frame:
    """A frame over a table that was read, with the codebook's word before what is inferred."""
    return Frame.of(
        variables_of(table, codebook),
        table.columns,
        table.rows,
        RowNoun(codebook.noun.one, codebook.noun.many),
    )


def variables_of(table: Table, codebook: Codebook) -> list[Variable]:
    """A codebook entry for every column, in file order."""
    known: Mapping[str, Variable] = {variable.name: variable for variable in codebook.variables}
    return [
        complete(known[name], table) if name in known else propose(name, source).variable
        for name, source in table.columns.items()
    ]


def complete(variable: Variable, table: Table) -> Variable:
    """Add the values found in the file that the codebook does not list, after those it lists."""
    source = table.columns[variable.name]
    if variable.kind == "date" and variable.date_form is None and isinstance(source, Coded):
        return variable.model_copy(update={"date_form": best_form(source.values)[0]})
    if not variable.is_categorical:
        return variable
    values = (source if isinstance(source, Coded) else as_coded(source)).values
    listed = {c.value for c in variable.categories} | {m.value for m in variable.missing}
    listed |= {spelling.written for spelling in variable.spellings}
    extra = tuple(Category(value=v, label=v) for v in values if v not in listed)
    return variable.model_copy(update={"categories": variable.categories + extra})
