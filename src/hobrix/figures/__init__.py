"""Pictures of answers as Vega-Lite specifications, for the browser and for reports alike.

Specifications name no colour: they use the ranges and marks of ``theme.config``, so the same
picture serves the light and the dark theme.
"""

from collections.abc import Sequence

from hobrix.core.questions import Answer
from hobrix.core.questions.crosstab.reading import furthest
from hobrix.core.questions.crosstab.results import CrosstabResults
from hobrix.core.questions.distribution.results import DistributionResults, VariableDistribution
from hobrix.core.questions.odds.results import OddsResults
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.figures import bars, comparing, models
from hobrix.figures.dots import dots
from hobrix.figures.forest import forest
from hobrix.figures.maps import correspondence_map
from hobrix.figures.mosaic import in_words, mosaic, strips
from hobrix.figures.theme import Spec, config, palettes
from hobrix.figures.weighted import weighted, weighted_histogram, weighted_strips

__all__ = ["Spec", "config", "mosaic", "of", "palettes"]


def of(answer: Answer) -> dict[str, Spec]:
    """All pictures of an answer, by name."""
    found = _of_results(answer)
    if answer.survey is None:
        return found
    if (drawn := weighted(answer.survey)) is not None:
        found["weighted"] = drawn
    if answer.survey.table is not None:
        in_strips = weighted_strips(answer.survey.table, answer.reading.cells)
        found |= {"mosaic": mosaic(in_strips), "stacked": comparing.stacked(in_strips)}
    model = answer.survey.model
    if model is not None:
        found["forest"] = forest(model.terms)
        found.pop("calibration", None)
        if model.fit is not None:
            groups = [(group.predicted, group.observed) for group in model.fit.groups]
            found["calibration"] = models.calibration(groups)
    if model is not None and model.curve is not None:
        assert isinstance(answer.results, OddsResults)
        found["curve"] = models.curve(model.curve, answer.results.event_label)
    if answer.survey.histogram is not None:
        assert isinstance(answer.results, DistributionResults)
        first = answer.results.whole.variables[0]
        title = f"{first.title} ({first.unit})" if first.unit else first.title
        found["weighted_histogram"] = weighted_histogram(answer.survey.histogram, title)
    return found


def _of_results(answer: Answer) -> dict[str, Spec]:
    match answer.results:
        case CrosstabResults():
            return _of_crosstab(answer.results, answer.reading.cells)
        case OddsResults():
            return models.pictures(answer.results)
        case ProportionsResults(whole=shares):
            return {"dots": dots(shares)}
        case DistributionResults(whole=whole):
            return _of_distributions(whole.variables)


def _of_crosstab(results: CrosstabResults, cells: Sequence[Sequence[str]]) -> dict[str, Spec]:
    whole = results.whole
    in_strips = strips(whole, cells)
    found = {"mosaic": mosaic(in_strips), "stacked": comparing.stacked(in_strips)}
    if whole.correspondence is not None:
        found["map"] = correspondence_map(whole.correspondence)
    compared = furthest(whole.event_by_group).value if whole.event_by_group else ""
    if (drawn := comparing.strata(results, compared)) is not None:
        found["strata"] = drawn
    for i, (label, table) in enumerate(comparing.small_multiples(results)):
        found[f"mosaic:{i}"] = {**mosaic(strips(table, in_words(table))), "title": label}
    return found


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
