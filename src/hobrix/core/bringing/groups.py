"""Groups to compare: who belongs to each, which row of a case counts, how many are left."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from hobrix.core.bringing.one_per_case import InOrder, Mask, Which
from hobrix.core.bringing.part import MadeData, Part, Rows, care, fine, rows_taken
from hobrix.core.data import (
    CategoricalColumn,
    Category,
    Coded,
    Frame,
    Frozen,
    NumericColumn,
    Subset,
    Variable,
)
from hobrix.core.data.cases import Cases, Finding
from hobrix.core.data.dates import date_of
from hobrix.core.data.keys import key_text
from hobrix.core.data.subset import variables_of
from hobrix.core.data.variable import Name
from hobrix.core.errors import RecipeError

# A cell with fewer than this many is pointed out before anything is modelled.
FEW = 5
_NAMED = 20

Holds = Literal["ever", "never", "first", "last"]


class Group(Frozen):
    """Cases that meet ``where`` in any row (``ever``), in none, in their first or in their last row;
    each counts with its first or last row, among those that meet the condition if ``of_meeting``."""

    name: Annotated[str, Field(min_length=1, max_length=100)]
    where: Subset
    holds: Holds = "ever"
    row: Which = "first"
    of_meeting: bool = False

    @model_validator(mode="after")
    def _has_such_a_row(self) -> "Group":
        if self.of_meeting and self.holds == "never":
            raise ValueError("cases that never meet the condition have no row that does")
        return self


class GroupsToCompare(Frozen):
    """Groups that make an outcome with one row per case. Cases of two groups are left out, or belong
    to the first of them. The first group is the event where there are two."""

    recipe: Literal["groups"] = "groups"
    name: Name = "group"
    label: str = "Group"
    groups: Annotated[tuple[Group, ...], Field(min_length=2, max_length=20)]
    in_two: Literal["left_out", "first"] = "left_out"
    study_design: Literal["", "cross_sectional", "cohort", "case_control"] = ""
    # When or at which age rows are taken, and what is to be compared: looked at, not kept.
    taken_at: str | None = None
    conditions: Annotated[tuple[str, ...], Field(max_length=50)] = ()

    @model_validator(mode="after")
    def _are_distinct(self) -> "GroupsToCompare":
        names = [group.name for group in self.groups]
        if len(set(names)) < len(names):
            raise ValueError("two groups have the same name")
        return self


class GroupLook(Frozen):
    """Cases of a group, and the middle and range of when they are taken."""

    name: str
    n: int
    # "34 (18 to 80)", or days; "" where nothing says when.
    taken_at: str = ""


class ConditionLook(Frozen):
    """Cases by group and answer, shape (groups, answers), which of these are few, and those without an
    answer by group."""

    variable: str
    title: str
    answers: tuple[str, ...]
    counts: tuple[tuple[int, ...], ...]
    few: tuple[tuple[bool, ...], ...]
    missing: tuple[int, ...]
    findings: tuple[Finding, ...]


class GroupsLook(Frozen):
    """Who is in the groups; ``in_two`` names the first cases that fall into two."""

    cases: int
    groups: tuple[GroupLook, ...]
    in_none: int
    in_two: int
    in_two_cases: tuple[str, ...]
    conditions: tuple[ConditionLook, ...]
    findings: tuple[Finding, ...]


def groups(recipe: GroupsToCompare, parts: Sequence[Part]) -> MadeData:
    """The rows that count, each with its group.

    Raises:
        RecipeError: nothing tells cases apart, or a group is empty.
        QuestionError: a condition that does not fit the codebook.
    """
    (part,) = parts
    frame = part.frame
    if recipe.name in frame.variables:
        raise RecipeError(f"There already is a variable called “{recipe.name}”.", field="name")
    sorted_ = _Sorted(recipe, part)
    for group, n in zip(recipe.groups, sorted_.sizes(), strict=True):
        if not n:
            raise RecipeError(f"No case is in “{group.name}”.", field="groups")
    kept = sorted_.group >= 0
    names = tuple(group.name for group in recipe.groups)
    codes = sorted_.group[kept].astype(np.int8)
    two = len(names) == 2
    outcome = Variable(
        name=recipe.name,
        label=recipe.label,
        kind="nominal",
        categories=tuple(Category(value=name, label=name) for name in names),
        event=names[:1] if two else (),
        reference=names[1] if two else None,
    )
    rows = sorted_.row[kept]
    columns = [(v, rows_taken(frame.source(name), rows)) for name, v in frame.variables.items()]
    is_sampled = recipe.study_design == "case_control"
    return MadeData(
        rows=len(rows),
        columns=((outcome, Coded(codes, names)), *columns),
        cases=Cases(rows="one", case=frame.cases.case),
        design=None if is_sampled else frame.recorded,
        study_design=recipe.study_design,
        case_status=recipe.name if is_sampled else "",
        pooled_by=frame.pooled_by,
        findings=tuple(sorted_.findings()),
    )


def look_at_groups(recipe: GroupsToCompare, parts: Sequence[Part]) -> GroupsLook:
    """How many are in each group and, per condition, how many are left; raises as ``groups`` does."""
    (part,) = parts
    sorted_ = _Sorted(recipe, part)
    return GroupsLook(
        cases=sorted_.ordered.cases,
        groups=tuple(sorted_.group_looks()),
        in_none=int(np.count_nonzero(sorted_.times == 0)),
        in_two=int(np.count_nonzero(sorted_.times > 1)),
        in_two_cases=sorted_.named(sorted_.times > 1),
        conditions=tuple(sorted_.condition(name) for name in recipe.conditions),
        findings=tuple(sorted_.findings()),
    )


class _Sorted:
    """Each case with its group (-1: none) and the row that counts."""

    def __init__(self, recipe: GroupsToCompare, part: Part) -> None:
        self._recipe = recipe
        self.frame: Frame = part.frame
        self.ordered = InOrder(part)
        n = self.ordered.cases
        self.group = np.full(n, -1)
        self.row: Rows = np.full(n, -1)
        self.times = np.zeros(n, dtype=np.int64)
        for at, group in enumerate(recipe.groups):
            rows = _rows_of(group, self.ordered)
            is_in = rows >= 0
            self.times += is_in
            free = is_in & (self.group < 0)
            self.group[free] = at
            self.row[free] = rows[free]
        if recipe.in_two == "left_out":
            self.group[self.times > 1] = -1

    def sizes(self) -> list[int]:
        found = np.bincount(self.group[self.group >= 0], minlength=len(self._recipe.groups))
        return [int(n) for n in found]

    def named(self, cases: Mask) -> tuple[str, ...]:
        source = self.frame.source(self.frame.cases.case or "")
        rows = self.ordered.pick("first")[cases][:_NAMED]
        return tuple(key_text(source, int(row)) for row in rows)

    def group_looks(self) -> list[GroupLook]:
        return [
            GroupLook(name=group.name, n=n, taken_at=self._taken_at(self.row[self.group == i]))
            for i, (group, n) in enumerate(zip(self._recipe.groups, self.sizes(), strict=True))
        ]

    def _taken_at(self, rows: Rows) -> str:
        """The middle and the range of when rows are taken."""
        name = self._recipe.taken_at
        if name is None:
            return ""
        is_date = self.frame.variable(name, "taken_at").kind == "date"
        column = (self.frame.days if is_date else self.frame.numeric)(name, "taken_at")
        when = column.values[rows]
        when = when[~np.isnan(when)]
        if not len(when):
            return ""
        middle, least, most = float(np.median(when)), float(when.min()), float(when.max())
        if is_date:
            return f"{date_of(middle)} ({date_of(least)} to {date_of(most)})"
        return f"{middle:g} ({least:g} to {most:g})"

    def condition(self, name: str) -> ConditionLook:
        variable = self.frame.variable(name, "conditions")
        column = self.frame.column(name)
        counts, missing = [], []
        answers: tuple[str, ...] = ("a number",)
        for i in range(len(self._recipe.groups)):
            rows = self.row[self.group == i]
            gone = int(np.count_nonzero(column.is_missing[rows]))
            missing.append(gone)
            if isinstance(column, CategoricalColumn) and variable.is_categorical:
                codes = column.codes[rows]
                counts.append(
                    np.bincount(codes[codes >= 0], minlength=len(column.categories)).tolist()
                )
            else:
                counts.append([len(rows) - gone])
        is_cut = isinstance(column, CategoricalColumn) and variable.is_categorical
        if is_cut and isinstance(column, CategoricalColumn):
            answers = tuple(category.label for category in column.categories)
        return ConditionLook(
            variable=name,
            title=variable.title,
            answers=answers,
            counts=tuple(tuple(row) for row in counts),
            few=tuple(tuple(is_cut and n < FEW for n in row) for row in counts),
            missing=tuple(missing),
            findings=tuple(self._small(variable, answers, counts, column)),
        )

    def _small(
        self,
        variable: Variable,
        answers: Sequence[str],
        counts: Sequence[Sequence[int]],
        column: CategoricalColumn | NumericColumn,
    ) -> list[Finding]:
        few = [
            f"{n:,} {group.name} with {variable.title}: {answer}"
            for group, row in zip(self._recipe.groups, counts, strict=True)
            for answer, n in zip(answers, row, strict=True)
            if n < FEW and isinstance(column, CategoricalColumn)
        ]
        if not few:
            return []
        more = f" and {len(few) - 3} more such cells" if len(few) > 3 else ""
        return [care(f"Only {', '.join(few[:3])}{more}: combine answers, or leave it out.")]

    def findings(self) -> list[Finding]:
        findings = []
        if without := self.ordered.without_case():
            findings.append(care(f"{without:,} rows of no case are in no group."))
        if n := int(np.count_nonzero(self.times > 1)):
            rule = (
                "they are left out"
                if self._recipe.in_two == "left_out"
                else "they belong to the first of them"
            )
            findings.append(care(f"{n:,} cases fall into two groups or more; {rule}."))
        else:
            findings.append(fine("No case falls into two groups."))
        return findings


def _rows_of(group: Group, ordered: InOrder) -> Rows:
    """The row that counts of each case in the group, -1 for cases that are not in it.

    A condition on what was not answered is not met, but a case of which nothing could be judged is
    not one that never met it.
    """
    frame = ordered.frame
    meets = group.where.mask(frame)
    if group.holds == "ever":
        is_in = ordered.any_of(meets)
    elif group.holds == "never":
        judged = np.ones(frame.rows, dtype=bool)
        for name in variables_of(group.where):
            judged &= ~frame.column(name).is_missing
        is_in = ~ordered.any_of(meets) & ordered.any_of(judged)
    else:
        is_in = meets[ordered.pick(group.holds)]
    rows = ordered.pick(group.row, meets if group.of_meeting else None)
    return np.where(is_in, rows, -1)
