"""From the slots of a sentence to the patterns a model is fitted to."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import CountsColumn, Frame, NumericColumn, Variable
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic.order import values_at_shares
from hobrix.core.logistic.patterns import FloatArray, IntArray, Patterns, distinct_rows, sums
from hobrix.core.logistic.splines import knots_of
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.modelling.terms import ModelTerm, Part, Role, design_of
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.recast import use
from hobrix.core.questions.slots import event_of, reference_of
from hobrix.core.questions.wording import count

MOST_COLUMNS = 200
_SHARES = (0.1, 0.25, 0.5, 0.75, 0.9)


@dataclass(frozen=True)
class AskedTerms:
    """The variables of a question as columns, before anybody is left out.

    ``columns`` hold codes (-1: missing) or numbers (NaN: missing) by variable, shape (rows,);
    ``trials`` how many people each row stands for, and ``answered`` whether the outcome is known.
    """

    outcome: Variable
    trials: FloatArray
    answered: Mask
    terms: tuple[tuple[Role, Term], ...]
    variables: dict[str, Variable]
    references: dict[str, str]
    columns: dict[str, NDArray[Any]]
    missing: dict[str, Mask]
    # Rows whose answer is left out of this question only.
    left_out: dict[str, Mask]

    def complete(self, rows: Rows) -> Mask:
        """Rows in the subset that answered everything the model needs."""
        used = self.answered & (self.trials > 0)
        if rows.mask is not None:
            used &= rows.mask
        for missing in self.missing.values():
            used &= ~missing
        return used


@dataclass(frozen=True)
class Asked(AskedTerms):
    """With an event: how many of each row have it, shape (rows,)."""

    event_label: str
    events: FloatArray


@dataclass(frozen=True)
class LaidOut:
    """Complete cases put together: ``values`` by variable at each pattern, shape (J,); ``rows`` of
    the data used, shape (n,), and the ``pattern`` of each."""

    terms: list[ModelTerm]
    values: dict[str, FloatArray]
    rows: IntArray
    pattern: IntArray


@dataclass(frozen=True)
class Prepared(LaidOut):
    """With the event and the columns of the design at each pattern."""

    data: Patterns
    asked: Asked


def ask(question: Question, frame: Frame, rows: Rows) -> Asked:
    """Read the slots of a question about an event.

    Raises:
        QuestionError: as ``ask_terms``, or counts that are none.
    """
    outcome, terms = ask_terms(question, frame)
    label, events, trials, answered = _outcome(question, frame, outcome, rows)
    return Asked(
        outcome=outcome, event_label=label, events=events, trials=trials, answered=answered, **terms
    )


def ask_terms(question: Question, frame: Frame) -> tuple[Variable, dict[str, Any]]:
    """The outcome, and what ``AskedTerms`` holds of the other slots.

    Raises:
        QuestionError: an empty slot, a variable twice, free text, a unit that is not above 0, an
            interaction without its variables.
    """
    if question.outcome is None:
        raise QuestionError("Choose the outcome: what is the question about?", slot="outcome")
    if not question.vary_with:
        raise QuestionError("Choose what the outcome may vary with.", slot="vary_with")
    asked: list[tuple[Role, Term]] = [("allowing_for", term) for term in question.allowing_for]
    asked += [("vary_with", term) for term in question.vary_with]
    outcome = frame.variable(question.outcome.variable, "outcome")
    _check_terms(asked, frame, outcome)
    variables, references = {}, {}
    columns: dict[str, NDArray[Any]] = {}
    missing, left_out = {}, {}
    for role, term in asked:
        if term.together_with is not None:
            continue
        variable = frame.variable(term.variable, role)
        column = frame.column(variable.name)
        if isinstance(column, NumericColumn):
            variables[variable.name], columns[variable.name] = variable, column.values
            missing[variable.name] = column.is_missing
            continue
        if not variable.is_categorical:
            message = f"{variable.title} holds free text: read it as categories in the Codebook."
            raise QuestionError(message, slot=role)
        used = use(variable, column, question.options.categories.get(variable.name))
        if len(used.variable.categories) < 2:
            message = f"{variable.title} has one category only, so nothing can vary with it."
            raise QuestionError(message, slot=role)
        variables[variable.name], columns[variable.name] = used.variable, used.codes
        missing[variable.name] = np.asarray(used.codes < 0)
        references[variable.name] = used.into.get(reference_of(term, variable), "")
        if used.left_out is not None:
            left_out[variable.title] = used.left_out
    return outcome, {
        "terms": tuple(asked),
        "variables": variables,
        "references": references,
        "columns": columns,
        "missing": missing,
        "left_out": left_out,
    }


def _check_terms(asked: list[tuple[Role, Term]], frame: Frame, outcome: Variable) -> None:
    alone = [term.variable for _, term in asked if term.together_with is None]
    pairs = []
    for role, term in asked:
        variable = frame.variable(term.variable, role)
        if term.together_with is not None:
            other = frame.variable(term.together_with, role)
            if not {variable.name, other.name} <= set(alone):
                message = (
                    f"{variable.title} with {other.title}: both must stand in the sentence by "
                    "themselves too."
                )
                raise QuestionError(message, slot=role)
            pairs.append(frozenset((variable.name, other.name)))
            if variable.name == other.name or pairs.count(pairs[-1]) > 1:
                message = f"{variable.title} with {other.title} stands in the sentence twice."
                raise QuestionError(message, slot=role)
        elif alone.count(variable.name) > 1 or variable.name == outcome.name:
            message = f"{variable.title} stands in the sentence twice."
            raise QuestionError(message, slot=role)
        if term.per is not None and not (term.per > 0 and math.isfinite(term.per)):
            message = f"{variable.title}: the number of units must be above 0."
            raise QuestionError(message, slot=role)
        if term.bend is not None and variable.kind != "numeric":
            message = f"{variable.title} has categories, which bend as they like already."
            raise QuestionError(message, slot=role)


def _outcome(
    question: Question, frame: Frame, outcome: Variable, rows: Rows
) -> tuple[str, FloatArray, FloatArray, Mask]:
    """What the event is called, events and trials of each row, and who answered."""
    if outcome.kind == "numeric":
        return _events_of_trials(question, frame, outcome, rows)
    column = frame.categorical(outcome.name, "outcome")
    event = event_of(question, outcome)
    if not event:
        message = (
            f"Odds are those of an event: choose which answer to {outcome.title} is the event."
        )
        raise QuestionError(message, slot="outcome")
    used = use(outcome, column, question.options.categories.get(outcome.name))
    into = {used.into[value] for value in event if value in used.into}
    places = [i for i, c in enumerate(used.variable.categories) if c.value in into]
    trials = np.ones(frame.rows) if rows.weights is None else rows.weights
    events = trials * np.isin(used.codes, places)
    label = " or ".join(outcome.label_of(value) for value in event)
    return label, events, trials, np.asarray(used.codes >= 0)


def _events_of_trials(
    question: Question, frame: Frame, outcome: Variable, rows: Rows
) -> tuple[str, FloatArray, FloatArray, Mask]:
    """A numeric outcome beside a counts column: so many events out of so many."""
    if not isinstance(question.counted_by, CountsColumn) or rows.weights is None:
        message = (
            f"{outcome.title} is numeric. Odds are those of an event: cut it in two in the "
            "Codebook. (Where it counts events, say in Data which column counts the rows.)"
        )
        raise QuestionError(message, slot="outcome")
    events = frame.numeric(outcome.name, "outcome").values
    answered = ~np.isnan(events)
    wrong = answered & ((events < 0) | (events > rows.weights) | (events != np.floor(events)))
    if wrong.any():
        row = int(np.argmax(wrong))
        total = frame.variables[question.counted_by.variable].title
        message = (
            f"{outcome.title} is taken as events out of {total}, but row {row + 1} has "
            f"{events[row]:g} out of {rows.weights[row]:g}."
        )
        raise QuestionError(message, slot="outcome")
    return outcome.title, np.where(answered, events, 0.0), rows.weights, answered


def prepare(asked: Asked, used: Mask, like: Mapping[str, Part] | None = None) -> Prepared:
    """Put complete cases together; categories nobody is in are dropped. References, medians and
    knots are as in ``like``, where that is given.

    Raises:
        QuestionError: nobody left, all or none with the event, a variable that does not vary, more
            coefficients than people.
    """
    rows = rows_of(used)
    everyone = len(rows) == len(used)
    events, trials = (side if everyone else side[rows] for side in (asked.events, asked.trials))
    n, n_events = float(trials.sum()), float(events.sum())
    if n_events in (0, n):
        who = "Everyone" if n_events else "Nobody"
        message = f"{who} counted has the event, so there is nothing to explain."
        raise QuestionError(message, slot="outcome")
    laid, m = lay_out(asked, rows, trials, like)
    y = sums(laid.pattern, events, len(m))
    data = Patterns(design_of(laid.terms, laid.values), y, m)
    return Prepared(laid.terms, laid.values, laid.rows, laid.pattern, data, asked)


def rows_of(used: Mask) -> IntArray:
    """Rows that are used, shape (n,).

    Raises:
        QuestionError: there is none.
    """
    rows = np.flatnonzero(used)
    if not len(rows):
        message = "Nobody counted answered everything this question needs."
        raise QuestionError(message, slot="vary_with")
    return rows


def lay_out(
    asked: AskedTerms, rows: IntArray, trials: FloatArray, like: Mapping[str, Part] | None = None
) -> tuple[LaidOut, FloatArray]:
    """The terms at each pattern of some rows, and how many people each pattern is, shape (J,); ``trials`` of
    shape (n,) says how many each row is.

    Raises:
        QuestionError: a variable that does not vary, more coefficients than people.
    """
    everyone = len(rows) == len(asked.trials)
    columns = {k: c if everyone else c[rows] for k, c in asked.columns.items()}
    first, pattern = distinct_rows(list(columns.values()))
    values = {name: column[first].astype(np.float64) for name, column in columns.items()}
    m = sums(pattern, trials, len(first))
    terms = _terms(asked, values, m, like or {})
    wide, n = 1 + sum(len(term.column_levels) for term in terms), float(trials.sum())
    if wide > MOST_COLUMNS:
        message = (
            f"The model would have {count(wide)} coefficients; up to {MOST_COLUMNS} are fitted. "
            "Combine categories, or choose fewer variables."
        )
        raise QuestionError(message, slot="vary_with")
    if wide >= n:
        message = f"{count(wide)} coefficients for {count(n)} people: choose fewer."
        raise QuestionError(message, slot="vary_with")
    return LaidOut(terms, values, rows, pattern), m


def _terms(
    asked: AskedTerms, values: dict[str, FloatArray], people: FloatArray, like: Mapping[str, Part]
) -> list[ModelTerm]:
    parts: dict[str, Part] = {}
    for role, term in asked.terms:
        if term.together_with is None:
            make = _categorical if term.variable in asked.references else _numeric
            name = term.variable
            parts[name] = make(asked, role, term, values[name], people, like.get(name))
    terms = []
    for role, term in asked.terms:
        names = [term.variable, *([term.together_with] if term.together_with else [])]
        terms.append(ModelTerm(role, tuple(parts[name] for name in names)))
    return terms


def _categorical(
    asked: AskedTerms,
    role: Role,
    term: Term,
    codes: FloatArray,
    people: FloatArray,
    like: Part | None,
) -> Part:
    """Without levels that nobody counted is in; another reference where nobody is in that."""
    variable = asked.variables[term.variable]
    tally = np.bincount(codes.astype(int), weights=people, minlength=len(variable.categories))
    names = [category.value for category in variable.categories]
    present = [value for value, n in zip(names, tally, strict=True) if n]
    if len(present) < 2:
        message = f"Everyone counted gave the same answer to {variable.title}."
        raise QuestionError(message, slot=role)
    wanted = asked.references[term.variable]
    if like is not None and like.reference not in present:
        message = f"Nobody there is in the reference of {variable.title}."
        raise QuestionError(message, slot=role)
    reference = wanted if wanted in present else present[0]
    if like is not None and like.reference is not None:
        reference = like.reference
    levels = tuple(value for value in present if value != reference)
    return Part(
        variable,
        base=float(names.index(reference)),
        reference=reference,
        levels=levels,
        codes=tuple(names.index(level) for level in levels),
    )


def _numeric(
    asked: AskedTerms,
    role: Role,
    term: Term,
    x: FloatArray,
    people: FloatArray,
    like: Part | None,
) -> Part:
    variable = asked.variables[term.variable]
    if float(np.ptp(x)) == 0:
        message = f"{variable.title} is the same for everyone counted."
        raise QuestionError(message, slot=role)
    if like is not None:
        return like
    per = 1.0 if term.per is None else term.per
    at = values_at_shares(x, people, _SHARES).tolist()
    knots: tuple[float, ...] = ()
    if term.bend == "spline":
        knots = knots_of(x / per, people)
        if len(knots) < 3:
            message = f"{variable.title} takes too few values to bend: take it straight."
            raise QuestionError(message, slot=role)
    return Part(
        variable,
        base=at[2],
        per=per,
        bend=term.bend,
        knots=knots,
        at=(at[0], at[1], at[3], at[4]),
    )
