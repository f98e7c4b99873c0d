"""One odds ratio beside those at every place where the answers can be cut in two: is it the same everywhere?"""

from dataclasses import fields

import numpy as np

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.cuts import Cut, Cuts
from hobrix.core.logistic.own_slopes import own_slopes_test
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.every_answer import results as r
from hobrix.core.questions.every_answer.rows import ratios_of
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.contrasts import contrasts_of
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.fitted import Fitted, Separated, exp, ratios
from hobrix.core.questions.modelling.prepare import Asked, AskedTerms, Prepared
from hobrix.core.questions.wording import listed, p_equals, reported_test
from hobrix.core.survey.logistic import same_everywhere
from hobrix.core.tables.multiple import holm

ONLY_ONE = "With two answers there is one cut only."
NOT_FINITE = (
    "At a cut the answers are told apart by the variables, so there the odds ratio is not finite."
)
TOO_FEW = "The design leaves too few degrees of freedom."


def can_be_cut(work: EveryAnswerWork) -> bool:
    return work.is_ordered and len(work.words) > 2


def cuts(work: EveryAnswerWork) -> Found:
    """Raises what the estimator of a yes/no model does not catch itself: nothing else."""
    models = [_at(work, above) for above in range(1, len(work.words))]
    tests, no_test = _tests(work, models)
    lines = []
    for term in sorted(work.model.terms, key=lambda term: term.role != "vary_with"):
        if term.is_interaction or any(
            term.name in [part.name for part in each.parts]
            for each in work.model.terms
            if each.is_interaction
        ):
            continue
        for _, _, label, contrast in contrasts_of(work.model.terms, term):
            common = ratios_of(work.model, contrast, [None])[0]
            lines.append(
                r.CutLine(
                    term=term.name,
                    role=term.role,
                    label=f"{term.title}: {label}",
                    common=r.CutRatio(odds_ratio=common.odds_ratio, ci=common.ci),
                    cuts=tuple(_ratio(model, contrast) for model in models),
                )
            )
    panel = r.CutsPanel(
        cuts=tuple(_named(work, above) for above in range(1, len(work.words))),
        lines=tuple(lines),
        tests=tests,
        no_test=no_test,
    )
    return Found(panel, (_check(work, panel),), _written(work, panel))


def _ratio(model: Fitted | None, contrast: np.ndarray) -> r.CutRatio | None:
    if model is None:
        return None
    here = model.estimate(contrast)
    return r.CutRatio(odds_ratio=exp(here.log_odds), ci=ratios(here.limits))


def _named(work: EveryAnswerWork, above: int) -> r.AnswerCut:
    answers = work.model.prepared.answers[above:]
    words = work.words[above:]
    return r.AnswerCut(
        label=" or ".join(words) if len(words) < 3 else f"{words[0]} to {words[-1]}",
        event=tuple(each.value for each in answers),
        events=float(work.model.data.counts[:, above:].sum()),
    )


def _at(work: EveryAnswerWork, above: int) -> Fitted | None:
    """The yes/no model of answering one of the answers from ``above`` on; None where it has no finite
    estimate."""
    prepared = work.model.prepared
    asked = prepared.asked
    is_event = prepared.codes >= above
    of_terms = {each.name: getattr(asked, each.name) for each in fields(AskedTerms)}
    data = Patterns(
        prepared.data.design,
        prepared.data.counts[:, above:].sum(axis=1),
        prepared.data.counts.sum(axis=1),
    )
    yes_no = Prepared(
        prepared.terms,
        prepared.values,
        prepared.rows,
        prepared.pattern,
        data,
        Asked(**of_terms, event_label="", events=asked.trials * is_event),
    )
    estimation = Estimation("maximum_likelihood", "wald", work.question.confidence)
    try:
        return work.sampling.model(yes_no, estimation, is_whole=False)
    except (Separated, ml.NotFinite, ml.Collinear):
        return None


def _tests(
    work: EveryAnswerWork, models: list[Fitted | None]
) -> tuple[tuple[r.CutTest, ...], str | None]:
    """Of all terms together, then of each."""
    found = [model for model in models if model is not None]
    if len(found) < len(models):
        return (), NOT_FINITE
    every = list(range(1, work.model.data.design.shape[1]))
    terms: list[tuple[str | None, str, list[int]]] = [(None, "All variables", every)]
    terms += [
        (term.name, term.title, at)
        for term, at in zip(work.model.terms, work.model.places, strict=True)
        if len(work.model.terms) > 1
    ]
    tests = []
    for name, title, columns in terms:
        test = _same(work, found, columns)
        if test is not None:
            tests.append(r.CutTest(term=name, title=title, test=test))
    if work.model.weighted is None:
        one = own_slopes_test(work.model.data, work.model.found)
        if one is not None:
            named = NamedTest.chi_square("likelihood-ratio test", one)
            tests.append(r.CutTest(term=None, title="All variables, in one likelihood", test=named))
    return tuple(tests), None if tests else TOO_FEW


def _same(work: EveryAnswerWork, models: list[Fitted], columns: list[int]) -> NamedTest | None:
    """Brant's test, or under a design an adjusted Wald test of the cuts fitted to the same clusters."""
    weighted = work.model.weighted
    if weighted is not None:
        fits = [model.weighted.found for model in models if model.weighted is not None]
        tested = same_everywhere(weighted.totals.design, fits, columns)
        return None if tested is None else NamedTest.wald("adjusted Wald test", tested)
    each = tuple(Cut(model.data, model.found, None) for model in models)
    brant = Cuts(work.model.data, each).same_at_each(columns)
    return None if brant is None else NamedTest.chi_square("Brant’s test", brant)


def _check(work: EveryAnswerWork, panel: r.CutsPanel) -> Check:
    if panel.no_test is not None:
        text = f"Whether the odds ratios are the same at every cut is not tested. {panel.no_test}"
        return Check(id="same_at_every_cut", status="care", text=text)
    whole, *terms = panel.tests
    told = f"{p_equals(whole.test.p)}, {whole.test.name}"
    if whole.test.p >= work.question.alpha:
        text = (
            f"No clear sign that odds ratios differ between the places where the answers can be cut ({told}), so one "
            "odds ratio for all of them may do."
        )
        return Check(id="same_at_every_cut", status="ok", text=text)
    apart = _least_alike([each for each in terms if each.term], work.question.alpha)
    text = f"The odds ratios are not the same wherever the answers are cut ({told}){apart}: one common odds ratio hides that."
    in_no_order = work.question.with_options("every_answer", taken="in_no_order")
    remedies = [Remedy(label="See them at each cut", panel="cuts")]
    if work.can_be_taken([[i] for i in range(len(work.words))]):
        remedies.append(Remedy(label="Take the answers in no order", question=in_no_order))
    return Check(id="same_at_every_cut", status="care", text=text, remedies=tuple(remedies))


def _least_alike(terms: list[r.CutTest], alpha: float) -> str:
    """Those that differ by themselves, with all looked at allowed for (Holm)."""
    if not terms:
        return ""
    adjusted = holm(np.array([each.test.p for each in terms]))
    clear = [each.title for each, p in zip(terms, adjusted, strict=True) if p < alpha]
    return f", clearly those of {listed(clear)}" if clear else ""


def _written(work: EveryAnswerWork, panel: r.CutsPanel) -> str:
    if not panel.tests:
        return ""
    whole = panel.tests[0].test
    sign = "differed" if whole.p < work.question.alpha else "did not clearly differ"
    return f"Odds ratios {sign} between cuts of the outcome ({reported_test(whole)})."
