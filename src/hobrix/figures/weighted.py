"""Weighted shares with their intervals, the unweighted pale beside them."""

from collections.abc import Sequence

from hobrix.core.questions.survey.results import (
    SurveyBins,
    SurveyResults,
    SurveyShare,
    SurveyTable,
)
from hobrix.figures.mosaic import Strips, classes
from hobrix.figures.rows import AT, TEXT, estimates
from hobrix.figures.theme import SCHEMA, Spec


def weighted(survey: SurveyResults) -> Spec | None:
    """A line per group or answer; the dashed line is everyone's share where groups are compared."""
    shares = survey.shares
    if not shares:
        return None
    values = [_line(at, share) for at, share in enumerate(shares)]
    people = sum(share.sum_of_weights for share in shares)
    everyone = sum(share.sum_of_weights * share.estimate for share in shares) / people
    most = max(share.ci[1] if share.ci else share.estimate for share in shares)
    x = {
        "type": "quantitative",
        "scale": {"domain": [0, min(100.0, 108 * most)], "nice": False},
        "axis": {"title": "weighted share, % (pale: unweighted)", "tickCount": 5},
    }
    pale = {
        "mark": {"type": "point", "aria": False, "filled": True, "size": 60, "opacity": 0.35},
        "encoding": {"x": {**x, "field": "unweighted"}, "y": AT},
    }
    null = 100 * everyone if survey.comparisons else 0.0
    return estimates(values, x, null, width=330, row=24, labels=150, behind=[pale])


def _line(at: int, share: SurveyShare) -> Spec:
    low, high = share.ci or (share.estimate, share.estimate)
    return {
        "at": at,
        "label": share.label,
        "estimate": 100 * share.estimate,
        "unweighted": 100 * share.unweighted,
        "low": 100 * low,
        "high": 100 * high,
        "text": f"{share.label}: {100 * share.estimate:.1f}% ({100 * low:.1f} to {100 * high:.1f}), "
        f"unweighted {100 * share.unweighted:.1f}%",
    }


def weighted_strips(table: SurveyTable, texts: Sequence[Sequence[str]]) -> Strips:
    """Groups as tall as their share of the weighted population; shading follows design-based z.
    ``texts`` say each cell in a sentence."""
    positions = range(len(table.columns))
    return Strips(
        rows=table.rows,
        columns=table.columns,
        heights=table.row_margin,
        shares=[[cell.estimate for cell in cells] for cells in table.row_proportions],
        classes=classes(table.z, table.p_adjusted),
        order=sorted(positions, key=lambda j: (j not in table.event, j)),
        texts=texts,
    )


def weighted_histogram(bins: SurveyBins, title: str) -> Spec:
    """Percentages of the weighted population per bin, those of the sample as a line across."""
    edges = zip(bins.edges, bins.edges[1:], strict=False)
    values = [
        {
            "low": low,
            "high": high,
            "percent": percent,
            "unweighted": unweighted,
            "text": f"{low:g} to under {high:g}: {percent:.1f}%, unweighted {unweighted:.1f}%",
        }
        for (low, high), percent, unweighted in zip(
            edges, bins.percent, bins.unweighted_percent, strict=True
        )
    ]
    x = {
        "type": "quantitative",
        "scale": {"domain": [bins.edges[0], bins.edges[-1]], "nice": False},
        "axis": {"title": title, "tickCount": 8},
    }
    across = {"x": {**x, "field": "low"}, "x2": {"field": "high"}}
    y = {"type": "quantitative", "axis": {"title": "% (line: unweighted)", "tickCount": 4}}
    return {
        "$schema": SCHEMA,
        "width": 350,
        "height": 200,
        "padding": 4,
        "data": {"values": values},
        "layer": [
            {
                "name": "bins",
                "mark": {"type": "bar", "orient": "vertical"},
                "encoding": {**across, "y": {**y, "field": "percent"}, "description": TEXT},
            },
            {
                "name": "unweighted",
                "mark": {"type": "rule", "aria": False, "strokeWidth": 2},
                "encoding": {**across, "y": {**y, "field": "unweighted"}},
            },
        ],
    }
