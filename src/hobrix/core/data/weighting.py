"""Steps that make weights: from reported network sizes, and fitted to known totals."""

import math
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from hobrix.core.data.column import CategoricalColumn, Column, Measured, NumericColumn
from hobrix.core.data.raking import MOST_ROUNDS, Raked, rake
from hobrix.core.data.variable import Frozen, Name, Variable
from hobrix.core.errors import CodebookError

Above0 = Annotated[float, Field(gt=0, allow_inf_nan=False)]


class NetworkWeights(Frozen):
    """Make weights for a chain-referral sample: in proportion to 1 over the number of people each
    reports to know, taken as at least ``lowest`` and at most ``highest``; their mean is 1."""

    step: Literal["network_weights"] = "network_weights"
    variable: str
    name: Name
    label: str = ""
    lowest: Above0 = 1.0
    highest: Above0 | None = None

    @model_validator(mode="after")
    def _rises(self) -> "NetworkWeights":
        if self.highest is not None and self.highest <= self.lowest:
            raise ValueError("the highest size must be above the lowest")
        return self

    def touches(self) -> tuple[str, ...]:
        return (self.name,)

    def words(self, title: str) -> str:
        between = f"at least {self.lowest:g}"
        if self.highest is not None:
            between += f" and at most {self.highest:g}"
        return (
            f"Weights {self.name}: 1 over {title}, taken as {between}; assumes that the chance of "
            "being recruited was in proportion to it"
        )


class Margin(Frozen):
    """A variable whose totals in the population are known, by value: counts or shares, since only
    their proportions are used."""

    variable: str
    totals: Annotated[dict[str, Above0], Field(min_length=1, max_length=200)]


