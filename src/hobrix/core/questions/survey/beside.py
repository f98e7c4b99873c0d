"""The same answer three ways: each row once, with the weights only, and with the design."""

import math

import numpy as np
from scipy import special

from hobrix.core.questions.answer import Answer
from hobrix.core.questions.crosstab.results import CrosstabResults
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.survey import results as r
from hobrix.core.tables.one_proportion import wilson
from hobrix.core.tables.two_by_two import odds_ratio


def beside(
    given: Answer, weights_only: r.SurveyResults, design: r.SurveyResults, confidence: float
) -> r.SurveyBeside:
    """Quantities of both in the same order, and those of the answer that counts each row once."""
    rows = [
        *_shares(weights_only, design, confidence),
        *_comparisons(weights_only, design, confidence),
        *_numbers(given, weights_only, design),
        *_ratios(weights_only, design),
        *_tests(given, weights_only, design),
    ]
    return r.SurveyBeside(rows=tuple(rows), moved=_moved(rows))


def _shares(
    weights_only: r.SurveyResults, design: r.SurveyResults, confidence: float
) -> list[r.SurveyBesideRow]:
    rows = []
    for alone, full in zip(weights_only.shares, design.shares, strict=True):
        plain = wilson(full.unweighted_count_of_events, full.n, confidence)
        rows.append(
            r.SurveyBesideRow(
                label=full.label,
                unit="share",
                unweighted=r.SurveyWay(estimate=full.unweighted, ci=(plain.low, plain.high)),
                weights_only=r.SurveyWay(estimate=alone.estimate, ci=alone.ci),
                design=r.SurveyWay(estimate=full.estimate, ci=full.ci),
            )
        )
    return rows


def _comparisons(
    weights_only: r.SurveyResults, design: r.SurveyResults, confidence: float
) -> list[r.SurveyBesideRow]:
    shares = {share.value: share for share in design.shares}
    compared = {each.value for each in design.comparisons}
    against = [share for share in design.shares if share.value not in compared]
    rows = []
    for alone, full in zip(weights_only.comparisons, design.comparisons, strict=True):
        if alone.odds_ratio is None or full.odds_ratio is None:
            continue
        two = np.array(
            [
                [s.unweighted_count_of_events, s.n - s.unweighted_count_of_events]
                for s in (shares[full.value], against[0])
            ]
        )
        unweighted = None
        plain = odds_ratio(two, confidence)
        if plain.estimate is not None and plain.interval is not None:
            ci = (plain.interval.low, plain.interval.high)
            unweighted = r.SurveyWay(estimate=plain.estimate, ci=ci)
        rows.append(
            r.SurveyBesideRow(
                label=f"Odds ratio, {full.label} against {against[0].label}",
                unit="ratio",
                unweighted=unweighted,
                weights_only=_way(alone.odds_ratio),
                design=_way(full.odds_ratio),
            )
        )
    return rows


def _way(found: r.SurveyRatio) -> r.SurveyWay:
    return r.SurveyWay(estimate=found.estimate, ci=found.ci)


def _numbers(
    given: Answer, weights_only: r.SurveyResults, design: r.SurveyResults
) -> list[r.SurveyBesideRow]:
    alone, full = weights_only.mean, design.mean
    if alone is None or full is None:
        return []
    return [
        r.SurveyBesideRow(
            label="Mean",
            unit="number",
            unweighted=r.SurveyWay(estimate=full.unweighted, ci=_of_mean(given, full)),
            weights_only=r.SurveyWay(estimate=alone.estimate, ci=alone.ci),
            design=r.SurveyWay(estimate=full.estimate, ci=full.ci),
        )
    ]


def _of_mean(given: Answer, full: r.SurveyMean) -> tuple[float, float] | None:
    """mean ± t sd / sqrt n."""
    if full.unweighted_sd is None or full.n < 2:
        return None
    t = float(special.stdtrit(full.n - 1, 0.5 + given.question.confidence / 2))
    reach = t * full.unweighted_sd / math.sqrt(full.n)
    return full.unweighted - reach, full.unweighted + reach


def _ratios(weights_only: r.SurveyResults, design: r.SurveyResults) -> list[r.SurveyBesideRow]:
    if weights_only.model is None or design.model is None:
        return []
    return [
        r.SurveyBesideRow(
            label=f"{term.title}: {full.label}" + (f" ({full.given})" if full.given else ""),
            unit="ratio",
            unweighted=r.SurveyWay(estimate=full.unweighted, ci=full.unweighted_ci),
            weights_only=r.SurveyWay(estimate=alone.odds_ratio, ci=alone.ci),
            design=r.SurveyWay(estimate=full.odds_ratio, ci=full.ci),
        )
        for other, term in sorted(
            zip(weights_only.model.terms, design.model.terms, strict=True),
            key=lambda pair: pair[1].role != "vary_with",
        )
        for alone, full in zip(other.rows, term.rows, strict=True)
    ]


def _tests(
    given: Answer, weights_only: r.SurveyResults, design: r.SurveyResults
) -> list[r.SurveyBesideRow]:
    if weights_only.table is None or design.table is None:
        return []
    rows = []
    plain = v = None
    match given.results:
        case CrosstabResults(whole=whole):
            plain = whole.chi_square.pearson.p
            found = whole.association
            v = r.SurveyWay(estimate=found.cramers_v, ci=found.cramers_v_ci)
        case ProportionsResults(whole=whole):
            plain = whole.chi_square_homogeneity.p
    tables = weights_only.table, design.table
    alone, full = (r.SurveyWay(estimate=each.cramers_v, ci=each.cramers_v_ci) for each in tables)
    rows.append(
        r.SurveyBesideRow(
            label="Cramér’s V", unit="number", unweighted=v, weights_only=alone, design=full
        )
    )
    tests = [each.leading for each in tables]
    if tests[0] is not None and tests[1] is not None:
        rows.append(
            r.SurveyBesideRow(
                label="Test of no association, p",
                unit="p",
                unweighted=None if plain is None else r.SurveyWay(estimate=plain, ci=None),
                weights_only=r.SurveyWay(estimate=tests[0].p, ci=None),
                design=r.SurveyWay(estimate=tests[1].p, ci=None),
            )
        )
    return rows


def _moved(rows: list[r.SurveyBesideRow]) -> str:
    """How much wider strata and clusters make the intervals."""
    wider = {}
    for row in rows:
        one, other = row.weights_only.ci, row.design.ci
        if one is not None and other is not None and _width(one, row.unit) > 0:
            wider[row.label] = _width(other, row.unit) / _width(one, row.unit)
    if not wider:
        return "Strata and clusters move no estimate: only its error."
    most = max(wider, key=lambda label: abs(math.log(max(wider[label], 1e-9))))
    low, high = min(wider.values()), max(wider.values())
    opening = "Strata and clusters move no estimate; they make intervals "
    if f"{low:.2f}" == f"{high:.2f}":
        return f"{opening}{high:.2f} times as wide as the weights alone do."
    return f"{opening}{low:.2f} to {high:.2f} times as wide as the weights alone do (most: {most})."


def _width(ci: tuple[float, float], unit: str) -> float:
    if unit == "ratio":
        return math.log(max(ci[1], 1e-300) / max(ci[0], 1e-300))
    return ci[1] - ci[0]
