"""Steps that prepare data: what people do to a codebook, in order, as plain values.

A step either describes variables anew (label, kind, categories, what is missing) or makes a
variable from others. It never touches the data: the original is always kept. Each says itself in
words, and can be written as JSON and replayed on newer data.
"""

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from hobrix.core.data.date_steps import (
    DateBands,
    DatePart,
    OfDates,
    OnOrAfter,
    TimeBetween,
    dates_variable,
    parents_of_dates,
)
from hobrix.core.data.dates import FORMS, DateForm
from hobrix.core.data.variable import Category, Frozen, Kind, MissingCode, Name, Variable
from hobrix.core.data.weighting import (
    NetworkWeights,
    Rake,
    Weighting,
    parents_of_weights,
    weights_variable,
)


class Describe(Frozen):
    """Change what the codebook says of a variable. What is None stays as it is."""

    step: Literal["describe"] = "describe"
    variable: str
    label: str | None = None
    kind: Kind | None = None
    date_form: DateForm | None = None
    unit: str | None = None
    categories: tuple[Category, ...] | None = None
    event: tuple[str, ...] | None = None
    reference: str | None = None
    clear_reference: bool = False

    def touches(self) -> tuple[str, ...]:
        return (self.variable,)

    def words(self, title: str) -> str:
        parts = []
        if self.label is not None:
            parts.append(f"called “{self.label}”")
        if self.kind is not None:
            kinds = {"nominal": "unordered", "ordinal": "ordered", "date": "dates"}
            parts.append(f"read as {kinds.get(self.kind, self.kind)}")
        if self.date_form is not None:
            parts.append(f"dates written {FORMS[self.date_form]}")
        if self.categories is not None:
            parts.append("categories named or ordered")
        if self.event is not None:
            parts.append("event chosen" if self.event else "no event any more")
        if self.reference is not None or self.clear_reference:
            parts.append("reference chosen")
        if self.unit is not None:
            parts.append(f"in {self.unit}")
        return f"{title}: {', '.join(parts) or 'nothing changed'}"


class DeclareMissing(Frozen):
    """These values are not answers, in one or many variables."""

    step: Literal["declare_missing"] = "declare_missing"
    variables: Annotated[tuple[str, ...], Field(min_length=1)]
    codes: Annotated[tuple[MissingCode, ...], Field(min_length=1)]

    def touches(self) -> tuple[str, ...]:
        return self.variables

    def words(self, title: str) -> str:
        codes = " and ".join(f"“{code.value}”" for code in self.codes)
        verb = "is not an answer" if len(self.codes) == 1 else "are not answers"
        where = title if len(self.variables) == 1 else f"{len(self.variables)} variables"
        return f"{codes} {verb}, in {where}"


class OneSpelling(Frozen):
    """Answers that differ only in capitals or blanks are one, the first of them: all such answers or, where
    ``values`` are named, these and what else is the same as they."""

    step: Literal["one_spelling"] = "one_spelling"
    variable: str
    values: tuple[str, ...] = ()

    def touches(self) -> tuple[str, ...]:
        return (self.variable,)

    def words(self, title: str) -> str:
        if len(self.values) == 1:
            return f"{title}: “{self.values[0]}” is another spelling of the same answer"
        many = f"{len(self.values)} " if self.values else ""
        return f"{title}: {many}answers that differ only in capitals or blanks made one"


class CountAsAnswer(Frozen):
    """These values are answers after all."""

    step: Literal["count_as_answer"] = "count_as_answer"
    variables: Annotated[tuple[str, ...], Field(min_length=1)]
    values: Annotated[tuple[str, ...], Field(min_length=1)]

    def touches(self) -> tuple[str, ...]:
        return self.variables

    def words(self, title: str) -> str:
        values = " and ".join(f"“{value}”" for value in self.values)
        where = title if len(self.variables) == 1 else f"{len(self.variables)} variables"
        return f"{values} counted as an answer, in {where}"


class NewCategory(Frozen):
    """A new category and the old ones it takes in."""

    label: Annotated[str, Field(min_length=1, max_length=300)]
    values: Annotated[tuple[str, ...], Field(min_length=1)]


class Regroup(Frozen):
    """Make a variable whose categories are groups of another's; the rest is set aside."""

    step: Literal["regroup"] = "regroup"
    variable: str
    name: Name
    label: str = ""
    groups: Annotated[tuple[NewCategory, ...], Field(min_length=1)]

    @model_validator(mode="after")
    def _takes_each_once(self) -> "Regroup":
        values = [value for group in self.groups for value in group.values]
        if len(set(values)) < len(values):
            raise ValueError("a category can go to one group only")
        if len({group.label for group in self.groups}) < len(self.groups):
            raise ValueError("two groups have the same label")
        return self

    def touches(self) -> tuple[str, ...]:
        return (self.name,)

    def words(self, title: str) -> str:
        labels = ", ".join(group.label for group in self.groups)
        return f"{title} regrouped into {self.name}: {labels}"


