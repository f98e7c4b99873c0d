"""Why rows have no answer: blank, one of the codes the codebook declares, or nothing it knows."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data.column import Coded, Column, FloatArray, Source, as_number
from hobrix.core.data.variable import Variable


@dataclass(frozen=True)
class MissingReason:
    """``value`` is the code as it stands in the file, "" for blank cells; ``n`` counts cases."""

    value: str
    label: str
    n: float


def missing_reasons(
    variable: Variable,
    source: Source,
    column: Column,
    *,
    weights: FloatArray | None = None,
    where: NDArray[np.bool_] | None = None,
) -> tuple[MissingReason, ...]:
    """Blank cells first, then each declared code (also those that do not occur), then values
    that are neither answers nor declared. Together they are all that is missing in ``column``.
    """
    is_missing = column.is_missing if where is None else column.is_missing & where
    rows = np.flatnonzero(is_missing)
    counted = np.ones(len(rows)) if weights is None else weights[rows]
    if isinstance(source, Coded):
        blank, found = _tally(source.codes[rows], source.values, counted)
    else:
        blank, found = _tally(source.words[rows], source.word_values, counted)
        numbers = source.numbers[rows]
        for code in variable.missing:
            number = as_number(code.value)
            if number is not None:
                n = float(counted[numbers == number].sum())
                found[code.value] = n
                blank -= n
    reasons = [MissingReason("", "blank", blank)] if blank > 0 else []
    declared = {code.value: code.label for code in variable.missing}
    reasons += [MissingReason(v, label, found.pop(v, 0.0)) for v, label in declared.items()]
    reasons += [MissingReason(v, "not an answer", n) for v, n in found.items() if n > 0]
    return tuple(reasons)


def _tally(
    codes: NDArray[np.signedinteger], values: tuple[str, ...], counted: FloatArray
) -> tuple[float, dict[str, float]]:
    """Cases with code -1, and cases per value among those that occur."""
    tally = np.bincount(codes.astype(np.int64) + 1, weights=counted, minlength=len(values) + 1)
    found = {values[i - 1]: float(tally[i]) for i in np.flatnonzero(tally) if i > 0}
    return float(tally[0]), found
