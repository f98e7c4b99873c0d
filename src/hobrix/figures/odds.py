"""Pictures of a logistic model: how it fits and sorts, unusual rows, and predicted probabilities."""

from collections.abc import Sequence

from hobrix.core.questions.answer import Reading
from hobrix.core.questions.odds.opened import (
    FitGroupOf,
    Linearity,
    OddsPanels,
    ProbabilityCurve,
    SortingPanel,
    UnusualPanel,
)
from hobrix.core.questions.odds.results import OddsResults
from hobrix.figures.forest import Line, forest, ratios
from hobrix.figures.mosaic import spread
from hobrix.figures.picture import DASHED, TEXT, number, picture
from hobrix.figures.theme import Spec

_SHARE: Spec = {"type": "quantitative", "scale": {"domain": [0, 1]}}
# A picture of strata shows so many at most.
MOST_STRATA = 12


def sheet(results: OddsResults, _reading: Reading) -> dict[str, Spec]:
    found = {"forest": forest(results.whole.terms)}
    if results.strata and (drawn := strata(results)) is not None:
        found["strata"] = drawn
    return found


def opened(panels: OddsPanels) -> dict[str, Spec]:
    found: dict[str, Spec] = {}
    if panels.fit is not None:
        if panels.fit.groups:
            found["calibration"] = calibration(panels.fit.groups)
        for each in panels.fit.linearity:
            if each.curve:
                found[f"linearity:{each.variable}"] = linearity(each)
    if panels.sorting is not None:
        found |= {"roc": roc(panels.sorting), "predicted": predicted(panels.sorting)}
    if panels.unusual is not None:
        for across in ("row", "fitted"):
            found[f"residuals:{across}"] = residuals(panels.unusual, across)
    found |= _shares(panels)
    if panels.profile is not None and panels.profile.curve is not None:
        found["curve"] = curve(panels.profile.curve)
    return found


def _shares(panels: OddsPanels) -> dict[str, Spec]:
    """Ratios of shares, standardised and by a log link."""
    found: dict[str, Spec] = {}
    if panels.shares is not None:
        found["shares"] = ratios(
            [
                Line(f"{variable.title}: {level.label}", level.ratio, level.ratio_ci)
                for variable in panels.shares.variables
                for level in variable.levels
                if level.ratio is not None and level.ratio_ci is not None
            ],
            "ratio of shares, standardised",
        )
    if panels.log_link is not None and panels.log_link.rows:
        found["log_link"] = ratios(
            [
                Line(f"{row.given or row.title}: {row.label}", row.robust.ratio, row.robust.ci)
                for row in panels.log_link.rows
            ],
            "ratio of shares by a log link",
        )
    return found


def _axis(title: str, format_: str = ",.6~g") -> Spec:
    return {"title": title, "tickCount": 5, "format": format_}


def _diagonal(x: Spec, y: Spec) -> Spec:
    """Where both are equal."""
    return {
        "data": {"values": [{"a": 0, "b": 1}]},
        "mark": DASHED,
        "encoding": {
            "x": {**x, "field": "a"},
            "y": {**y, "field": "a"},
            "x2": {"field": "b"},
            "y2": {"field": "b"},
        },
    }


