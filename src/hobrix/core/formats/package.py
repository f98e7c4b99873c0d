"""Data Packages: datapackage.json with CSV in one zip, described by the Table Schema standard.

``title``, ``categories`` with labels, ``categoriesOrdered`` and ``missingValues`` are the
standard's; what it has no word for (event, reference, unit, what a row is called) stands under
the property ``hobrix``.
"""

import io
import json
import zipfile
from typing import Any

from pydantic import ValidationError

from hobrix.core.data import Category, MissingCode, Variable, propose
from hobrix.core.data.dates import DateForm
from hobrix.core.data.variable import Kind
from hobrix.core.errors import FormatError
from hobrix.core.formats.archive import open_archive, refuse_path
from hobrix.core.formats.codebook import HALF, Codebook, Noun
from hobrix.core.formats.delimited import (
    DELIMITERS,
    DelimitedOptions,
    read_delimited,
    write_delimited,
)
from hobrix.core.formats.table import Table
from hobrix.core.text import has_half_characters

DESCRIPTOR = "datapackage.json"


def read_package(data: bytes) -> tuple[Table, Codebook]:
    """Read the first table of a zipped Data Package, with its codebook.

    Raises:
        FormatError: no descriptor, a path that leads out of the archive, a CSV that does not
            match, or a schema that contradicts itself.
    """
    archive = open_archive(data, "a Data Package")
    names = archive.namelist()
    descriptor_name = next((name for name in names if name.split("/")[-1] == DESCRIPTOR), None)
    if descriptor_name is None:
        raise FormatError(f"This archive holds no {DESCRIPTOR}, so it is no Data Package.")
    folder = descriptor_name[: -len(DESCRIPTOR)]

    def read(path: str) -> bytes:
        refuse_path(path)
        if folder + path not in names:
            raise FormatError(f"The Data Package names “{path}”, which the archive does not hold.")
        return archive.read(folder + path)

    return read_descriptor(archive.read(descriptor_name), read)


def read_descriptor(descriptor: bytes, read: Any) -> tuple[Table, Codebook]:
    """A Data Package from its descriptor and a function that reads a path beside it."""
    try:
        package = json.loads(descriptor)
        if has_half_characters(package):
            raise FormatError(HALF)
        resource = package["resources"][0]
        path = resource["path"]
        path = path[0] if isinstance(path, list) else path
    except (ValueError, KeyError, IndexError, TypeError):
        raise FormatError(f"{DESCRIPTOR} does not name a table.") from None
    if not isinstance(path, str):
        raise FormatError(f"{DESCRIPTOR} does not name a table.")
    refuse_path(path)
    options = _how_written(resource)
    table, _ = read_delimited(read(path), options)
    schema = resource.get("schema") or {}
    own = package.get("hobrix") or {}
    try:
        variables = tuple(
            _variable(field, schema, table)
            for field in schema.get("fields", [])
            if field.get("name") in table.columns
        )
        noun = Noun.model_validate(own.get("noun") or {})
    except (ValidationError, AttributeError, TypeError, KeyError) as error:
        raise FormatError(f"The schema of the Data Package cannot be read: {error}.") from None
    return table, Codebook(noun=noun, note=str(own.get("note", "")), variables=variables)


def _how_written(resource: Any) -> DelimitedOptions:
    """What the descriptor says of the text its table is written as."""
    dialect = resource.get("dialect") if isinstance(resource, dict) else None
    delimiter = dialect.get("delimiter", ",") if isinstance(dialect, dict) else ","
    if delimiter not in DELIMITERS:
        raise FormatError(
            f"{DESCRIPTOR} names a separator that is not read: {str(delimiter)[:20]}."
        )
    encoding = resource.get("encoding")
    return DelimitedOptions(
        delimiter=delimiter,
        encoding=None if encoding is None else str(encoding),
        decimal_comma=False,
    )


