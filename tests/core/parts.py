"""Data sets from plain pandas tables, for tests of what is made of several."""

import io

import pandas as pd

from hobrix.core.bringing import Part
from hobrix.core.data import Cases, Frame, RowNoun, Variable, propose
from hobrix.core.formats import read_file


def part(table: pd.DataFrame, name: str = "a", *, cases: Cases | None = None, **kinds: str) -> Part:
    """A data set as it is read from the table as a file; some variables read as another kind."""
    text = io.StringIO()
    table.to_csv(text, index=False)
    read = read_file(f"{name}.csv", text.getvalue().encode()).table
    variables = [
        _as(propose(each, source).variable, kinds) for each, source in read.columns.items()
    ]
    frame = Frame.of(variables, read.columns, read.rows, RowNoun("household", "households"))
    if cases is not None:
        frame = Frame(
            rows=frame.rows,
            variables=frame.variables,
            load=frame.load,
            source=frame.source,
            noun=frame.noun,
            cases=cases,
        )
    return Part(name, frame)


def _as(variable: Variable, kinds: dict[str, str]) -> Variable:
    if variable.name not in kinds:
        return variable
    return Variable.model_validate({**variable.model_dump(), "kind": kinds[variable.name]})


def labels(made: object, name: str) -> list[str | float | None]:
    """What the rows of a made variable say: labels, numbers, None where there is no answer."""
    from hobrix.core.bringing import MadeData
    from hobrix.core.data import CategoricalColumn, decode

    assert isinstance(made, MadeData)
    variable, source = next(each for each in made.columns if each[0].name == name)
    column = decode(source, variable)
    if isinstance(column, CategoricalColumn):
        return [column.categories[c].label if c >= 0 else None for c in column.codes.tolist()]
    return [None if x != x else x for x in column.values.tolist()]
