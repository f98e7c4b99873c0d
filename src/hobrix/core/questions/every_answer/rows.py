"""The odds ratios of every term that can be read by themselves, with tests."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.every_answer import results as r
from hobrix.core.questions.every_answer.work import EveryAnswerWork
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted
from hobrix.core.questions.modelling.contrasts import contrasts_of, described
from hobrix.core.questions.modelling.estimation import MANY_PATTERNS
from hobrix.core.questions.modelling.fitted import exp, ratios
from hobrix.core.questions.modelling.terms import ModelTerm, Part


def terms_of(work: EveryAnswerWork) -> tuple[r.AnswersTerm, ...]:
    """Every term with its tests and odds ratios."""
    model, words = work.model, answers_told(work)
    once = model.counted_once if model.weighted is not None else None
    found = []
    for term, at in zip(model.terms, model.places, strict=True):
        rows = _rows(model, term, at, once, words)
        found.append(
            r.AnswersTerm(
                **described(model.terms, term),
                **_at_reference(model, term),
                **_tests(model, at),
                rows=rows,
                picked=_picked(model, term, rows),
            )
        )
    return tuple(found)


def answers_told(work: EveryAnswerWork) -> list[str | None]:
    """What each equation is about: None for higher answers, otherwise an answer against the base."""
    return [None] if work.is_ordered else list(work.words[1:])


def _rows(
    model: AnswersFitted,
    term: ModelTerm,
    at: list[int],
    once: AnswersFitted | None,
    words: Sequence[str | None],
) -> tuple[r.AnswersRow, ...]:
    alone = None
    if not term.is_interaction and len(model.terms) > 1:
        alone = model.alone(at)
    people = _people(model, term.parts[0])
    found = []
    for given, level, label, contrast in contrasts_of(model.terms, term):
        n, shares = (None, None) if given is not None else people.get(level or "", (None, None))
        plain = (
            [alone.estimate(contrast[[0, *at]], e) for e in range(len(words))] if alone else None
        )
        ratios_ = ratios_of(model, contrast, words, once)
        if plain is not None:
            ratios_ = [
                each.model_copy(
                    update={
                        "unadjusted": exp(other.log_odds),
                        "unadjusted_ci": ratios(other.limits),
                    }
                )
                for each, other in zip(ratios_, plain, strict=True)
            ]
        elif not term.is_interaction:
            ratios_ = [
                each.model_copy(update={"unadjusted": each.odds_ratio, "unadjusted_ci": each.ci})
                for each in ratios_
            ]
        found.append(
            r.AnswersRow(
                level=level, label=label, given=given, n=n, shares=shares, ratios=tuple(ratios_)
            )
        )
    return tuple(found)


def ratios_of(
    model: AnswersFitted,
    contrast: FloatArray,
    words: Sequence[str | None],
    once: AnswersFitted | None = None,
) -> list[r.AnswerRatio]:
    """One contrast of the columns in every equation."""
    found = []
    for equation, answer in enumerate(words):
        here = model.estimate(contrast, equation)
        other = None if once is None else once.estimate(contrast, equation)
        found.append(
            r.AnswerRatio(
                answer=answer,
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                p=here.p,
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
                unadjusted=None,
                unadjusted_ci=None,
                unweighted=other
                and r.AnswerOnce(odds_ratio=exp(other.log_odds), ci=ratios(other.limits)),
            )
        )
    return found


def _at_reference(model: AnswersFitted, term: ModelTerm) -> dict[str, Any]:
    lead = term.parts[0]
    n, shares = _people(model, lead).get(lead.reference or "", (None, None))
    return {"reference_n": n, "reference_shares": shares}


def _people(
    model: AnswersFitted, part: Part
) -> dict[str, tuple[float | None, tuple[float, ...] | None]]:
    """Cases by category of a categorical variable, and the shares of the answers among them."""
    if part.is_numeric:
        return {}
    codes = model.prepared.values[part.name].astype(int)
    found: dict[str, tuple[float | None, tuple[float, ...] | None]] = {}
    for code in sorted({int(part.base), *part.codes}):
        inside = codes == code
        weighted = model.people[inside].sum(axis=0)
        n = float(model.data.counts[inside].sum())
        shares = tuple(float(x) for x in weighted / weighted.sum())
        found[part.variable.categories[code].value] = (n, shares)
    return found


def _tests(model: AnswersFitted, at: list[int]) -> dict[str, Any]:
    """Of a whole term over all answers."""
    if model.weighted is not None:
        found = model.wald_f(at)
        test = found and NamedTest.wald("adjusted Wald test", found)
        return {"test": test, "wald": None, "likelihood_ratio": None, "adjusted_wald": found}
    wald = model.wald(at)
    kept = {"wald": wald, "adjusted_wald": None}
    if len(model.data.design) > MANY_PATTERNS:
        return {"test": NamedTest.chi_square("Wald test", wald), "likelihood_ratio": None, **kept}
    ratio = model.likelihood_ratio(at)
    test = None if ratio is None else NamedTest.chi_square("likelihood-ratio test", ratio)
    return {"test": test, "likelihood_ratio": ratio, **kept}


def _picked(
    model: AnswersFitted, term: ModelTerm, rows: Sequence[r.AnswersRow]
) -> r.PickedAnswer | None:
    """Of what varies, not of what is allowed for."""
    many = sum(len(row.ratios) for row in rows)
    if term.role != "vary_with" or term.is_interaction or many < 2:
        return None
    sizes = np.array([[round(abs(each.z), 9) for each in row.ratios] for row in rows])
    row, ratio = (int(i) for i in np.unravel_index(int(sizes.argmax()), sizes.shape))
    level = 1 - (1 - model.asked.confidence) / many
    wider = replace(model, asked=replace(model.asked, confidence=level))
    estimate = wider.estimate(contrasts_of(model.terms, term)[row][3], ratio)
    return r.PickedAnswer(row=row, ratio=ratio, ci=ratios(estimate.limits))