class Band(Frozen):
    """Make an ordered variable from a numeric one; each band includes its lower end."""

    step: Literal["band"] = "band"
    variable: str
    name: Name
    label: str = ""
    cuts: Annotated[tuple[float, ...], Field(min_length=1, max_length=100)]
    labels: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _rises(self) -> "Band":
        if any(high <= low for low, high in pairwise(self.cuts)):
            raise ValueError("cuts must rise")
        if self.labels and len(self.labels) != len(self.cuts) + 1:
            raise ValueError("there must be one label per band")
        return self

    def touches(self) -> tuple[str, ...]:
        return (self.name,)

    def words(self, title: str) -> str:
        return f"{title} banded at {', '.join(f'{cut:g}' for cut in self.cuts)} into {self.name}"

    def band_labels(self) -> tuple[str, ...]:
        """The given labels, or "under 30", "30 to under 45", "60 and over"."""
        if self.labels:
            return self.labels
        ends = [f"{cut:g}" for cut in self.cuts]
        middle = [f"{low} to under {high}" for low, high in pairwise(ends)]
        return (f"under {ends[0]}", *middle, f"{ends[-1]} and over")


class YesNo(Frozen):
    """Make a yes/no variable: these answers are the event, all others are not."""

    step: Literal["yes_no"] = "yes_no"
    variable: str
    name: Name
    label: str = ""
    event: Annotated[tuple[str, ...], Field(min_length=1)]

    def touches(self) -> tuple[str, ...]:
        return (self.name,)

    def words(self, title: str) -> str:
        return f"{title} made into yes or no, as {self.name}"


class Calculate(Frozen):
    """Make a number from several variables of the same row.

    ``sum`` and ``mean`` are over those answered, at least ``at_least`` of them; ``count`` counts
    the variables whose answer is one of ``values``; ``difference`` is the first minus the second.
    """

    step: Literal["calculate"] = "calculate"
    how: Literal["sum", "mean", "count", "difference"]
    variables: Annotated[tuple[str, ...], Field(min_length=1, max_length=200)]
    name: Name
    label: str = ""
    values: tuple[str, ...] = ()
    at_least: Annotated[int, Field(ge=1)] | None = None

    @model_validator(mode="after")
    def _is_complete(self) -> "Calculate":
        if self.how == "difference" and len(self.variables) != 2:
            raise ValueError("a difference is of two variables")
        if self.how == "count" and not self.values:
            raise ValueError("say which answers are counted")
        return self

    def touches(self) -> tuple[str, ...]:
        return (self.name,)

    def words(self, title: str) -> str:  # noqa: ARG002 (it has several parents)
        what = {"sum": "Sum", "mean": "Mean", "count": "Count", "difference": "Difference"}
        return f"{what[self.how]} of {', '.join(self.variables)}, as {self.name}"


Making = Regroup | Band | YesNo | Calculate | NetworkWeights | Rake | OfDates
Step = Annotated[
    Describe
    | DeclareMissing
    | CountAsAnswer
    | OneSpelling
    | Regroup
    | Band
    | YesNo
    | Calculate
    | NetworkWeights
    | Rake
    | DatePart
    | DateBands
    | TimeBetween
    | OnOrAfter,
    Field(discriminator="step"),
]


def parents_of(making: Making) -> tuple[str, ...]:
    """The variables a variable is made from."""
    if isinstance(making, Weighting):
        return parents_of_weights(making)
    if isinstance(making, OfDates):
        return parents_of_dates(making)
    return making.variables if isinstance(making, Calculate) else (making.variable,)


def made_variable(making: Making, parent: Variable) -> Variable:
    """The codebook entry of a variable that a step makes."""
    if isinstance(making, Weighting):
        return weights_variable(making)
    if isinstance(making, OfDates):
        return dates_variable(making, parent)
    label = making.label or parent.label
    match making:
        case Regroup():
            categories = tuple(Category(value=g.label, label=g.label) for g in making.groups)
            kind: Kind = "ordinal" if parent.kind == "ordinal" else "nominal"
            return Variable(name=making.name, label=label, kind=kind, categories=categories)
        case Band():
            labels = making.band_labels()
            categories = tuple(Category(value=text, label=text) for text in labels)
            return Variable(name=making.name, label=label, kind="ordinal", categories=categories)
        case YesNo():
            categories = (Category(value="no", label="No"), Category(value="yes", label="Yes"))
            return Variable(
                name=making.name,
                label=label,
                kind="nominal",
                categories=categories,
                event=("yes",),
                reference="no",
            )
        case Calculate():
            return Variable(name=making.name, label=making.label, kind="numeric")
