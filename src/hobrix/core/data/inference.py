"""A first codebook entry from the values of a column, with the reasons for it.

Nothing here is final: every decision comes with its reason and can be changed. Values that
look like answers but probably are not (".", 99 far outside 1 to 5, "refused") are declared
missing or pointed out, so that they are not counted as answers unnoticed.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from hobrix.core.data.column import Coded, Measured, Source, as_number
from hobrix.core.data.dates import FORMS, best_form, day_of, forms_of
from hobrix.core.data.spelling import twins_in_words
from hobrix.core.data.variable import Category, Frozen, Kind, MissingCode, Variable

MANY_CATEGORIES = 60
# A column of which so many different values are dates holds dates.
NEARLY_ALL = 0.9
_NAMED_MONTH = re.compile("[A-Za-z]{3}").search
_NOT_ANSWERS = {
    ".": "not given", "..": "not given", "-": "not given", "--": "not given", "?": "not given",
    "na": "not available", "n/a": "not available", "nan": "not available", "#n/a": "not available",
    "null": "not given", "none given": "not given", "missing": "missing",
    "no answer": "no answer", "not answered": "no answer", "refused": "refused",
    "refuse": "refused", "prefer not to say": "refused", "not asked": "not asked",
    "not applicable": "not applicable", "skipped": "skipped",
}  # fmt: skip
_PERHAPS_NOT_ANSWERS = {
    "don't know",
    "dk",
    "dont know",
    "don’t know",
    "do not know",
    "unknown",
    "unsure",
}
_RESERVED_NUMBERS = {-9, -8, -7, -1, -99, -98, -97, -999, -998, 77, 88, 97, 98, 99, 777, 888, 997, 998, 999, 9999}  # fmt: skip
_RESERVED_DIGITS = {7, 8, 9}
# Codes up to this one are those of a question with yes and no.
_YES_NO_TOP = 2
_YES = {"yes", "y", "true", "ja", "oui", "si", "sí", "positive", "case"}
_NO = {"no", "n", "false", "nein", "non", "negative", "control"}


class Look(Frozen):
    """A sentence about what a person should look at, and the values it is about, as they are written.

    ``asks`` what is to be decided of them: whether they are answers, or whether they are the same answer. Once
    it is decided of all of them, nothing is left to look at.
    """

    text: str
    values: tuple[str, ...] = ()
    asks: Literal["is_answer", "is_same"] | None = None


@dataclass(frozen=True)
class Proposal:
    """A codebook entry, why it is as it is, and what a person should look at."""

    variable: Variable
    reason: str
    to_look_at: tuple[Look, ...] = field(default=())


def propose(name: str, source: Source, rows: int | None = None) -> Proposal:
    """Propose kind, categories, missing codes and event for a column; ``rows`` are those with an answer, where
    the column holds each answer once.

    Categories that are numbers come in numeric order, all others in the order of the file: an
    order such as never < sometimes < always is for the researcher to say.
    """
    if isinstance(source, Measured):
        is_number = ~np.isnan(source.numbers)
        present = source.numbers if is_number.all() else source.numbers[is_number]
        return _numeric(name, source.word_values, present, "")
    tally = _tally(source)
    answers, missing, look = _set_aside([source.values[i] for i in np.flatnonzero(tally)])
    numbers = [as_number(value) for value in answers]
    if (dates := _dates(name, answers, missing)) is not None:
        return dates
    if not answers:
        variable = Variable(name=name, kind="nominal", missing=missing)
        return Proposal(variable, "no answers", (Look(text="No row has an answer."),))
    if all(number is not None for number in numbers) and not any(map(_is_code, answers)):
        return _numerals(name, answers, missing, look)
    answered = int(tally.sum()) if rows is None else rows
    return _words(name, answers, missing, look, answered)


def _dates(name: str, answers: Sequence[str], missing: tuple[MissingCode, ...]) -> Proposal | None:
    """Dates, where nearly all answers are; which number is the day is told by those above 12."""
    form, n = best_form(answers)
    doubtful = sum(value.lower() in _PERHAPS_NOT_ANSWERS for value in answers)
    if n == 0 or n < NEARLY_ALL * (len(answers) - doubtful):
        return None
    look: list[Look] = []
    dated = [value for value in answers if day_of(value, form) is not None]
    if {"dmy", "mdy"} <= set(forms_of(dated)) and not any(map(_NAMED_MONTH, dated)):
        text = (
            "Days and months cannot be told apart: read as day/month/year. If it is "
            "month/day/year, say so."
        )
        look.append(Look(text=text))
    if others := [value for value in answers if value not in set(dated)]:
        verb = "is no date and no answer" if len(others) == 1 else "are no dates and no answers"
        named = f"{_listed(others[:3])}{' and others' * (len(others) > 3)}"
        look.append(Look(text=f"{named} {verb}."))
    variable = Variable(name=name, kind="date", missing=missing, date_form=form)
    return Proposal(variable, f"dates written {FORMS[form]}", tuple(look))


def missing_in_many(proposals: Iterable[Proposal]) -> list[str]:
    """A sentence for each value that was taken as no answer in several variables."""
    where: dict[str, list[str]] = {}
    for proposal in proposals:
        for code in proposal.variable.missing:
            where.setdefault(code.value, []).append(proposal.variable.name)
    return [
        f"“{value}” was taken as no answer in {len(names):,} variables: {', '.join(names[:3])}"
        + (f" and {len(names) - 3:,} more." if len(names) > 3 else ".")
        for value, names in sorted(where.items(), key=lambda item: -len(item[1]))
        if len(names) > 1
    ]


def counts_candidate(columns: Mapping[str, Source], rows: int) -> str | None:
    """The column that holds counts where each row looks like a group, otherwise None.

    A table looks like a summary when its categories combine differently in every row and one
    column of whole numbers, 0 or more, stands beside them.
    """
    if not 2 <= rows <= 5000 or len(columns) < 2:
        return None
    numbers = {name: _whole_counts(source) for name, source in columns.items()}
    candidates = [name for name, found in numbers.items() if found]
    named = [name for name in candidates if name.lower().strip() in _COUNT_NAMES]
    candidates = named or candidates
    if len(candidates) != 1:
        return None
    others = [source for name, source in columns.items() if name != candidates[0]]
    if not all(isinstance(s, Coded) and len(s.values) <= MANY_CATEGORIES for s in others):
        return None
    if any(len(s.values) == rows and rows > 2 for s in others if isinstance(s, Coded)):
        # A column that differs in every row names the rows; groups share their categories.
        others = [s for s in others if isinstance(s, Coded) and len(s.values) < rows]
        if others or not named:
            return None
        return candidates[0]
    stacked = np.column_stack([s.codes for s in others if isinstance(s, Coded)])
    return candidates[0] if len(np.unique(stacked, axis=0)) == rows else None


_COUNT_NAMES = {
    "n",
    "count",
    "counts",
    "freq",
    "frequency",
    "number",
    "cases",
    "households",
    "people",
}


def _whole_counts(source: Source) -> bool:
    if isinstance(source, Measured):
        return False
    numbers = [as_number(value) for value in source.values]
    whole = all(x is not None and x >= 0 and x == int(x) for x in numbers)
    return whole and len(numbers) > 1


# So many values are counted faster one after the other.
_FEW = 12


def _tally(source: Coded) -> np.ndarray:
    """Rows of each value, shape (values,)."""
    codes, many = source.codes, len(source.values)
    if many <= _FEW:
        return np.array([np.count_nonzero(codes == i) for i in range(many)], dtype=np.int64)
    if codes.dtype.itemsize > 2:
        return np.bincount(codes[codes >= 0], minlength=many)
    # Read as numbers without a sign, -1 is the largest there is, behind all values.
    return np.bincount(codes.view(f"u{codes.dtype.itemsize}"), minlength=many)[:many]


def _is_code(value: str) -> bool:
    """Numerals with a leading zero ("007") are names, not numbers."""
    return len(value) > 1 and value[0] == "0" and value[1].isdigit()


def _set_aside(values: Sequence[str]) -> tuple[list[str], tuple[MissingCode, ...], list[Look]]:
    """Split values into answers and words that are no answers; point out the doubtful."""
    answers, missing, look = [], [], []
    for value in values:
        reason = _NOT_ANSWERS.get(value.lower())
        if reason is not None:
            missing.append(MissingCode(value=value, label="" if reason == value else reason))
            continue
        if value.lower() in _PERHAPS_NOT_ANSWERS:
            look.append(_doubt(f"“{value}” is counted as an answer. Is it one?", value))
        answers.append(value)
    return answers, tuple(missing), look


def _numerals(
    name: str,
    answers: list[str],
    missing: tuple[MissingCode, ...],
    look: list[Look],
) -> Proposal:
    ordered = sorted(answers, key=lambda value: (float(value), value))
    regular = [value for value in ordered if float(value) not in _RESERVED_NUMBERS]
    reserved = [value for value in ordered if float(value) in _RESERVED_NUMBERS]
    if regular and reserved and _is_scale(regular):
        top = max(float(value) for value in regular)
        far = [v for v in reserved if float(v) < 0 or float(v) > max(2 * top, top + 5)]
        if far:
            span = f"{regular[0]} to {regular[-1]}"
            missing += tuple(MissingCode(value=value) for value in far)
            verb = "lies" if len(far) == 1 else "lie"
            text = f"{' and '.join(far)} {verb} far outside {span}: taken as missing."
            look.append(_doubt(text, *far))
            ordered = [value for value in ordered if value not in far]
    if apart := _apart(ordered):
        scale = [value for value in ordered if value not in apart]
        verb = "stands" if len(apart) == 1 else "stand"
        text = f"{' and '.join(apart)} {verb} apart from {scale[0]} to {scale[-1]}"
        is_taken = float(scale[-1]) <= _YES_NO_TOP
        look.append(
            _doubt(f"{text}{': taken as missing.' if is_taken else '. Is it an answer?'}", *apart)
        )
        if is_taken:
            missing += tuple(MissingCode(value=value) for value in apart)
            ordered = scale
    if _is_scale(ordered) or apart:
        reason = f"{len(ordered)} whole numbers from {ordered[0]} to {ordered[-1]}: read as codes"
        return Proposal(_categorical(name, ordered, missing), reason, tuple(look))
    proposal = _numeric(name, (), np.array([float(value) for value in ordered]), "")
    variable = proposal.variable.model_copy(update={"missing": missing})
    return Proposal(variable, proposal.reason, (*look, *proposal.to_look_at))


def _apart(ordered: Sequence[str]) -> list[str]:
    """7, 8 and 9 after a gap behind consecutive codes, where questionnaires put those who did not
    answer: 9 of 1, 2, 9."""
    apart = [value for value in ordered if float(value) in _RESERVED_DIGITS]
    scale = [float(value) for value in ordered if value not in apart]
    is_consecutive = len(scale) > 1 and scale == list(
        range(int(scale[0]), int(scale[0]) + len(scale))
    )
    if not apart or not is_consecutive or scale[0] not in (0, 1):
        return []
    return apart if scale[-1] <= 5 and float(apart[0]) > scale[-1] + 1 else []


def _is_scale(ordered: Sequence[str]) -> bool:
    """Few consecutive whole numbers from 0 or 1: the codes of a closed question."""
    numbers = [float(value) for value in ordered]
    if len(numbers) == 2 and numbers[1] - numbers[0] == 1:
        return numbers[0] in (0, 1)
    return (
        1 < len(numbers) <= 7
        and numbers[0] in (0, 1)
        and all(number == int(number) for number in numbers)
        and numbers[-1] - numbers[0] <= 7
    )


def _words(
    name: str,
    answers: list[str],
    missing: tuple[MissingCode, ...],
    look: list[Look],
    answered: int,
) -> Proposal:
    numbers = {value: as_number(value) for value in answers}
    words = [value for value, number in numbers.items() if number is None]
    if len(words) <= 3 and len(answers) - len(words) > 10 and not any(map(_is_code, answers)):
        # A word is no number, whatever is said of it: there is nothing to decide.
        verb = "stands" if len(words) == 1 else "stand"
        look = [each for each in look if not set(each.values) <= set(words)]
        look.append(Look(text=f"{_listed(words)} {verb} among numbers: taken as missing."))
        missing += tuple(MissingCode(value=value) for value in words)
        numerals = [value for value in answers if value not in words]
        return _numerals(name, numerals, missing, look)
    look += [
        Look(text=text, values=others, asks="is_same") for text, others in twins_in_words(answers)
    ]
    if words:
        odd = _RESERVED_NUMBERS | _RESERVED_DIGITS
        look += [
            _doubt(f"“{value}” stands among words and is counted as an answer. Is it one?", value)
            for value, number in numbers.items()
            if number in odd
        ]
    if _is_free_text(len(answers), answered):
        variable = Variable(name=name, kind="text", missing=missing)
        return Proposal(
            variable, f"{len(answers):,} different texts: read as free text", tuple(look)
        )
    lowered = {value.lower() for value in answers}
    if not words:
        answers = sorted(answers)
    what = "one answer" if len(answers) == 1 else f"{len(answers)} different answers"
    reason = f"{what}, in the order of the file"
    if len(answers) == 2 and lowered & _YES and lowered & _NO:
        variable = with_event(_categorical(name, answers, missing))
        return Proposal(variable, f"two answers; “{variable.event[0]}” is the event", tuple(look))
    return Proposal(_categorical(name, answers, missing), reason, tuple(look))


def with_event(variable: Variable) -> Variable:
    """A variable whose two categories mean yes and no, with yes as its event; any other as it is."""
    yes = tuple(c.value for c in variable.categories if c.label.lower() in _YES)
    no = tuple(c.value for c in variable.categories if c.label.lower() in _NO)
    if len(variable.categories) != 2 or not yes or not no or variable.event:
        return variable
    return variable.model_copy(update={"event": yes, "reference": no[0]})


def _is_free_text(different: int, answered: int) -> bool:
    """Hardly any answer is given twice, or there are more than anybody would tabulate."""
    if different > MANY_CATEGORIES:
        return True
    return different == answered > 5 or (different > 12 and different > answered / 2)


def _categorical(name: str, values: Sequence[str], missing: tuple[MissingCode, ...]) -> Variable:
    categories = tuple(Category(value=value, label=value) for value in values)
    return Variable(name=name, kind="nominal", categories=categories, missing=missing)


def _numeric(name: str, words: Sequence[str], numbers: np.ndarray, reason: str) -> Proposal:
    missing = tuple(
        MissingCode(value=word, label=_NOT_ANSWERS.get(word.lower(), "")) for word in words
    )
    kind: Kind = "numeric"
    low, high = float(numbers.min()), float(numbers.max())
    look = [
        _doubt(f"{code:g} lies outside the other numbers. Is it an answer?", f"{code:g}")
        for code in _outside(numbers)
    ]
    return Proposal(
        Variable(name=name, kind=kind, missing=missing),
        reason or f"numbers from {low:g} to {high:g}",
        tuple(look),
    )


def _outside(numbers: np.ndarray) -> list[float]:
    """Reserved numbers at either end that are far from all others, or below 0 where no other is."""
    top: list[float] = []
    above: list[float] = []
    below: list[float] = []
    others = numbers
    while others.size and (high := float(others.max())) in _RESERVED_NUMBERS and high > 0:
        top.append(high)
        others = others[others < high]
        # As many as stand far from what is left: an age of 88 below 999 is an age.
        if others.size and high > 1.2 * others.max():
            above = list(top)
    while others.size and (low := float(others.min())) in _RESERVED_NUMBERS and low < 0:
        below.append(low)
        others = others[others > low]
    if not others.size:
        return []
    if others.min() < 0:
        below = []
    return sorted([*below, *above])


def _doubt(text: str, *values: str) -> Look:
    return Look(text=text, values=values, asks="is_answer")


def _listed(values: Sequence[str]) -> str:
    return " and ".join(f"“{value}”" for value in values)
