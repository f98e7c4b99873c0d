"""Pictures of answers as Vega-Lite specifications, for the browser and for reports alike.

Specifications name no colour: they use the ranges and marks of ``theme.config``, so the same
picture serves the light and the dark theme. One line per lens that draws something.
"""

from typing import Any

from hobrix.core.questions import Answer
from hobrix.core.questions.crosstab.results import CrosstabPanels, CrosstabResults
from hobrix.core.questions.distribution.results import DistributionResults
from hobrix.core.questions.every_answer.results import EveryAnswerPanels, EveryAnswerResults
from hobrix.core.questions.odds.opened import OddsPanels
from hobrix.core.questions.odds.results import OddsResults
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.within_sets.results import MatchedResults
from hobrix.figures import crosstab, distribution, every_answer, odds, proportions, within_sets
from hobrix.figures.theme import Spec, config, palettes

__all__ = ["Spec", "config", "of", "of_opened", "palettes"]

_SHEETS: dict[type, Any] = {
    CrosstabResults: crosstab.sheet,
    OddsResults: odds.sheet,
    EveryAnswerResults: every_answer.sheet,
    MatchedResults: within_sets.sheet,
    ProportionsResults: proportions.sheet,
    DistributionResults: distribution.sheet,
}
_OPENED: dict[type, Any] = {
    CrosstabPanels: crosstab.opened,
    OddsPanels: odds.opened,
    EveryAnswerPanels: every_answer.opened,
}


def of(answer: Answer) -> dict[str, Spec]:
    """All pictures of an answer, by name."""
    draw = _SHEETS.get(type(answer.results))
    found: dict[str, Spec] = {} if draw is None else draw(answer.results, answer.reading)
    return found | of_opened(answer.opened)


def of_opened(panels: object) -> dict[str, Spec]:
    """Those of the panels that were opened, by name."""
    draw = _OPENED.get(type(panels))
    found: dict[str, Spec] = {} if draw is None else draw(panels)
    return found
