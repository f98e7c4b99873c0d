"""What each step of the model gains, within the same sets."""

from hobrix.core.logistic import matched
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.steps import ModelStep, ModelSteps, columns_of_steps
from hobrix.core.questions.within_sets.work import MatchedWork
from hobrix.core.tables.independence import chi_square_test


def steps(work: MatchedWork) -> Found:
    """Terms that do not vary within any set make no step."""
    model, found = work.model, []
    null = before = model.sets.null
    for terms, own, so_far in columns_of_steps(model.laid.terms, work.options.new_step_at):
        new, upto = model.at(own), model.at(so_far)
        if not new:
            continue
        is_whole = len(upto) == len(model.kept)
        ll = (model.found if is_whole else matched.fit(model.sets.keep(upto))).log_likelihood
        gain = chi_square_test(max(0.0, 2 * (ll - before)), len(new))
        found.append(
            ModelStep(
                step=terms[0].role,
                titles=tuple(term.title for term in terms),
                variables=tuple(term.name for term in terms),
                test=NamedTest.chi_square("likelihood-ratio test", gain),
                log_likelihood=ll,
                aic=-2 * ll + 2 * len(upto),
                bic=None,
                mcfadden=1 - ll / null,
            )
        )
        before = ll
    return Found(ModelSteps(steps=tuple(found), null=null))
