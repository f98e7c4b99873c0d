"""One question asked twice of the same people, told by its answers and its words."""

import re

from hobrix.core.data import Variable
from hobrix.core.questions.thresholds import SAME_WORDS

# Words that tell one time of asking from another: "before", "follow-up", "round 2", "_w1".
_WHEN = re.compile(
    r"\b(before|after|pre|post|baseline|endline|midline|follow ?up|first|second|last"
    r"|(?:round|wave|visit|time|r|w|v|t) ?\d+)\b"
)


def is_asked_twice(one: Variable, other: Variable) -> bool:
    """Whether both have the same two answers and are worded alike: most words of their titles are
    the same, or all of their titles or names but when they were asked."""
    answers = [[category.label for category in variable.categories] for variable in (one, other)]
    if len(answers[0]) != 2 or answers[0] != answers[1]:
        return False
    first, second = (set(variable.title.lower().split()) for variable in (one, other))
    if len(first & second) >= SAME_WORDS * len(first | second):
        return True
    return _apart_from_when(one.title, other.title) or _apart_from_when(one.name, other.name)


def _apart_from_when(one: str, other: str) -> bool:
    first, second = (re.sub(r"[\W_]+", " ", text.lower()) for text in (one, other))
    (a, times_a), (b, times_b) = _WHEN.subn("", first), _WHEN.subn("", second)
    return bool(times_a and times_b and a.split() and a.split() == b.split())
