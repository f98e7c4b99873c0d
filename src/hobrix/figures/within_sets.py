"""Pictures of a model of matched sets."""

from hobrix.core.questions.answer import Reading
from hobrix.core.questions.within_sets.results import MatchedResults
from hobrix.figures.forest import Line, ratios
from hobrix.figures.theme import Spec


def sheet(results: MatchedResults, _reading: Reading) -> dict[str, Spec]:
    lines = [
        Line(f"{row.given or term.title}: {row.label}", row.odds_ratio, row.ci, row.unadjusted)
        for term in sorted(results.terms, key=lambda term: term.role != "vary_with")
        if not term.part_of_interaction
        for row in term.rows
    ]
    return {"forest": ratios(lines, "odds ratio within sets (pale: matched only)")} if lines else {}
