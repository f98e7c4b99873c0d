"""A data dictionary in a table: a line for each variable, for each code, or for both.

People write them in many ways. Which column holds what is guessed from its name and its cells, told,
and may be said otherwise before it is used.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, get_args

from hobrix.core.data import Category, Coded, Kind, MissingCode, Variable, propose, with_event
from hobrix.core.data.column import Source, as_coded, as_number
from hobrix.core.errors import FormatError
from hobrix.core.formats.codebook import Codebook
from hobrix.core.formats.table import Table, texts_of

# "codes" are codes with their meanings in one cell: "1 = yes; 2 = no".
Part = Literal["variable", "label", "kind", "unit", "code", "meaning", "codes", "missing"]
PARTS: tuple[Part, ...] = get_args(Part)

_NAMES: dict[Part, str] = {
    "variable": "variable|variable name|var|var name|varname|name|field|field name|item|column"
    "|column name",
    "label": "label|variable label|description|question|question text|question wording|wording|title|meaning of the variable",
    "kind": "kind|type|data type|scale|level|level of measurement|measurement",
    "unit": "unit|units",
    "code": "code|value|category code|answer code|response code|option",
    "meaning": "meaning|meaning of code|code label|category|category label|answer|answer label|response"
    "|response label",
    "codes": "codes|values|categories|answers|choices|options|coding",
    "missing": "missing|is missing|missing code|missing codes|missing value|missing values|use",
}
_PART_OF = {name: part for part, names in _NAMES.items() for name in names.split("|")}
_KINDS: dict[Kind, str] = {
    "nominal": "nominal|categorical|category|categories|binary|yes no|yes/no|boolean|single choice",
    "ordinal": "ordinal|ordered|ordered categories",
    "numeric": "numeric|number|integer|int|decimal|float|real|continuous|interval|ratio|count",
    "date": "date|dates|day|date time|datetime",
    "text": "text|free text|open|open text",
}
_KIND_OF = {name: kind for kind, names in _KINDS.items() for name in names.split("|")}
_YES = {"yes", "y", "true", "x", "1", "missing", "m"}
_BETWEEN = re.compile(r"\s*[;|\n]\s*")
_PAIR = re.compile(r"^\s*([^=:,]+?)\s*[=:,]\s*(.+?)\s*$", re.DOTALL)

Cells = Mapping[str, Sequence[str | None]]


@dataclass(frozen=True)
class DictionaryColumn:
    """A column of a dictionary, what it is taken as (None: nothing), and its first filled cell."""

    sheet: str
    name: str
    part: Part | None
    example: str


@dataclass
class Described:
    """What a dictionary says of one variable."""

    name: str
    label: str = ""
    kind: Kind | None = None
    unit: str = ""
    answers: dict[str, str] = field(default_factory=dict)
    missing: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Dictionary:
    """Sheets of a dictionary as texts, and what each of their columns is taken as."""

    sheets: Mapping[str, Cells]
    columns: tuple[DictionaryColumn, ...]

    @classmethod
    def of(
        cls, tables: Mapping[str, Table], told: Mapping[tuple[str, str], Part | None] | None = None
    ) -> "Dictionary":
        """Columns are taken as their names say, or as ``told`` by sheet and name."""
        sheets = {
            sheet: {name: texts_of(source).to_list() for name, source in table.columns.items()}
            for sheet, table in tables.items()
        }
        columns = [
            DictionaryColumn(sheet, name, part, next(filter(None, cells[name]), ""))
            for sheet, cells in sheets.items()
            for name, part in _parts_of(sheet, cells, told or {}).items()
        ]
        return cls(sheets, tuple(columns))

    @property
    def problem(self) -> str | None:
        """Why it cannot be used with its columns taken so."""
        taken = [(column.sheet, column.part) for column in self.columns if column.part]
        for sheet, part in taken:
            if taken.count((sheet, part)) > 1:
                where = f" of sheet “{sheet}”" if sheet else ""
                return f"Two columns{where} are taken as the same: “{part}”."
        if "variable" not in [part for _, part in taken]:
            return (
                "No column of this table is known to name the variables. Say which one does, or call "
                "it “variable”."
            )
        return None

    def describing(self, table: Table, /) -> Codebook:
        """What it says of the columns of a table; what it leaves open is inferred from the cells.

        Raises:
            FormatError: ``problem``.
        """
        if self.problem:
            raise FormatError(self.problem)
        entries, _ = self.by_column(list(table.columns))
        return Codebook(
            variables=tuple(
                _variable(entries[name], name, source)
                for name, source in table.columns.items()
                if name in entries
            )
        )

    def by_column(self, names: Sequence[str]) -> tuple[dict[str, Described], tuple[str, ...]]:
        """Entries by the name they describe, which may differ in capitals and blanks; and the
        variables that are not among the names."""
        plain = {_plain(name): name for name in names}
        found, unknown = {}, []
        for entry in _entries(self).values():
            name = entry.name if entry.name in names else plain.get(_plain(entry.name))
            if name is None:
                unknown.append(entry.name)
            else:
                found[name] = entry
        return found, tuple(unknown)


def _parts_of(
    sheet: str, cells: Cells, told: Mapping[tuple[str, str], Part | None]
) -> dict[str, Part | None]:
    parts: dict[str, Part | None] = {}
    for name, values in cells.items():
        guessed = _PART_OF.get(_plain(name))
        if guessed in ("code", "codes"):
            guessed = "codes" if _are_pairs(values) else "code"
        # The first of two that would be the same is taken.
        parts[name] = None if guessed in parts.values() else guessed
        if (sheet, name) in told:
            parts[name] = told[sheet, name]
    return parts


def _plain(name: str) -> str:
    return " ".join(re.sub(r"[\W_]+", " ", name).casefold().split())


def _are_pairs(values: Iterable[str | None]) -> bool:
    filled = [value for value in values if value]
    return bool(filled) and sum("=" in value for value in filled) > len(filled) / 2


def _entries(dictionary: Dictionary) -> dict[str, Described]:
    """Every variable with what all lines of all sheets say of it; a blank name is the one above."""
    entries: dict[str, Described] = {}
    for sheet, cells in dictionary.sheets.items():
        parts = {c.part: c.name for c in dictionary.columns if c.sheet == sheet and c.part}
        if "variable" not in parts:
            continue
        name = ""
        for row, given in enumerate(cells[parts["variable"]]):
            name = (given or "").strip() or name
            if name:
                line = {part: (cells[column][row] or "").strip() for part, column in parts.items()}
                _take(entries.setdefault(name, Described(name)), line)
    return entries


def _take(entry: Described, line: Mapping[Part, str]) -> None:
    code, meaning, missing = line.get("code", ""), line.get("meaning", ""), line.get("missing", "")
    entry.label = entry.label or line.get("label", "")
    entry.unit = entry.unit or line.get("unit", "")
    entry.kind = entry.kind or _KIND_OF.get(_plain(line.get("kind", "")))
    entry.answers |= dict(_pairs(line.get("codes", "")))
    if code and (_plain(missing) in _YES):
        entry.missing[code] = meaning
    elif code:
        entry.answers[code] = meaning
    elif missing:
        entry.missing |= dict(_pairs(missing))
    for lost in entry.missing.keys() & entry.answers.keys():
        entry.missing[lost] = entry.missing[lost] or entry.answers.pop(lost)
        entry.answers.pop(lost, None)


def _pairs(text: str) -> Iterable[tuple[str, str]]:
    """Codes with their meanings, or codes alone, out of one cell."""
    for piece in filter(None, _BETWEEN.split(text.strip())):
        pair = _PAIR.match(piece)
        if pair and ("=" in piece or any(letter.isalpha() for letter in pair[2])):
            yield pair[1], pair[2]
        else:
            for code in filter(None, re.split(r"[,\s]+", piece)):
                yield code, ""


def _variable(entry: Described, name: str, source: Source) -> Variable:
    """What is said of it, before what its cells tell."""
    guessed = propose(name, source).variable
    values = (source if isinstance(source, Coded) else as_coded(source)).values
    answers = {_as_written(code, values): label for code, label in entry.answers.items()}
    missing = {_as_written(code, values): label for code, label in entry.missing.items()}
    kept = [code for code in guessed.missing if code.value not in answers | missing]
    kind = entry.kind or ("nominal" if answers and guessed.kind != "ordinal" else guessed.kind)
    categories = tuple(
        Category(value=value, label=label or value) for value, label in answers.items()
    ) or tuple(each for each in guessed.categories if each.value not in missing)
    present = {category.value for category in categories}
    described = guessed.model_copy(
        update={
            "label": entry.label,
            "unit": entry.unit,
            "kind": kind,
            "categories": categories,
            "missing": (*(MissingCode(value=v, label=t) for v, t in missing.items()), *kept),
            "event": tuple(value for value in guessed.event if value in present),
            "reference": guessed.reference if guessed.reference in present else None,
        }
    )
    return with_event(described) if described.is_categorical else described


def _as_written(code: str, values: Sequence[str]) -> str:
    """A code as the data have it: “1” may stand there as “01” or “1.0”."""
    number = as_number(code)
    if code in values or number is None:
        return code
    return next((value for value in values if as_number(value) == number), code)
