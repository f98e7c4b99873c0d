"""Pictures of a logistic model: how it fits and sorts, unusual rows, and predicted probabilities."""

from collections.abc import Sequence

from hobrix.core.questions.odds.results import (
    Linearity,
    OddsModel,
    OddsResults,
    OddsRow,
    OddsStratum,
    ProbabilityCurve,
)
from hobrix.figures.forest import forest, ratios
from hobrix.figures.mosaic import spread
from hobrix.figures.rows import TEXT
from hobrix.figures.theme import SCHEMA, Spec

_SHARE: Spec = {"type": "quantitative", "scale": {"domain": [0, 1]}}
_DASHED: Spec = {"type": "rule", "aria": False, "strokeDash": [3, 4], "opacity": 0.5}
# A picture of strata shows so many at most.
MOST_STRATA = 12


def pictures(results: OddsResults) -> dict[str, Spec]:
    """All pictures of an answer, by name."""
    model = results.whole
    found = {
        "forest": forest(model.terms),
        "calibration": calibration(of_tenths(model)),
        "roc": roc(model),
        "predicted": predicted(model, results.event_label),
        "residuals:row": residuals(model, "row"),
        "residuals:fitted": residuals(model, "fitted"),
    }
    if model.curve is not None:
        found["curve"] = curve(model.curve, results.event_label)
    for each in model.linearity:
        if each.curve:
            found[f"linearity:{each.variable}"] = linearity(each)
    if results.strata and (drawn := strata(results)) is not None:
        found["strata"] = drawn
    return found


def _picture(layers: list[Spec], width: int, height: int) -> Spec:
    return {"$schema": SCHEMA, "width": width, "height": height, "padding": 4, "layer": layers}


def _axis(title: str, format_: str = ",.6~g") -> Spec:
    return {"title": title, "tickCount": 5, "format": format_}


def _diagonal(x: Spec, y: Spec) -> Spec:
    """Where both are equal."""
    return {
        "data": {"values": [{"a": 0, "b": 1}]},
        "mark": _DASHED,
        "encoding": {
            "x": {**x, "field": "a"},
            "y": {**y, "field": "a"},
            "x2": {"field": "b"},
            "y2": {"field": "b"},
        },
    }


def of_tenths(model: OddsModel) -> list[tuple[float, float]]:
    """Mean prediction and observed share of every tenth, from 0 to 1."""
    return [
        (group.expected_events / group.n, group.observed_events / group.n)
        for group in model.hosmer_lemeshow.table
    ]


def calibration(groups: Sequence[tuple[float, float]]) -> Spec:
    """Observed share of the event against the mean prediction, a point per group."""
    values: list[Spec] = [
        {
            "predicted": predicted,
            "observed": observed,
            "text": f"Group {i}: predicted {100 * predicted:.1f}%, observed {100 * observed:.1f}%",
        }
        for i, (predicted, observed) in enumerate(groups, 1)
    ]
    most = max(max(v["predicted"], v["observed"]) for v in values)
    share = {"type": "quantitative", "scale": {"domain": [0, min(1, 1.08 * most)]}}
    x, y = (
        {**share, "axis": _axis(title, ".0%")} for title in ("mean predicted", "observed share")
    )
    points = {
        "data": {"values": values},
        "mark": {"type": "point", "filled": True, "size": 70, "opacity": 1, "clip": True},
        "encoding": {
            "x": {**x, "field": "predicted"},
            "y": {**y, "field": "observed"},
            "description": TEXT,
        },
    }
    diagonal = _diagonal(x, y)
    diagonal["mark"] = {**_DASHED, "clip": True}
    return _picture([diagonal, points], 250, 200)


