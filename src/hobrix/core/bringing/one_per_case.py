"""One row per case, from several: which row counts, and what is kept of the others."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from hobrix.core.bringing.part import MadeData, Part, Rows, care, fine, rows_taken
from hobrix.core.data import Category, Coded, Frame, Frozen, Measured, Source, Subset, Variable
from hobrix.core.data.cases import Cases, Finding
from hobrix.core.data.cases_look import case_keys, order_values, rows_in_order
from hobrix.core.data.keys import Keys
from hobrix.core.data.subset import variables_of
from hobrix.core.data.variable import Name
from hobrix.core.errors import QuestionError, RecipeError

Which = Literal["first", "last"]
Mask = NDArray[np.bool_]


class Ever(Frozen):
    """Yes where any row of the case meets a condition, no where none does and one could be judged,
    otherwise missing."""

    made: Literal["ever"] = "ever"
    name: Name
    label: str = ""
    where: Subset


class OverRows(Frozen):
    """A number over the rows of a case that have one; ``change`` is the last minus the first of
    them."""

    made: Literal["over_rows"] = "over_rows"
    name: Name
    label: str = ""
    variable: str
    how: Literal["least", "most", "mean", "count", "change"]


MadeOfRows = Annotated[Ever | OverRows, Field(discriminator="made")]


class OnePerCase(Frozen):
    """The first or last row of each case, among those that meet ``where``; with what is made of all
    its rows."""

    recipe: Literal["one_per_case"] = "one_per_case"
    row: Which = "first"
    where: Subset | None = None
    made: Annotated[tuple[MadeOfRows, ...], Field(max_length=200)] = ()


class InOrder:
    """The rows of a data set, case by case and in their order."""

    def __init__(self, part: Part) -> None:
        frame = part.frame
        if frame.cases.case is None:
            raise RecipeError(
                f"{part.name} does not say what tells cases apart: say so in Data first.",
                field="sources",
            )
        self.frame: Frame = frame
        self.keys: Keys = case_keys(frame, frame.cases.case)
        order = order_values(frame, frame.cases.order) if frame.cases.order else None
        self.rows: Rows = rows_in_order(self.keys, order)
        # Each row in order has the place of its case, from 0 on.
        _, self.case = np.unique(self.keys[self.rows], return_inverse=True)
        self.cases = int(self.case.max(initial=-1)) + 1

    def pick(self, which: Which, among: Mask | None = None) -> Rows:
        """The first or last row of each case among some rows, -1 where it has none; shape (cases,)."""
        kept = slice(None) if among is None else among[self.rows]
        rows, case = self.rows[kept], self.case[kept]
        found = np.full(self.cases, -1)
        # Later ones are written over earlier ones.
        step = 1 if which == "last" else -1
        found[case[::step]] = rows[::step]
        return found

    def any_of(self, among: Mask) -> Mask:
        """Whether any row of each case is among some; shape (cases,)."""
        return np.bincount(self.case, weights=among[self.rows], minlength=self.cases) > 0

    def without_case(self) -> int:
        return int(np.count_nonzero(self.keys < 0))


def one_per_case(recipe: OnePerCase, parts: Sequence[Part]) -> MadeData:
    """Raises:
    RecipeError: nothing tells cases apart, or a variable cannot be summed up so.
    QuestionError: a condition that does not fit the codebook.
    """
    (part,) = parts
    frame = part.frame
    ordered = InOrder(part)
    among = recipe.where.mask(frame) if recipe.where else None
    picked = ordered.pick(recipe.row, among)
    is_kept = picked >= 0
    columns = [
        (variable, rows_taken(frame.source(name), picked[is_kept]))
        for name, variable in frame.variables.items()
    ]
    for made in recipe.made:
        if made.name in frame.variables or [m.name for m in recipe.made].count(made.name) > 1:
            raise RecipeError(f"There already is a variable called “{made.name}”.", field="made")
        variable, source = _made(made, ordered)
        columns.append((variable, rows_taken(source, np.flatnonzero(is_kept))))
    return MadeData(
        rows=int(np.count_nonzero(is_kept)),
        columns=tuple(columns),
        cases=Cases(rows="one", case=frame.cases.case),
        design=frame.recorded,
        pooled_by=frame.pooled_by,
        study_design=frame.study_design,
        case_status=frame.case_status,
        findings=tuple(_findings(recipe, ordered, is_kept)),
    )


def look_at_one_per_case(
    recipe: OnePerCase, parts: Sequence[Part]
) -> tuple[int, tuple[Finding, ...]]:
    """How many rows come of it, and what is left out; raises as ``one_per_case`` does."""
    (part,) = parts
    ordered = InOrder(part)
    is_kept = ordered.pick(recipe.row, recipe.where.mask(part.frame) if recipe.where else None) >= 0
    for made in recipe.made:
        _made(made, ordered)
    return int(np.count_nonzero(is_kept)), tuple(_findings(recipe, ordered, is_kept))


def _findings(recipe: OnePerCase, ordered: InOrder, is_kept: Mask) -> list[Finding]:
    findings = []
    if without := ordered.without_case():
        findings.append(care(f"{without:,} rows of no case are left out."))
    if (lost := int(np.count_nonzero(~is_kept))) and recipe.where:
        words = recipe.where.words(ordered.frame)
        findings.append(care(f"{lost:,} cases have no row with {words}; they are left out."))
    if not findings:
        findings.append(fine(f"All {ordered.cases:,} cases have a row."))
    return findings


def _made(made: Ever | OverRows, ordered: InOrder) -> tuple[Variable, Source]:
    if isinstance(made, Ever):
        return _ever(made, ordered)
    variable = Variable(name=made.name, label=made.label, kind="numeric")
    try:
        values = ordered.frame.numeric(made.variable, "made").values
    except QuestionError as error:
        raise RecipeError(error.message, field="made") from None
    if made.how in ("change", "least", "most"):
        found = _of_some(made, values, ordered)
    else:
        is_number = ~np.isnan(values[ordered.rows])
        n = np.bincount(ordered.case[is_number], minlength=ordered.cases)
        total = np.bincount(
            ordered.case[is_number],
            weights=values[ordered.rows][is_number],
            minlength=ordered.cases,
        )
        with np.errstate(invalid="ignore"):
            found = n.astype(float) if made.how == "count" else np.where(n > 0, total / n, np.nan)
    return variable, Measured.of(found)


def _of_some(made: OverRows, values: np.ndarray, ordered: InOrder) -> np.ndarray:
    answered = ~np.isnan(values)
    if made.how == "change":
        first, last = ordered.pick("first", answered), ordered.pick("last", answered)
        # One row alone shows no change.
        return np.where(first != last, values[last] - values[first], np.nan)
    found = np.full(ordered.cases, np.inf if made.how == "least" else -np.inf)
    at = (np.minimum if made.how == "least" else np.maximum).at
    kept = answered[ordered.rows]
    at(found, ordered.case[kept], values[ordered.rows][kept])
    return np.where(np.isinf(found), np.nan, found)


def _ever(made: Ever, ordered: InOrder) -> tuple[Variable, Source]:
    frame = ordered.frame
    yes = ordered.any_of(made.where.mask(frame))
    judged = np.ones(frame.rows, dtype=bool)
    for name in variables_of(made.where):
        judged &= ~frame.column(name).is_missing
    known = yes | ordered.any_of(judged)
    codes = np.where(known, yes.astype(np.int8), -1).astype(np.int8)
    variable = Variable(
        name=made.name,
        label=made.label or f"Ever {made.where.words(frame)}",
        kind="nominal",
        categories=(Category(value="no", label="No"), Category(value="yes", label="Yes")),
        event=("yes",),
        reference="no",
    )
    return variable, Coded(codes, ("no", "yes"))
