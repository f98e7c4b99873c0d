"""Weights before and after a step that makes them, before it is kept."""

import numpy as np

from hobrix.core.data.column import CategoricalColumn
from hobrix.core.data.frame import Frame
from hobrix.core.data.variable import Frozen
from hobrix.core.data.weighting import (
    NetworkWeights,
    Rake,
    Weighting,
    check_weights,
    made_weights,
    parents_of_weights,
    raked,
)
from hobrix.core.errors import CodebookError


class WeightSpread(Frozen):
    """``effect`` is what unequal weights alone cost (Kish 1992), ``effective`` the n they leave."""

    n: int
    total: float
    least: float
    most: float
    effect: float
    effective: float


class MarginRow(Frozen):
    """A category's share of the weights before and after, and the share asked for."""

    value: str
    label: str
    n: int
    before: float
    asked: float
    after: float


class MarginLook(Frozen):
    variable: str
    title: str
    rows: tuple[MarginRow, ...]


class WeightsLook(Frozen):
    """``left_out`` rows get no weight; ``rounds`` is None where nothing was fitted. ``assumption``
    says what the weights rest on."""

    before: WeightSpread
    after: WeightSpread
    left_out: int
    rounds: int | None
    margins: tuple[MarginLook, ...]
    assumption: str


def look_at_weights(making: Weighting, frame: Frame) -> WeightsLook:
    """What a step would make.

    Raises:
        CodebookError: it cannot be made; says why.
    """
    names = parents_of_weights(making)
    for name in names:
        if name not in frame.variables:
            message = f"There is no variable called “{name}”."
            raise CodebookError(message, variable=name, field="variable")
    check_weights(making, [frame.variables[name] for name in names])
    parents = [frame.column(name) for name in names]
    if isinstance(making, NetworkWeights):
        after = made_weights(making, parents).numbers
        before = np.where(np.isnan(after), np.nan, 1.0)
        rounds = None
    else:
        after, before, found = raked(making, parents)
        rounds = found.rounds if found else None
    used = ~np.isnan(after)
    margins = making.margins if isinstance(making, Rake) else ()
    return WeightsLook(
        before=_spread(before[used]),
        after=_spread(after[used]),
        left_out=int(np.count_nonzero(~used)),
        rounds=rounds,
        margins=tuple(
            _margin(frame, margin.variable, margin.totals, before, after, used)
            for margin in margins
        ),
        assumption=(
            "Assumes that each person’s chance of being recruited was in proportion to the number "
            "of people they know, and that they report it rightly."
            if isinstance(making, NetworkWeights)
            else "Assumes that within each combination of these answers those who took part stand "
            "for those who did not."
        ),
    )


def _spread(weights: np.ndarray) -> WeightSpread:
    n, total = len(weights), float(weights.sum())
    effect = n * float(weights @ weights) / total**2
    return WeightSpread(
        n=n,
        total=total,
        least=float(weights.min()),
        most=float(weights.max()),
        effect=effect,
        effective=n / effect,
    )


def _margin(
    frame: Frame,
    name: str,
    totals: dict[str, float],
    before: np.ndarray,
    after: np.ndarray,
    used: np.ndarray,
) -> MarginLook:
    column = frame.column(name)
    assert isinstance(column, CategoricalColumn)
    codes, size = column.codes[used], len(column.categories)
    one, two = (np.bincount(codes, weights=w[used], minlength=size) for w in (before, after))
    n, asked = np.bincount(codes, minlength=size), sum(totals.values())
    return MarginLook(
        variable=name,
        title=frame.variables[name].title,
        rows=tuple(
            MarginRow(
                value=category.value,
                label=category.label,
                n=int(n[i]),
                before=float(one[i] / one.sum()),
                asked=totals[category.value] / asked,
                after=float(two[i] / two.sum()),
            )
            for i, category in enumerate(column.categories)
            if category.value in totals
        ),
    )
