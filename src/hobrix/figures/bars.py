"""Bars of answers (never a pie), observed against expected, and histograms of numbers."""

import math

from hobrix.core.questions.distribution.results import (
    Bins,
    FrequencyRow,
    GoodnessOfFit,
    Summary,
    VariableDistribution,
)
from hobrix.figures.rows import AT, TEXT, rows
from hobrix.figures.theme import SCHEMA, Spec

MOST_BARS = 40
_BAR = 22
_LABELS, _WIDTH = 96, 170


def bars(variable: VariableDistribution) -> Spec | None:
    """One bar per answer, as long as its share of those who answered, with its interval."""
    shown = variable.table[:MOST_BARS]
    if variable.kind == "numeric" or not shown:
        return None
    values = [_bar(row, i) for i, row in enumerate(shown)]
    all_of_them = len(variable.table)
    titles = ["% of those who answered"]
    if len(shown) < all_of_them:
        titles.append(f"(the first {len(shown)} of {all_of_them:,} answers)")
    return _bars_of(
        values,
        [
            {
                "name": "bars",
                "mark": {"type": "bar", "height": {"band": 0.68}},
                "encoding": {
                    "x": _share_axis("share", titles),
                    "y": AT,
                    "description": TEXT,
                },
            },
            {
                "name": "intervals",
                "mark": {"type": "rule", "aria": False, "strokeWidth": 1.4},
                "encoding": {"x": _share_axis("low", titles), "x2": {"field": "high"}, "y": AT},
            },
        ],
    )


def _bars_of(values: list[Spec], layers: list[Spec]) -> Spec:
    padding = {"left": 0, "right": 6, "top": 2, "bottom": 2}
    return rows(values, layers, width=_WIDTH, row=_BAR, labels=_LABELS, padding=padding)


def _bar(row: FrequencyRow, i: int) -> Spec:
    return {
        "at": i,
        "label": row.label,
        "share": row.percent_of_answered,
        "low": row.ci[0],
        "high": row.ci[1],
        "text": f"{row.label}: {row.percent_of_answered:.1f}%, {row.count:,.0f} answers",
    }


def _share_axis(field: str, titles: list[str]) -> Spec:
    return {
        "field": field,
        "type": "quantitative",
        "scale": {"domainMin": 0, "nice": True},
        "axis": {"title": titles, "tickCount": 4},
    }


def against_expected(fit: GoodnessOfFit) -> Spec:
    """Observed counts as bars, expected ones as a line across each."""
    values = [
        {
            "at": i,
            "label": label,
            "observed": observed,
            "expected": expected,
            "text": f"{label}: {observed:,.0f} observed, {expected:,.1f} expected",
        }
        for i, (label, observed, expected) in enumerate(
            zip(
                fit.labels[:MOST_BARS],
                fit.observed[:MOST_BARS],
                fit.expected_counts[:MOST_BARS],
                strict=True,
            )
        )
    ]
    x = {"type": "quantitative", "axis": {"title": "count (line: expected)", "tickCount": 4}}
    return _bars_of(
        values,
        [
            {
                "name": "observed",
                "mark": {"type": "bar", "height": {"band": 0.5}},
                "encoding": {
                    "x": {**x, "field": "observed"},
                    "y": AT,
                    "description": TEXT,
                },
            },
            {
                "name": "expected",
                "mark": {"type": "tick", "aria": False, "thickness": 2, "size": _BAR * 0.86},
                "encoding": {"x": {**x, "field": "expected"}, "y": AT},
            },
        ],
    )


def histogram(bins: Bins, summary: Summary, n: float, title: str) -> Spec:
    """Counts per bin, with the normal curve of the same mean and sd to compare with."""
    values = [
        {
            "low": low,
            "high": high,
            "count": count,
            "text": f"{low:g} to under {high:g}: {count:,.0f}",
        }
        for low, high, count in zip(bins.edges, bins.edges[1:], bins.counts, strict=False)
    ]
    x = {
        "type": "quantitative",
        "scale": {"domain": [bins.edges[0], bins.edges[-1]], "nice": False},
        "axis": {"title": title, "tickCount": 8},
    }
    layers: list[Spec] = [
        {
            "name": "bins",
            "data": {"values": values},
            "mark": {"type": "bar", "orient": "vertical"},
            "encoding": {
                "x": {**x, "field": "low"},
                "x2": {"field": "high"},
                "y": {
                    "field": "count",
                    "type": "quantitative",
                    "axis": {"title": "count", "tickCount": 4},
                },
                "description": TEXT,
            },
        }
    ]
    if summary.sd:
        layers.append(
            {
                "name": "normal",
                "data": {"values": _normal(bins, summary.mean, summary.sd, n)},
                "mark": {"type": "line", "aria": False, "interpolate": "monotone"},
                "encoding": {
                    "x": {**x, "field": "x"},
                    "y": {"field": "y", "type": "quantitative"},
                },
            }
        )
    return {
        "$schema": SCHEMA,
        "width": 350,
        "height": 200,
        "padding": 4,
        "layer": layers,
    }


def _normal(bins: Bins, mean: float, sd: float, n: float) -> list[Spec]:
    low, high, steps = bins.edges[0], bins.edges[-1], 80
    points = [low + (high - low) * i / steps for i in range(steps + 1)]
    scale = n * bins.width / (sd * math.sqrt(2 * math.pi))
    return [{"x": x, "y": scale * math.exp(-(((x - mean) / sd) ** 2) / 2)} for x in points]