def calibration(groups: Sequence[FitGroupOf]) -> Spec:
    """Observed share of the event against the mean prediction, a point per group."""
    values: list[Spec] = [
        {
            "predicted": group.predicted,
            "observed": group.observed,
            "text": f"Group {i}: predicted {100 * group.predicted:.1f}%, "
            f"observed {100 * group.observed:.1f}%",
        }
        for i, group in enumerate(groups, 1)
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
    diagonal["mark"] = {**DASHED, "clip": True}
    return picture([diagonal, points], 250, 200)


def roc(found: SortingPanel) -> Spec:
    """Sensitivity against one minus specificity, for every cut-off."""
    values = [
        {"false": point.false_positive_share, "true": point.true_positive_share, "at": i}
        for i, point in enumerate(found.roc)
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
    here = next(each for each in found.classification if each.cutoff == found.cutoff)
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
    return picture([_diagonal(x, y), line, chosen], 220, 200)


def predicted(found: SortingPanel) -> Spec:
    """Predicted probabilities of those with the event upwards, of the others downwards, each in
    shares of its own."""
    event, n1, n0 = found.event_label, found.events, found.n - found.events
    values = [
        {
            "low": each.low,
            "high": each.low + 1 / len(found.predicted),
            "base": 0,
            "share": sign * n / total,
            "who": who,
            "text": f"{who}, {100 * each.low:.0f}% and above: {100 * n / total:.1f}%",
        }
        for each in found.predicted
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
    return picture([layer], 300, 180)


def residuals(found: UnusualPanel, across: str) -> Spec:
    """Standardised Pearson residuals in the order of the rows, or against the prediction."""
    extreme = {each.row for each in found.most_extreme}
    values = [
        {
            "row": row,
            "fitted": fitted,
            "residual": standardized,
            "label": f"{row:.0f}" if row in extreme and i < 6 else "",
            "text": f"Row {row:.0f}: predicted {fitted:.2f}, residual {standardized:.2f}",
        }
        for i, (row, fitted, standardized, _, _) in enumerate(
            sorted(found.points, key=lambda p: -abs(p[2]))
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
        "mark": DASHED,
        "encoding": {"y": {"datum": 0, "type": "quantitative"}},
    }
    return picture([zero, points, named], 330, 170, values=values)


def curve(found: ProbabilityCurve) -> Spec:
    """The probability across a number: a line with its band per category, in a colour and dash of
    its own and named at its end."""
    event = found.event_label
    values: list[Spec] = [
        {"x": x, "p": p, "low": low, "high": high, "line": line.label or event}
        for line in found.lines
        for x, p, low, high in line.points
    ]
    width, height = 400, 230
    top = min(1.0, 1.05 * max(v["high"] for v in values))
    x = number(found.across_title, "x", nice=False, zero=False)
    y = {
        "type": "quantitative",
        "scale": {"domain": [0, top]},
        "axis": _axis(f"predicted probability: {event}", ".0%"),
    }
    each = {"field": "line", "type": "nominal"}
    names = [line.label or event for line in found.lines]
    colour = {**each, "scale": {"domain": names, "range": "ramp"}, "legend": None}
    band = {
        "mark": {"type": "area", "opacity": 0.1, "aria": False, "clip": True},
        "encoding": {
            "x": x,
            "y": {**y, "field": "low"},
            "y2": {"field": "high"},
            "color": colour,
        },
    }
    line = {
        "mark": {"type": "line", "strokeWidth": 2.2, "clip": True},
        "encoding": {
            "x": x,
            "y": {**y, "field": "p"},
            "color": colour,
            "strokeDash": {**each, "sort": names, "legend": None},
        },
    }
    ends: list[Spec] = sorted(
        (
            {"line": name, "label": line.label, "at": 1 - line.points[-1][1] / top}
            for name, line in zip(names, found.lines, strict=True)
        ),
        key=lambda end: float(end["at"]),
    )
    for end, at in zip(ends, spread([end["at"] for end in ends], 14 / height), strict=True):
        end["y"] = top * (1 - at)
    dots = {
        "data": {"values": ends},
        "mark": {"type": "point", "shape": "square", "filled": True, "size": 60, "dx": 10},
        "encoding": {"x": {"value": "width"}, "y": {**y, "field": "y"}, "fill": colour},
    }
    labels = {
        "data": {"values": ends},
        "mark": {"type": "text", "align": "left", "baseline": "middle", "dx": 9, "aria": False},
        "encoding": {
            "x": {"value": "width"},
            "y": {**y, "field": "y"},
            "text": {"field": "label", "type": "nominal"},
        },
    }
    return picture([band, line, dots, labels], width, height, values=values, beside=190)


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
    return picture(layers, 260, 150, values=values)


def strata(results: OddsResults) -> Spec | None:
    """The leading odds ratio in every stratum, common to all, and without regard to them."""
    every = [(term, row) for term in results.whole.terms for row in term.rows]
    of_interest = [
        i
        for i, (term, _) in enumerate(every)
        if term.role == "vary_with" and term.together_with is None
    ]
    at = of_interest[0] if of_interest else 0
    lines = [
        Line(stratum.label, found.odds_ratio, found.ci)
        for stratum in results.strata[:MOST_STRATA]
        if at < len(stratum.ratios) and (found := stratum.ratios[at]) is not None
    ]
    if not lines:
        return None
    term, row = every[at]
    common = results.common.ratios if results.common else ()
    if at < len(common) and (shared := common[at]) is not None:
        lines.append(Line("common to all", shared.odds_ratio, shared.ci))
    lines.append(Line.of("without regard to them", row))
    return ratios(lines, f"odds ratio, {term.title}: {row.label}")