class Rake(Frozen):
    """Make weights that meet known totals. ``variable`` are the weights to start from, None for
    each row alike. ``population`` is what they add up to, None for what they add up to now.
    ``most_change`` bounds by how many times a weight may grow or shrink against the others."""

    step: Literal["rake"] = "rake"
    variable: str | None = None
    name: Name
    label: str = ""
    margins: Annotated[tuple[Margin, ...], Field(max_length=12)] = ()
    population: Above0 | None = None
    most_change: Annotated[float, Field(gt=1, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _has_something_to_do(self) -> "Rake":
        names = [margin.variable for margin in self.margins]
        if not names and (self.population is None or self.variable is None):
            raise ValueError(
                "choose a variable with known totals, or weights and what they add up to"
            )
        if len(set(names)) < len(names):
            raise ValueError("a variable stands among the totals twice")
        return self

    def touches(self) -> tuple[str, ...]:
        return (self.name,)

    def words(self, title: str) -> str:  # noqa: ARG002 (it has several parents)
        base = f"from {self.variable}" if self.variable else "from equal weights"
        parts = []
        if self.margins:
            names = " and ".join(margin.variable for margin in self.margins)
            parts.append(f"fitted to the totals of {names}")
        if self.population is not None:
            parts.append(f"adding up to {self.population:,.0f}")
        if self.most_change is not None:
            parts.append(f"changed at most {self.most_change:g} times")
        return f"Weights {self.name} {base}, {', '.join(parts)}"


Weighting = NetworkWeights | Rake


def parents_of_weights(making: Weighting) -> tuple[str, ...]:
    """The variables weights are made from; starting weights come first."""
    if isinstance(making, NetworkWeights):
        return (making.variable,)
    base = () if making.variable is None else (making.variable,)
    return (*base, *(margin.variable for margin in making.margins))


def weights_variable(making: Weighting) -> Variable:
    """The codebook entry of the weights."""
    label = making.label or (
        "Weight from network size" if isinstance(making, NetworkWeights) else "Fitted weight"
    )
    return Variable(name=making.name, label=label, kind="numeric")


def check_weights(making: Weighting, parents: Sequence[Variable]) -> None:
    """Whether the variables can be used so.

    Raises:
        CodebookError: weights or sizes that are no numbers, totals of a number, or a category
            without a total.
    """
    if isinstance(making, NetworkWeights) or making.variable is not None:
        first = parents[0]
        if first.kind != "numeric":
            message = f"{first.title} does not hold numbers."
            raise CodebookError(message, variable=first.name, field="variable")
    if isinstance(making, NetworkWeights):
        return
    by_name = {parent.name: parent for parent in parents}
    for margin in making.margins:
        parent = by_name[margin.variable]
        if not parent.is_categorical:
            message = f"{parent.title} has no categories; band it first."
            raise CodebookError(message, variable=parent.name, field="margins")
        known = {category.value for category in parent.categories}
        for value in margin.totals:
            if value not in known:
                message = f"“{value}” is not an answer to {parent.title}."
                raise CodebookError(message, variable=parent.name, field="margins")


def made_weights(making: Weighting, parents: Sequence[Column]) -> Measured:
    """The weights of all rows; NaN for rows without a size, a starting weight or an answer.

    Raises:
        CodebookError: nobody is left, a category without a total or with nobody in it, or totals
            that cannot be met.
    """
    if isinstance(making, NetworkWeights):
        assert isinstance(parents[0], NumericColumn)
        found = _of_networks(making, parents[0].values)
    else:
        found = raked(making, parents)[0]
    return Measured.of(found)


def _of_networks(making: NetworkWeights, sizes: np.ndarray) -> np.ndarray:
    known = ~np.isnan(sizes) & (sizes >= 0)
    if not known.any():
        message = "Nobody has a network size of 0 or more."
        raise CodebookError(message, variable=making.variable, field="variable")
    weights = 1 / np.clip(sizes, making.lowest, making.highest)
    found: np.ndarray = np.where(known, weights / weights[known].mean(), np.nan)
    return found


def raked(making: Rake, parents: Sequence[Column]) -> tuple[np.ndarray, np.ndarray, Raked | None]:
    """Weights after and before, shape (rows,), NaN for those left out, and how it went; None where
    weights are only rescaled. Raises CodebookError as ``made_weights``."""
    columns = list(parents)
    rows = len(columns[0]) if columns else 0
    before = np.ones(rows)
    if making.variable is not None:
        base = columns.pop(0)
        assert isinstance(base, NumericColumn)
        before = np.where(base.values > 0, base.values, np.nan)
    used = ~np.isnan(before)
    for column in columns:
        used &= ~column.is_missing
    before = np.where(used, before, np.nan)
    if not used.any():
        message = "No row has a weight and an answer to all of these."
        raise CodebookError(message, variable=making.name, field="margins")
    size = making.population or float(before[used].sum())
    if not making.margins:
        return before * (size / float(before[used].sum())), before, None
    codes: list[np.ndarray] = []
    totals: list[np.ndarray] = []
    for margin, column in zip(making.margins, columns, strict=True):
        assert isinstance(column, CategoricalColumn)
        place, total = _margin(margin, column, used)
        codes.append(place)
        totals.append(total * (size / float(total.sum())))
    bounds = (0.0, math.inf)
    if making.most_change is not None:
        bounds = (1 / making.most_change, making.most_change)
    found = rake(before[used], codes, totals, bounds)
    if not found.is_converged:
        _refuse_not_met(making, columns, found)
    after = np.full(rows, np.nan)
    after[used] = found.weights
    return after, before, found


def _margin(
    margin: Margin, column: CategoricalColumn, used: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Codes of the rows used among the categories with somebody, and their totals."""
    n = np.bincount(column.codes[used], minlength=len(column.categories))
    into = np.full(len(column.categories), -1)
    total: list[float] = []
    for i, category in enumerate(column.categories):
        given = margin.totals.get(category.value)
        if n[i] and given is None:
            message = f"There is no total for “{category.label}”, which {n[i]:,} rows have."
            raise CodebookError(message, variable=margin.variable, field="margins")
        if given is not None and not n[i]:
            message = (
                f"Nobody in the sample is “{category.label}”, so no weight can make up its total: "
                "combine it with another category."
            )
            raise CodebookError(message, variable=margin.variable, field="margins")
        if given is not None:
            into[i] = len(total)
            total.append(given)
    return into[column.codes[used]], np.array(total)


def _refuse_not_met(making: Rake, columns: Sequence[Column], found: Raked) -> None:
    margin, column = making.margins[found.at[0]], columns[found.at[0]]
    assert isinstance(column, CategoricalColumn)
    present = [c for c in column.categories if c.value in margin.totals]
    why = "the totals contradict each other where combinations of categories are empty"
    if making.most_change is not None:
        why = "the bound on how far a weight may change forbids it"
    elif found.rounds == MOST_ROUNDS:
        why = "it comes nearer too slowly, as where a combination of categories is nearly empty"
    message = (
        f"After {found.rounds:,} rounds “{present[found.at[1]].label}” is still "
        f"{100 * found.off:.2g}% off its total: {why}."
    )
    raise CodebookError(message, variable=margin.variable, field="margins")
