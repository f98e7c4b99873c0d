"""Pictures as specifications: what they draw is what the answer says."""

import json
from itertools import pairwise
from typing import Any

import pytest

from core.asking import ask
from hobrix import figures
from hobrix.core.questions.marks import mark_of
from hobrix.figures.mosaic import spread
from hobrix.figures.theme import RESIDUAL_CLASSES, tokens

ILL: dict[str, Any] = {
    "outcome": {"variable": "column", "event": ["c2"]},
    "vary_with": [{"variable": "row", "reference": "r1"}],
}
TABLE = [[849, 118], [441, 84], [234, 107]]


def tiles() -> list[dict[str, float]]:
    return figures.of(ask(TABLE, **ILL))["mosaic"]["layer"][0]["data"]["values"]


def test_areas_are_shares_of_all_up_to_the_gaps() -> None:
    total = sum(map(sum, TABLE))
    gaps = 1 - 0.008 * 2
    for tile in tiles():
        area = (tile["x1"] - tile["x0"]) * (tile["y1"] - tile["y0"]) / gaps
        assert area == pytest.approx(TABLE[int(tile["row"])][int(tile["column"])] / total)


def test_the_event_stands_first_and_tiles_fill_each_strip() -> None:
    by_row: dict[int, list[dict[str, float]]] = {}
    for tile in tiles():
        by_row.setdefault(int(tile["row"]), []).append(tile)
    for strip in by_row.values():
        assert [tile["column"] for tile in strip] == [1, 0]
        assert (strip[0]["x0"], strip[0]["x1"]) == (0, strip[1]["x0"])
        assert strip[1]["x1"] == pytest.approx(1)


@pytest.mark.parametrize(
    ("residual", "p", "expected"),
    [
        (2.5, 0.2, ""),
        (2.5, 0.01, "more"),
        (-2.5, 0.01, "fewer"),
        (4.5, 0.001, "much more"),
        (-9.0, 0.0, "much fewer"),
    ],
)
def test_shading_follows_residuals_with_all_cells_allowed_for(
    residual: float, p: float, expected: str
) -> None:
    assert mark_of(residual, p) == expected
    assert not expected or expected in RESIDUAL_CLASSES


def test_labels_of_thin_strips_are_moved_apart_and_stay_inside() -> None:
    placed = spread([0.1, 0.5, 0.95, 0.97, 0.99], 0.06)
    assert all(b - a >= 0.06 - 1e-12 for a, b in pairwise(placed))
    assert placed[0] == 0.1
    assert placed[-1] <= 1


def test_specifications_name_no_colour() -> None:
    text = json.dumps(figures.of(ask(TABLE, **ILL)))
    for theme in tokens().values():
        for colour in theme.values():
            assert colour not in text


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_every_class_has_a_colour_of_its_own(theme: str) -> None:
    colours = figures.config(theme)["range"]["category"]  # type: ignore[arg-type]
    assert len(set(colours)) == len(RESIDUAL_CLASSES)
    assert set(tokens()["light"]) == set(tokens()["dark"])


def contrast(one: str, other: str) -> float:
    """Contrast ratio of two colours (WCAG 2.2, relative luminance)."""

    def luminance(colour: str) -> float:
        parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("ground", ["sheet", "plain", "more_1", "more_2", "less_1", "less_2"])
def test_text_can_be_read_on_every_shade(theme: str, ground: str) -> None:
    colour = tokens()[theme]
    assert contrast(colour["ink"], colour[ground]) >= 4.5


def test_a_model_is_drawn_as_it_is_told() -> None:
    given = ask(TABLE, lens="odds", **ILL)
    drawn = figures.of(given)
    model = given.results.whole
    assert set(drawn) >= {"forest", "calibration", "roc", "predicted", "residuals:row"}
    ratios = [v["estimate"] for v in drawn["forest"]["data"]["values"]]
    assert ratios == [row.odds_ratio for row in model.terms[0].rows]
    points = drawn["calibration"]["layer"][1]["data"]["values"]
    groups = given.opened.fit.hosmer_lemeshow.table
    assert [p["observed"] for p in points] == [g.observed_events / g.n for g in groups]
    assert [p["predicted"] for p in points] == [g.expected_events / g.n for g in groups]
    line = drawn["roc"]["layer"][1]["data"]["values"]
    assert (line[0]["true"], line[-1]["true"]) == (0, 1)
    bins = drawn["predicted"]["layer"][0]["data"]["values"]
    assert sum(b["share"] for b in bins if b["share"] > 0) == pytest.approx(1)
    text = json.dumps(drawn)
    assert not any(colour in text for theme in tokens().values() for colour in theme.values())
