"""The same answer three ways: each row once, with the weights only, and with the design."""

import math
from collections.abc import Callable, Sequence

from hobrix.core.data import Design, EachRow
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Beside, BesideRow, OneWay
from hobrix.core.questions.estimates import Quantity, SomeLimits
from hobrix.core.questions.question import Question


def beside(
    question: Question,
    design: Sequence[Quantity],
    quantities: Callable[[Question], Sequence[Quantity]],
) -> Beside:
    """The quantities of an answer beside those of the same question counted two other ways, matched
    by what they are called; what one of them cannot answer stays empty."""
    assert isinstance(question.counted_by, Design)
    weights = question.counted_by.weights_only() or EachRow()
    alone = _by_label(question.changed(counted_by=weights), quantities)
    plain = _by_label(question.changed(counted_by=EachRow()), quantities)
    rows = tuple(
        BesideRow(
            label=each.label,
            unit=each.unit,
            unweighted=_way(plain.get(each.label)),
            weights_only=_way(alone.get(each.label)),
            design=OneWay(estimate=each.estimate, ci=each.ci),
        )
        for each in design
    )
    return Beside(rows=rows, moved=_moved(rows))


def _by_label(
    question: Question, quantities: Callable[[Question], Sequence[Quantity]]
) -> dict[str, Quantity]:
    try:
        return {each.label: each for each in quantities(question)}
    except QuestionError:
        return {}


def _way(found: Quantity | None) -> OneWay | None:
    return None if found is None else OneWay(estimate=found.estimate, ci=found.ci)


def _moved(rows: Sequence[BesideRow]) -> str:
    """How much wider strata and clusters make the intervals."""
    wider = {}
    for row in rows:
        one = None if row.weights_only is None else row.weights_only.ci
        other = row.design.ci
        if one is not None and other is not None and _width(one, row.unit) > 0:
            wider[row.label] = _width(other, row.unit) / _width(one, row.unit)
    if not wider:
        return "Strata and clusters move no estimate: only its error."
    # Ties are not broken by rounding.
    most = max(wider, key=lambda label: round(abs(math.log(max(wider[label], 1e-9))), 9))
    low, high = min(wider.values()), max(wider.values())
    opening = "Strata and clusters move no estimate; they make intervals "
    if f"{low:.2f}" == f"{high:.2f}":
        return f"{opening}{high:.2f} times as wide as the weights alone do."
    return f"{opening}{low:.2f} to {high:.2f} times as wide as the weights alone do (most: {most})."


def _width(ci: SomeLimits, unit: str) -> float:
    low, high = ci
    if unit == "ratio":
        return math.log(max(high, 1e-300) / max(low, 1e-300))
    return high - low
