"""The odds ratios of every term within sets, with tests."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.modelling.contrasts import contrasts_of, described
from hobrix.core.questions.modelling.fitted import exp, ratios
from hobrix.core.questions.modelling.terms import ModelTerm, Part
from hobrix.core.questions.within_sets import results as r
from hobrix.core.questions.within_sets.work import MatchedFitted, MatchedWork


def terms_of(work: MatchedWork) -> tuple[r.MatchedTerm, ...]:
    """Every term; those that do not vary within sets have neither tests nor rows."""
    model, found = work.model, []
    for term, at in zip(model.laid.terms, model.places, strict=True):
        ratio, score = model.tests(at)
        rows = _rows(work, term, at)
        found.append(
            r.MatchedTerm(
                **described(model.laid.terms, term),
                **_at_reference(work, term),
                test=None
                if ratio is None
                else NamedTest.chi_square("likelihood-ratio test", ratio),
                wald=model.wald(at),
                likelihood_ratio=ratio,
                score=score,
                rows=rows,
                picked=_picked(model, term, rows),
            )
        )
    return tuple(found)


def is_estimated(model: MatchedFitted, contrast: np.ndarray) -> bool:
    """Whether c has nothing but columns that vary within sets."""
    return {int(i) for i in np.flatnonzero(contrast)} <= set(model.kept)


def _rows(work: MatchedWork, term: ModelTerm, at: list[int]) -> tuple[r.MatchedRow, ...]:
    model, found = work.model, []
    people = _people(work, term.parts[0])
    alone = None
    if not term.is_interaction and len(model.laid.terms) > 1 and model.at(at):
        alone = model.alone(at)
    for given, level, label, contrast in contrasts_of(model.laid.terms, term):
        if not is_estimated(model, contrast):
            continue
        here = model.estimate(contrast)
        plain = None if alone is None else alone.estimate(contrast)
        if not term.is_interaction and len(model.laid.terms) == 1:
            plain = here
        n, events = (None, None) if given is not None else people.get(level or "", (None, None))
        found.append(
            r.MatchedRow(
                level=level,
                label=label,
                given=given,
                n=n,
                events=events,
                log_odds=here.log_odds,
                se=here.se,
                z=here.z,
                p=here.p or 0.0,
                odds_ratio=exp(here.log_odds),
                ci=ratios(here.limits),
                unadjusted=plain and exp(plain.log_odds),
                unadjusted_ci=plain and ratios(plain.limits),
            )
        )
    return tuple(found)


def _at_reference(work: MatchedWork, term: ModelTerm) -> dict[str, float | None]:
    lead = term.parts[0]
    n, events = _people(work, lead).get(lead.reference or "", (None, None))
    return {"reference_n": n, "reference_events": events}


def _people(work: MatchedWork, part: Part) -> dict[str, tuple[float | None, float | None]]:
    """People and events in sets that tell something, by category of a categorical variable."""
    if part.is_numeric:
        return {}
    model = work.model
    inside = model.sets.tells[model.sets.set]
    codes = model.laid.values[part.name].astype(int)[model.laid.pattern]
    names = [category.value for category in part.variable.categories]
    n = np.bincount(codes[inside], minlength=len(names))
    events = np.bincount(codes[inside], weights=model.sets.event[inside], minlength=len(names))
    return {name: (float(n[i]), float(events[i])) for i, name in enumerate(names)}


def _picked(
    model: MatchedFitted, term: ModelTerm, rows: Sequence[r.MatchedRow]
) -> r.PickedRow | None:
    """Of what varies, not of what is allowed for."""
    if term.role != "vary_with" or term.is_interaction or len(rows) < 2:
        return None
    at = max(range(len(rows)), key=lambda i: round(abs(rows[i].z), 9))
    wider = replace(model, confidence=1 - (1 - model.confidence) / len(rows))
    contrasts = [
        contrast
        for *_, contrast in contrasts_of(model.laid.terms, term)
        if is_estimated(model, contrast)
    ]
    return r.PickedRow(at=at, ci=ratios(wider.estimate(contrasts[at]).limits))
