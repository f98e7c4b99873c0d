"""Pictures of answers as Vega-Lite specifications, for the browser and for reports alike.

Specifications name no colour: they use the ranges and marks of ``theme.config``, so the same
picture serves the light and the dark theme.
"""

from hobrix.core.questions import Answer
from hobrix.figures.mosaic import mosaic
from hobrix.figures.theme import Spec, config

__all__ = ["Spec", "config", "mosaic", "of"]


def of(answer: Answer) -> dict[str, Spec]:
    """All pictures of an answer, by name."""
    return {"mosaic": mosaic(answer)}
