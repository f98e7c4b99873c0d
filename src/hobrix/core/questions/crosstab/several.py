"""Several explanatory variables with one outcome, in a line each."""

import numpy as np

from hobrix.core.data import CategoricalColumn, Frame
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.crosstab.results import Several
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import Used
from hobrix.core.tables import strength
from hobrix.core.tables.counts import count_table
from hobrix.core.tables.independence import drop_empty, pearson_test
from hobrix.core.tables.multiple import holm


def one_of_several(
    question: Question, frame: Frame, rows: Rows, outcome: Used
) -> tuple[Several, ...]:
    """Test and strength for every variable of the question, with all of them allowed for."""
    found = [_one(term.variable, question, frame, rows, outcome) for term in question.vary_with]
    tested = [i for i, each in enumerate(found) if each.chi_square is not None]
    p = np.array([each.chi_square.p for each in found if each.chi_square is not None])
    for i, adjusted in zip(tested, holm(p), strict=True):
        found[i] = found[i].model_copy(update={"p_holm": float(adjusted)})
    return tuple(found)


def _one(name: str, question: Question, frame: Frame, rows: Rows, outcome: Used) -> Several:
    variable, column = frame.variable(name, "vary_with"), frame.column(name)
    empty = {"chi_square": None, "cramers_v": None, "cramers_v_ci": None, "p_holm": None}
    if not isinstance(column, CategoricalColumn) or not variable.is_categorical:
        why = "not in categories"
        return Several(variable=name, title=variable.title, n=0.0, left_out=why, **empty)
    counts = count_table(
        [column.codes, outcome.codes],
        [len(column.categories), len(outcome.variable.categories)],
        weights=rows.weights,
        where=rows.mask,
    )
    table = drop_empty(counts[1:, 1:]).counts
    n = float(table.sum())
    if min(table.shape) < 2:
        why = "all gave the same answer"
        return Several(variable=name, title=variable.title, n=n, left_out=why, **empty)
    limits = strength.cramers_v_interval(table, question.confidence)
    return Several(
        variable=name,
        title=variable.title,
        n=n,
        chi_square=ChiSquare(**vars(pearson_test(table))),
        cramers_v=strength.cramers_v(table),
        cramers_v_ci=(limits.low, limits.high),
        p_holm=None,
        left_out=None,
    )
