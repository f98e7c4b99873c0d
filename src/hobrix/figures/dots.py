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
    # Two answers are called "Title: Yes" and "Title: No"; what they share says nothing here.
    starts = {group.label.partition(": ")[0] for group in shown}
    is_shared = len(starts) == 1 and all(": " in group.label for group in shown)
    names = [g.label.partition(": ")[2] if is_shared else g.label for g in shown]
    values = [
        {**_dot(group, i, whole.reference), "label": name}
        for i, (group, name) in enumerate(zip(shown, names, strict=True))
    ]
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
        "value": group.value,
        "label": group.label,
        "share": 100 * group.share,
        "low": 100 * low,
        "high": 100 * high,
        "reference": group.value == reference,
        "text": f"{group.label}: {100 * group.share:.1f}% ({100 * low:.1f} to {100 * high:.1f})",
    }