def roc(model: OddsModel) -> Spec:
    """Sensitivity against one minus specificity, for every cut-off."""
    values = [
        {"false": point.false_positive_share, "true": point.true_positive_share, "at": i}
        for i, point in enumerate(model.roc)
    ]
    x, y = (
        {**_SHARE, "axis": _axis(title, ".0%")}
        for title in ("without the event, but predicted", "with the event and predicted")
    )
    line = {
        "data": {"values": values},
        "mark": {"type": "line", "interpolate": "linear", "strokeWidth": 2},
        "encoding": {
            "x": {**x, "field": "false"},
            "y": {**y, "field": "true"},
            "order": {"field": "at", "type": "quantitative"},
        },
    }
    here = next(each for each in model.classification if each.cutoff == model.cutoff)
    chosen = {
        "data": {
            "values": [
                {
                    "false": 1 - (here.specificity or 0.0),
                    "true": here.sensitivity or 0.0,
                    "text": f"cut-off {here.cutoff:g}",
                }
            ]
        },
        "mark": {"type": "point", "filled": True, "size": 90, "opacity": 1},
        "encoding": {
            "x": {**x, "field": "false"},
            "y": {**y, "field": "true"},
            "description": TEXT,
        },
    }
    return _picture([_diagonal(x, y), line, chosen], 220, 200)


def predicted(model: OddsModel, event: str) -> Spec:
    """Predicted probabilities of those with the event upwards, of the others downwards, each in
    shares of its own."""
    n1, n0 = model.events, model.n - model.events
    values = [
        {
            "low": each.low,
            "high": each.low + 1 / len(model.predicted),
            "base": 0,
            "share": sign * n / total,
            "who": who,
            "text": f"{who}, {100 * each.low:.0f}% and above: {100 * n / total:.1f}%",
        }
        for each in model.predicted
        for who, n, total, sign in (
            (f"{event}", each.events, n1, 1),
            (f"not {event}", each.others, n0, -1),
        )
        if n
    ]
    layer = {
        "data": {"values": values},
        "mark": {"type": "rect"},
        "encoding": {
            "x": {
                **_SHARE,
                "field": "low",
                "axis": _axis("predicted probability", ".0%"),
            },
            "x2": {"field": "high"},
            "y": {"field": "base", "type": "quantitative", "axis": None},
            "y2": {"field": "share"},
            "color": {
                "field": "who",
                "type": "nominal",
                "scale": {"domain": [event, f"not {event}"], "range": "ramp"},
                "legend": {"title": None, "orient": "bottom"},
            },
            "description": TEXT,
        },
    }
    return _picture([layer], 300, 180)


def residuals(model: OddsModel, across: str) -> Spec:
    """Standardised Pearson residuals in the order of the rows, or against the prediction."""
    extreme = {each.row for each in model.residuals.most_extreme}
    values = [
        {
            "row": row,
            "fitted": fitted,
            "residual": standardized,
            "label": f"{row:.0f}" if row in extreme and i < 6 else "",
            "text": f"Row {row:.0f}: predicted {fitted:.2f}, residual {standardized:.2f}",
        }
        for i, (row, fitted, standardized, _, _) in enumerate(
            sorted(model.residuals.points, key=lambda p: -abs(p[2]))
        )
    ]
    title = "row of the data" if across == "row" else "predicted probability"
    x = {"field": across, "type": "quantitative", "axis": _axis(title), "scale": {"nice": False}}
    y = {
        "field": "residual",
        "type": "quantitative",
        "axis": _axis("standardised residual"),
    }
    points = {
        "mark": {"type": "point", "filled": True, "size": 18, "opacity": 0.45, "aria": False},
        "encoding": {"x": x, "y": y},
    }
    named = {
        "transform": [{"filter": "datum.label !== ''"}],
        "mark": {"type": "text", "align": "left", "dx": 5, "fontSize": 10, "aria": False},
        "encoding": {"x": x, "y": y, "text": {"field": "label", "type": "nominal"}},
    }
    zero = {
        "data": {"values": [{}]},
        "mark": _DASHED,
        "encoding": {"y": {"datum": 0, "type": "quantitative"}},
    }
    return {**_picture([zero, points, named], 330, 170), "data": {"values": values}}


