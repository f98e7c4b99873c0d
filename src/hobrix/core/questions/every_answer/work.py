"""The model of a question while it is being answered."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from hobrix.core.data import Category, Frame, Variable
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import answers as model_of
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.answers import Family
from hobrix.core.logistic.ordered import ORDERED
from hobrix.core.logistic.several import SEVERAL
from hobrix.core.questions.every_answer.options import EveryAnswerOptions
from hobrix.core.questions.every_answer.results import EveryAnswerResults
from hobrix.core.questions.lens import Work
from hobrix.core.questions.modelling.answers import (
    AskedAnswers,
    PreparedAnswers,
    are_told_apart,
    ask_answers,
    prepare_answers,
)
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.prepare import MOST_COLUMNS
from hobrix.core.questions.modelling.terms import Part
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import Recast
from hobrix.core.questions.sampling import Sampling
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.questions.wording import count, first_of, listed

NO_FINITE = "The model does not settle on an estimate: choose fewer variables."


@dataclass(frozen=True)
class EveryAnswerWork(Work):
    """``used`` are the rows that answered everything, shape (rows,); ``strata`` their codes and what
    each is called."""

    asked: AskedAnswers
    order: tuple[str, ...]
    used: Mask
    strata: IntArray | None
    labels: list[tuple[tuple[str, ...], str]]
    model: AnswersFitted
    # The results, once they are worked out.
    kept: list[EveryAnswerResults] = field(default_factory=list)

    @property
    def options(self) -> EveryAnswerOptions:
        return self.question.options.every_answer

    @property
    def is_ordered(self) -> bool:
        return self.model.family is ORDERED

    @property
    def has_shares(self) -> bool:
        """In a case-control study the shares of the answers were set by the design."""
        return not self.frame.was_set(self.asked.outcome.name)

    def can_be_taken(self, groups: Sequence[Sequence[int]]) -> bool:
        """Whether the answers put together in ``groups``, by their places in the model, can have odds ratios of
        their own, as far as categories tell."""
        group_of = np.empty(len(self.words), dtype=np.int64)
        for i, group in enumerate(groups):
            group_of[list(group)] = i
        codes = self.model.prepared.codes
        grouped = np.where(codes >= 0, group_of[codes], -1)
        coefficients = (len(groups) - 1) * self.model.data.design.shape[1]
        is_wide = coefficients > MOST_COLUMNS
        return not is_wide and not are_told_apart(
            self.asked, self.used, grouped, len(groups), coefficients
        )

    @cached_property
    def words(self) -> list[str]:
        """The answers as they are called, in the order of the model."""
        return [category.label for category in self.model.prepared.answers]


def work_on(question: Question, frame: Frame, sampling: Sampling) -> EveryAnswerWork:
    """Prepare and fit.

    Raises:
        QuestionError: a slot is empty or cannot be used, answers are told apart by the terms, or
            some of them say the same.
    """
    asked = ask_answers(question, frame, sampling.rows)
    family = _family(question, asked)
    order = _order(question, asked, family)
    taken = {asked.outcome.name, *(term.variable for _, term in asked.terms)}
    codes, labels = strata_codes(question, frame, taken)
    used = asked.complete(sampling.rows)
    many = 0
    if codes is not None:
        used &= codes >= 0
        many = len(np.unique(codes[used]))
        refuse_too_many(question, frame, many)
    alone = sum(term.together_with is None for _, term in asked.terms)
    sampling.stages.total = 1 + many + (alone if alone > 1 else 0)
    prepared = prepare_answers(asked, used, order)
    model = fit(sampling, prepared, family, question)
    return EveryAnswerWork(question, frame, sampling, asked, order, used, codes, labels, model)


def is_in_order(question: Question, kind: str) -> bool:
    """Whether answers are taken from low to high: as the codebook has them, or as asked."""
    taken = question.options.every_answer.taken
    return kind == "ordinal" if taken == "as_recorded" else taken == "in_order"


def _family(question: Question, asked: AskedAnswers) -> Family:
    return ORDERED if is_in_order(question, asked.outcome.kind) else SEVERAL


def _order(question: Question, asked: AskedAnswers, family: Family) -> tuple[str, ...]:
    """The values of the answers: from low to high or back, or the base first.

    Raises:
        QuestionError: the base is no answer.
    """
    options = question.options.every_answer
    values = [category.value for category in asked.categories]
    if family is ORDERED:
        return tuple(reversed(values) if options.downward else values)
    base = options.base or asked.outcome.default_reference() or values[0]
    if base not in values:
        message = f"“{base}” is not an answer to {asked.outcome.title}."
        raise QuestionError(message, slot="outcome")
    # Where nobody counted gave the base, the first that somebody gave stands in for it.
    return (base, *(value for value in values if value != base))


def fit(
    sampling: Sampling,
    prepared: PreparedAnswers,
    family: Family,
    question: Question,
    *,
    is_whole: bool = True,
) -> AnswersFitted:
    """Fit what was prepared; what is wrong with it is said in words."""
    answers, columns = len(prepared.answers), prepared.data.design.shape[1]
    coefficients = (answers - 1) * columns if family is SEVERAL else answers + columns - 2
    if coefficients > MOST_COLUMNS:
        message = (
            f"The model would have {count(coefficients)} coefficients; up to {MOST_COLUMNS} are fitted. "
            "Combine answers or categories, or choose fewer variables."
        )
        raise QuestionError(message, slot="outcome")
    if coefficients >= prepared.data.n:
        message = (
            f"{count(coefficients)} coefficients for {count(prepared.data.n)} people: choose fewer."
        )
        raise QuestionError(message, slot="vary_with")
    asked = Estimation(
        "maximum_likelihood",
        "wald" if sampling.sample is not None else question.options.every_answer.limits,
        question.confidence,
    )
    try:
        return sampling.model_of_answers(prepared, family, asked, is_whole=is_whole)
    except ml.Collinear as refused:
        raise QuestionError(_says_the_same(prepared, refused), slot="vary_with") from None
    except model_of.Separated as refused:
        raise QuestionError(
            _told_apart(prepared, family, refused),
            slot="vary_with",
            remedies=tuple(
                way for way in _combined(question, prepared) if _leads(way[1], sampling)
            ),
        ) from None
    except ml.NotFinite:
        raise QuestionError(NO_FINITE, slot="vary_with") from None


def _leads(question: Question, sampling: Sampling) -> bool:
    """Whether nothing is told apart any more once answers or categories are combined, as far as those tell."""
    rows = sampling.rows
    try:
        asked = ask_answers(question, rows.frame, rows)
        family = _family(question, asked)
        prepared = prepare_answers(asked, asked.complete(rows), _order(question, asked, family))
    except QuestionError:
        return False
    answers = len(prepared.answers)
    coefficients = (answers - 1) * prepared.data.design.shape[1]
    used = prepared.codes >= 0
    return answers > 1 and not are_told_apart(asked, used, prepared.codes, answers, coefficients)


def _says_the_same(prepared: PreparedAnswers, refused: ml.Collinear) -> str:
    named = column_names(prepared.terms)
    titles = dict.fromkeys(named[column][2] for column in refused.columns if column)
    return (
        f"{listed(list(titles) or ['One variable'])} can be worked out from the other variables of the "
        "model, exactly or all but, so its odds ratio cannot be told apart. Leave one of them out."
    )


def _told_apart(prepared: PreparedAnswers, family: Family, refused: model_of.Separated) -> str:
    """Which coefficients have no finite value, and what can be done."""
    at = family.at(prepared.data.design.shape[1], len(prepared.answers))
    named, fates = column_names(prepared.terms), refused.found.fates
    without = []
    for equation, row in enumerate(at):
        for column in range(1, len(row)):
            if fates[row[column]] == "finite":
                continue
            where = f" for “{prepared.answers[equation + 1].label}”" if len(at) > 1 else ""
            without.append(f"{named[column][2]}{where}")
    whole = "completely" if refused.found.kind == "complete" else "in part"
    told = first_of(without, 3) if without else "the variables together"
    empty = [
        f"nobody in “{part.label_of(code)}” ({part.variable.title}) answered “{answer.label}”"
        for part, code, answer in _empty_cells(prepared)
    ]
    why = f": {first_of(empty, 2)}" if empty else ""
    return (
        f"The answers to {prepared.asked.outcome.title} are told apart {whole} by {told}{why}. An odds ratio would "
        "be infinite. Combine that answer or category with another, or leave the variable out."
    )


def _empty_cells(prepared: PreparedAnswers) -> list[tuple[Part, int, Category]]:
    """Combinations of a category and an answer that nobody gave."""
    found = []
    for term in prepared.terms:
        part = term.parts[0]
        if term.is_interaction or part.is_numeric:
            continue
        codes = prepared.values[part.name].astype(int)
        for code in sorted([int(part.base), *part.codes]):
            given = prepared.data.counts[codes == code].sum(axis=0)
            found += [
                (part, code, answer)
                for answer, n in zip(prepared.answers, given, strict=True)
                if not n
            ]
    return found


def _combined(question: Question, prepared: PreparedAnswers) -> list[tuple[str, Question]]:
    """The same question with what nobody gave counted together with its neighbour, or left out."""
    found: list[tuple[str, Question]] = []
    recast = question.options.categories
    outcome, cells = prepared.asked.outcome, _empty_cells(prepared)
    if not cells:
        return []
    part, code, answer = cells[0]
    order = [category.value for category in part.variable.categories]
    if part.variable.kind == "ordinal" and len(order) > 2 and part.name not in recast:
        first = max(0, code - 1) if code == len(order) - 1 or code > 0 else 0
        together = (order[first], order[first + 1])
        label = f"Count {_both(part.variable, together)} of {part.variable.title} together"
        found.append((label, question.with_recast(part.name, Recast(combine=(together,)))))
    values = [category.value for category in prepared.asked.categories]
    if len(values) > 3 and outcome.name not in recast:
        if outcome.kind == "ordinal":
            at = min(values.index(answer.value), len(values) - 2)
            together = (values[at], values[at + 1])
            label = f"Count {_both(outcome, together)} together"
            found.append((label, question.with_recast(outcome.name, Recast(combine=(together,)))))
        else:
            without = Recast(leave_out=(answer.value,))
            label = f"Leave out those who answered “{answer.label}”"
            found.append((label, question.with_recast(outcome.name, without)))
    return found


def _both(variable: Variable, values: tuple[str, str]) -> str:
    return listed([f"“{variable.label_of(value)}”" for value in values])