def _variable(field: dict[str, Any], schema: dict[str, Any], table: Table) -> Variable:
    name = field["name"]
    own = field.get("hobrix") or {}
    given = field.get("missingValues", schema.get("missingValues", [""]))
    missing = tuple(
        MissingCode(value=str(m["value"]), label=str(m.get("label", "")))
        if isinstance(m, dict)
        else MissingCode(value=str(m))
        for m in given
        if m != "" and (not isinstance(m, dict) or m.get("value") != "")
    )
    categories = tuple(
        Category(value=str(c["value"]), label=str(c.get("label", c["value"])))
        if isinstance(c, dict)
        else Category(value=str(c), label=str(c))
        for c in field.get("categories") or own.get("categories") or ()
    )
    proposal = propose(name, table.columns[name]).variable
    if "categories" not in field and "kind" not in own and field.get("type") not in _NUMBERS:
        # Nothing is said of the answers: they are read as in any other file.
        return proposal.model_copy(update={"label": str(field.get("title", ""))})
    return Variable(
        name=name,
        label=str(field.get("title", "")),
        kind=own.get("kind") or _kind(field),
        categories=categories,
        missing=missing,
        event=tuple(own.get("event", ())),
        reference=own.get("reference"),
        unit=own.get("unit", ""),
        spellings=tuple(own.get("spellings", ())),
        date_form=own.get("date_form") or _FORM_OF.get(field.get("format", "")),
    )


_NUMBERS = ("integer", "number", "year")
_DATES: dict[DateForm, str] = {"ymd": "any", "dmy": "%d/%m/%Y", "mdy": "%m/%d/%Y"}
_FORM_OF: dict[str, DateForm] = {"default": "ymd", **{form: name for name, form in _DATES.items()}}


def _kind(field: dict[str, Any]) -> Kind:
    if "categories" in field:
        return "ordinal" if field.get("categoriesOrdered") else "nominal"
    if field.get("type") in ("date", "datetime"):
        return "date"
    return "numeric" if field.get("type") in _NUMBERS else "text"


def write_package(table: Table, codebook: Codebook, name: str) -> bytes:
    """A zipped Data Package with one CSV; reads back to the same table and codebook."""
    descriptor = {
        "name": "".join(c if c.isalnum() and c.isascii() else "-" for c in name.lower()) or "data",
        "title": name,
        "profile": "tabular-data-package",
        "hobrix": {"noun": codebook.noun.model_dump(), "note": codebook.note},
        **({"description": codebook.note} if codebook.note else {}),
        "resources": [
            {
                "name": "data",
                "path": "data.csv",
                "encoding": "utf-8",
                "format": "csv",
                "schema": {"fields": [_field(variable) for variable in codebook.variables]},
            }
        ],
    }
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(DESCRIPTOR, json.dumps(descriptor, ensure_ascii=False, indent=1))
        archive.writestr("data.csv", write_delimited(table))
    return file.getvalue()


def _field(variable: Variable) -> dict[str, Any]:
    field: dict[str, Any] = {
        "name": variable.name,
        "title": variable.label,
        "type": {"numeric": "number", "date": "date"}.get(variable.kind, "string"),
    }
    if variable.kind == "date":
        field["format"] = _DATES[variable.date_form or "ymd"]
    categories = [category.model_dump() for category in variable.categories]
    own: dict[str, Any] = {
        "kind": variable.kind,
        "event": list(variable.event),
        "reference": variable.reference,
        "unit": variable.unit,
        "date_form": variable.date_form,
        "spellings": [spelling.model_dump() for spelling in variable.spellings],
    }
    if variable.is_categorical:
        field["categories"] = categories
        field["categoriesOrdered"] = variable.kind == "ordinal"
    elif categories:
        own["categories"] = categories
    field["missingValues"] = [
        {"value": "", "label": ""},
        *({"value": code.value, "label": code.label} for code in variable.missing),
    ]
    field["hobrix"] = own
    return field
