"""The mosaic plot: one strip per group, as tall as the group is large, split by the answers.

Shading follows the adjusted residuals (Friendly 1994, JASA 89:190): a cell is shaded when it
stands out with all cells allowed for, deeper beyond twice the usual limit.
"""

from collections.abc import Sequence

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


def mosaic(whole: CrosstabTable, cells: Sequence[Sequence[str]]) -> Spec:
    """Groups run down, answers across; the event comes first where there is one.

    ``cells`` tells each cell in a sentence.
    """
    order = column_order(whole)
    height = max(150, min(420, 46 * len(whole.rows)))
    width = _WIDTH
    tiles, labels = _tiles(whole, cells, order, height)
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
            *_ends(whole, order, width, height),
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


def _tiles(
    whole: CrosstabTable, cells: Sequence[Sequence[str]], order: list[int], height: int
) -> tuple[list[Spec], list[Spec]]:
    room = 1 - _GAP * (len(whole.rows) - 1)
    tiles, middles = [], []
    top = 0.0
    for i in range(len(whole.rows)):
        bottom = top + room * whole.row_totals[i] / whole.n
        left = 0.0
        for j in order:
            right = left + whole.share_within_row[i][j]
            kind = residual_class(
                whole.adjusted_residuals[i][j], whole.adjusted_residuals_p_adjusted[i][j]
            )
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
                    "text": cells[i][j],
                }
            )
            left = right
        middles.append((top + bottom) / 2)
        top = bottom + _GAP
    placed = spread(middles, 14 / height)
    labels = [{"label": row.label, "y": y} for row, y in zip(whole.rows, placed, strict=True)]
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


def _ends(whole: CrosstabTable, order: list[int], width: int, height: int) -> list[Spec]:
    """The first and the last answer are named under the picture, each at its side."""
    sides = (("left", 0, order[0]), ("right", width, order[-1]))
    return [
        {
            "data": {"values": [{"label": whole.columns[j].label}]},
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
