"""The odds ratios of every term that can be read by themselves, with tests and differences."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import cache
from typing import Any

import numpy as np
from scipy import special

from hobrix.core.logistic import effects, inference
from hobrix.core.logistic.collinearity import inflation_of_estimates
from hobrix.core.logistic.patterns import FloatArray, blocks
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.contrasts import contrasts_of, described
from hobrix.core.questions.modelling.estimation import MANY_PATTERNS
from hobrix.core.questions.modelling.fitted import Fitted, exp, ratios
from hobrix.core.questions.modelling.terms import ModelTerm, Part, design_of, slopes_of
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.work import OddsWork


def terms_of(work: OddsWork, effects_of: Sequence[r.AverageDifference]) -> tuple[r.OddsTerm, ...]:
    """Every term with its tests, odds ratios and average differences."""
    model = work.model
    once = model.counted_once if model.weighted is not None else None
    inflation = inflation_of_estimates(model.plain or model.found, model.places)
    found = []
    for term, at, gvif in zip(model.terms, model.places, inflation, strict=True):
        rows = rows_of(model, term, at, once, has_differences=bool(effects_of))
        found.append(
            r.OddsTerm(
                **described(model.terms, term),
                **_at_reference(model, term),
                **_tests(model, at),
                gvif=gvif,
                gvif_adjusted=gvif ** (1 / (2 * len(at))),
                rows=with_differences(term, rows, effects_of),
                picked=_picked(model, term, rows),
            )
        )
    return tuple(found)


def _picked(model: Fitted, term: ModelTerm, rows: Sequence[r.OddsRow]) -> r.PickedRatio | None:
    """Of what varies, not of what is allowed for."""
    if term.role != "vary_with" or term.is_interaction or len(rows) < 2:
        return None
    at = max(range(len(rows)), key=lambda i: abs(rows[i].z))
    level = 1 - (1 - model.asked.confidence) / len(rows)
    wider = replace(model, asked=replace(model.asked, confidence=level))
    estimate = wider.estimate(contrasts_of(model.terms, term)[at][3])
    return r.PickedRatio(at=at, ci=ratios(estimate.limits))


def _tests(model: Fitted, at: list[int]) -> dict[str, Any]:
    """Of a whole term. With very many patterns the likelihood ratio would take minutes for all
    terms; Wald's test, which is the same then, is reported by its name."""
    if model.weighted is not None:
        found = model.wald_f(at)
        test = found and NamedTest.wald("adjusted Wald test", found)
        return {"test": test, "wald": None, "likelihood_ratio": None, "adjusted_wald": found}
    wald = inference.wald_test(model.found, at)
    kept = {"wald": wald, "adjusted_wald": None}
    if len(model.data.trials) > MANY_PATTERNS and not model.is_firth:
        return {"test": NamedTest.chi_square("Wald test", wald), "likelihood_ratio": None, **kept}
    ratio = model.likelihood_ratio(at)
    return {"test": model.named(ratio), "likelihood_ratio": ratio, **kept}


def _at_reference(model: Fitted, term: ModelTerm) -> dict[str, float | None]:
    lead = term.parts[0]
    n, events = _tally(model, lead).get(lead.reference or "", (None, None))
    return {"reference_n": n, "reference_events": events}


def rows_of(
    model: Fitted,
    term: ModelTerm,
    at: list[int],
    once: Fitted | None,
    *,
    has_differences: bool,
) -> tuple[r.OddsRow, ...]:
    """The odds ratios of a term: of an interaction, within each level of its other variable.
    ``once`` is the same model with each row counted once, under a design."""
    lead = term.parts[0]
    tally = _tally(model, lead)
    alone, gaps = None, None
    if not term.is_interaction and len(model.terms) > 1:
        alone = model.alone(at)
        if has_differences and term.role == "vary_with":
            gaps = _differences_alone(model, alone, at, lead)
    rows = []
    for place, (given, level, label, contrast) in enumerate(contrasts_of(model.terms, term)):
        here = model.estimate(contrast)
        plain = None if alone is None else alone.estimate(contrast[[0, *at]])
        if not term.is_interaction and len(model.terms) == 1:
            plain = here
        people = tally.get(level or "") if given is None else None
        other = None if once is None else once.estimate(contrast)
        rows.append(
            r.OddsRow(
                term=term.name,
                level=level,
                label=label,
                given=given,
                n=people and people[0],
                events=people and people[1],
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                p=here.p,
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
                unadjusted=plain and exp(plain.log_odds),
                unadjusted_ci=plain and ratios(plain.limits),
                difference=None,
                unadjusted_difference=None if gaps is None else gaps[place],
                unweighted=other
                and r.OnceEach(odds_ratio=exp(other.log_odds), ci=ratios(other.limits)),
            )
        )
    return tuple(rows)


