"""Many variables at once: how each is answered, and whether its answers are equally common."""

from collections.abc import Sequence

import numpy as np

from hobrix.core.data import CategoricalColumn, Frame, Frozen, Kind, NumericColumn, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.progress import Tell, quietly
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.overview.tally import Tallies, Tally, counting_of
from hobrix.core.questions.question import Question
from hobrix.core.survey.two_way import against_stated
from hobrix.core.tables.goodness_of_fit import goodness_of_fit
from hobrix.core.tables.multiple import benjamini_hochberg, holm

# With a design, variables of more categories are not tested.
MOST_WITH_DESIGN = 200


class Glance(Frozen):
    """One variable. The test is that of equal or stated shares over the categories of the
    codebook (None for numbers, texts, variables with fewer than two categories, and those the
    stated shares do not fit): Pearson's, or Rao & Scott's of the second order under a survey
    design. Its ``p`` is also given with all tests of the list allowed for. ``n_answered`` and
    ``n_missing`` are cases, all else is weighted under a design. ``middle`` is the median of
    numbers."""

    variable: str
    title: str
    kind: Kind
    n_answered: float
    n_missing: float
    percent_missing: float
    different: int
    commonest: str | None = None
    percent_commonest: float | None = None
    middle: float | None = None
    quartiles: tuple[float, float] | None = None
    test: NamedTest | None = None
    cohens_w: float | None = None
    p: float | None = None
    p_holm: float | None = None
    p_benjamini_hochberg: float | None = None


def at_a_glance(
    question: Question,
    frame: Frame,
    names: Sequence[str] | None = None,
    shares: Sequence[float] | None = None,
    tell: Tell = quietly,
) -> tuple[Glance, ...]:
    """A row for each named variable (None: every one but free text and the counts or weights).

    Of the question, only the subset and how rows count are used. ``shares`` (of any sum, in the
    order of the categories) are tested for every variable with as many categories; None tests
    equal shares.

    Raises:
        QuestionError: shares that are not above 0, or fewer than two.
    """
    if shares is not None and (len(shares) < 2 or not all(0 < s < float("inf") for s in shares)):
        message = "Stated shares are two numbers or more, each above 0, such as 50 : 30 : 20."
        raise QuestionError(message, slot="shares")
    if names is None:
        counting = counting_of(question)
        names = [n for n, v in frame.variables.items() if v.can_be_asked and n != counting]
    tallies = Tallies(question, frame, tell, len(names))
    found = [_glance(frame.variable(n, "variables"), tallies.of(n), shares) for n in names]
    tested = [(i, each.p) for i, each in enumerate(found) if each.p is not None]
    p = np.array([each for _, each in tested])
    for (i, _), p_holm, p_bh in zip(tested, holm(p), benjamini_hochberg(p), strict=True):
        update = {"p_holm": float(p_holm), "p_benjamini_hochberg": float(p_bh)}
        found[i] = found[i].model_copy(update=update)
    return tuple(found)


def _glance(variable: Variable, tally: Tally, shares: Sequence[float] | None) -> Glance:
    column = tally.frame.column(variable.name)
    fields: dict[str, object] = {}
    if isinstance(column, NumericColumn):
        where = tally.answered(column)
        answered, different = tally.n_of(where), len(np.unique(column.values[where]))
        if answered:
            low, fields["middle"], high = tally.quartiles(column.values, where)
            fields["quartiles"] = (low, high)
    else:
        assert isinstance(column, CategoricalColumn)
        cells = tally.cells([column.codes], [len(column.categories)])
        n, weigh = cells.n[1:], cells.weigh[1:]
        answered, different = float(n.sum()), int(np.count_nonzero(n))
        if answered:
            most = int(weigh.argmax())
            fields["commonest"] = column.categories[most].label
            fields["percent_commonest"] = 100 * float(weigh[most] / weigh.sum())
        if answered and variable.is_categorical and len(n) > 1:
            expected = np.ones(len(n)) if shares is None else np.array(shares)
            if len(expected) == len(n):
                fields |= _tested(column, tally, weigh, expected / expected.sum())
    everyone = tally.everyone
    return Glance.model_validate(
        {
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


def _tested(
    column: CategoricalColumn, tally: Tally, weigh: np.ndarray, expected: np.ndarray
) -> dict[str, object]:
    fit = goodness_of_fit(weigh, expected)
    if tally.drawn is None:
        test = NamedTest.chi_square("chi-square test", fit.pearson)
    elif len(expected) > MOST_WITH_DESIGN:
        return {}
    else:
        found = against_stated(expected, tally.totals([column.codes], [len(expected)]))
        if found is None:
            return {"cohens_w": fit.cohens_w}
        test = NamedTest.stated("Rao–Scott test", *found)
    return {"test": test, "p": test.p, "cohens_w": fit.cohens_w}
