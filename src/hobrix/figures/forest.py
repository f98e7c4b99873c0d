"""Odds ratios on one log scale: adjusted with their intervals, the unadjusted pale beside them."""

from hobrix.core.questions.odds.results import OddsModel
from hobrix.figures.theme import SCHEMA, Spec

_ROW = 24
_LABELS = 190


def forest(model: OddsModel) -> Spec:
    """A line per coefficient; terms stand in the order of the table."""
    values: list[Spec] = []
    for term in model.terms:
        for row in term.rows:
            label = f"{term.title}: {row.label}"
            low, high = (min(1e6, max(1e-6, limit)) for limit in row.ci)
            if not 1e-6 < row.odds_ratio < 1e6:
                continue  # too far off for any picture
            values.append(
                {
                    "at": len(values),
                    "label": label,
                    "estimate": row.odds_ratio,
                    "unadjusted": row.unadjusted
                    if row.unadjusted and 1e-6 < row.unadjusted < 1e6
                    else None,
                    "low": low,
                    "high": high,
                    "text": f"{label}: {row.odds_ratio:.2f} ({low:.2f} to {high:.2f})",
                }
            )
    ends = [v["low"] for v in values] + [v["high"] for v in values] + [1.0]
    y = {"field": "at", "type": "ordinal", "axis": None}
    x = {
        "type": "quantitative",
        "scale": {
            "type": "log",
            "domain": [max(1e-4, min(ends) / 1.15), min(1e4, max(ends) * 1.15)],
            "nice": False,
            "clamp": True,
        },
        "axis": {"title": "odds ratio (pale: unadjusted)", "tickCount": 6, "format": "~g"},
    }
    return {
        "$schema": SCHEMA,
        "width": 300,
        "height": _ROW * len(values),
        "padding": 4,
        "data": {"values": values},
        "layer": [
            {
                "data": {"values": [{}]},
                "mark": {"type": "rule", "aria": False, "strokeDash": [3, 4], "opacity": 0.5},
                "encoding": {"x": {"datum": 1, **x}},
            },
            {
                "mark": {"type": "rule", "aria": False, "strokeWidth": 1.6},
                "encoding": {"x": {**x, "field": "low"}, "x2": {"field": "high"}, "y": y},
            },
            {
                "mark": {
                    "type": "point",
                    "aria": False,
                    "filled": True,
                    "size": 60,
                    "opacity": 0.35,
                },
                "encoding": {"x": {**x, "field": "unadjusted"}, "y": y},
            },
            {
                "name": "estimates",
                "mark": {"type": "point", "filled": True, "size": 74, "opacity": 1},
                "encoding": {
                    "x": {**x, "field": "estimate"},
                    "y": y,
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
