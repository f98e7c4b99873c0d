"""What may go with the outcome: a quick look over many variables, marked as exploration.

Each variable is cross-tabulated with the outcome (numbers in four bands at their quartiles) and
ranked by Cramér's V corrected for chance, so that tables of different sizes compare. P-values
allow for all variables that were looked at. Under a survey design cells are weighted, tests are
Rao & Scott's, and the correction for chance takes n over the mean design effect of the cells.
"""

from collections.abc import Sequence

import numpy as np

from hobrix.core.data import CategoricalColumn, Frame, Frozen, Kind, NumericColumn
from hobrix.core.data.column import IntArray
from hobrix.core.errors import QuestionError
from hobrix.core.progress import Tell, quietly
from hobrix.core.questions.estimates import Limits, NamedTest
from hobrix.core.questions.overview.tally import Tallies, Tally, counting_of
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling.strength import cramers_v
from hobrix.core.survey.two_way import weighted_table
from hobrix.core.tables import strength
from hobrix.core.tables.independence import drop_empty, pearson_test
from hobrix.core.tables.multiple import benjamini_hochberg, holm

MOST_CATEGORIES = 60
# With a design, tables of more cells are passed over.
MOST_CELLS = 400


class Related(Frozen):
    """How strongly one variable goes with the outcome. ``banded`` tells that its numbers were
    looked at in four bands. The test is Pearson's, or Rao & Scott's under a survey design. No
    limits where V is 0 or no degree of freedom is left."""

    variable: str
    title: str
    kind: Kind
    n: float
    test: NamedTest
    p: float
    cramers_v: float
    cramers_v_ci: Limits | None
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


def screen(
    question: Question, frame: Frame, names: Sequence[str] | None = None, tell: Tell = quietly
) -> Screening:
    """Screen the named variables (None: all others) for association with the outcome.

    Raises:
        QuestionError: no outcome, or one that is free text or has one answer only.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome first.", slot="outcome")
    outcome = frame.variable(question.outcome.variable, "outcome")
    if names is None:
        known = (outcome.name, counting_of(question))
        names = [name for name in frame.variables if name not in known]
    tallies = Tallies(question, frame, tell, len(names) + 1)
    target = _codes(outcome.name, tallies.of(outcome.name))
    if target is None:
        message = f"{outcome.title} has no two answers in categories to compare with."
        raise QuestionError(message, slot="outcome")
    found = []
    for name in names:
        if not frame.variable(name, "variables").can_be_asked:
            continue
        tally = tallies.of(name, outcome.name)
        # Rows elsewhere were counted anew, together with this variable.
        own = target if frame.narrow is None else _codes(outcome.name, tally)
        if own and (each := _related(name, own, tally, question.confidence)):
            found.append(each)
    p = np.array([each.p for each in found])
    adjusted = [
        each.model_copy(update={"p_holm": float(a), "p_benjamini_hochberg": float(b)})
        for each, a, b in zip(found, holm(p), benjamini_hochberg(p), strict=True)
    ]
    adjusted.sort(key=lambda each: (-each.cramers_v_bias_corrected, each.p))
    return Screening(
        outcome=outcome.name,
        looked_at=len(found),
        passed_over=len(names) - len(found),
        related=tuple(adjusted),
    )


def _codes(name: str, tally: Tally) -> tuple[IntArray, int] | None:
    """Codes and number of categories, numbers cut at their quartiles; None if nothing to compare."""
    variable, column = tally.frame.variable(name, "variables"), tally.frame.column(name)
    if not variable.can_be_asked:
        return None
    if isinstance(column, NumericColumn):
        present = tally.answered(column)
        if not tally.n_of(present):
            return None
        cuts = np.unique(tally.quartiles(column.values, present))
        codes = np.searchsorted(cuts, column.values, side="right").astype(np.int8)
        codes[column.is_missing] = -1
        return codes, len(cuts) + 1
    assert isinstance(column, CategoricalColumn)
    size = len(column.categories)
    if not variable.is_categorical or not 2 <= size <= MOST_CATEGORIES:
        return None
    return column.codes, size


def _related(
    name: str, target: tuple[IntArray, int], tally: Tally, confidence: float
) -> Related | None:
    other = _codes(name, tally)
    if other is None:
        return None
    codes, sizes = [other[0], target[0]], (other[1], target[1])
    found = (_counted if tally.drawn is None else _weighted)(codes, sizes, tally, confidence)
    if found is None:
        return None
    variable = tally.frame.variables[name]
    return Related.model_validate(
        {
            "variable": name,
            "title": variable.title,
            "kind": variable.kind,
            "banded": variable.kind == "numeric",
            "p_holm": found["p"],
            "p_benjamini_hochberg": found["p"],
            **found,
        }
    )


def _counted(
    codes: list[IntArray], sizes: tuple[int, int], tally: Tally, confidence: float
) -> dict[str, object] | None:
    kept = drop_empty(tally.cells(codes, sizes).n[1:, 1:]).counts
    if min(kept.shape) < 2:
        return None
    test = pearson_test(kept)
    limits = strength.cramers_v_interval(kept, confidence, test)
    return {
        "n": float(kept.sum()),
        "test": NamedTest.chi_square("chi-square test", test),
        "p": test.p,
        "cramers_v": strength.cramers_v(kept, test),
        "cramers_v_ci": limits,
        "cramers_v_bias_corrected": strength.cramers_v_bias_corrected(kept, test),
    }


def _weighted(
    codes: list[IntArray], sizes: tuple[int, int], tally: Tally, confidence: float
) -> dict[str, object] | None:
    if sizes[0] * sizes[1] > MOST_CELLS:
        return None
    totals, rows, columns = tally.totals(codes, sizes).without_empty(sizes)
    if min(len(rows), len(columns)) < 2:
        return None
    tested = weighted_table(totals, len(rows), len(columns)).rao_scott_pearson
    if tested is None:
        return None
    v, limits = cramers_v(totals, len(rows), len(columns), confidence)
    # As many rows, drawn one by one, would vary as much.
    effective = float(totals.n.sum()) / max(1.0, tested.mean_generalised_deff)
    share = (totals.weighted / totals.weighted.sum()).reshape(len(rows), len(columns))
    test = NamedTest.corrected("Rao–Scott test", tested.second_order)
    return {
        "n": float(totals.n.sum()),
        "test": test,
        "p": test.p,
        "cramers_v": v,
        "cramers_v_ci": limits,
        "cramers_v_bias_corrected": strength.cramers_v_bias_corrected(effective * share),
    }
