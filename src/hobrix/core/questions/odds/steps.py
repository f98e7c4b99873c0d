"""Step by step: nothing, allowing for, with the variables of interest, and further steps."""

import math
from collections.abc import Collection
from itertools import groupby

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import sorting
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.fitted import Fitted
from hobrix.core.questions.odds.terms import ModelTerm
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.tables.independence import chi_square_test


def steps(model: Fitted, new_step_at: Collection[str]) -> tuple[r.Step, ...]:
    """Each step with what it gains; a step ends where the slot changes, and before every term named
    in ``new_step_at``. Interactions enter with the later of their variables."""
    found, columns = [], [0]
    is_firth = model.options.method == "firth"
    before = model.null
    if is_firth:
        before = model.method.fit(model.data.keep([0]), is_checked=True).maximum
    for group in step_groups(model.terms, new_step_at):
        chosen = [model.terms[i] for i in group]
        new = [column for i in group for column in model.places[i]]
        columns = sorted([*columns, *new])
        is_full = len(columns) == model.data.design.shape[1]
        data = model.data.keep(columns)
        fit = model.found if is_full else model.method.fit(data, is_checked=True)
        gain = chi_square_test(max(0.0, 2 * (fit.maximum - before)), len(new))
        found.append(
            r.Step(
                step=chosen[0].role,
                titles=tuple(term.title for term in chosen),
                variables=tuple(term.name for term in chosen),
                log_likelihood=fit.log_likelihood,
                gain=ChiSquare(**vars(gain)),
                aic=-2 * fit.log_likelihood + 2 * len(columns),
                bic=-2 * fit.log_likelihood + len(columns) * math.log(model.n),
                mcfadden=1 - fit.log_likelihood / model.null,
                sorting=_sorting(data, fit, model.options.cutoff),
            )
        )
        before = fit.maximum
    return tuple(found)


def step_groups(terms: list[ModelTerm], new_step_at: Collection[str]) -> list[list[int]]:
    """Places of the terms of each step."""
    number, numbers = 0, []
    for i, term in enumerate(terms):
        if i and (term.role != terms[i - 1].role or term.name in new_step_at):
            number += 1
        numbers.append(number)
    pairs = groupby(range(len(terms)), key=lambda i: numbers[i])
    return [list(group) for _, group in pairs]


def _sorting(data: ml.Patterns, fit: ml.Fit, cutoff: float) -> r.Sorting:
    people = sorting.sort_people(data, ml.probabilities(data.design, fit.coefficients))
    accuracy = sorting.classify(people, cutoff).accuracy
    return r.Sorting(accuracy=accuracy, auc=sorting.area_under_curve(people, 0.95).estimate)