def _differences_alone(
    model: Fitted, alone: Fitted, at: list[int], part: Part
) -> list[float] | None:
    """The average differences in probability of a model with one term; None along a bend."""
    b = alone.found.coefficients
    if not part.is_numeric:
        share = special.expit(b[0])
        return [float(special.expit(b[0] + each) - share) for each in b[1:]]
    if part.bend is not None:
        return None
    p = special.expit(model.data.design[:, [0, *at]] @ b)
    return [float(b[1] * np.average(p * (1 - p), weights=model.people.trials))]


def _tally(model: Fitted, part: Part) -> dict[str, tuple[float, float]]:
    """People and events by category of a categorical variable."""
    if part.is_numeric:
        return {}
    codes = model.prepared.values[part.name].astype(int)
    names = [category.value for category in part.variable.categories]
    n, x = (
        np.bincount(codes, weights=side, minlength=len(names))
        for side in (model.data.trials, model.data.events)
    )
    return {name: (float(n[i]), float(x[i])) for i, name in enumerate(names)}


def average_differences(model: Fitted) -> tuple[r.AverageDifference, ...]:
    """Average differences in probability, of each variable: per unit, or against the reference, over
    the people the patterns stand for."""
    model = model.of_population
    steepness = cache(lambda: effects.mean_steepness(model.data, model.found))
    found = []
    for part in model.parts.values():
        levels: tuple[str | None, ...] = (None,) if part.is_numeric else part.levels
        for level, effect in zip(levels, _effects_of(model, part, steepness), strict=True):
            value, se = effect.estimate, effect.se
            z = value / se if se else 0.0
            found.append(
                r.AverageDifference(
                    variable=part.name,
                    level=level,
                    estimate=value,
                    se=se,
                    z=z,
                    p=model.p_of(z),
                    ci=model.limits_of(value, se),
                )
            )
    return tuple(found)


def _effects_of(
    model: Fitted, part: Part, steepness: Callable[[], effects.MeanProbability]
) -> list[effects.AverageEffect]:
    holding = [
        (term, at)
        for term, at in zip(model.terms, model.places, strict=True)
        if part.name in [each.name for each in term.parts]
    ]
    if part.is_numeric:
        if len(holding) == 1 and part.bend is None:
            column = holding[0][1][0]
            return [effects.average_slope_of_column(steepness(), model.found, column)]
        return [effects.average_slope(_slopes(model, part), model.found)]
    means = means_of(model, part)
    return [effects.average_difference(mean, means[0], model.found) for mean in means[1:]]


def means_of(model: Fitted, part: Part) -> list[effects.MeanProbability]:
    """The mean probability with everybody set to the reference of a categorical variable, then to each of its other
    categories, all else as it is."""
    holding = [
        at
        for term, at in zip(model.terms, model.places, strict=True)
        if part.name in [each.name for each in term.parts]
    ]
    if len(holding) == 1:
        return effects.mean_probabilities_of_categories(model.data, model.found, holding[0])
    return [
        effects.mean_probability(_set_to(model, part, code), model.found)
        for code in (part.base, *part.codes)
    ]


def _stretches(model: Fitted) -> Iterator[tuple[dict[str, FloatArray], FloatArray, slice]]:
    for at in blocks(slice(0, len(model.data.trials))):
        yield {k: v[at] for k, v in model.prepared.values.items()}, model.data.trials[at], at


def _set_to(model: Fitted, part: Part, code: float) -> Iterator[tuple[FloatArray, FloatArray]]:
    for values, trials, _ in _stretches(model):
        moved = {**values, part.name: np.full(len(trials), code)}
        yield design_of(model.terms, moved), trials


def _slopes(model: Fitted, part: Part) -> Iterator[tuple[FloatArray, FloatArray, FloatArray]]:
    for values, trials, at in _stretches(model):
        yield model.data.design[at], slopes_of(model.terms, values, part.name), trials


def with_differences(
    term: ModelTerm, rows: tuple[r.OddsRow, ...], found: Sequence[r.AverageDifference]
) -> tuple[r.OddsRow, ...]:
    """Rows of a term by itself with the average difference in probability beside the odds ratio."""
    if term.is_interaction or (term.parts[0].is_numeric and len(rows) > 1):
        return rows
    by_level = {effect.level: effect for effect in found if effect.variable == term.parts[0].name}

    def filled(row: r.OddsRow) -> r.OddsRow:
        effect = by_level.get(row.level)
        return row if effect is None else row.model_copy(update={"difference": effect})

    return tuple(filled(row) for row in rows)
