"""What is brought together, and what comes of it."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Coded, Design, Frame, Measured, MissingCode, Source, Variable
from hobrix.core.data.cases import ONE_ROW_EACH, Cases, Finding
from hobrix.core.data.column import smallest_int

Rows = NDArray[np.int64]
# Why a row has no answer that another data set would have given.
NO_MATCH = MissingCode(value="(no match)", label="no match")


@dataclass(frozen=True)
class Part:
    """A data set that others are made from, under the name people know it by."""

    name: str
    frame: Frame


@dataclass(frozen=True)
class MadeData:
    """Rows and columns of a data set made from others, and what is to be known of them."""

    rows: int
    columns: tuple[tuple[Variable, Source], ...]
    cases: Cases = ONE_ROW_EACH
    design: Design | None = None
    study_design: str = ""
    case_status: str = ""
    # The variable that says which data set a row is from; "" where there is one only.
    pooled_by: str = ""
    findings: tuple[Finding, ...] = ()


def care(text: str) -> Finding:
    return Finding(status="care", text=text)


def fine(text: str) -> Finding:
    return Finding(status="ok", text=text)


def rows_taken(source: Source, rows: Rows) -> Source:
    """The values of some rows."""
    if isinstance(source, Coded):
        return Coded(source.codes[rows], source.values)
    return Measured(source.numbers[rows], source.words[rows], source.word_values)


def rows_matched(variable: Variable, source: Source, rows: Rows) -> tuple[Variable, Source]:
    """The values of some rows; where ``rows`` is -1 the word that says there was no match."""
    gone = rows < 0
    found = rows_taken(source, rows)
    if not gone.any():
        return variable, found
    if isinstance(found, Coded):
        values = (*found.values, NO_MATCH.value)
        codes = found.codes.astype(smallest_int(len(values)))
        codes[gone] = len(values) - 1
        found = Coded(codes, values)
    else:
        words = (*found.word_values, NO_MATCH.value)
        at = found.words.astype(smallest_int(len(words)))
        at[gone] = len(words) - 1
        found = Measured(np.where(gone, np.nan, found.numbers), at, words)
    missing = (*(code for code in variable.missing if code.value != NO_MATCH.value), NO_MATCH)
    return variable.model_copy(update={"missing": missing}), found


def free_name(wanted: str, taken: Iterable[str]) -> str:
    """The name itself, or with the first number from 2 on that makes it unlike the others."""
    others = set(taken)
    name, copy = wanted, 2
    while name in others:
        name, copy = f"{wanted}_{copy}", copy + 1
    return name
