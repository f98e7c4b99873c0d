"""Several explanatory variables with one outcome, in a line each."""

import numpy as np

from hobrix.core.questions.crosstab.results import Several
from hobrix.core.questions.crosstab.work import MAX_CATEGORIES, CrosstabWork
from hobrix.core.questions.pair import name_pair
from hobrix.core.questions.question import Term
from hobrix.core.tables.multiple import holm


def each_with_outcome(work: CrosstabWork) -> tuple[Several, ...]:
    """Test and strength for every variable the outcome may vary with, where there are several; p
    also with all of them allowed for (Holm)."""
    terms = work.question.vary_with
    if len(terms) < 2:
        return ()
    found = [_one(term, work) for term in terms]
    tested = [i for i, each in enumerate(found) if each.test is not None]
    p = np.array([each.test.p for each in found if each.test is not None])
    for i, adjusted in zip(tested, holm(p), strict=True):
        found[i] = found[i].model_copy(update={"p_holm": float(adjusted)})
    return tuple(found)


def _one(term: Term, work: CrosstabWork) -> Several:
    variable = work.frame.variable(term.variable, "vary_with")
    line = Several(
        variable=variable.name,
        title=variable.title,
        n=0.0,
        test=None,
        p_holm=None,
        cramers_v=None,
        cramers_v_ci=None,
        left_out=None,
    )
    if not variable.is_categorical:
        return line.model_copy(update={"left_out": "not in categories"})
    named = name_pair(work.question, work.frame, term, MAX_CATEGORIES)
    uses = [named.explanatory, named.outcome]
    sizes = (len(uses[0].variable.categories), len(uses[1].variable.categories))
    pairs = work.sampling.pairs([used.codes for used in uses], sizes, None, 0, None)
    counts = pairs.full[0, 1:, 1:]
    line = line.model_copy(update={"n": float(counts.sum())})
    if min(np.count_nonzero(counts.sum(axis=axis)) for axis in (0, 1)) < 2:
        return line.model_copy(update={"left_out": "all gave the same answer"})
    table = pairs.whole()
    v, limits = table.cramers_v()
    found = {"test": table.test(), "cramers_v": v, "cramers_v_ci": limits}
    return line.model_copy(update=found)
