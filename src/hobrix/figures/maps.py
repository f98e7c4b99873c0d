"""The correspondence map: rows and columns of a table as points on its first two axes."""

from hobrix.core.questions.crosstab.results import AxisPoint, MapPanel
from hobrix.figures.picture import TEXT, picture
from hobrix.figures.theme import Spec

_WIDTH = 430
_MOST_HEIGHT = 330
_LINE, _CHARACTER = 15, 6.4


def correspondence_map(found: MapPanel) -> Spec:
    """Both axes on one scale, so that distances are as computed; labels are moved apart."""
    points = [_point(p, "group") for p in found.rows] + [_point(p, "answer") for p in found.columns]
    xs, ys = [p["x"] for p in points] + [0.0], [p["y"] for p in points] + [0.0]
    margin = 0.12 * (max(xs) - min(xs) or 1.0)
    domain_x = (min(xs) - margin, max(xs) + 2.2 * margin)
    scale = _WIDTH / (domain_x[1] - domain_x[0])
    tall = max(ys) - min(ys) + 2 * margin
    height = max(150.0, min(_MOST_HEIGHT, tall * scale))
    if tall * scale > height:  # too tall: the width gives way
        scale = height / tall
    middle = (max(ys) + min(ys)) / 2
    domain_y = (middle - height / scale / 2, middle + height / scale / 2)
    width = (domain_x[1] - domain_x[0]) * scale
    _place_labels(points, domain_x[0], domain_y[1], scale)
    percent = [*found.percent, 0.0]
    x = {
        "type": "quantitative",
        "scale": {"domain": list(domain_x), "nice": False},
        "axis": {"title": f"first axis, {percent[0]:.0f}% of the inertia", "tickCount": 5},
    }
    y = {
        "type": "quantitative",
        "scale": {"domain": list(domain_y), "nice": False},
        "axis": {"title": f"second axis, {percent[1]:.0f}%", "tickCount": 4},
    }
    return picture(
        [
            {
                "data": {"values": [{}]},
                "mark": {"type": "rule", "aria": False, "strokeDash": [3, 4], "opacity": 0.4},
                "encoding": {"x": {"datum": 0, **x}},
            },
            {
                "data": {"values": [{}]},
                "mark": {"type": "rule", "aria": False, "strokeDash": [3, 4], "opacity": 0.4},
                "encoding": {"y": {"datum": 0, **y}},
            },
            {
                "name": "points",
                "mark": {"type": "point", "filled": True, "size": 64, "opacity": 1},
                "encoding": {
                    "x": {**x, "field": "x"},
                    "y": {**y, "field": "y"},
                    "shape": {
                        "field": "kind",
                        "type": "nominal",
                        "scale": {"domain": ["group", "answer"], "range": ["circle", "square"]},
                        "legend": None,
                    },
                    "fill": {
                        "field": "kind",
                        "type": "nominal",
                        "scale": {"domain": ["group", "answer"], "range": "ramp"},
                        "legend": None,
                    },
                    "description": TEXT,
                },
            },
            {
                "mark": {"type": "text", "aria": False, "align": "left", "baseline": "middle"},
                "encoding": {
                    "x": {**x, "field": "label_x"},
                    "y": {**y, "field": "label_y"},
                    "text": {"field": "label", "type": "nominal"},
                },
            },
        ],
        width,
        height,
        values=points,
        beside=None,
    )


def _point(point: AxisPoint, kind: str) -> Spec:
    second = point.coordinates[1] if len(point.coordinates) > 1 else 0.0
    return {
        "kind": kind,
        "label": point.label,
        "x": point.coordinates[0],
        "y": second,
        "text": f"{point.label}: {100 * point.shown:.0f}% of it shown on this map",
    }


def _place_labels(points: list[Spec], left: float, top: float, scale: float) -> None:
    """Labels right of their points, moved down or up where they would meet another (pixels)."""
    taken: list[tuple[float, float, float]] = []
    for point in sorted(points, key=lambda p: -p["y"]):
        x = (point["x"] - left) * scale + 9
        y = (top - point["y"]) * scale
        width = _CHARACTER * len(point["label"])
        for step in range(40):
            shift = (step + 1) // 2 * (_LINE / 2) * (1 if step % 2 else -1)
            free = all(
                abs(y + shift - other_y) >= _LINE or x + width < other_x or other_end < x
                for other_x, other_end, other_y in taken
            )
            if free:
                y += shift
                break
        taken.append((x, x + width, y))
        point["label_x"], point["label_y"] = left + x / scale, top - y / scale
