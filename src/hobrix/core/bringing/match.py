"""Matching: the columns of another data set beside those of one, by what they have in common."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hobrix.core.bringing.part import MadeData, Part, care, fine, free_name, rows_matched
from hobrix.core.data import Frozen, Source, Variable
from hobrix.core.data.cases import Finding
from hobrix.core.data.keys import Keys, common_keys, key_text, without_zeros
from hobrix.core.errors import RecipeError

# So many keys are named where they have no partner, or more than one.
_NAMED = 5


class KeyPair(Frozen):
    """A variable here and the one there that must be equal."""

    here: str
    there: str


class Match(Frozen):
    """The variables ``take`` of a second data set beside each row of the first whose keys are equal,
    as text with blanks trimmed; ``ignore_zeros``: also without zeros in front."""

    recipe: Literal["match"] = "match"
    keys: Annotated[tuple[KeyPair, ...], Field(min_length=1, max_length=10)]
    take: Annotated[tuple[str, ...], Field(min_length=1, max_length=2000)]
    ignore_zeros: bool = False


class Unmatched(Frozen):
    """Rows without a partner, and the keys of the first of them."""

    n: int
    keys: tuple[str, ...]


class MatchLook(Frozen):
    """How rows find each other."""

    relation: Literal["one to one", "many to one"]
    matched: int
    here: Unmatched
    there: Unmatched
    findings: tuple[Finding, ...]


def match(recipe: Match, parts: Sequence[Part]) -> MadeData:
    """Every row of the first part, with what the second knows of its key.

    Raises:
        RecipeError: no such variable, or a key that stands in more than one row there.
    """
    here, there = parts
    _, partner, look = _paired(recipe, here, there)
    columns = [(v, here.frame.source(name)) for name, v in here.frame.variables.items()]
    taken = set(here.frame.variables)
    for name in recipe.take:
        variable = _known(there, name, "take")
        variable, source = rows_matched(variable, there.frame.source(name), partner)
        called = free_name(name, taken)
        taken.add(called)
        columns.append((variable.model_copy(update={"name": called}), source))
    return MadeData(
        rows=here.frame.rows,
        columns=tuple(columns),
        cases=here.frame.cases,
        design=here.frame.recorded,
        study_design=here.frame.study_design,
        case_status=here.frame.case_status,
        pooled_by=here.frame.pooled_by,
        findings=look.findings,
    )


def look_at_match(recipe: Match, parts: Sequence[Part]) -> MatchLook:
    """Who finds a partner; raises as ``match`` does."""
    return _paired(recipe, *parts)[2]


def _paired(recipe: Match, here: Part, there: Part) -> tuple[Keys, Keys, MatchLook]:
    ours = [(_known(here, pair.here, "keys"), here.frame.source(pair.here)) for pair in recipe.keys]
    theirs = [
        (_known(there, pair.there, "keys"), there.frame.source(pair.there)) for pair in recipe.keys
    ]
    keys, other = (
        _without_zeros(ours, theirs) if recipe.ignore_zeros else common_keys([ours, theirs])
    )
    texts = [source for _, source in theirs]
    _refuse_repeated(there, texts, other)
    partner = _partners(keys, other)
    found = partner >= 0
    used = np.zeros(there.frame.rows, dtype=bool)
    used[partner[found]] = True
    is_many = int(np.count_nonzero(found)) > int(np.count_nonzero(used))
    lost_here = np.flatnonzero(~found)
    lost_there = np.flatnonzero(~used)
    findings = _findings(here, there, found, keys)
    if len(lost_here) and not recipe.ignore_zeros:
        more = int(np.count_nonzero(_partners_of_unique(*_without_zeros(ours, theirs)) >= 0))
        if more > np.count_nonzero(found):
            findings.append(
                care(
                    f"{more - np.count_nonzero(found):,} more rows would match if zeros in front did "
                    "not count (“007” and “7”)."
                )
            )
    look = MatchLook(
        relation="many to one" if is_many else "one to one",
        matched=int(np.count_nonzero(found)),
        here=Unmatched(n=len(lost_here), keys=_named([s for _, s in ours], lost_here)),
        there=Unmatched(n=len(lost_there), keys=_named(texts, lost_there)),
        findings=tuple(findings),
    )
    return keys, partner, look


def _without_zeros(*tables: list[tuple[Variable, Source]]) -> tuple[Keys, Keys]:
    here, there = common_keys([[(v, without_zeros(s)) for v, s in table] for table in tables])
    return here, there


def _known(part: Part, name: str, field: str) -> Variable:
    if name not in part.frame.variables:
        raise RecipeError(f"There is no variable called “{name}” in {part.name}.", field=field)
    return part.frame.variables[name]


def _partners(keys: Keys, other: Keys) -> Keys:
    """The row there that has the key of each row here, or -1."""
    row_of = np.full(int(max(keys.max(initial=-1), other.max(initial=-1))) + 2, -1)
    with_key = np.flatnonzero(other >= 0)
    row_of[other[with_key]] = with_key
    found: Keys = np.where(keys >= 0, row_of[keys], -1)
    return found


def _partners_of_unique(keys: Keys, other: Keys) -> Keys:
    """As ``_partners``, where keys there that are not unique find nobody."""
    times = np.bincount(other[other >= 0], minlength=1)
    is_unique = (other >= 0) & (times[np.maximum(other, 0)] == 1)
    return _partners(keys, np.where(is_unique, other, -1))


def _refuse_repeated(there: Part, texts: Sequence[Source], other: Keys) -> None:
    rows = np.argsort(other, kind="stable")
    rows = rows[other[rows] >= 0]
    again = np.flatnonzero(other[rows][1:] == other[rows][:-1])
    if not len(again):
        return
    n = len(np.unique(other[rows][again]))
    first = rows[again[:_NAMED]]
    named = ", ".join(
        f"{_key(texts, int(row))} (rows {int(row) + 1} and {int(rows[at + 1]) + 1})"
        for row, at in zip(first, again[:_NAMED], strict=True)
    )
    raise RecipeError(
        f"In {there.name} {n:,} {'key stands' if n == 1 else 'keys stand'} in more than one row: {named}. "
        "Each row here can take from one row there only: add a key, or make one row per case of it first.",
        field="keys",
    )


def _findings(here: Part, there: Part, found: np.ndarray, keys: Keys) -> list[Finding]:
    noun = here.frame.noun.many
    n, blank = int(np.count_nonzero(~found)), int(np.count_nonzero(keys < 0))
    if not found.any():
        return [care(f"No row of {here.name} finds its key in {there.name}.")]
    if not n:
        return [fine(f"All {len(found):,} {noun} find their key in {there.name}.")]
    text = (
        f"{n:,} of {len(found):,} {noun} find no key in {there.name}; they stay, with “no match”."
    )
    if blank:
        text += f" Of these {blank:,} have no key at all."
    return [care(text)]


def _named(texts: Sequence[Source], rows: np.ndarray) -> tuple[str, ...]:
    some = [_key(texts, int(row)) for row in rows[: 20 * _NAMED]]
    return tuple(dict.fromkeys(some))[:_NAMED]


def _key(texts: Sequence[Source], row: int) -> str:
    return " · ".join(key_text(source, row) or "(blank)" for source in texts)
