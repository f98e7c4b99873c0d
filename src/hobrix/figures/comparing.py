"""Answers side by side: one picture for each measure, a line for each answer and contrast."""

from hobrix.core.questions.comparing import SideBySide
from hobrix.figures.forest import Line, ratios
from hobrix.figures.rows import estimates
from hobrix.figures.theme import Spec

_MOST_LINES = 40


def pictures(found: SideBySide) -> dict[str, Spec]:
    """By measure: ratios on a log scale, shares in percent."""
    made: dict[str, Spec] = {}
    measures = dict.fromkeys((row.measure, row.unit) for row in found.rows)
    for measure, unit in measures:
        lines = [
            (f"{row.label}, {answer.title}", cell)
            for row in found.rows
            if row.measure == measure
            for answer, cell in zip(found.answers, row.cells, strict=True)
            if cell.estimate is not None and cell.ci is not None
        ][:_MOST_LINES]
        if len(lines) < 2:
            continue
        if unit == "ratio":
            made[measure] = ratios(
                [
                    Line(label, cell.estimate, cell.ci)
                    for label, cell in lines
                    if cell.estimate is not None and cell.ci is not None
                ],
                measure,
            )
        elif unit == "share":
            values: list[Spec] = []
            for label, cell in lines:
                assert cell.estimate is not None
                assert cell.ci is not None
                share, low, high = (100 * x for x in (cell.estimate, *cell.ci))
                text = f"{label}: {share:.1f}% ({low:.1f} to {high:.1f})"
                values.append(
                    {
                        "at": len(values),
                        "label": label,
                        "estimate": share,
                        "low": low,
                        "high": high,
                        "text": text,
                    }
                )
            x = {
                "type": "quantitative",
                "scale": {"domainMin": 0},
                "axis": {"title": f"{measure}, %", "tickCount": 6},
            }
            made[measure] = estimates(values, x, 0, width=300, row=24, labels=260)
    return made
