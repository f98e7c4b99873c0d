"""Which rows are of one case, in which order they stand, and whether that holds."""

from collections.abc import Sequence

import numpy as np

from hobrix.core.data.cases import Cases, Finding
from hobrix.core.data.column import CategoricalColumn, FloatArray, NumericColumn, as_number
from hobrix.core.data.frame import Frame
from hobrix.core.data.keys import Keys, common_keys, key_text
from hobrix.core.data.variable import Frozen
from hobrix.core.errors import RecipeError

# So many rows or cases are named where something is wrong with them.
_NAMED = 3


class CasesLook(Frozen):
    """Cases and rows, the most rows of one case, and what is to be looked at."""

    rows: int
    cases: int
    most: int
    without_case: int
    findings: tuple[Finding, ...]


def case_keys(frame: Frame, case: str) -> Keys:
    """A number for each row, the same for rows of one case, -1 without one; shape (rows,)."""
    if case not in frame.variables:
        raise RecipeError(f"There is no variable called “{case}” in this data set.", field="case")
    return common_keys([[(frame.variables[case], frame.source(case))]])[0]


def order_values(frame: Frame, order: str) -> FloatArray:
    """Numbers that rise in the order of rows, NaN where there is none; shape (rows,).

    Numbers are themselves, ordered answers their places, dates their days.

    Raises:
        RecipeError: the variable says no order.
    """
    if order not in frame.variables:
        raise RecipeError(f"There is no variable called “{order}” in this data set.", field="order")
    variable, column = frame.variables[order], frame.column(order)
    if isinstance(column, NumericColumn):
        return column.values
    assert isinstance(column, CategoricalColumn)
    places: list[float] = [float(i) for i in range(len(column.categories))]
    if variable.kind != "ordinal":
        found = _places([category.value for category in column.categories])
        if found is None:
            raise RecipeError(
                f"{variable.title} says no order: it needs numbers, ordered answers or dates.",
                field="order",
            )
        places = found
    return np.array([*places, np.nan])[column.codes]


def _places(values: Sequence[str]) -> list[float] | None:
    numbers = [as_number(value.strip()) for value in values]
    if any(number is None for number in numbers):
        return None
    return [float(number) for number in numbers if number is not None]


def rows_in_order(keys: Keys, order: FloatArray | None) -> Keys:
    """Rows that are of a case, case by case and within each in order; those without a place in the
    order come last, ties as in the file."""
    by = (keys,) if order is None else (order, keys)
    rows = np.lexsort(by)
    return rows[keys[rows] >= 0]


def look_at_cases(frame: Frame, cases: Cases) -> CasesLook:
    """What the rows of the data say of cases and their order.

    Raises:
        RecipeError: no variable tells cases apart, or the order is none.
    """
    if cases.case is None:
        return CasesLook(rows=frame.rows, cases=frame.rows, most=1, without_case=0, findings=())
    keys = case_keys(frame, cases.case)
    order = order_values(frame, cases.order) if cases.order else None
    with_case = keys[keys >= 0]
    per_case = np.bincount(with_case) if len(with_case) else np.zeros(0, np.int64)
    per_case = per_case[per_case > 0]
    without = int(np.count_nonzero(keys < 0))
    title = frame.variables[cases.case].title
    most = int(per_case.max(initial=0))
    findings = []
    if without:
        findings.append(_care(f"{without:,} of {frame.rows:,} rows have no {title}."))
    if cases.is_repeated and most <= 1:
        findings.append(_care(f"No {title} has more than one row: this is one row per case."))
    if not cases.is_repeated and most > 1:
        findings.append(
            _care(f"{_first_repeated(frame, cases.case, keys)}: several rows per case.")
        )
    if cases.is_repeated and most > 1:
        findings += _of_order(frame, cases, keys, order)
    if not findings:
        findings.append(
            Finding(status="ok", text=f"Every row has a {title}, and a place of its own.")
        )
    return CasesLook(
        rows=frame.rows,
        cases=len(per_case),
        most=most,
        without_case=without,
        findings=tuple(findings),
    )


def _of_order(frame: Frame, cases: Cases, keys: Keys, order: FloatArray | None) -> list[Finding]:
    assert cases.case is not None
    title = frame.variables[cases.case].title
    if order is None:
        return [
            _care(
                "Nothing says the order of the rows of a case: first and last are as in the file."
            )
        ]
    assert cases.order is not None
    by = frame.variables[cases.order].title
    findings = []
    if n := int(np.count_nonzero(np.isnan(order[keys >= 0]))):
        findings.append(
            _care(f"{n:,} rows have no {by}: they come after the others of their {title}.")
        )
    rows = rows_in_order(keys, order)
    same = (keys[rows][1:] == keys[rows][:-1]) & (order[rows][1:] == order[rows][:-1])
    if same.any():
        source = frame.source(cases.case)
        at = rows[:-1][same]
        named = list(dict.fromkeys(key_text(source, int(row)) for row in at[: 10 * _NAMED]))
        some = ", ".join(named[:_NAMED])
        findings.append(
            _care(f"{len(at):,} times two rows of one {title} have the same {by}: {some}.")
        )
    in_file = rows_in_order(keys, None)
    falls = (keys[in_file][1:] == keys[in_file][:-1]) & (order[in_file][1:] < order[in_file][:-1])
    if falls.any():
        n = len(np.unique(keys[in_file][1:][falls]))
        findings.append(
            Finding(
                status="ok",
                text=f"In the file the rows of {n:,} stand in another order than {by} says; {by} counts.",
            )
        )
    return findings


def _first_repeated(frame: Frame, case: str, keys: Keys) -> str:
    rows = rows_in_order(keys, None)
    first = int(rows[:-1][keys[rows][1:] == keys[rows][:-1]][0])
    return f"{frame.variables[case].title} {key_text(frame.source(case), first)} is in more than one row"


def _care(text: str) -> Finding:
    return Finding(status="care", text=text)
