"""Bars of answers (never a pie), observed against expected, and histograms of numbers."""

import math

from hobrix.core.questions.answer import Reading
from hobrix.core.questions.distribution.results import (
    Bins,
    DistributionResults,
    FrequencyRow,
    GoodnessOfFit,
    Summary,
    VariableDistribution,
)
from hobrix.figures.picture import TEXT, picture
from hobrix.figures.rows import AT, rows
from hobrix.figures.theme import Spec

MOST_BARS = 40
_BAR = 22
_LABELS, _WIDTH = 96, 170


def sheet(results: DistributionResults, _reading: Reading) -> dict[str, Spec]:
    """Bars or a histogram of each variable, under its name."""
    found = {}
    for each in results.variables:
        if each.histogram is not None and each.summary is not None:
            title = f"{each.title} ({each.unit})" if each.unit else each.title
            found[f"distribution:{each.variable}"] = histogram(each.histogram, each.summary, title)
        elif (drawn := bars(each)) is not None:
            found[f"distribution:{each.variable}"] = drawn
        if each.goodness_of_fit is not None:
            found["expected"] = against_expected(each.goodness_of_fit)
    return found


def bars(variable: VariableDistribution) -> Spec | None:
    """One bar per answer, as long as its share of those who answered, with its interval; under a
    design a tick at the unweighted share."""
    shown = variable.table[:MOST_BARS]
    if variable.kind == "numeric" or not shown:
        return None
    values = [_bar(row, i) for i, row in enumerate(shown)]
    all_of_them = len(variable.table)
    is_weighted = shown[0].weighted is not None
    titles = ["% of those who answered" + (" (tick: unweighted)" if is_weighted else "")]
    if len(shown) < all_of_them:
        titles.append(f"(the first {len(shown)} of {all_of_them:,} answers)")
    layers: list[Spec] = [
        {
            "name": "bars",
            "mark": {"type": "bar", "height": {"band": 0.68}},
            "encoding": {"x": _share_axis("share", titles), "y": AT, "description": TEXT},
        },
        {
            "name": "intervals",
            "mark": {"type": "rule", "aria": False, "strokeWidth": 1.4},
            "encoding": {"x": _share_axis("low", titles), "x2": {"field": "high"}, "y": AT},
        },
    ]
    if is_weighted:
        layers.append(_ticks(_share_axis("unweighted", titles)))
    return _bars_of(values, layers)


def _bars_of(values: list[Spec], layers: list[Spec]) -> Spec:
    padding = {"left": 0, "right": 6, "top": 2, "bottom": 2}
    return rows(values, layers, width=_WIDTH, row=_BAR, labels=_LABELS, padding=padding)


def _ticks(x: Spec) -> Spec:
    mark = {"type": "tick", "aria": False, "thickness": 2, "size": _BAR * 0.86}
    return {"mark": mark, "encoding": {"x": x, "y": AT}}


def _bar(row: FrequencyRow, i: int) -> Spec:
    low, high = row.ci or (row.percent_of_answered, row.percent_of_answered)
    found = row.weighted
    return {
        "at": i,
        "label": row.label,
        "share": row.percent_of_answered,
        "low": low,
        "high": high,
        "unweighted": 100 * found.unweighted_count_of_events / found.n if found else None,
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
    """Observed shares as bars, expected ones as a line across each; counts where they are whole
    cases."""
    counts = fit.expected_counts is not None
    of_all = sum(fit.observed) if counts else 100.0
    shares = fit.observed if counts else [100 * p for p in fit.observed_shares]
    values = [
        {
            "at": i,
            "label": label,
            "observed": observed,
            "expected": of_all * expected,
            "text": f"{label}: {observed:,.6g} observed, {of_all * expected:,.1f} expected",
        }
        for i, (label, observed, expected) in enumerate(
            zip(
                fit.labels[:MOST_BARS],
                shares[:MOST_BARS],
                fit.expected_shares[:MOST_BARS],
                strict=True,
            )
        )
    ]
    what = "count" if counts else "%"
    x = {"type": "quantitative", "axis": {"title": f"{what} (line: expected)", "tickCount": 4}}
    return _bars_of(
        values,
        [
            {
                "name": "observed",
                "mark": {"type": "bar", "height": {"band": 0.5}},
                "encoding": {"x": {**x, "field": "observed"}, "y": AT, "description": TEXT},
            },
            {"name": "expected", **_ticks({**x, "field": "expected"})},
        ],
    )


def histogram(bins: Bins, summary: Summary, title: str) -> Spec:
    """Percentages per bin, with the normal curve of the same mean and sd to compare with; under a
    design those of the sample as a line across each."""
    is_weighted = bins.unweighted_percent is not None
    values = [
        {
            "low": low,
            "high": high,
            "percent": percent,
            "unweighted": unweighted,
            "text": f"{low:g} to under {high:g}: {percent:.1f}%, {count:,.0f} sampled"
            if is_weighted
            else f"{low:g} to under {high:g}: {count:,.0f}",
        }
        for low, high, count, percent, unweighted in zip(
            bins.edges,
            bins.edges[1:],
            bins.counts,
            bins.percent,
            bins.unweighted_percent or bins.percent,
            strict=False,
        )
    ]
    x = {
        "type": "quantitative",
        "scale": {"domain": [bins.edges[0], bins.edges[-1]], "nice": False},
        "axis": {"title": title, "tickCount": 8},
    }
    said = "% of those who answered" + (" (line: unweighted)" if is_weighted else "")
    y = {"type": "quantitative", "axis": {"title": said, "tickCount": 4}}
    across = {"x": {**x, "field": "low"}, "x2": {"field": "high"}}
    layers: list[Spec] = [
        {
            "name": "bins",
            "data": {"values": values},
            "mark": {"type": "bar", "orient": "vertical"},
            "encoding": {**across, "y": {**y, "field": "percent"}, "description": TEXT},
        }
    ]
    if is_weighted:
        layers.append(
            {
                "name": "unweighted",
                "data": {"values": values},
                "mark": {"type": "rule", "aria": False, "strokeWidth": 2},
                "encoding": {**across, "y": {**y, "field": "unweighted"}},
            }
        )
    elif summary.sd:
        layers.append(
            {
                "name": "normal",
                "data": {"values": _normal(bins, summary.mean, summary.sd)},
                "mark": {"type": "line", "aria": False, "interpolate": "monotone"},
                "encoding": {"x": {**x, "field": "x"}, "y": {**y, "field": "y"}},
            }
        )
    return picture(layers, 350, 200)


def _normal(bins: Bins, mean: float, sd: float) -> list[Spec]:
    low, high, steps = bins.edges[0], bins.edges[-1], 80
    points = [low + (high - low) * i / steps for i in range(steps + 1)]
    scale = 100 * bins.width / (sd * math.sqrt(2 * math.pi))
    return [{"x": x, "y": scale * math.exp(-(((x - mean) / sd) ** 2) / 2)} for x in points]
