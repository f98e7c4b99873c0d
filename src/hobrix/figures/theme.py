"""Colours and type of every picture, as a Vega-Lite config."""

import json
from functools import cache
from pathlib import Path
from typing import Any, Literal

Spec = dict[str, Any]
Theme = Literal["light", "dark"]

SCHEMA = "https://vega.github.io/schema/vega-lite/v6.json"
# Quoted, since a family name that ends in a digit is invalid without.
FONT = "'Source Sans 3 Variable', 'Source Sans 3', sans-serif"
# The classes a cell can have, in the order of the colour range below.
RESIDUAL_CLASSES = ("much fewer", "fewer", "as expected", "more", "much more")


@cache
def tokens() -> dict[str, dict[str, str]]:
    """The colours by theme and name; the front end reads the same file."""
    colours: dict[str, dict[str, str]] = json.loads(
        Path(__file__).with_name("tokens.json").read_text()
    )
    return colours


def config(theme: Theme) -> Spec:
    """The Vega-Lite config of a theme."""
    colour = tokens()[theme]
    return {
        "background": "transparent",
        "font": FONT,
        "view": {"stroke": None},
        "axis": {
            "domain": False,
            "grid": False,
            "ticks": False,
            "labelColor": colour["quiet"],
            "labelFontSize": 12,
            "titleColor": colour["quiet"],
            "titleFontWeight": "normal",
        },
        "text": {"color": colour["ink"], "fontSize": 12},
        "bar": {"color": colour["bar"], "stroke": colour["edge"], "strokeWidth": 0.5},
        "rule": {"color": colour["ink"]},
        "tick": {"color": colour["more_ink"]},
        "area": {"color": colour["pine"]},
        "line": {"color": colour["quiet"], "strokeWidth": 1.3},
        "rect": {"stroke": colour["edge"], "strokeWidth": 0.7},
        "point": {"color": colour["pine"], "fill": colour["pine"]},
        "title": {"color": colour["ink"], "fontSize": 13, "fontWeight": 600},
        "legend": {"labelColor": colour["ink"], "labelFontSize": 12},
        "range": {
            "ramp": [colour[f"ramp_{i}"] for i in range(1, 7)],
            "category": [
                colour["less_2"],
                colour["less_1"],
                colour["plain"],
                colour["more_1"],
                colour["more_2"],
            ],
        },
    }


# Palettes a picture can be given instead of its own; all can be told apart by the colour-blind.
PALETTES = ("blue", "grey")


def palettes(theme: Theme) -> dict[str, Spec]:
    """Changes to the config by palette: the five residual classes and the ramp."""
    colour = tokens()[theme]
    found = {}
    for name in PALETTES:
        five = [colour[f"{name}_{i}"] for i in range(1, 6)]
        ramp = [five[0], five[1], five[3], five[4], five[2]]
        point = {"color": five[0], "fill": five[0]}
        bar = {"color": five[1], "stroke": colour["edge"], "strokeWidth": 0.5}
        found[name] = {"range": {"category": five, "ramp": ramp}, "point": point, "bar": bar}
    return found
