"""Pictures as files: the specification of the screen drawn without a browser."""

from functools import cache
from pathlib import Path
from typing import Any

import vl_convert

from hobrix import figures
from hobrix.core.questions.number_style import THIN, NumberStyle

FONTS = Path(__file__).with_name("fonts")
# Of the npm package that draws them on the screen.
_VEGA_LITE = "6.4"
# As wide as text on a page, in pixels at 96 to the inch; what may grow grows to it.
_WIDTH = 520
# Labels beside a picture, in pixels; shorter limits are of labels between others.
_LABELS, _SHORT = 260, 90


@cache
def _ready() -> None:
    vl_convert.register_font_directory(str(FONTS))


def svg(spec: figures.Spec, style: NumberStyle) -> str:
    """The picture as SVG, with its text as text."""
    _ready()
    drawn: str = vl_convert.vegalite_to_svg(_for_print(spec), **_how(style))
    return drawn


def png(spec: figures.Spec, style: NumberStyle, *, scale: float = 2) -> bytes:
    """The picture as PNG on white."""
    _ready()
    white = {**_for_print(spec), "background": "white"}
    drawn: bytes = vl_convert.vegalite_to_png(white, scale=scale, **_how(style))
    return drawn


def _for_print(spec: figures.Spec) -> figures.Spec:
    made: figures.Spec = _roomier(spec)
    beside = (made.get("usermeta") or {}).get("beside")
    if beside is not None:
        made["width"] = max(made["width"], _WIDTH - beside)
    return made


def _roomier(part: Any) -> Any:
    """Labels may be longer than on the screen: nobody can point at them to read the rest."""
    if isinstance(part, dict):
        return {
            key: max(value, _LABELS) if key == "limit" and value > _SHORT else _roomier(value)
            for key, value in part.items()
        }
    return [_roomier(each) for each in part] if isinstance(part, list) else part


def _how(style: NumberStyle) -> dict[str, Any]:
    how: dict[str, Any] = {"vl_version": _VEGA_LITE, "config": figures.config("light")}
    if style.decimal_comma:
        how["format_locale"] = {
            "decimal": ",",
            "thousands": THIN,
            "grouping": [3],
            "currency": ["", ""],
        }
    return how
