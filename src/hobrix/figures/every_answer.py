"""Pictures of a model of every answer: its odds ratios, those at each cut, and predicted shares."""

from collections.abc import Sequence

from hobrix.core.questions.answer import Reading
from hobrix.core.questions.every_answer.results import (
    CutRatio,
    CutsPanel,
    EveryAnswerPanels,
    EveryAnswerResults,
    PredictedAnswer,
    PredictedPanel,
)
from hobrix.figures.forest import Line, ratios
from hobrix.figures.picture import TEXT, picture
from hobrix.figures.rows import AT, labels_of
from hobrix.figures.theme import Spec

# More lines than these no picture shows side by side.
MOST_LINES = 40
_ROW, _LABELS = 30, 150


def sheet(results: EveryAnswerResults, _reading: Reading) -> dict[str, Spec]:
    shown = [term for term in results.terms if not term.part_of_interaction]
    # Where each line has an answer too, what is allowed for would make the picture too long.
    if not results.is_ordered:
        shown = [term for term in shown if term.role == "vary_with"] or shown
    alone = len(shown) == 1 and not results.is_ordered
    lines = [
        Line(
            _label(row.label if alone else f"{row.given or term.title}: {row.label}", each.answer),
            each.odds_ratio,
            each.ci,
            each.unadjusted,
        )
        for term in sorted(shown, key=lambda term: term.role != "vary_with")
        for row in term.rows
        for each in row.ratios
    ]
    way = "lower" if results.downward else "higher"
    what = f"odds ratio of a {way} answer" if results.is_ordered else "odds ratio"
    if not results.is_ordered:
        what += f" rather than {results.base.label}"
    return {"forest": ratios(lines[:MOST_LINES], f"{what} (pale: unadjusted)")}


def _label(label: str, answer: str | None) -> str:
    return label if answer is None else f"{answer}, {label}"


def opened(panels: EveryAnswerPanels) -> dict[str, Spec]:
    found: dict[str, Spec] = {}
    if panels.cuts is not None and panels.cuts.lines:
        found["cuts"] = cuts(panels.cuts)
    if panels.predicted is not None:
        found |= shares(panels.predicted)
    return found


def cuts(panel: CutsPanel) -> Spec:
    """Each odds ratio of what varies for all cuts together, and below it those at every cut."""
    lines: list[Line] = []
    for line in panel.lines:
        if line.role != "vary_with":
            continue
        each: list[tuple[str, CutRatio | None]] = [(line.label, line.common)]
        at_each = zip(panel.cuts, line.cuts, strict=True)
        each += [(f"… {cut.label}", found) for cut, found in at_each]
        if len(lines) + len(each) > MOST_LINES:
            break
        lines += [Line(label, one.odds_ratio, one.ci) for label, one in each if one is not None]
    return ratios(lines, "odds ratio, of all cuts and (…) at each")


def shares(panel: PredictedPanel) -> dict[str, Spec]:
    """A bar for each category, or each profile, divided by the answers."""
    found = {}
    for variable in panel.variables:
        bars = [(level.label, level.answers) for level in variable.levels]
        found[f"shares:{variable.variable}"] = bars_of(bars, panel.labels)
    if panel.profiles:
        named = [
            (f"{chr(65 + i)}: {each.label}", each.answers) for i, each in enumerate(panel.profiles)
        ]
        found["profiles"] = bars_of(named, panel.labels)
    return found


def bars_of(bars: Sequence[tuple[str, Sequence[PredictedAnswer]]], labels: Sequence[str]) -> Spec:
    """One below the other, each from 0 to 100 %."""
    values: list[Spec] = []
    for at, (bar, answers) in enumerate(bars):
        start = 0.0
        for answer, each in zip(labels, answers, strict=True):
            limits = (
                "" if each.ci is None else f" ({100 * each.ci[0]:.1f} to {100 * each.ci[1]:.1f})"
            )
            values.append(
                {
                    "at": at,
                    "label": bar,
                    "answer": answer,
                    "from": start,
                    "to": start + each.share,
                    "text": f"{bar}: {100 * each.share:.1f}%{limits} {answer}",
                }
            )
            start += each.share
    x = {
        "type": "quantitative",
        "scale": {"domain": [0, 1]},
        "axis": {"title": None, "format": ".0%"},
    }
    colour = {
        "field": "answer",
        "type": "ordinal",
        "scale": {"domain": list(labels), "range": "ramp"},
        "legend": {"title": None, "orient": "top", "columns": 4, "labelLimit": 160},
    }
    layers: list[Spec] = [
        {
            "mark": {"type": "bar", "height": {"band": 0.74}},
            "encoding": {
                "x": {**x, "field": "from"},
                "x2": {"field": "to"},
                "y": AT,
                "color": colour,
                "description": TEXT,
                "tooltip": TEXT,
            },
        },
    ]
    names: list[Spec] = [{"at": at, "label": bar} for at, (bar, _) in enumerate(bars)]
    return picture(
        [*layers, labels_of(_LABELS, names)],
        340,
        _ROW * len(bars),
        values=values,
        beside=_LABELS + 16,
        reads="Predicted shares of the answers; each bar is 100 %.",
    )
