"""Shares with their intervals: a dot and a line per group, with the overall share across."""

from hobrix.core.questions.crosstab.results import Group
from hobrix.core.questions.proportions.results import Proportions
from hobrix.figures.theme import SCHEMA, Spec

MOST_GROUPS = 40
_ROW = 24
_LABELS = 130


def dots(whole: Proportions) -> Spec:
    """Groups from the first downwards in codebook order; the reference is hollow."""
    shown = whole.groups[:MOST_GROUPS]
    values = [_dot(group, i, whole.reference) for i, group in enumerate(shown)]
    y = {"field": "at", "type": "ordinal", "axis": None}
    x = {
        "type": "quantitative",
        "scale": {"domainMin": 0},
        "axis": {"title": f"% {whole.event_label} (line: everyone)", "tickCount": 6},
    }
    return {
        "$schema": SCHEMA,
        "width": 250,
        "height": _ROW * len(values),
        "padding": 4,
        "data": {"values": values},
        "layer": [
            {
                "data": {"values": [{}]},
                "mark": {"type": "rule", "aria": False, "strokeDash": [3, 4], "opacity": 0.5},
                "encoding": {"x": {"datum": 100 * whole.overall.share, **x}},
            },
            {
                "name": "intervals",
                "mark": {"type": "rule", "aria": False, "strokeWidth": 1.6},
                "encoding": {"x": {**x, "field": "low"}, "x2": {"field": "high"}, "y": y},
            },
            {
                "name": "shares",
                "mark": {"type": "point", "size": 74, "opacity": 1, "filled": True},
                "encoding": {
                    "x": {**x, "field": "share"},
                    "y": y,
                    "shape": {
                        "condition": {"test": "datum.reference", "value": "diamond"},
                        "value": "circle",
                    },
                    "description": {"field": "text", "type": "nominal"},
                },
            },
            {
                "mark": {
                    "type": "text",
                    "aria": False,
                    "align": "right",
                    "baseline": "middle",
                    "limit": _LABELS - 8,
                },
                "encoding": {
                    "x": {"value": -8},
                    "y": y,
                    "text": {"field": "label", "type": "nominal"},
                },
            },
        ],
    }


def _dot(group: Group, at: int, reference: str) -> Spec:
    low, high = group.share_ci
    return {
        "at": at,
        "label": group.label,
        "share": 100 * group.share,
        "low": 100 * low,
        "high": 100 * high,
        "reference": group.value == reference,
        "text": f"{group.label}: {100 * group.share:.1f}% ({100 * low:.1f} to {100 * high:.1f})",
    }
