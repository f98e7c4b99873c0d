"""Odds ratios on one log scale: adjusted with their intervals, the unadjusted pale beside them."""

from hobrix.core.questions.odds.results import OddsModel
from hobrix.figures.rows import AT, estimates
from hobrix.figures.theme import Spec


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
    unadjusted = {
        "mark": {"type": "point", "aria": False, "filled": True, "size": 60, "opacity": 0.35},
        "encoding": {"x": {**x, "field": "unadjusted"}, "y": AT},
    }
    return estimates(values, x, 1, width=300, row=24, labels=182, behind=[unadjusted])
