"""What is counted, as Ibis expressions: they are the same for every engine.

Columns are named by their place (``c0``, ``c1``, …), so that no name that people give a column can matter.
"""

from collections.abc import Mapping, Sequence
from typing import Any

import ibis

from hobrix.core.data.column import as_number
from hobrix.linked.asked import ROWS, SQUARES, SUM, Bands, Field, Nearest

TABLE = "data"
_TYPES = {"number": "float64", "text": "string", "other": "string"}


def table_of(fields: Sequence[Field]) -> Any:
    """The view ``data`` that an engine makes of a table: a column for each field, numbers as doubles and all
    else as text."""
    return ibis.table({f"c{i}": _TYPES[f.holds] for i, f in enumerate(fields)}, name=TABLE)


def counted(
    fields: Sequence[Field],
    names: Sequence[str],
    made: Mapping[str, Bands | Nearest],
    most: int,
    weights: str | None = None,
) -> Any:
    """Distinct combinations of ``names`` (fields, or what is ``made`` of one by name) with the number of rows of each, one more
    than ``most`` at most. Columns of the result: ``c0``, … in the order of names, then ``rows_alike``. Of
    ``weights``, a field of numbers, only the sign is told apart, as one more column; the weights themselves
    and their squares are added up."""
    table = table_of(fields)
    place = {field.name: i for i, field in enumerate(fields)}

    def column(name: str) -> Any:
        if (making := made.get(name)) is not None:
            number = _answers(table[f"c{place[making.of]}"], making.missing)
            if isinstance(making, Bands):
                return _banded(number, making)
            return (number / making.step + 0.5).floor() * making.step
        found = table[f"c{place[name]}"]
        return _finite(found) if fields[place[name]].holds == "number" else found

    columns = {f"c{i}": column(name) for i, name in enumerate(names)}
    if weights is None:
        chosen = table.select(**columns)
        grouped = chosen.group_by([*columns])
        return grouped.aggregate(**{ROWS: chosen.count()}).limit(most + 1)
    weight = column(weights)
    chosen = table.select(**columns, **{f"c{len(columns)}": weight.sign()}, weight=weight)
    grouped = chosen.group_by([*columns, f"c{len(columns)}"])
    sums = {SUM: chosen.weight.sum(), SQUARES: (chosen.weight * chosen.weight).sum()}
    return grouped.aggregate(**{ROWS: chosen.count()}, **sums).limit(most + 1)


def rounded(fields: Sequence[Field], name: str, digits: int, most: int) -> Any:
    """Numbers of a field rounded to so many digits, with the number of rows of each."""
    table = table_of(fields)
    place = next(i for i, field in enumerate(fields) if field.name == name)
    number = _finite(table[f"c{place}"])
    # A power of ten for each number, so that small and large ones keep as many digits.
    scale = ibis.literal(10.0).pow(digits - 1 - number.abs().log10().floor())
    short = ibis.ifelse(number == 0, 0.0, (number * scale).round() / scale)
    chosen = table.select(c0=short)
    return chosen.group_by("c0").aggregate(**{ROWS: chosen.count()}).limit(most + 1)


def _finite(number: Any) -> Any:
    """NaN and infinity are no numbers here, on any engine."""
    return ibis.ifelse(number.isnan() | number.isinf(), ibis.null("float64"), number)


def holding(fields: Sequence[Field], name: str, value: str) -> Any | None:
    """How many rows hold a value, written as people write it; None where the field holds no such thing."""
    place = next(i for i, field in enumerate(fields) if field.name == name)
    sought: float | str | None = value
    if fields[place].holds == "number":
        sought = as_number(value)
    if sought is None:
        return None
    table = table_of(fields)
    found = table.filter(table[f"c{place}"] == sought)
    return found.aggregate(**{ROWS: found.count()})


def _answers(number: Any, missing: tuple[float, ...]) -> Any:
    number = _finite(number)
    if not missing:
        return number
    return ibis.ifelse(number.isin(missing), ibis.null("float64"), number)


def _banded(number: Any, bands: Bands) -> Any:
    steps = [
        (number < cut, label) for cut, label in zip(bands.cuts, bands.labels[:-1], strict=True)
    ]
    steps.append((number >= bands.cuts[-1], bands.labels[-1]))
    return ibis.cases(*steps, else_=ibis.null("string"))


def sql(expression: Any, dialect: str) -> str:
    """The expression in an engine's own words."""
    return str(ibis.to_sql(expression, dialect=dialect))
