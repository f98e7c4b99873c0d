"""The mosaic plot: one strip per group, as tall as the group is large, split by the answers.

Shading follows the adjusted residuals (Friendly 1994, JASA 89:190): a cell is shaded when it
stands out with all cells allowed for, deeper beyond twice the usual limit.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from hobrix.core.questions.crosstab.results import CrosstabTable
from hobrix.figures.theme import RESIDUAL_CLASSES, SCHEMA, Spec

LEVEL = 0.05
_MARKS = {"more": "▲", "much more": "▲", "fewer": "▼", "much fewer": "▼"}
_GAP = 0.008
_WIDTH = 172
_LABEL_WIDTH = 92


def residual_class(adjusted: float, p_holm: float) -> str:
    """Which of the five classes a cell belongs to."""
    if p_holm >= LEVEL:
        return "as expected"
    strength = "much " if abs(adjusted) > 4 else ""
    return strength + ("more" if adjusted > 0 else "fewer")


@dataclass(frozen=True)
class Strips:
    """Groups run down, answers across in the ``order`` given: the ``heights`` of groups add up to
    1, as do the ``shares`` of each; ``texts`` tell each cell in a sentence."""

    rows: Sequence[str]
    columns: Sequence[str]
    heights: Sequence[float]
    shares: Sequence[Sequence[float]]
    classes: Sequence[Sequence[str]]
    order: Sequence[int]
    texts: Sequence[Sequence[str]]


def strips(whole: CrosstabTable, cells: Sequence[Sequence[str]]) -> Strips:
    """Of a table; the event comes first where there is one."""
    return Strips(
        rows=[row.label for row in whole.rows],
        columns=[column.label for column in whole.columns],
        heights=[total / whole.n for total in whole.row_totals],
        shares=whole.share_within_row,
        classes=classes(whole.adjusted_residuals, whole.adjusted_residuals_p_adjusted),
        order=column_order(whole),
        texts=cells,
    )


def classes(residuals: Sequence[Sequence[float]], p: Sequence[Sequence[float]]) -> list[list[str]]:
    """Which of the five classes every cell belongs to, from standardised departures and p."""
    return [
        [residual_class(*cell) for cell in zip(*row, strict=True)]
        for row in zip(residuals, p, strict=True)
    ]


def mosaic(of: Strips) -> Spec:
    """The picture of a table."""
    height = max(150, min(420, 46 * len(of.rows)))
    width = _WIDTH
    tiles, labels = _tiles(of, height)
    return {
        "$schema": SCHEMA,
        "width": width,
        "height": height,
        "padding": {"left": 0, "right": 2, "top": 2, "bottom": 2},
        "layer": [
            {
                "name": "tiles",
                "data": {"values": tiles},
                "mark": {"type": "rect", "cursor": "pointer"},
                "encoding": {
                    "x": {
                        "field": "x0",
                        "type": "quantitative",
                        "scale": {"domain": [0, 1]},
                        "axis": None,
                    },
                    "x2": {"field": "x1"},
                    "y": {
                        "field": "y0",
                        "type": "quantitative",
                        "scale": {"domain": [1, 0]},
                        "axis": None,
                    },
                    "y2": {"field": "y1"},
                    "fill": {
                        "field": "class",
                        "type": "nominal",
                        "scale": {"domain": list(RESIDUAL_CLASSES), "range": "category"},
                        "legend": None,
                    },
                    "description": {"field": "text", "type": "nominal"},
                },
            },
            {
                "data": {"values": [tile for tile in tiles if tile["mark"]]},
                "mark": {"type": "text", "aria": False, "fontSize": 10},
                "encoding": {
                    "x": {"field": "xm", "type": "quantitative"},
                    "y": {"field": "ym", "type": "quantitative"},
                    "text": {"field": "mark", "type": "nominal"},
                },
            },
            {
                "data": {"values": labels},
                "mark": {
                    "type": "text",
                    "aria": False,
                    "align": "right",
                    "baseline": "middle",
                    "limit": _LABEL_WIDTH,
                },
                "encoding": {
                    "x": {"value": -8},
                    "y": {"field": "y", "type": "quantitative"},
                    "text": {"field": "label", "type": "nominal"},
                },
            },
            *_ends(of, width, height),
        ],
    }


def in_words(table: CrosstabTable) -> list[list[str]]:
    """A short sentence per cell, for tables without a reading of their own."""
    return [
        [
            f"{row.label}: {100 * table.share_within_row[i][j]:.1f}% {column.label}"
            for j, column in enumerate(table.columns)
        ]
        for i, row in enumerate(table.rows)
    ]


def column_order(whole: CrosstabTable) -> list[int]:
    """Positions of the columns as they are shown: the event first."""
    event = whole.event_by_group.event if whole.event_by_group else ()
    positions = range(len(whole.columns))
    return sorted(positions, key=lambda j: (whole.columns[j].value not in event, j))


def _tiles(of: Strips, height: int) -> tuple[list[Spec], list[Spec]]:
    room = 1 - _GAP * (len(of.rows) - 1)
    tiles, middles = [], []
    top = 0.0
    for i, tall in enumerate(of.heights):
        bottom = top + room * tall
        left = 0.0
        for j in of.order:
            right = left + of.shares[i][j]
            kind = of.classes[i][j]
            roomy = (bottom - top) * height > 11 and right - left > 0.06
            tiles.append(
                {
                    "row": i,
                    "column": j,
                    "x0": left,
                    "x1": right,
                    "y0": top,
                    "y1": bottom,
                    "xm": (left + right) / 2,
                    "ym": (top + bottom) / 2,
                    "class": kind,
                    "mark": _MARKS.get(kind, "") if roomy else "",
                    "text": of.texts[i][j],
                }
            )
            left = right
        middles.append((top + bottom) / 2)
        top = bottom + _GAP
    placed = spread(middles, 14 / height)
    labels = [{"label": row, "y": y} for row, y in zip(of.rows, placed, strict=True)]
    return tiles, labels


def spread(middles: list[float], least: float) -> list[float]:
    """Move label positions apart by at least ``least``, from the bottom up where room ends."""
    placed: list[float] = []
    for middle in middles:
        placed.append(max(middle, placed[-1] + least) if placed else middle)
    limit = 1.0
    for k in range(len(placed) - 1, -1, -1):
        placed[k] = min(placed[k], limit)
        limit = placed[k] - least
    return placed


def _ends(of: Strips, width: int, height: int) -> list[Spec]:
    """The first and the last answer are named under the picture, each at its side."""
    sides = (("left", 0, of.order[0]), ("right", width, of.order[-1]))
    return [
        {
            "data": {"values": [{"label": of.columns[j]}]},
            "mark": {
                "type": "text",
                "aria": False,
                "align": side,
                "baseline": "top",
                "limit": width / 2 - 6,
            },
            "encoding": {
                "x": {"value": x},
                "y": {"value": height + 6},
                "text": {"field": "label", "type": "nominal"},
            },
        }
        for side, x, j in sides
    ]
