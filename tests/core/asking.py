"""Frames from tables of counts, and questions about them, for tests."""

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from pydantic import ValidationError

from hobrix.core.data import Category, Coded, Frame, Kind, Measured, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer


def categories(prefix: str, n: int) -> tuple[Category, ...]:
    return tuple(Category(value=f"{prefix}{i + 1}", label=f"{prefix}{i + 1}") for i in range(n))


def coded(codes: Sequence[int], prefix: str, n: int) -> Coded:
    return Coded(np.array(codes, dtype=np.int8), tuple(f"{prefix}{i + 1}" for i in range(n)))


def counts_frame(table: Sequence[Sequence[int]], kind: Kind = "ordinal") -> Frame:
    """A frame of R x C groups with a counts column: variables row, column and n."""
    rows, columns = len(table), len(table[0])
    cells = [(i, j, table[i][j]) for i in range(rows) for j in range(columns)]
    variables = [
        Variable(name="row", kind=kind, categories=categories("r", rows)),
        Variable(name="column", kind=kind, categories=categories("c", columns)),
        Variable(name="n", kind="numeric"),
    ]
    sources: dict[str, Any] = {
        "row": coded([i for i, _, _ in cells], "r", rows),
        "column": coded([j for _, j, _ in cells], "c", columns),
        "n": Measured(
            np.array([float(n) for _, _, n in cells]), np.full(len(cells), -1, np.int8), ()
        ),
    }
    return Frame.of(variables, sources, len(cells))


def rows_frame(table: Sequence[Sequence[int]], kind: Kind = "ordinal") -> Frame:
    """The same data with every case in a row of its own."""
    rows, columns = len(table), len(table[0])
    cases = [(i, j) for i in range(rows) for j in range(columns) for _ in range(table[i][j])]
    variables = [
        Variable(name="row", kind=kind, categories=categories("r", rows)),
        Variable(name="column", kind=kind, categories=categories("c", columns)),
    ]
    sources: dict[str, Any] = {
        "row": coded([i for i, _ in cases], "r", rows),
        "column": coded([j for _, j in cases], "c", columns),
    }
    return Frame.of(variables, sources, len(cases))


def crosstab_question(**changes: Any) -> Question:
    fields: dict[str, Any] = {
        "outcome": {"variable": "column"},
        "vary_with": [{"variable": "row"}],
        "counted_by": {"kind": "counts", "variable": "n"},
    }
    return Question.model_validate({**fields, **changes})


def ask(table: Sequence[Sequence[int]], **changes: Any) -> Answer:
    """The answer with all its panels."""
    return answer(crosstab_question(**changes), counts_frame(table), panels=None)


def refusal(ask: Callable[[], object]) -> tuple[str, str]:
    """The slot and the words in which a question is refused, when read or when answered."""
    try:
        ask()
    except QuestionError as error:
        return error.slot, error.message
    except ValidationError as error:
        first = error.errors()[0]
        return ".".join(str(part) for part in first["loc"]), first["msg"]
    raise AssertionError("It was answered.")


def cross(**options: Any) -> dict[str, Any]:
    """Options of the Crosstab lens."""
    return {"crosstab": options}
