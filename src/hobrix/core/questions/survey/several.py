"""Several variables of one question in a weighted sample, in a line or a table each."""

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.questions.crosstab.options import options_of
from hobrix.core.questions.question import Question
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey import tables
from hobrix.core.questions.survey.frequencies import category_shares
from hobrix.core.questions.survey.numeric import mean_of
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.survey.strength import cramers_v
from hobrix.core.questions.two_way import as_used
from hobrix.core.tables.multiple import holm


def each_with_outcome(
    question: Question, frame: Frame, sample: Sample, most: int
) -> tuple[r.SurveySeveral, ...]:
    """Test and strength for every variable the outcome may vary with, where there are several; p
    also with all of them allowed for (Holm)."""
    if len(question.vary_with) < 2:
        return ()
    found = [
        _with_outcome(i, question, frame, sample, most) for i in range(len(question.vary_with))
    ]
    tested = [i for i, each in enumerate(found) if each.test is not None]
    p = np.array([each.test.p for each in found if each.test is not None])
    for i, adjusted in zip(tested, holm(p), strict=True):
        found[i] = found[i].model_copy(update={"p_holm": float(adjusted)})
    return tuple(found)


def _with_outcome(
    at: int, question: Question, frame: Frame, sample: Sample, most: int
) -> r.SurveySeveral:
    term = question.vary_with[at]
    variable = frame.variable(term.variable, "vary_with")
    line = r.SurveySeveral(
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
    alone = question.model_copy(update={"vary_with": (term,)})
    asked = as_used(alone, frame, options_of(question).categories, most)
    crossed = tables.crossed(asked, sample)
    rows, columns = len(crossed.rows), len(crossed.columns)
    line = line.model_copy(update={"n": float(crossed.totals.n.sum())})
    if min(rows, columns) < 2:
        return line.model_copy(update={"left_out": "all gave the same answer"})
    v, limits = cramers_v(crossed.totals, rows, columns, question.confidence)
    return line.model_copy(
        update={
            "test": tables.independence_test(crossed),
            "cramers_v": v,
            "cramers_v_ci": limits,
        }
    )


def others(question: Question, frame: Frame, sample: Sample) -> tuple[r.SurveyVariable, ...]:
    """How the other variables of a distribution are answered, weighted."""
    found = []
    for term in question.vary_with:
        variable = frame.variable(term.variable, "vary_with")
        is_listed = variable.is_categorical
        found.append(
            r.SurveyVariable(
                variable=variable.name,
                title=variable.title,
                shares=category_shares(frame, variable, sample, question.confidence)
                if is_listed
                else (),
                mean=None if is_listed else mean_of(frame, variable, sample, question.confidence),
            )
        )
    return tuple(found)