def curve(found: ProbabilityCurve, event: str) -> Spec:
    """The probability across a number: a line with its band per category, named at its end."""
    values: list[Spec] = [
        {"x": x, "p": p, "low": low, "high": high, "line": line.label or event}
        for line in found.lines
        for x, p, low, high in line.points
    ]
    width, height = 400, 230
    top = min(1.0, 1.05 * max(v["high"] for v in values))
    x = {
        "field": "x",
        "type": "quantitative",
        "axis": _axis(found.across_title),
        "scale": {"nice": False, "zero": False},
    }
    y = {
        "type": "quantitative",
        "scale": {"domain": [0, top]},
        "axis": _axis(f"predicted probability: {event}", ".0%"),
    }
    each = {"field": "line", "type": "nominal"}
    band = {
        "mark": {"type": "area", "opacity": 0.1, "aria": False, "clip": True},
        "encoding": {"x": x, "y": {**y, "field": "low"}, "y2": {"field": "high"}, "detail": each},
    }
    line = {
        "mark": {"type": "line", "strokeWidth": 2, "clip": True},
        "encoding": {
            "x": x,
            "y": {**y, "field": "p"},
            "strokeDash": {**each, "sort": None, "legend": None},
        },
    }
    ends = sorted(
        ({"label": line.label, "at": 1 - line.points[-1][1] / top} for line in found.lines),
        key=lambda end: end["at"],
    )
    for end, at in zip(ends, spread([end["at"] for end in ends], 14 / height), strict=True):
        end["y"] = top * (1 - at)
    names = {
        "data": {"values": ends},
        "mark": {"type": "text", "align": "left", "baseline": "middle", "aria": False},
        "encoding": {
            "x": {"value": width + 6},
            "y": {**y, "field": "y"},
            "text": {"field": "label", "type": "nominal"},
        },
    }
    return {**_picture([band, line, names], width, height), "data": {"values": values}}


def linearity(found: Linearity) -> Spec:
    """Log odds against the median: as one straight line, and bent with its band."""
    values = [
        {"x": x, "straight": straight, "bent": bent, "low": low, "high": high}
        for x, straight, bent, low, high in found.curve
    ]
    title = f"{found.title} ({found.unit})" if found.unit else found.title
    x = {
        "field": "x",
        "type": "quantitative",
        "axis": _axis(title),
        "scale": {"nice": False, "zero": False},
    }
    y = {"type": "quantitative", "axis": _axis("log odds against the median")}
    layers: list[Spec] = [
        {
            "mark": {"type": "area", "opacity": 0.18, "aria": False},
            "encoding": {"x": x, "y": {**y, "field": "low"}, "y2": {"field": "high"}},
        },
        {
            "mark": {"type": "line", "strokeWidth": 2},
            "encoding": {"x": x, "y": {**y, "field": "bent"}},
        },
        {
            "mark": {"type": "line", "strokeDash": [4, 4]},
            "encoding": {"x": x, "y": {**y, "field": "straight"}},
        },
    ]
    return {**_picture(layers, 260, 150), "data": {"values": values}}


def strata(results: OddsResults) -> Spec | None:
    """The leading odds ratio in every stratum, and in all together."""
    every = [row for term in results.whole.terms for row in term.rows]
    leading = next((i for i, row in enumerate(every) if _is_of_interest(results, row)), 0)
    lines = [
        (stratum.label, found)
        for stratum in results.strata[:MOST_STRATA]
        if (found := _row(stratum, leading)) is not None
    ]
    if not lines:
        return None
    lines.append(("all together", every[leading]))
    return ratios(lines, f"odds ratio, {every[leading].label}")


def _is_of_interest(results: OddsResults, row: OddsRow) -> bool:
    term = next(term for term in results.whole.terms if term.term == row.term)
    return term.role == "vary_with" and term.together_with is None


def _row(stratum: OddsStratum, at: int) -> OddsRow | None:
    return stratum.rows[at] if at < len(stratum.rows) else None
