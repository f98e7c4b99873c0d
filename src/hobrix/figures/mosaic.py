"""The mosaic plot: one strip per group, as tall as the group is large, split by the answers.

Shading follows the marks of the answer.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from hobrix.core.questions.crosstab.results import CrosstabTable
from hobrix.figures.picture import TEXT, picture
from hobrix.figures.rows import AT, labels_of
from hobrix.figures.theme import RESIDUAL_CLASSES, Spec

_MARKS = {"more": "▲", "much more": "▲", "fewer": "▼", "much fewer": "▼"}
_GAP = 0.008
_WIDTH = 172
_LABEL_WIDTH = 92
_ROW, _ROW_LABELS = 26, 112


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
    """Of a table; under a design groups are as tall as their share of the population."""
    return Strips(
        rows=[row.label for row in whole.rows],
        columns=[column.label for column in whole.columns],
        heights=whole.row_margin,
        shares=whole.share_within_row,
        classes=[[mark or "as expected" for mark in row] for row in whole.marks],
        order=whole.order,
        texts=cells,
    )


def mosaic(of: Strips) -> Spec:
    """The picture of a table."""
    height = max(150, min(420, 46 * len(of.rows)))
    tiles, labels = _tiles(of, height)
    return picture(
        [
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
                    "description": TEXT,
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
            *_ends(of, height),
        ],
        _WIDTH,
        height,
        padding={"left": 0, "right": 2, "top": 2, "bottom": 2},
        beside=_LABEL_WIDTH + 14,
        reads=(
            "Each strip is a group, as tall as the group is large, split by its answers; ▲ more and ▼ fewer "
            "than if the two were unrelated."
        ),
    )


def stacked(of: Strips) -> Spec:
    """One bar per group, each as long as the other, split by the answers; the event first."""
    values = [
        {
            "at": i,
            "group": row,
            "answer": of.columns[j],
            "order": place,
            "share": 100 * of.shares[i][j],
            "text": f"{row}: {100 * of.shares[i][j]:.1f}% {of.columns[j]}",
        }
        for i, row in enumerate(of.rows)
        for place, j in enumerate(of.order)
    ]
    bars = {
        "name": "shares",
        "data": {"values": values},
        "mark": {"type": "bar", "height": {"band": 0.74}},
        "encoding": {
            "x": {
                "field": "share",
                "type": "quantitative",
                "stack": "zero",
                "scale": {"domain": [0, 100]},
                "axis": {"title": "% within each group", "tickCount": 5},
            },
            "y": AT,
            "order": {"field": "order", "type": "ordinal"},
            "color": {
                "field": "answer",
                "type": "nominal",
                "scale": {"domain": [of.columns[j] for j in of.order], "range": "ramp"},
                "legend": {"title": None, "orient": "bottom", "columns": 4},
            },
            "description": TEXT,
        },
    }
    labels = [{"at": i, "label": row} for i, row in enumerate(of.rows)]
    return picture(
        [bars, labels_of(_ROW_LABELS, labels)],
        420,
        _ROW * len(of.rows),
        beside=_ROW_LABELS + 16,
    )


def in_words(table: CrosstabTable) -> list[list[str]]:
    """A short sentence per cell, for tables without a reading of their own."""
    return [
        [
            f"{row.label}: {100 * table.share_within_row[i][j]:.1f}% {column.label}"
            for j, column in enumerate(table.columns)
        ]
        for i, row in enumerate(table.rows)
    ]


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


def _ends(of: Strips, height: int) -> list[Spec]:
    """The first and the last answer are named under the picture, each at its side."""
    sides = (("left", 0, of.order[0]), ("right", "width", of.order[-1]))
    return [
        {
            "data": {"values": [{"label": of.columns[j]}]},
            "mark": {
                "type": "text",
                "aria": False,
                "align": side,
                "baseline": "top",
                "limit": _WIDTH / 2 - 6,
            },
            "encoding": {
                "x": {"value": x},
                "y": {"value": height + 6},
                "text": {"field": "label", "type": "nominal"},
            },
        }
        for side, x, j in sides
    ]
