"""What every picture starts from. Those with room beside them grow with the sheet they stand on."""

from collections.abc import Sequence
from typing import Any

from hobrix.figures.theme import SCHEMA, Spec

TEXT: Spec = {"field": "text", "type": "nominal"}
DASHED: Spec = {"type": "rule", "aria": False, "strokeDash": [3, 4], "opacity": 0.5}


def picture(
    layers: Sequence[Spec],
    width: float,
    height: float,
    *,
    values: list[Spec] | None = None,
    padding: object = 4,
    beside: int | None = 48,
    reads: str = "",
) -> Spec:
    """A picture of ``width`` by ``height`` pixels at least. Its width may grow, with ``beside`` pixels
    left for what stands beside the plot; None keeps it as it is. ``reads`` tells how to read it in print,
    where nobody can point at it."""
    spec: dict[str, Any] = {
        "$schema": SCHEMA,
        "width": round(width),
        "height": round(height),
        "padding": padding,
        "layer": list(layers),
    }
    usermeta = {
        **({} if beside is None else {"beside": beside}),
        **({"reads": reads} if reads else {}),
    }
    if usermeta:
        spec["usermeta"] = usermeta
    if values is not None:
        spec["data"] = {"values": values}
    return spec


def number(title: object, field: str | None = None, **scale: object) -> Spec:
    """A channel of numbers with its axis."""
    axis = {"title": title, "tickCount": 5, "format": ",.6~g"}
    channel = {"type": "quantitative", "axis": axis, **({"scale": scale} if scale else {})}
    return channel if field is None else {**channel, "field": field}
