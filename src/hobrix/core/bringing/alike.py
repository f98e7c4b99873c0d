"""Which variables of several data sets may be the same: by names, labels and answers. Suggestions
only; a person decides."""

from collections.abc import Sequence

import numpy as np
from rapidfuzz import fuzz, process, utils

from hobrix.core.bringing.part import Part
from hobrix.core.data import Frozen, Variable
from hobrix.core.data.column import FloatArray

# Likenesses from 0 to 1. Below this two variables are not offered.
ALIKE = 0.62
# Answers count for this much of the likeness where both variables have some.
_OF_ANSWERS = 0.4
# The same name is worth a look whatever the answers are.
_SAME_NAME = 0.8
_MOST_ANSWERS = 30


class Alike(Frozen):
    """Variables that may be the same, one or none of each data set, and why."""

    variables: tuple[str | None, ...]
    likeness: float
    why: str


def alike(parts: Sequence[Part], used: Sequence[Sequence[str]] = ()) -> tuple[Alike, ...]:
    """Suggestions over all data sets, the likeliest first; ``used`` are variables of each that are
    taken already. Each variable is in one suggestion at most."""
    left = [
        [v for name, v in part.frame.variables.items() if name not in (used[at] if used else ())]
        for at, part in enumerate(parts)
    ]
    found: list[Alike] = []
    for first in range(len(parts) - 1):
        scores = {
            other: _likeness(left[first], left[other]) for other in range(first + 1, len(parts))
        }
        for at, variable in enumerate(left[first]):
            chosen: list[str | None] = [None] * len(parts)
            chosen[first] = variable.name
            best, why = 0.0, ""
            for other, (total, answers) in scores.items():
                if not total.size:
                    continue
                there = int(np.argmax(total[at]))
                score = float(total[at, there])
                # It must be the best for the other one as well.
                if score >= ALIKE and int(np.argmax(total[:, there])) == at:
                    chosen[other] = left[other][there].name
                    if score > best:
                        best, why = (
                            score,
                            _why(variable, left[other][there], float(answers[at, there])),
                        )
            if best:
                found.append(Alike(variables=tuple(chosen), likeness=round(best, 3), why=why))
        taken = [{suggestion.variables[i] for suggestion in found} for i in range(len(parts))]
        left = [[v for v in each if v.name not in taken[i]] for i, each in enumerate(left)]
    return tuple(sorted(found, key=lambda each: -each.likeness))


def _likeness(
    ones: Sequence[Variable], others: Sequence[Variable]
) -> tuple[FloatArray, FloatArray]:
    """Of each pair in all, and of their answers (NaN where one has none), shape (ones, others)."""
    if not ones or not others:
        return np.zeros((0, 0)), np.zeros((0, 0))
    names = _ratio([v.name for v in ones], [v.name for v in others])
    labels = _ratio([v.title for v in ones], [v.title for v in others])
    words = np.maximum(names, labels)
    answers = np.full(words.shape, np.nan)
    for i, one in enumerate(ones):
        for j, other in enumerate(others):
            if one.is_categorical and other.is_categorical:
                answers[i, j] = _answers(one, other)
    fits = np.array([[_fits(one, other) for other in others] for one in ones])
    total = np.where(
        np.isnan(answers),
        words * 0.95,
        (1 - _OF_ANSWERS) * words + _OF_ANSWERS * np.nan_to_num(answers),
    )
    same = [[one.name.casefold() == other.name.casefold() for other in others] for one in ones]
    return np.where(np.array(same), np.maximum(total, _SAME_NAME), total) * fits, answers


def _ratio(ones: Sequence[str], others: Sequence[str]) -> FloatArray:
    found: FloatArray = (
        process.cdist(
            ones, others, scorer=fuzz.token_set_ratio, processor=utils.default_process
        ).astype(float)
        + process.cdist(ones, others, scorer=fuzz.ratio, processor=utils.default_process)
    ) / 200
    return found


def _fits(one: Variable, other: Variable) -> float:
    """Text is not numbers; numbers may be bands of numbers elsewhere."""
    if one.kind == other.kind or (one.is_categorical and other.is_categorical):
        return 1.0
    if "text" in (one.kind, other.kind):
        return 0.0 if "numeric" in (one.kind, other.kind) else 0.8
    return 0.0 if "date" in (one.kind, other.kind) else 0.9


def _answers(one: Variable, other: Variable) -> float:
    """How well the answers of the one with fewer find the like among the other's."""
    ours = [c.label for c in one.categories[:_MOST_ANSWERS]]
    theirs = [c.label for c in other.categories[:_MOST_ANSWERS]]
    few, many = sorted((ours, theirs), key=len)
    if not few:
        return 0.0
    best = _ratio(few, many).max(axis=1)
    return float(best.mean() * (len(few) / len(many)) ** 0.25)


def _why(one: Variable, other: Variable, answers: float) -> str:
    words = "same name" if one.name == other.name else "names alike"
    if np.isnan(answers):
        return f"{words}, numbers both" if one.kind == other.kind == "numeric" else words
    return f"{words}, answers {'the same' if answers > 0.99 else 'alike' if answers > 0.6 else 'differ'}"
