"""Pictures of answers as Vega-Lite specifications, for the browser and for reports alike.

Specifications name no colour: they use the ranges and marks of ``theme.config``, so the same
picture serves the light and the dark theme.
"""

from hobrix.core.questions import Answer
from hobrix.core.questions.crosstab.results import CrosstabResults
from hobrix.core.questions.distribution.results import DistributionResults, VariableDistribution
from hobrix.figures import bars
from hobrix.figures.mosaic import mosaic
from hobrix.figures.theme import Spec, config

__all__ = ["Spec", "config", "mosaic", "of"]


def of(answer: Answer) -> dict[str, Spec]:
    """All pictures of an answer, by name."""
    match answer.results:
        case CrosstabResults(whole=whole):
            return {"mosaic": mosaic(whole, answer.reading.cells)}
        case DistributionResults(whole=whole):
            return _of_distributions(whole.variables)


def _of_distributions(variables: tuple[VariableDistribution, ...]) -> dict[str, Spec]:
    """Bars or a histogram of each variable, under its name."""
    found = {}
    for each in variables:
        if each.histogram is not None and each.summary is not None:
            title = f"{each.title} ({each.unit})" if each.unit else each.title
            picture = bars.histogram(each.histogram, each.summary, each.n_answered, title)
            found[f"distribution:{each.variable}"] = picture
        elif (drawn := bars.bars(each)) is not None:
            found[f"distribution:{each.variable}"] = drawn
        if each.goodness_of_fit is not None:
            found["expected"] = bars.against_expected(each.goodness_of_fit)
    return found
