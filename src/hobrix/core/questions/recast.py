"""Categories as one question uses them, without touching the codebook."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import CategoricalColumn, Category, Frozen, Variable
from hobrix.core.data.column import IntArray, smallest_int
from hobrix.core.errors import QuestionError

MISSING = "(no answer)"


class Recast(Frozen):
    """How one variable's categories are used in this question only: left out, combined (each
    group takes the label of its members), in another order, or with missing as a category."""

    leave_out: tuple[str, ...] = ()
    combine: tuple[tuple[str, ...], ...] = ()
    order: tuple[str, ...] = ()
    missing: bool = False


@dataclass(frozen=True)
class Used:
    """A variable as the question uses it; codes of answers that are left out are -1, and
    ``left_out`` marks their rows. ``into`` tells which category each value went into."""

    variable: Variable
    codes: IntArray
    left_out: NDArray[np.bool_] | None
    into: dict[str, str]


def use(variable: Variable, column: CategoricalColumn, recast: Recast | None) -> Used:
    """Apply a recast; event and reference follow their categories.

    Raises:
        QuestionError: it names what is no category, combines one twice, or leaves fewer than two.
    """
    if recast is None or recast == Recast():
        return Used(variable, column.codes, None, {c.value: c.value for c in variable.categories})
    values = [category.value for category in column.categories]
    _check(recast, variable, values)
    into = {value: group[0] for group in recast.combine for value in group}
    kept = [v for v in values if v not in recast.leave_out and into.get(v, v) == v]
    kept.sort(key=lambda v: recast.order.index(v) if v in recast.order else len(recast.order))
    labels = {
        group[0]: " or ".join(variable.label_of(value) for value in group)
        for group in recast.combine
    }
    categories = [Category(value=v, label=labels.get(v, variable.label_of(v))) for v in kept]
    place = {value: i for i, value in enumerate(kept)}
    if recast.missing:
        categories.append(Category(value=MISSING, label="No answer"))
    if len(categories) < 2:
        message = f"Fewer than two answers to {variable.title} are left."
        raise QuestionError(message, slot="options.categories")
    missing = len(kept) if recast.missing else -1
    lookup = np.array(
        [-1 if v in recast.leave_out else place[into.get(v, v)] for v in values] + [missing],
        dtype=smallest_int(len(categories)),
    )
    left = np.array([v in recast.leave_out for v in values] + [False])
    went = {v: into.get(v, v) for v in values if into.get(v, v) in place}
    used = variable.model_copy(
        update={
            "categories": tuple(categories),
            "event": tuple(dict.fromkeys(went[v] for v in variable.event if v in went)),
            "reference": went.get(variable.reference or ""),
        }
    )
    aside = left[column.codes] if recast.leave_out else None
    return Used(used, lookup[column.codes], aside, went)


def _check(recast: Recast, variable: Variable, values: list[str]) -> None:
    named = [*recast.leave_out, *(v for group in recast.combine for v in group), *recast.order]
    for value in named:
        if value not in values:
            message = f"“{value}” is not an answer to {variable.title}."
            raise QuestionError(message, slot="options.categories")
    combined = [value for group in recast.combine for value in group]
    for value in combined:
        if combined.count(value) > 1 or value in recast.leave_out:
            raise QuestionError(
                f"“{variable.label_of(value)}” cannot be in two places at once.",
                slot="options.categories",
            )
