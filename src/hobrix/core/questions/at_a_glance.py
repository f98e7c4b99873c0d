"""Many variables at once: how each is answered, and whether its answers are equally common."""

from collections.abc import Sequence

import numpy as np

from hobrix.core.data import CategoricalColumn, Frame, Frozen, Kind, NumericColumn, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.questions.question import Question
from hobrix.core.tables.counts import count_table
from hobrix.core.tables.goodness_of_fit import goodness_of_fit
from hobrix.core.tables.multiple import benjamini_hochberg, holm
from hobrix.core.tables.numeric_summary import distinct, quantile


class Glance(Frozen):
    """One variable. The test is that of equal or stated shares over the categories of the
    codebook (None for numbers, texts, variables with fewer than two categories, and those the
    stated shares do not fit); its p is also given with all tests of the list allowed for.
    ``middle`` is the median of numbers."""

    variable: str
    title: str
    kind: Kind
    n_answered: float
    n_missing: float
    percent_missing: float
    different: int
    commonest: str | None
    percent_commonest: float | None
    middle: float | None
    quartiles: tuple[float, float] | None
    test: ChiSquare | None
    cohens_w: float | None
    p_holm: float | None
    p_benjamini_hochberg: float | None


def at_a_glance(
    question: Question,
    frame: Frame,
    names: Sequence[str] | None = None,
    shares: Sequence[float] | None = None,
) -> tuple[Glance, ...]:
    """A row for each named variable (None: every one but free text and the counts column).

    Of the question, only the subset and how rows count are used. ``shares`` (of any sum, in the
    order of the categories) are tested for every variable with as many categories; None tests
    equal shares.

    Raises:
        QuestionError: shares that are not above 0, or fewer than two.
    """
    rows = Rows(question, frame)
    if shares is not None and (len(shares) < 2 or not all(0 < s < float("inf") for s in shares)):
        message = "Stated shares are two numbers or more, each above 0, such as 50 : 30 : 20."
        raise QuestionError(message, slot="shares")
    if names is None:
        counting = getattr(question.counted_by, "variable", None)
        names = [n for n, v in frame.variables.items() if v.kind != "text" and n != counting]
    found = [_glance(frame.variable(name, "variables"), frame, rows, shares) for name in names]
    tested = [i for i, each in enumerate(found) if each.test is not None]
    p = np.array([each.test.p for each in found if each.test is not None])
    for i, p_holm, p_bh in zip(tested, holm(p), benjamini_hochberg(p), strict=True):
        update = {"p_holm": float(p_holm), "p_benjamini_hochberg": float(p_bh)}
        found[i] = found[i].model_copy(update=update)
    return tuple(found)


def _glance(variable: Variable, frame: Frame, rows: Rows, shares: Sequence[float] | None) -> Glance:
    column = frame.column(variable.name)
    fields: dict[str, object] = {}
    if isinstance(column, NumericColumn):
        taken = ~column.is_missing if rows.mask is None else ~column.is_missing & rows.mask
        weights = None if rows.weights is None else rows.weights[taken]
        values = distinct(column.values[taken], weights)
        answered, different = float(values.counts.sum()), len(values.values)
        if different:
            fields["middle"] = quantile(values, 0.5)
            fields["quartiles"] = (quantile(values, 0.25), quantile(values, 0.75))
    else:
        assert isinstance(column, CategoricalColumn)
        counts = count_table(
            [column.codes], [len(column.categories)], weights=rows.weights, where=rows.mask
        )[1:]
        answered, different = float(counts.sum()), int(np.count_nonzero(counts))
        if answered:
            most = int(counts.argmax())
            fields["commonest"] = column.categories[most].label
            fields["percent_commonest"] = 100 * float(counts[most]) / answered
        if answered and variable.is_categorical and len(counts) > 1:
            expected = np.ones(len(counts)) if shares is None else np.array(shares)
            if len(expected) == len(counts):
                fit = goodness_of_fit(counts, expected)
                fields["test"] = ChiSquare(**vars(fit.pearson))
                fields["cohens_w"] = fit.cohens_w
    everyone = _everyone(rows)
    empty = dict.fromkeys(Glance.model_fields)
    return Glance.model_validate(
        {
            **empty,
            "variable": variable.name,
            "title": variable.title,
            "kind": variable.kind,
            "n_answered": answered,
            "n_missing": everyone - answered,
            "percent_missing": 100 * (everyone - answered) / everyone if everyone else 0.0,
            "different": different,
            **fields,
        }
    )


def _everyone(rows: Rows) -> float:
    if rows.mask is None:
        return rows.surveyed
    return float(
        np.count_nonzero(rows.mask) if rows.weights is None else rows.weights[rows.mask].sum()
    )
