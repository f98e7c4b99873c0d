"""What each step of the model gains."""

import math

from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted
from hobrix.core.questions.modelling.steps import ModelStep, ModelSteps, columns_of_steps
from hobrix.core.questions.modelling.terms import ModelTerm
from hobrix.core.tables.independence import chi_square_test


def steps(work: EveryAnswerWork) -> Found:
    model = work.model
    found, before = [], model.data.null
    groups = columns_of_steps(model.terms, work.options.new_step_at)
    work.sampling.stages.restart(max(1, len(groups) - 1))
    for terms, own, so_far in groups:
        is_whole = len(so_far) == model.data.design.shape[1] - 1
        upto = model if is_whole else model.alone(so_far)
        if model.weighted is not None:
            at = [so_far.index(column) + 1 for column in own]
            tested = upto.wald_f(at)
            test = None if tested is None else NamedTest.wald("adjusted Wald test", tested)
            found.append(_step(terms, test, None, upto))
            continue
        gain = max(0.0, 2 * (upto.found.log_likelihood - before))
        freedom = len(model.coefficients_at(own))
        test = NamedTest.chi_square("likelihood-ratio test", chi_square_test(gain, freedom))
        found.append(_step(terms, test, model.data.null, upto))
        before = upto.found.log_likelihood
    null = None if model.weighted is not None else model.data.null
    return Found(ModelSteps(steps=tuple(found), null=null))


def _step(
    terms: list[ModelTerm], test: NamedTest | None, null: float | None, upto: AnswersFitted
) -> ModelStep:
    ll, k, n = upto.found.log_likelihood, len(upto.found.coefficients), upto.n
    return ModelStep(
        step=terms[0].role,
        titles=tuple(term.title for term in terms),
        variables=tuple(term.name for term in terms),
        test=test,
        log_likelihood=None if null is None else ll,
        aic=None if null is None else -2 * ll + 2 * k,
        bic=None if null is None else -2 * ll + k * math.log(n),
        mcfadden=None if null is None else 1 - ll / null,
    )
