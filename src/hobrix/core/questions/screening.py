"""What may go with the outcome: a quick look over many variables, marked as exploration.

Each variable is cross-tabulated with the outcome (numbers in four bands at their quartiles) and
ranked by Cramér's V corrected for chance, so that tables of different sizes compare. P-values
allow for all variables that were looked at.
"""

from collections.abc import Sequence

import numpy as np

from hobrix.core.data import CategoricalColumn, Frame, Frozen, Kind, NumericColumn
from hobrix.core.data.column import IntArray
from hobrix.core.errors import QuestionError
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.quantities import ChiSquare, Limits
from hobrix.core.questions.question import Question
from hobrix.core.tables import strength
from hobrix.core.tables.counts import count_table
from hobrix.core.tables.independence import drop_empty, pearson_test
from hobrix.core.tables.multiple import benjamini_hochberg, holm

MOST_CATEGORIES = 60


class Related(Frozen):
    """How strongly one variable goes with the outcome. ``banded`` tells that its numbers were
    looked at in four bands."""

    variable: str
    title: str
    kind: Kind
    n: float
    chi_square: ChiSquare
    cramers_v: float
    cramers_v_ci: Limits
    cramers_v_bias_corrected: float
    p_holm: float
    p_benjamini_hochberg: float
    banded: bool


class Screening(Frozen):
    """The strongest first. ``looked_at`` variables were compared; ``passed_over`` could not be
    (free text, one answer only, too many categories)."""

    outcome: str
    looked_at: int
    passed_over: int
    related: tuple[Related, ...]


def screen(question: Question, frame: Frame, names: Sequence[str] | None = None) -> Screening:
    """Screen the named variables (None: all others) for association with the outcome.

    Raises:
        QuestionError: no outcome, or one that is free text or has one answer only.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome first.", slot="outcome")
    outcome = frame.variable(question.outcome.variable, "outcome")
    rows = Rows(question, frame)
    if names is None:
        counting = getattr(question.counted_by, "variable", None)
        names = [name for name in frame.variables if name not in (outcome.name, counting)]
    target = _codes(frame, outcome.name, rows)
    if target is None:
        message = f"{outcome.title} has no two answers in categories to compare with."
        raise QuestionError(message, slot="outcome")
    found = [each for name in names if (each := _related(frame, name, target, rows, question))]
    p = np.array([each.chi_square.p for each in found])
    adjusted = [
        each.model_copy(update={"p_holm": float(a), "p_benjamini_hochberg": float(b)})
        for each, a, b in zip(found, holm(p), benjamini_hochberg(p), strict=True)
    ]
    adjusted.sort(key=lambda each: (-each.cramers_v_bias_corrected, each.chi_square.p))
    return Screening(
        outcome=outcome.name,
        looked_at=len(found),
        passed_over=len(names) - len(found),
        related=tuple(adjusted),
    )


def _codes(frame: Frame, name: str, rows: Rows) -> tuple[IntArray, int] | None:
    """Codes and number of categories, numbers cut at their quartiles; None if nothing to compare."""
    variable, column = frame.variable(name, "variables"), frame.column(name)
    if isinstance(column, NumericColumn):
        present = ~column.is_missing if rows.mask is None else ~column.is_missing & rows.mask
        if not present.any():
            return None
        cuts = np.unique(np.quantile(column.values[present], (0.25, 0.5, 0.75)))
        codes = np.searchsorted(cuts, column.values, side="right").astype(np.int8)
        codes[column.is_missing] = -1
        return codes, len(cuts) + 1
    assert isinstance(column, CategoricalColumn)
    size = len(column.categories)
    if not variable.is_categorical or not 2 <= size <= MOST_CATEGORIES:
        return None
    return column.codes, size


def _related(
    frame: Frame, name: str, target: tuple[IntArray, int], rows: Rows, question: Question
) -> Related | None:
    other = _codes(frame, name, rows)
    if other is None:
        return None
    table = count_table(
        [other[0], target[0]], [other[1], target[1]], weights=rows.weights, where=rows.mask
    )
    kept = drop_empty(table[1:, 1:]).counts
    if min(kept.shape) < 2:
        return None
    test = pearson_test(kept)
    limits = strength.cramers_v_interval(kept, question.confidence)
    variable = frame.variables[name]
    return Related(
        variable=name,
        title=variable.title,
        kind=variable.kind,
        n=float(kept.sum()),
        chi_square=ChiSquare(**vars(test)),
        cramers_v=strength.cramers_v(kept),
        cramers_v_ci=(limits.low, limits.high),
        cramers_v_bias_corrected=strength.cramers_v_bias_corrected(kept),
        p_holm=test.p,
        p_benjamini_hochberg=test.p,
        banded=variable.kind == "numeric",
    )
