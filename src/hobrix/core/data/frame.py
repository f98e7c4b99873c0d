"""A frame gives columns by name, on demand: a question touches only the columns it names."""

from collections.abc import Callable, Hashable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data.cases import ONE_ROW_EACH, Cases
from hobrix.core.data.column import (
    CategoricalColumn,
    Column,
    FloatArray,
    NumericColumn,
    Source,
    decode,
)
from hobrix.core.data.design import Design
from hobrix.core.data.variable import Variable
from hobrix.core.errors import QuestionError

Result = TypeVar("Result")

MOST_WORKED_OUT = 8
_NOTHING = object()


@dataclass(frozen=True)
class RowNoun:
    """What one row stands for, in words: one "household", many "households"."""

    one: str = "row"
    many: str = "rows"


@dataclass(frozen=True)
class Frame:
    """Rows and codebook of one data set.

    ``load`` returns the decoded column of a codebook entry; it is called once per column at most.
    ``source`` returns the values of a variable as they stand in the file, or as they were made.
    """

    rows: int
    variables: Mapping[str, Variable]
    load: Callable[[Variable], Column]
    source: Callable[[str], Source]
    noun: RowNoun = RowNoun()
    # "" when nobody has said, otherwise cross_sectional, cohort, case_control or trial.
    study_design: str = ""
    # In a case–control study the variable that tells cases from controls; "" when nobody has said.
    case_status: str = ""
    # The variable that tells the sets in which people were matched; "" when they were not, or nobody has said.
    matched_on: str = ""
    # The survey design recorded for the data, whether or not a question uses it.
    recorded: Design | None = None
    # Which rows are of one case.
    cases: Cases = ONE_ROW_EACH
    # In data stacked from several data sets the variable that says which one a row is from.
    pooled_by: str = ""
    # How many rows of the data each row here stands for, shape (rows,), where equal rows were counted
    # elsewhere; None where each is itself.
    stands_for: FloatArray | None = None
    # Of which variable the values are means of those rows, and its squares added up, shape (rows,): weights
    # that differ from row to row.
    averaged: tuple[str, FloatArray] | None = None
    # The same data for some variables together; None where all are here anyway.
    narrow: "Callable[[Iterable[str]], Frame] | None" = None
    # How that came about, as a sentence.
    counted_where: str = ""
    # What is to be said with everything made of the data, such as "preliminary".
    note: str = ""
    _columns: dict[str, Column] = field(default_factory=dict, repr=False, compare=False)
    # May be shared by frames over the same columns with the same codebook.
    worked_out: dict[Hashable, Any] = field(default_factory=dict, repr=False, compare=False)

    @classmethod
    def of(
        cls,
        variables: Iterable[Variable],
        sources: Mapping[str, Source],
        rows: int,
        noun: RowNoun = RowNoun(),
    ) -> "Frame":
        """A frame over source columns held in memory."""
        return cls(
            rows=rows,
            variables={variable.name: variable for variable in variables},
            load=lambda variable: decode(sources[variable.name], variable),
            source=lambda name: sources[name],
            noun=noun,
        )

    @property
    def has_own_rows(self) -> bool:
        """Whether a row here is one of the data, so that it can be listed, told apart and shown."""
        return self.stands_for is None

    @property
    def size(self) -> int:
        """Rows of the data."""
        return self.rows if self.stands_for is None else round(float(self.stands_for.sum()))

    def how_many(self, where: NDArray[np.bool_] | None) -> int:
        """Rows of the data among those here, shape (rows,); None means all."""
        if where is None:
            return self.size
        if self.stands_for is None:
            return int(np.count_nonzero(where))
        return round(float(self.stands_for[where].sum()))

    def over(self, *names: str) -> "Frame":
        """A frame that has these variables together, for what looks at many, a few at a time."""
        return self if self.narrow is None else self.narrow(names)

    def variable(self, name: str, slot: str) -> Variable:
        """The codebook entry; raises QuestionError beside ``slot`` when there is none."""
        try:
            return self.variables[name]
        except KeyError:
            message = f"There is no variable called “{name}” in this data set."
            raise QuestionError(message, slot=slot) from None

    def was_set(self, outcome: str) -> bool:
        """Whether the researcher decided how many have the event: cases were sampled, and this is
        what they are cases of. Where nobody has said what that is, any outcome may be it."""
        return self.study_design == "case_control" and self.case_status in ("", outcome)

    def mixes_cases(self, named: Iterable[str]) -> bool:
        """Whether cases and controls are counted together without regard to which they are."""
        status = self.case_status
        return self.study_design == "case_control" and status != "" and status not in set(named)

    def column(self, name: str) -> Column:
        if name not in self._columns:
            self._columns[name] = self.load(self.variables[name])
        return self._columns[name]

    def days(self, name: str, slot: str) -> NumericColumn:
        """Days since 1 January 1970 of a variable with dates; raises QuestionError for other kinds."""
        variable = self.variable(name, slot)
        column = self.column(name)
        if variable.kind != "date" or not isinstance(column, NumericColumn):
            raise QuestionError(f"{variable.title} holds no dates.", slot=slot)
        return column

    def once(self, key: Hashable, work_out: Callable[[], Result]) -> Result:
        """What is worked out from columns alone, kept for the next question of these data; of many
        such things the oldest are let go."""
        found: Any = self.worked_out.get(key, _NOTHING)
        if found is _NOTHING:
            for oldest in list(self.worked_out)[: len(self.worked_out) + 1 - MOST_WORKED_OUT]:
                self.worked_out.pop(oldest, None)
            found = self.worked_out[key] = work_out()
        result: Result = found
        return result

    def rounded(self, steps: Mapping[str, float]) -> "Frame":
        """The same rows with numbers taken to the nearest multiple of a step, by variable; halves go up."""
        if not steps:
            return self

        def load(variable: Variable) -> Column:
            column = self.column(variable.name)
            step = steps.get(variable.name)
            if step is None or variable.kind != "numeric" or not isinstance(column, NumericColumn):
                return column
            return NumericColumn(np.floor(column.values / step + 0.5) * step)

        return replace(self, load=load, _columns={}, worked_out={})

    def categorical(self, name: str, slot: str) -> CategoricalColumn:
        """The column of a nominal or ordinal variable; raises QuestionError for other kinds."""
        variable = self.variable(name, slot)
        if variable.kind == "numeric":
            raise QuestionError(
                f"{variable.title} is numeric. Groups need answers in categories: "
                "band it, or read it as ordered, in the Codebook.",
                slot=slot,
            )
        if variable.kind == "date":
            raise QuestionError(dates_need_making(variable.title), slot=slot)
        if variable.kind == "text":
            raise QuestionError(
                f"{variable.title} holds free text. Read it as unordered or ordered in the "
                "Codebook to use its answers as categories.",
                slot=slot,
            )
        column = self.column(name)
        assert isinstance(column, CategoricalColumn)
        return column

    def numeric(self, name: str, slot: str) -> NumericColumn:
        """The column of a numeric variable; raises QuestionError for other kinds."""
        variable = self.variable(name, slot)
        if variable.kind == "date":
            raise QuestionError(dates_need_making(variable.title), slot=slot)
        column = self.column(name)
        if not isinstance(column, NumericColumn):
            raise QuestionError(f"{variable.title} is not numeric.", slot=slot)
        return column


def dates_need_making(title: str) -> str:
    """Why dates are no answers."""
    return (
        f"{title} holds dates. Make something of them in the Codebook to use them here: bands by "
        "month or year, time between two dates, before or after a day."
    )
