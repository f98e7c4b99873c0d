"""Stacking: the rows of several data sets under each other, on common variables."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from hobrix.core.bringing.common import CommonVariable, common_column
from hobrix.core.bringing.part import MadeData, Part, care, fine, free_name
from hobrix.core.data import Category, Coded, Design, Frozen, Measured, Source, Variable
from hobrix.core.data.cases import Cases, Finding
from hobrix.core.data.cases_look import case_keys, order_values
from hobrix.core.data.column import smallest_int
from hobrix.core.data.keys import common_keys, key_text
from hobrix.core.errors import RecipeError

SOURCE = "data_set"
SOURCE_ROW = "row_there"
# What the stacked data say of themselves.
_OWN = (SOURCE, SOURCE_ROW, "case", "order", "weight", "stratum", "cluster")


class Stack(Frozen):
    """Rows of several data sets under each other.

    ``names`` are what the data sets are called in the variable that tells them apart. Weights are
    left out (``each``), kept, or rescaled so that those of each data set sum to its rows.
    ``same_cases``: what tells cases apart means the same case in all of them.
    """

    recipe: Literal["stack"] = "stack"
    names: Annotated[tuple[str, ...], Field(min_length=2, max_length=50)]
    variables: Annotated[tuple[CommonVariable, ...], Field(max_length=2000)] = ()
    counted: Literal["each", "kept", "rescaled"] = "each"
    same_cases: bool = False

    @model_validator(mode="after")
    def _is_consistent(self) -> "Stack":
        names = [common.name for common in self.variables]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(f"two common variables are called “{name}”")
            if name in _OWN:
                raise ValueError(f"“{name}” is what the stacked data call something of their own")
        if len(set(self.names)) < len(self.names):
            raise ValueError("two data sets have the same name")
        if any(len(common.taken) != len(self.names) for common in self.variables):
            raise ValueError("each common variable says what it takes from each data set")
        return self


def stack(recipe: Stack, parts: Sequence[Part]) -> MadeData:
    """The rows of all parts, in their order.

    Raises:
        RecipeError: data sets that cannot stand under each other, and the way out.
    """
    _refuse_mixed_rows(parts)
    given = tuple(parts)
    sizes = [part.frame.rows for part in parts]
    columns = [_which(recipe, sizes), _row_there(sizes)]
    columns += [common_column(common, given) for common in recipe.variables]
    cases, of_cases, findings = _cases(recipe, parts)
    design, of_design = _design(recipe, parts)
    if design is not None:
        findings = [*findings, *_same_clusters(parts)]
    return MadeData(
        rows=sum(sizes),
        columns=(*columns, *of_cases, *of_design),
        cases=cases,
        design=design,
        pooled_by=SOURCE,
        findings=(*findings,),
    )


def _refuse_mixed_rows(parts: Sequence[Part]) -> None:
    several = [part.name for part in parts if part.frame.cases.is_repeated]
    one = [part.name for part in parts if not part.frame.cases.is_repeated]
    if several and one:
        raise RecipeError(
            f"{several[0]} has several rows per case, {one[0]} has one. Make one row per case of "
            f"{several[0]} first, then stack that.",
            field="sources",
        )


def _which(recipe: Stack, sizes: Sequence[int]) -> tuple[Variable, Source]:
    categories = tuple(Category(value=name, label=name) for name in recipe.names)
    variable = Variable(name=SOURCE, label="Data set", kind="nominal", categories=categories)
    codes = np.repeat(np.arange(len(sizes), dtype=smallest_int(len(sizes))), sizes)
    return variable, Coded(codes, recipe.names)


def _row_there(sizes: Sequence[int]) -> tuple[Variable, Source]:
    label = "Row in its data set"
    rows = np.concatenate([np.arange(1.0, size + 1) for size in sizes])
    return Variable(name=SOURCE_ROW, label=label, kind="numeric"), Measured.of(rows)


def _cases(
    recipe: Stack, parts: Sequence[Part]
) -> tuple[Cases, list[tuple[Variable, Source]], list[Finding]]:
    """What tells cases apart, made distinct for each data set unless they are the same."""
    names = [part.frame.cases.case for part in parts]
    known = [name for name in names if name is not None]
    if len(known) < len(names):
        return Cases(), [], []
    sources = [part.frame.source(name) for part, name in zip(parts, known, strict=True)]
    findings = [_in_several(recipe, parts, known, sources)]
    texts: list[str] = []
    place: dict[str, int] = {}
    codes = []
    for part, name, source, called in zip(parts, known, sources, recipe.names, strict=True):
        keys = case_keys(part.frame, name)
        first = np.full(int(keys.max(initial=-1)) + 2, -1)
        distinct, rows = np.unique(keys, return_index=True)
        for key, row in zip(distinct.tolist(), rows.tolist(), strict=True):
            if key >= 0:
                text = key_text(source, row)
                text = text if recipe.same_cases else f"{called}: {text}"
                if text not in place:
                    place[text] = len(texts)
                    texts.append(text)
                first[key] = place[text]
        codes.append(first[keys])
    case = Variable(name="case", label="Case", kind="text")
    columns: list[tuple[Variable, Source]] = [
        (case, Coded(np.concatenate(codes).astype(np.int32), tuple(texts)))
    ]
    rows_are: Literal["one", "several"] = (
        "several" if parts[0].frame.cases.is_repeated or recipe.same_cases else "one"
    )
    orders = [part.frame.cases.order for part in parts]
    has_order = all(order is not None for order in orders)
    if has_order:
        numbers = np.concatenate(
            [
                order_values(part.frame, order)
                for part, order in zip(parts, orders, strict=True)
                if order
            ]
        )
        label = parts[0].frame.variables[orders[0] or ""].title
        columns.append((Variable(name="order", label=label, kind="numeric"), Measured.of(numbers)))
    return (
        Cases(rows=rows_are, case="case", order="order" if has_order else None),
        columns,
        findings,
    )


def _in_several(
    recipe: Stack, parts: Sequence[Part], names: Sequence[str], sources: Sequence[Source]
) -> Finding:
    tables = [
        [(part.frame.variables[name], source)]
        for part, name, source in zip(parts, names, sources, strict=True)
    ]
    keys = [np.unique(found[found >= 0]) for found in common_keys(tables)]
    _, times = np.unique(np.concatenate(keys), return_counts=True)
    shared = int(np.count_nonzero(times > 1))
    if not shared:
        return fine("No case is in two data sets.")
    if recipe.same_cases:
        return care(
            f"{shared:,} cases are in more than one data set: their rows are not independent."
        )
    return care(
        f"{shared:,} cases are called the same in two data sets and taken as different ones. Say so "
        "if they are the same."
    )


def _design(
    recipe: Stack, parts: Sequence[Part]
) -> tuple[Design | None, list[tuple[Variable, Source]]]:
    """Weights kept or rescaled; strata and clusters made distinct for each data set."""
    if recipe.counted == "each":
        return None, []
    designs = []
    for part in parts:
        if part.frame.recorded is None or part.frame.recorded.weights is None:
            raise RecipeError(
                f"{part.name} has no weights: count each row once, or record its design in Data.",
                field="counted",
            )
        designs.append(part.frame.recorded)
    weights = []
    for part, design in zip(parts, designs, strict=True):
        values = part.frame.numeric(design.weights or "", "counted_by").values
        factor = part.frame.rows / np.nansum(values) if recipe.counted == "rescaled" else 1.0
        weights.append(values * factor)
    made: list[tuple[Variable, Source]] = [
        (
            Variable(name="weight", label="Weight", kind="numeric"),
            Measured.of(np.concatenate(weights)),
        )
    ]
    named = {"stratum": [d.strata for d in designs], "cluster": [d.clusters for d in designs]}
    for what, names in named.items():
        if all(names):
            made.append(_distinct(what, recipe, parts, [name or "" for name in names]))
        elif what == "stratum" or any(names):
            # Without strata of its own a data set is one stratum; rows without clusters stand alone.
            made.append(_distinct(what, recipe, parts, names))
    columns = {variable.name for variable, _ in made}
    design = Design(
        weights="weight",
        strata="stratum" if "stratum" in columns else None,
        clusters="cluster" if "cluster" in columns else None,
    )
    return design, made


def _same_clusters(parts: Sequence[Part]) -> list[Finding]:
    """Places that were sampled again are no independent places."""
    tables = [
        [(part.frame.variables[name], part.frame.source(name))]
        for part in parts
        if part.frame.recorded and (name := part.frame.recorded.clusters)
    ]
    if len(tables) < 2:
        return []
    keys = [np.unique(found[found >= 0]) for found in common_keys(tables)]
    _, times = np.unique(np.concatenate(keys), return_counts=True)
    if not (shared := int(np.count_nonzero(times > 1))):
        return []
    return [
        care(
            f"{shared:,} clusters are called the same in two data sets and taken as different ones. If "
            "they are the same places, intervals of differences between the data sets are likely too "
            "wide, and those of what is pooled too narrow."
        )
    ]


def _distinct(
    what: str, recipe: Stack, parts: Sequence[Part], names: Sequence[str | None]
) -> tuple[Variable, Source]:
    texts: list[str] = []
    codes = []
    for part, name, called in zip(parts, names, recipe.names, strict=True):
        if name is None:
            alone = what == "cluster"
            own = [f"{called}: row {i + 1}" for i in range(part.frame.rows)] if alone else [called]
            at = np.arange(part.frame.rows) if alone else np.zeros(part.frame.rows, np.int64)
        else:
            at = case_keys(part.frame, name)
            source = part.frame.source(name)
            distinct, rows = np.unique(at, return_index=True)
            own = [
                f"{called}: {key_text(source, row)}"
                for key, row in zip(distinct.tolist(), rows.tolist(), strict=True)
                if key >= 0
            ]
        codes.append(np.where(at < 0, -1, at + len(texts)))
        texts += own
    categories = tuple(Category(value=text, label=text) for text in texts)
    variable = Variable(name=what, label=what.capitalize(), kind="nominal", categories=categories)
    return variable, Coded(np.concatenate(codes).astype(smallest_int(len(texts))), tuple(texts))


def free_common_name(wanted: str, recipe: Stack) -> str:
    """A name for a common variable that is not taken."""
    return free_name(wanted, [*_OWN, *(common.name for common in recipe.variables)])
