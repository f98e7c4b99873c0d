"""What pictures with a line per row share: labels on the left, intervals, and a null line.

Rows stand at the place their values name ``at``, under the label they name ``label``.
"""

from collections.abc import Sequence

from hobrix.figures.picture import DASHED, TEXT, picture
from hobrix.figures.theme import Spec

AT: Spec = {"field": "at", "type": "ordinal", "axis": None}


def rows(
    values: list[Spec],
    layers: list[Spec],
    *,
    width: int,
    row: int,
    labels: int,
    padding: object = 4,
) -> Spec:
    """A picture of ``values`` from the first downwards, each row ``row`` pixels high; labels are
    cut off at ``labels`` pixels. ``padding`` is the room about the picture, as Vega-Lite has it."""
    return picture(
        [*layers, labels_of(labels)],
        width,
        row * len(values),
        values=values,
        padding=padding,
        beside=labels + 16,
    )


def labels_of(limit: int, values: list[Spec] | None = None) -> Spec:
    """The labels to the left of the rows; of ``values`` where those are not the picture's own."""
    mark = {"type": "text", "align": "right", "baseline": "middle", "limit": limit, "aria": False}
    label = {"field": "label", "type": "nominal"}
    layer: Spec = {"mark": mark, "encoding": {"x": {"value": -8}, "y": AT, "text": label}}
    return layer if values is None else {"data": {"values": values}, **layer}


def interval_lines(x: Spec) -> Spec:
    """A line from each row's ``low`` to its ``high``."""
    return {
        "name": "intervals",
        "mark": {"type": "rule", "aria": False, "strokeWidth": 1.6},
        "encoding": {"x": {**x, "field": "low"}, "x2": {"field": "high"}, "y": AT},
    }


def estimates(
    values: list[Spec],
    x: Spec,
    null: float,
    *,
    width: int,
    row: int,
    labels: int,
    diamonds: str = "false",
    behind: Sequence[Spec] = (),
) -> Spec:
    """An ``estimate`` with its interval per row, and a dashed line where they would all lie were
    nothing the matter. Rows that pass the test ``diamonds`` are drawn as diamonds; the layers
    ``behind`` lie under the estimates."""
    shape = {"condition": {"test": diamonds, "value": "diamond"}, "value": "circle"}
    layers: list[Spec] = [
        {
            "data": {"values": [{}]},
            "mark": DASHED,
            "encoding": {"x": {"datum": null, **x}},
        },
        interval_lines(x),
        *behind,
        {
            "name": "estimates",
            "mark": {"type": "point", "filled": True, "size": 74, "opacity": 1},
            "encoding": {
                "x": {**x, "field": "estimate"},
                "y": AT,
                "shape": shape,
                "description": TEXT,
            },
        },
    ]
    return rows(values, layers, width=width, row=row, labels=labels)
