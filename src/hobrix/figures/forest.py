"""Odds ratios on one log scale: adjusted with their intervals, the unadjusted pale beside them."""

from collections.abc import Sequence
from dataclasses import dataclass

from hobrix.core.questions.estimates import SomeLimits
from hobrix.core.questions.odds.results import OddsRow, OddsTerm
from hobrix.figures.rows import AT, estimates
from hobrix.figures.theme import Spec

# What is further off than these no picture can show.
_LOW, _HIGH = 1e-6, 1e6


@dataclass(frozen=True)
class Line:
    label: str
    odds_ratio: float
    ci: SomeLimits
    unadjusted: float | None = None

    @classmethod
    def of(cls, label: str, row: OddsRow) -> "Line":
        return cls(label, row.odds_ratio, row.ci, row.unadjusted)


def forest(terms: Sequence[OddsTerm]) -> Spec:
    """A line per odds ratio, the variables of interest first. What holds only at one level
    of another variable is shown within its levels instead."""
    lines = [
        Line.of(f"{row.given or term.title}: {row.label}", row)
        for term in sorted(terms, key=lambda term: term.role != "vary_with")
        if not term.part_of_interaction
        for row in term.rows
    ]
    return ratios(lines, "odds ratio (pale: unadjusted)")


def ratios(lines: Sequence[Line], title: str) -> Spec:
    """Odds ratios with their intervals under their labels, on a log scale."""
    values: list[Spec] = []
    for line in lines:
        if not _LOW < line.odds_ratio < _HIGH:
            continue
        low, high = (min(_HIGH, max(_LOW, limit)) for limit in line.ci)
        pale = line.unadjusted if line.unadjusted and _LOW < line.unadjusted < _HIGH else None
        values.append(
            {
                "at": len(values),
                "label": line.label,
                "estimate": line.odds_ratio,
                "unadjusted": pale,
                "low": low,
                "high": high,
                "text": f"{line.label}: {line.odds_ratio:.2f} ({low:.2f} to {high:.2f})",
            }
        )
    ends = [v["low"] for v in values] + [v["high"] for v in values] + [1.0]
    x = {
        "type": "quantitative",
        "scale": {
            "type": "log",
            "domain": [max(1e-4, min(ends) / 1.15), min(1e4, max(ends) * 1.15)],
            "nice": False,
            "clamp": True,
        },
        "axis": {"title": title, "tickCount": 6, "format": "~g"},
    }
    unadjusted = {
        "mark": {"type": "point", "aria": False, "filled": True, "size": 60, "opacity": 0.35},
        "encoding": {"x": {**x, "field": "unadjusted"}, "y": AT},
    }
    drawn = estimates(values, x, 1, width=300, row=24, labels=182, behind=[unadjusted])
    drawn["usermeta"]["reads"] = (
        "Odds ratios with their intervals on a log scale; at the dashed line there is no difference."
        if not any(value["unadjusted"] for value in values)
        else "Odds ratios with their intervals on a log scale, unadjusted ones pale; at the dashed line "
        "there is no difference."
    )
    return drawn
