"""From the slots of a sentence to a design matrix, and from its fit to odds ratios."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from hobrix.core.data import CategoricalColumn, Frame, NumericColumn, Variable
from hobrix.core.data.column import FloatArray
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.slots import reference_of
from hobrix.core.questions.wording import count, number
from hobrix.core.tables.independence import chi_square_test

MOST_COLUMNS = 200
Role = Literal["vary_with", "allowing_for"]


@dataclass(frozen=True)
class ModelTerm:
    """A term with its columns of the design; ``levels`` name them (None for a numeric one)."""

    variable: Variable
    role: Role
    per: float
    reference: str | None
    levels: tuple[str | None, ...]
    columns: FloatArray
    codes: np.ndarray | None


def model_terms(question: Question, frame: Frame) -> list[ModelTerm]:
    """The terms of the sentence in the order they enter: allowing for, then vary with.

    Raises:
        QuestionError: a variable twice, free text, or a unit that is not above 0.
    """
    asked: list[tuple[Role, Term]] = [("allowing_for", term) for term in question.allowing_for]
    asked += [("vary_with", term) for term in question.vary_with]
    names = [term.variable for _, term in asked]
    assert question.outcome is not None
    found = []
    for role, term in asked:
        variable = frame.variable(term.variable, role)
        if names.count(term.variable) > 1 or term.variable == question.outcome.variable:
            message = f"{variable.title} stands in the sentence twice."
            raise QuestionError(message, slot=role)
        if term.together_with is not None:
            message = "Interactions are not in this lens yet: look within each stratum instead."
            raise QuestionError(message, slot=role)
        column = frame.column(variable.name)
        if isinstance(column, NumericColumn):
            per = 1.0 if term.per is None else term.per
            if not (per > 0 and math.isfinite(per)):
                message = f"{variable.title}: the number of units must be above 0."
                raise QuestionError(message, slot=role)
            values = (column.values / per)[:, None]
            found.append(ModelTerm(variable, role, per, None, (None,), values, None))
            continue
        assert isinstance(column, CategoricalColumn)
        if not variable.is_categorical:
            message = f"{variable.title} holds free text: read it as categories in the Codebook."
            raise QuestionError(message, slot=role)
        reference = reference_of(term, variable)
        found.append(_categorical(variable, column, role, reference))
    return found


def _categorical(
    variable: Variable, column: CategoricalColumn, role: Role, reference: str
) -> ModelTerm:
    values = [category.value for category in column.categories]
    if len(values) < 2:
        message = f"{variable.title} has one category only, so nothing can vary with it."
        raise QuestionError(message, slot=role)
    levels = tuple(value for value in values if value != reference)
    dummies = np.column_stack([column.codes == values.index(level) for level in levels])
    missing = column.codes < 0
    columns = dummies.astype(np.float64)
    columns[missing] = np.nan
    return ModelTerm(variable, role, 1.0, reference, levels, columns, column.codes)


@dataclass(frozen=True)
class Prepared:
    """Complete cases: design with the intercept first, outcome 0/1, how many each row counts."""

    terms: list[ModelTerm]
    design: FloatArray
    outcome: FloatArray
    counts: FloatArray | None
    used: np.ndarray


def prepare(
    terms: list[ModelTerm], outcome: CategoricalColumn, event: tuple[str, ...], rows: Rows
) -> Prepared:
    """Rows that are in the subset and answered everything; levels nobody is in are dropped.

    Raises:
        QuestionError: nobody left, all or none with the event, more coefficients than people.
    """
    is_event = np.isin(
        outcome.codes, [i for i, c in enumerate(outcome.categories) if c.value in event]
    )
    used = outcome.codes >= 0
    if rows.mask is not None:
        used &= rows.mask
    for term in terms:
        used &= ~np.isnan(term.columns).any(axis=1)
    if rows.weights is not None:
        used &= rows.weights > 0
    if not used.any():
        message = "Nobody counted answered everything this question needs."
        raise QuestionError(message, slot="vary_with")
    y = is_event[used].astype(np.float64)
    if y.min() == y.max():
        who = "Everyone" if y[0] else "Nobody"
        message = f"{who} counted has the event, so there is nothing to explain."
        raise QuestionError(message, slot="outcome")
    kept = [_present(term, used) for term in terms]
    parts = [np.ones((int(used.sum()), 1)), *(term.columns[used] for term in kept)]
    design = np.column_stack(parts)
    if design.shape[1] > MOST_COLUMNS:
        message = (
            f"The model would have {count(design.shape[1])} coefficients; up to {MOST_COLUMNS} "
            "are fitted. Combine categories, or choose fewer variables."
        )
        raise QuestionError(message, slot="vary_with")
    counts = None if rows.weights is None else rows.weights[used]
    people = float(len(y) if counts is None else counts.sum())
    if design.shape[1] >= people:
        message = f"{count(design.shape[1])} coefficients for {count(people)} people: choose fewer."
        raise QuestionError(message, slot="vary_with")
    return Prepared(kept, design, y, counts, used)


def _present(term: ModelTerm, used: np.ndarray) -> ModelTerm:
    """Without levels that nobody counted is in; another reference where nobody is in that."""
    if term.codes is None:
        if np.ptp(term.columns[used]) == 0:
            message = f"{term.variable.title} is the same for everyone counted."
            raise QuestionError(message, slot=term.role)
        return term
    values = [category.value for category in term.variable.categories]
    tally = np.bincount(term.codes[used], minlength=len(values))
    present = [value for value, n in zip(values, tally, strict=True) if n]
    if len(present) < 2:
        message = f"Everyone counted gave the same answer to {term.variable.title}."
        raise QuestionError(message, slot=term.role)
    reference = term.reference if term.reference in present else present[0]
    levels = tuple(value for value in present if value != reference)
    columns = np.column_stack([term.codes == values.index(level) for level in levels])
    return ModelTerm(
        term.variable, term.role, 1.0, reference, levels, columns.astype(np.float64), term.codes
    )


def places_of(terms: list[ModelTerm]) -> list[list[int]]:
    """The columns of each term in the design, the intercept being column 0."""
    places, at = [], 1
    for term in terms:
        places.append(list(range(at, at + len(term.levels))))
        at += len(term.levels)
    return places


def explain(prepared: Prepared, data: ml.Patterns, found: ml.Fit, confidence: float) -> r.OddsModel:
    """Everything reported of a fitted model."""
    terms, places = prepared.terms, places_of(prepared.terms)
    n, events = float(data.trials.sum()), float(data.events.sum())
    null = events * math.log(events / n) + (n - events) * math.log1p(-events / n)
    k = data.design.shape[1]
    gain = chi_square_test(2 * (found.log_likelihood - null), k - 1)
    fitted = special.expit(data.design @ found.coefficients)
    mean_of_events = float(data.events @ fitted) / events
    mean_of_others = float((data.trials - data.events) @ fitted) / (n - events)
    return r.OddsModel(
        n=n,
        events=events,
        covariate_patterns=len(data.trials),
        parameters=k,
        intercept=float(found.coefficients[0]),
        terms=tuple(
            _term(prepared, term, at, data, found, confidence)
            for term, at in zip(terms, places, strict=True)
        ),
        steps=_steps(terms, places, data, found, null),
        log_likelihood=found.log_likelihood,
        log_likelihood_null=null,
        model_likelihood_ratio=ChiSquare(**vars(gain)),
        aic=-2 * found.log_likelihood + 2 * k,
        bic=-2 * found.log_likelihood + k * math.log(n),
        mcfadden=1 - found.log_likelihood / null,
        cox_snell=-math.expm1(2 * (null - found.log_likelihood) / n),
        nagelkerke=math.expm1(2 * (null - found.log_likelihood) / n) / math.expm1(2 * null / n),
        tjur=mean_of_events - mean_of_others,
        equation=_equation(terms, places, found),
    )


def _term(
    prepared: Prepared,
    term: ModelTerm,
    at: list[int],
    data: ml.Patterns,
    found: ml.Fit,
    confidence: float,
) -> r.OddsTerm:
    alone = ml.fit(data.keep([0, *at]))
    wald, wald_alone = ml.wald_intervals(found, confidence), ml.wald_intervals(alone, confidence)
    tally = _tally(prepared, term)
    rows = []
    for place, (column, level) in enumerate(zip(at, term.levels, strict=True), start=1):
        log_odds, se = (
            float(found.coefficients[column]),
            math.sqrt(found.covariance[column, column]),
        )
        label = (
            f"per {number(term.per)} {term.variable.unit or 'units'}".rstrip()
            if level is None
            else term.variable.label_of(level)
        )
        people = tally.get(level or "")
        rows.append(
            r.OddsRow(
                term=term.variable.name,
                level=level,
                label=label,
                n=people and people[0],
                events=people and people[1],
                log_odds=log_odds,
                se=se,
                z=log_odds / se,
                p=2 * float(special.ndtr(-abs(log_odds / se))),
                odds_ratio=_exp(log_odds),
                ci=(_exp(wald[column].low), _exp(wald[column].high)),
                unadjusted=_exp(float(alone.coefficients[place])),
                unadjusted_ci=(
                    _exp(wald_alone[place].low),
                    _exp(wald_alone[place].high),
                ),
            )
        )
    reference = None if term.reference is None else term.variable.label_of(term.reference)
    base = tally.get(term.reference or "", (None, None))
    return r.OddsTerm(
        variable=term.variable.name,
        title=term.variable.title,
        role=term.role,
        reference=reference,
        reference_n=base[0],
        reference_events=base[1],
        wald=ChiSquare(**vars(ml.wald_test(found, at))),
        likelihood_ratio=ChiSquare(**vars(ml.likelihood_ratio_test(data, found, at))),
        rows=tuple(rows),
    )


def _exp(log_odds: float) -> float:
    """exp, infinite where a double cannot hold it."""
    return math.exp(log_odds) if log_odds < 709 else math.inf


def _tally(prepared: Prepared, term: ModelTerm) -> dict[str, tuple[float, float]]:
    """People and events by category of a categorical term."""
    if term.codes is None:
        return {}
    codes = term.codes[prepared.used]
    weights = np.ones(len(codes)) if prepared.counts is None else prepared.counts
    size = len(term.variable.categories)
    n = np.bincount(codes, weights=weights, minlength=size)
    x = np.bincount(codes, weights=weights * prepared.outcome, minlength=size)
    return {
        category.value: (float(n[i]), float(x[i]))
        for i, category in enumerate(term.variable.categories)
    }


def _steps(
    terms: list[ModelTerm],
    places: list[list[int]],
    data: ml.Patterns,
    found: ml.Fit,
    null: float,
) -> tuple[r.Step, ...]:
    """Nothing -> allowing for -> with the variables of interest."""
    steps, before, columns = [], null, [0]
    roles: tuple[Role, ...] = ("allowing_for", "vary_with")
    for role in roles:
        added = [at for term, at in zip(terms, places, strict=True) if term.role == role]
        if not added:
            continue
        new = [column for at in added for column in at]
        columns = [*columns, *new]
        full = len(columns) == data.design.shape[1]
        reached = found.log_likelihood if full else ml.fit(data.keep(columns)).log_likelihood
        gain = chi_square_test(max(0.0, 2 * (reached - before)), len(new))
        titles = tuple(term.variable.title for term in terms if term.role == role)
        steps.append(
            r.Step(
                step=role,
                titles=titles,
                log_likelihood=reached,
                gain=ChiSquare(**vars(gain)),
                aic=-2 * reached + 2 * len(columns),
            )
        )
        before = reached
    return tuple(steps)


def _equation(terms: list[ModelTerm], places: list[list[int]], found: ml.Fit) -> str:
    """log odds = intercept + each coefficient times what it stands for."""
    parts = [f"{found.coefficients[0]:.4g}"]
    for term, at in zip(terms, places, strict=True):
        for column, level in zip(at, term.levels, strict=True):
            b = float(found.coefficients[column])
            what = (
                f"{term.variable.title} / {number(term.per)}"
                if level is None
                else f"[{term.variable.title}: {term.variable.label_of(level)}]"
            )
            parts.append(f"{'−' if b < 0 else '+'} {abs(b):.4g} · {what}")
    return "log odds = " + " ".join(parts).replace("-", "−")
