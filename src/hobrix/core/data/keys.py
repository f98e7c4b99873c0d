"""Keys that tell cases apart, compared as text with blanks trimmed: "007" is not 7."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data.column import Coded, Measured, Source, as_text
from hobrix.core.data.variable import Variable

Keys = NDArray[np.int64]
# Codes of two variables are joined into one number below this.
_ROOM = 2**62


def common_keys(tables: Sequence[Sequence[tuple[Variable, Source]]]) -> list[Keys]:
    """A number for each row of each table, shape (rows,): equal where all key variables are, -1
    where one of them is blank or no answer. Tables have as many key variables, in the same order.
    """
    keys: list[Keys] = [np.zeros(len(table[0][1]), np.int64) for table in tables]
    size = 1
    for parts in zip(*tables, strict=True):
        codes, different = _coded([source for _, source in parts])
        for at, (variable, source) in enumerate(parts):
            blank = codes[at] < 0
            if variable.missing:
                blank |= _is_declared_missing(variable, source)
            joined = keys[at] * different + codes[at]
            keys[at] = np.where((keys[at] < 0) | blank, -1, joined)
        size *= max(different, 1)
        if size > _ROOM // max(different, 1):
            size = _compact(keys)
    _compact(keys)
    return keys


def key_text(source: Source, row: int) -> str:
    """The key of a row as it is compared."""
    if isinstance(source, Coded):
        code = int(source.codes[row])
        return source.values[code].strip() if code >= 0 else ""
    number = float(source.numbers[row])
    if not np.isnan(number):
        return as_text(number)
    word = int(source.words[row])
    return source.word_values[word].strip() if word >= 0 else ""


def without_zeros(source: Source) -> Source:
    """The same keys without zeros in front."""
    if isinstance(source, Measured):
        return source
    return Coded(source.codes, tuple(v.strip().lstrip("0") or "0" for v in source.values))


def _coded(sources: Sequence[Source]) -> tuple[list[Keys], int]:
    """Codes that are equal where texts are, -1 for blank ones, and how many there may be."""
    if all(isinstance(s, Measured) and not s.word_values for s in sources):
        numbers = [s.numbers for s in sources if isinstance(s, Measured)]
        every = np.concatenate(numbers)
        distinct, codes = np.unique(every, return_inverse=True)
        codes = np.where(np.isnan(every), -1, codes).astype(np.int64)
        return np.split(codes, np.cumsum([len(s) for s in numbers])[:-1]), len(distinct)
    ids: dict[str, int] = {"": -1}
    return [_of_texts(source, ids) for source in sources], len(ids)


def _of_texts(source: Source, ids: dict[str, int]) -> Keys:
    def known(texts: Sequence[str]) -> Keys:
        # The last stands for code -1, which numpy reads as "from the end".
        found = [ids.setdefault(text.strip(), len(ids)) for text in texts]
        return np.array([*found, -1], dtype=np.int64)

    if isinstance(source, Coded):
        return known(source.values)[source.codes]
    is_number = ~np.isnan(source.numbers)
    distinct, inverse = np.unique(source.numbers[is_number], return_inverse=True)
    codes = known(source.word_values)[source.words]
    codes[is_number] = known([as_text(float(x)) for x in distinct])[inverse]
    return codes


def _is_declared_missing(variable: Variable, source: Source) -> NDArray[np.bool_]:
    declared = {code.value for code in variable.missing}
    if isinstance(source, Coded):
        return np.array([*(v in declared for v in source.values), False])[source.codes]
    numbers = [float(v) for v in declared if v.replace(".", "", 1).lstrip("-").isdigit()]
    return np.isin(source.numbers, numbers)


def _compact(keys: list[Keys]) -> int:
    """Numbers them from 0 on, in place, and says how many there are."""
    every = np.concatenate(keys)
    distinct, codes = np.unique(every, return_inverse=True)
    codes -= int(len(distinct) > 0 and distinct[0] == -1)
    for at, part in enumerate(np.split(codes, np.cumsum([len(k) for k in keys])[:-1])):
        keys[at] = part
    return len(distinct)
