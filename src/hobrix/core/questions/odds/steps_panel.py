"""Step by step: nothing, allowing for, with the variables of interest, and further steps."""

import math

from hobrix.core.logistic import likelihood, sorting
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.steps import step_groups
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.tables.independence import chi_square_test


def steps(work: OddsWork) -> Found:
    """Each step with what it gains; a step ends where the slot changes, and before every term named
    in ``new_step_at``. Interactions enter with the later of their variables."""
    model, cutoff = work.model, work.options.cutoff
    # The last step is the model itself.
    groups = step_groups(model.terms, work.options.new_step_at)
    work.sampling.stages.restart(max(1, len(groups) - 1))
    make = _weighted_steps if model.weighted is not None else _counted_steps
    found = make(model, groups, cutoff)
    baseline = max(model.events, model.n - model.events) / model.n
    return Found(r.StepsPanel(steps=tuple(found), cutoff=cutoff, baseline=baseline))


def _counted_steps(model: Fitted, groups: list[list[int]], cutoff: float) -> list[r.Step]:
    found, columns = [], [0]
    before = model.null
    if model.is_firth:
        before = model.method.fit(model.data.keep([0]), is_checked=True).maximum
    for group in groups:
        chosen = [model.terms[i] for i in group]
        new = [column for i in group for column in model.places[i]]
        columns = sorted([*columns, *new])
        is_full = len(columns) == model.data.design.shape[1]
        data = model.data.keep(columns)
        fit = model.found if is_full else model.method.fit(data, is_checked=True)
        gain = chi_square_test(max(0.0, 2 * (fit.maximum - before)), len(new))
        people = sorting.sort_people(data, likelihood.probabilities(data.design, fit.coefficients))
        what = "penalised likelihood-ratio test" if model.is_firth else "likelihood-ratio test"
        found.append(
            r.Step(
                step=chosen[0].role,
                titles=tuple(term.title for term in chosen),
                variables=tuple(term.name for term in chosen),
                test=NamedTest.chi_square(what, gain),
                gain=gain,
                adjusted_wald=None,
                log_likelihood=fit.log_likelihood,
                aic=-2 * fit.log_likelihood + 2 * len(columns),
                bic=-2 * fit.log_likelihood + len(columns) * math.log(model.n),
                mcfadden=1 - fit.log_likelihood / model.null,
                accuracy=sorting.classify(people, cutoff).accuracy,
                auc=sorting.area_under_curve(people, 0.95).estimate,
            )
        )
        before = fit.maximum
    return found


def _weighted_steps(model: Fitted, groups: list[list[int]], _cutoff: float) -> list[r.Step]:
    """Each step's terms tested in the model up to it; the last step is the whole model."""
    columns, found = [0], []
    for group in groups:
        chosen = [model.terms[i] for i in group]
        new = [column for i in group for column in model.places[i]]
        columns = sorted([*columns, *new])
        is_whole = len(columns) == model.data.design.shape[1]
        fit = model.found if is_whole else model.alone(columns[1:]).found
        wald = model.wald_f([columns.index(column) for column in new], fit)
        found.append(
            r.Step(
                step=chosen[0].role,
                titles=tuple(term.title for term in chosen),
                variables=tuple(term.name for term in chosen),
                test=wald and NamedTest.wald("adjusted Wald test", wald),
                gain=None,
                adjusted_wald=wald,
                log_likelihood=None,
                aic=None,
                bic=None,
                mcfadden=None,
                accuracy=None,
                auc=None,
            )
        )
    return found
