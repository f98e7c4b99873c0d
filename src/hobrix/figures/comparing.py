"""Groups side by side: stacked shares, and an association in every stratum with its interval."""

import math

from hobrix.core.questions.crosstab.results import CrosstabResults, CrosstabTable, Stratum
from hobrix.figures.mosaic import Strips
from hobrix.figures.rows import AT, TEXT, estimates, labels_of
from hobrix.figures.theme import SCHEMA, Spec

_ROW = 26
_LABELS = 112


def stacked(of: Strips) -> Spec:
    """One bar per group, each as long as the other, split by the answers; the event first."""
    values = [
        {
            "at": i,
            "group": row,
            "answer": of.columns[j],
            "order": place,
            "share": 100 * of.shares[i][j],
            "text": f"{row}: {100 * of.shares[i][j]:.1f}% {of.columns[j]}",
        }
        for i, row in enumerate(of.rows)
        for place, j in enumerate(of.order)
    ]
    return {
        "$schema": SCHEMA,
        "width": 420,
        "height": _ROW * len(of.rows),
        "padding": 4,
        "layer": [
            {
                "name": "shares",
                "data": {"values": values},
                "mark": {"type": "bar", "height": {"band": 0.74}},
                "encoding": {
                    "x": {
                        "field": "share",
                        "type": "quantitative",
                        "stack": "zero",
                        "scale": {"domain": [0, 100]},
                        "axis": {"title": "% within each group", "tickCount": 5},
                    },
                    "y": AT,
                    "order": {"field": "order", "type": "ordinal"},
                    "color": {
                        "field": "answer",
                        "type": "nominal",
                        "scale": {
                            "domain": [of.columns[j] for j in of.order],
                            "range": "ramp",
                        },
                        "legend": {"title": None, "orient": "bottom", "columns": 4},
                    },
                    "description": TEXT,
                },
            },
            labels_of(_LABELS, [{"at": i, "label": row} for i, row in enumerate(of.rows)]),
        ],
    }


def strata(results: CrosstabResults, compared: str) -> Spec | None:
    """The odds ratio of ``compared`` against the reference in every stratum and pooled, on a log
    scale; without an event Cramér's V."""
    by_group = results.whole.event_by_group
    shown = [stratum for stratum in results.strata if stratum.table is not None]
    if not shown:
        return None
    if by_group is None:
        values = [_strength(stratum.label, stratum) for stratum in shown]
        values.append(_line("all together", *_v(results.whole)))
        return _intervals(values, "Cramér’s V", log=False, null=0.0)
    values = [found for stratum in shown if (found := _odds(stratum, compared))]
    crude = next(c for c in by_group.comparisons if c.value == compared).odds_ratio
    if crude.ci is not None and crude.estimate is not None:
        values.append(_line("not stratified", crude.estimate, *crude.ci))
    pair = (
        next((p for p in results.pooled.pairs if p.value == compared), None)
        if results.pooled
        else None
    )
    if pair is not None and pair.mantel_haenszel_odds_ratio is not None:
        odds = pair.mantel_haenszel_odds_ratio
        values.append({**_line("pooled", odds.estimate, *odds.ci), "kind": "pooled"})
    if not values:
        return None
    label = next(c for c in by_group.comparisons if c.value == compared).label
    title = f"odds ratio, {label} against {by_group.reference_label}"
    return _intervals(values, title, log=True, null=1.0)


def _line(label: str, estimate: float, low: float, high: float) -> Spec:
    text = f"{label}: {estimate:.2f} ({low:.2f} to {high:.2f})"
    return {
        "label": label,
        "estimate": estimate,
        "low": low,
        "high": high,
        "text": text,
        "kind": "",
    }


def _v(table: CrosstabTable) -> tuple[float, float, float]:
    return (table.association.cramers_v, *table.association.cramers_v_ci)


def _strength(label: str, stratum: Stratum) -> Spec:
    assert stratum.table is not None
    return _line(label, *_v(stratum.table))


def _odds(stratum: Stratum, compared: str) -> Spec | None:
    by_group = stratum.table.event_by_group if stratum.table else None
    found = (
        next((c for c in by_group.comparisons if c.value == compared), None) if by_group else None
    )
    if found is None or found.odds_ratio.ci is None or found.odds_ratio.estimate is None:
        return None
    if not math.isfinite(found.odds_ratio.estimate):
        return None
    return _line(stratum.label, found.odds_ratio.estimate, *found.odds_ratio.ci)


def _intervals(values: list[Spec], title: str, *, log: bool, null: float) -> Spec:
    for i, value in enumerate(values):
        value["at"] = i
    ends = [min(v["low"] for v in values), max(v["high"] for v in values), null]
    room = 1.15 if log else 0.02
    low, high = (min(ends) / room, max(ends) * room) if log else (0.0, max(ends) + room)
    scale = {"type": "log" if log else "linear", "domain": [low, high], "nice": False}
    x = {
        "type": "quantitative",
        "scale": scale,
        "axis": {"title": title, "tickCount": 6, "format": "~g"},
    }
    return estimates(
        values, x, null, width=300, row=_ROW, labels=_LABELS, diamonds="datum.kind === 'pooled'"
    )


def small_multiples(results: CrosstabResults, most: int = 12) -> list[tuple[str, CrosstabTable]]:
    """The strata that have a table, the first ``most`` of them, with their labels."""
    shown = [(s.label, s.table) for s in results.strata if s.table is not None]
    return shown[:most]
