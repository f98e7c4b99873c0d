"""Answers that are written in several ways: with other capitals, or other blanks."""

from collections.abc import Sequence

from hobrix.core.data.variable import Category, Spelling, Variable

# Pairs of answers that are named one by one.
_MOST_TWINS = 3


def plainly(text: str) -> str:
    """Without regard to capitals and blanks."""
    return " ".join(text.casefold().split())


def spelled_twice(variable: Variable) -> tuple[tuple[Category, Category], ...]:
    """Categories that are another spelling of one before them, each with that one."""
    if not variable.is_categorical:
        return ()
    first: dict[str, Category] = {}
    twins = []
    for category in variable.categories:
        before = first.setdefault(plainly(category.value), category)
        if before is not category:
            twins.append((category, before))
    return tuple(twins)


def twins_among(variable: Variable, values: Sequence[str]) -> dict[str, str]:
    """Other spellings, each with the answer it is one of: of all answers or, where some ``values`` are named, of
    what these spell."""
    asked = {plainly(value) for value in values}
    return {
        twin.value: before.value
        for twin, before in spelled_twice(variable)
        if not asked or plainly(twin.value) in asked
    }


def spelled_once(variable: Variable, values: Sequence[str] = ()) -> Variable:
    """Each answer with its other spellings (``twins_among``); the event and the reference move along."""
    into = twins_among(variable, values)
    if not into:
        return variable
    event = dict.fromkeys(into.get(value, value) for value in variable.event)
    reference = variable.reference
    return variable.model_copy(
        update={
            "categories": tuple(c for c in variable.categories if c.value not in into),
            "spellings": (
                *variable.spellings,
                *(Spelling(written=twin, value=value) for twin, value in into.items()),
            ),
            "event": tuple(event),
            "reference": None if reference is None else into.get(reference, reference),
        }
    )


def twins_in_words(answers: Sequence[str]) -> list[tuple[str, tuple[str, ...]]]:
    """What to look at where answers differ only in capitals or blanks: sentences, each with the answers that
    are another spelling of one before them."""
    seen: dict[str, str] = {}
    twins = []
    for answer in answers:
        twin = seen.setdefault(plainly(answer), answer)
        if twin != answer:
            twins.append((f"“{twin}” and “{answer}”", (answer,)))
    if len(twins) > _MOST_TWINS:
        such = f"{len(twins)} answers differ from others only in capitals or spaces, such as {twins[0][0]}."
        return [(such, tuple(answer for _, (answer,) in twins))]
    return [(f"{both} differ only in capitals or spaces.", other) for both, other in twins]
