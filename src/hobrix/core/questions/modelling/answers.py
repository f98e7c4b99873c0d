"""From the slots of a sentence whose outcome has no event to the patterns of all its answers."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from hobrix.core.data import Category, Frame
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic.answers import AnswerPatterns
from hobrix.core.logistic.patterns import sums
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.modelling.prepare import (
    AskedTerms,
    LaidOut,
    ask_terms,
    lay_out,
    rows_of,
)
from hobrix.core.questions.modelling.terms import Part, design_of
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import use


@dataclass(frozen=True)
class AskedAnswers(AskedTerms):
    """``categories`` are the answers in the order of the model, ``codes`` the places among them, -1 for none,
    shape (rows,)."""

    categories: tuple[Category, ...]
    codes: IntArray


@dataclass(frozen=True)
class PreparedAnswers(LaidOut):
    """``answers`` are those that somebody counted gave, in the order of the counts, and ``codes`` the place among
    them of each row of the data, -1 for rows that are not used, shape (rows,)."""

    data: AnswerPatterns
    answers: tuple[Category, ...]
    codes: IntArray
    asked: AskedAnswers


def ask_answers(question: Question, frame: Frame, rows: Rows) -> AskedAnswers:
    """Read the slots of a question about all answers, which stand as the codebook (or the question) orders them.

    Raises:
        QuestionError: as ``ask_terms``, or an outcome that is no categories.
    """
    outcome, terms = ask_terms(question, frame)
    column = frame.categorical(outcome.name, "outcome")
    used = use(outcome, column, question.options.categories.get(outcome.name))
    codes = np.asarray(used.codes)
    if used.left_out is not None:
        terms["left_out"] = {**terms["left_out"], outcome.title: used.left_out}
    return AskedAnswers(
        outcome=used.variable,
        trials=np.ones(frame.rows) if rows.weights is None else rows.weights,
        answered=np.asarray(codes >= 0),
        categories=used.variable.categories,
        codes=codes,
        **terms,
    )


def prepare_answers(
    asked: AskedAnswers,
    used: Mask,
    order: tuple[str, ...],
    like: Mapping[str, Part] | None = None,
) -> PreparedAnswers:
    """Put complete cases together, the answers in this ``order``; those that nobody gave are left out.

    Raises:
        QuestionError: nobody left, one answer only, a variable that does not vary, more coefficients than people.
    """
    rows = rows_of(used)
    trials = asked.trials[rows]
    laid, m = lay_out(asked, rows, trials, like)
    values = [category.value for category in asked.categories]
    given = np.bincount(asked.codes[rows], weights=trials, minlength=len(values))
    present = [value for value in order if given[values.index(value)]]
    if len(present) < 2:
        message = f"Everyone counted gave the same answer to {asked.outcome.title}."
        raise QuestionError(message, slot="outcome")
    place = np.array([present.index(v) if v in present else -1 for v in values])
    codes = np.full(len(used), -1)
    codes[rows] = place[asked.codes[rows]]
    cell = laid.pattern.astype(np.int64) * len(present) + codes[rows]
    counts = sums(cell, trials, len(m) * len(present)).reshape(len(m), len(present))
    data = AnswerPatterns(design_of(laid.terms, laid.values), counts)
    answers = tuple(asked.categories[values.index(value)] for value in present)
    return PreparedAnswers(
        laid.terms, laid.values, laid.rows, laid.pattern, data, answers, codes, asked
    )


def are_told_apart(
    asked: AskedTerms, used: Mask, codes: IntArray, answers: int, coefficients: int
) -> bool:
    """Whether an answer is given by nobody in some category (or some combination of two that act together), so
    that a model of the answers would have an infinite odds ratio, or whether there are too few people for so
    many ``coefficients``. ``codes`` of shape (rows,) are from 0 to ``answers`` - 1 where ``used``."""
    rows = np.flatnonzero(used)
    if coefficients >= float(asked.trials[rows].sum()):
        return True
    given, trials = codes[rows].astype(np.int64), asked.trials[rows]
    for _, term in asked.terms:
        place, many = np.zeros(len(rows), dtype=np.int64), 1
        for name in filter(None, (term.variable, term.together_with)):
            if name in asked.references:
                size = len(asked.variables[name].categories)
                place, many = place * size + asked.columns[name][rows], many * size
        table = np.bincount(place * answers + given, weights=trials, minlength=many * answers)
        table = table.reshape(many, answers)
        if np.any(table[table.sum(axis=1) > 0] == 0):
            return True
    return False
