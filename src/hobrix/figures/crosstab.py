"""Pictures of a table: where its cells depart, and the association in every stratum."""

import math

from hobrix.core.questions.answer import Reading
from hobrix.core.questions.crosstab.results import CrosstabPanels, CrosstabResults, CrosstabTable
from hobrix.core.questions.estimates import Limits
from hobrix.figures.maps import correspondence_map
from hobrix.figures.mosaic import in_words, mosaic, stacked, strips
from hobrix.figures.rows import estimates
from hobrix.figures.theme import Spec

MOST_STRATA = 12


def sheet(results: CrosstabResults, reading: Reading) -> dict[str, Spec]:
    of = strips(results.whole, reading.cells)
    found = {"mosaic": mosaic(of), "stacked": stacked(of)}
    if (drawn := strata(results)) is not None:
        found["strata"] = drawn
    shown = [(s.label, s.table) for s in results.strata if s.table is not None]
    for i, (label, table) in enumerate(shown[:MOST_STRATA]):
        found[f"mosaic:{i}"] = {**mosaic(strips(table, in_words(table))), "title": label}
    return found


def opened(panels: CrosstabPanels) -> dict[str, Spec]:
    return {} if panels.map is None else {"map": correspondence_map(panels.map)}


def strata(results: CrosstabResults) -> Spec | None:
    """The odds ratio of the group that differs most clearly from the reference in every stratum and pooled,
    on a log scale; without an event Cramér's V."""
    groups = results.whole.groups
    shown = [(s.label, s.table) for s in results.strata if s.table is not None]
    if not shown:
        return None
    if groups is None:
        values = [_strength(label, table) for label, table in shown]
        values.append(_strength("all together", results.whole))
        return _intervals(values, "Cramér’s V", log=False, null=0.0)
    compared = groups.clearest
    lines = [_odds(label, table, compared.value) for label, table in shown]
    lines.append(_odds("not stratified", results.whole, compared.value))
    pair = results.pooled.pair(compared.value) if results.pooled else None
    if pair is not None and pair.mantel_haenszel_odds_ratio is not None:
        odds = pair.mantel_haenszel_odds_ratio
        lines.append({**_line("pooled", odds.estimate, odds.ci), "kind": "pooled"})
    values = [line for line in lines if line is not None]
    if not values:
        return None
    title = f"odds ratio, {compared.label} against {groups.reference_label}"
    return _intervals(values, title, log=True, null=1.0)


def _line(label: str, estimate: float, ci: Limits) -> Spec:
    low, high = ci
    return {
        "label": label,
        "estimate": estimate,
        "low": low,
        "high": high,
        "text": f"{label}: {estimate:.2f} ({low:.2f} to {high:.2f})",
        "kind": "",
    }


def _strength(label: str, table: CrosstabTable) -> Spec:
    return _line(label, table.cramers_v, table.cramers_v_ci or (table.cramers_v, table.cramers_v))


def _odds(label: str, table: CrosstabTable, compared: str) -> Spec | None:
    every = table.groups.comparisons if table.groups else ()
    odds = next((each.odds_ratio for each in every if each.value == compared), None)
    if odds is None or odds.ci is None or odds.estimate is None or not math.isfinite(odds.estimate):
        return None
    return _line(label, odds.estimate, odds.ci)


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
        values, x, null, width=300, row=26, labels=112, diamonds="datum.kind === 'pooled'"
    )
