"""Crosstabs as papers print them."""

from hobrix.core.data import Frame
from hobrix.core.questions import printed as p
from hobrix.core.questions.answer import Answered
from hobrix.core.questions.crosstab.results import (
    CrosstabPanels,
    CrosstabResults,
    CrosstabTable,
    MeasuresPanel,
)
from hobrix.core.questions.groups_printed import event_by_group
from hobrix.core.questions.share_intervals import (
    AGAINST_REFERENCE,
    SHARE_INTERVALS,
    UNDER_DESIGN,
    picked_in_words,
)
from hobrix.core.questions.wording import interval_in_print, level, plain


def tables(answer: Answered[CrosstabResults, CrosstabPanels], frame: Frame) -> list[p.Table]:
    """All answers by group, and the event by group where there is one."""
    question, whole = answer.question, answer.results.whole
    assert question.outcome is not None
    outcome = frame.variables[question.outcome.variable].title
    explanatory = frame.variables[question.vary_with[0].variable].title
    found = [_all_answers(whole, outcome, explanatory, question.confidence)]
    if whole.groups is not None:
        groups, test = whole.groups, whole.event_test
        found.insert(0, event_by_group(groups, outcome, explanatory, question.confidence, test))
    if answer.opened.measures is not None:
        found.append(_measures(answer.opened.measures, question.confidence))
    return found


def _measures(panel: MeasuresPanel, confidence: float) -> p.Table:
    """Every measure of association that suits, the one that leads first."""
    rows = []
    for each in sorted(panel.measures, key=lambda each: not each.leads):
        if each.value is None:
            continue
        key = f"measures/{each.key}"
        ci: p.Part = p.NONE
        if each.ci is not None:
            words = f"{each.title}: interval"
            ci = p.limits(f"{key}/ci", words, each.ci, lambda x: plain(x, 2))
        rows.append(
            p.plain_row([each.title, p.two_decimals(f"{key}/value", each.title, each.value), ci])
        )
    return p.Table(
        name="measures",
        title="How strong the association is",
        columns=p.columns("Measure", "Value", f"{level(confidence)} CI"),
        rows=tuple(rows),
    )


def _all_answers(
    whole: CrosstabTable, outcome: str, explanatory: str, confidence: float
) -> p.Table:
    order = whole.order
    heads = [f"{whole.columns[j].label}, n (%)" for j in order]
    rows = [
        p.plain_row(
            [
                head.label,
                *(_cell(whole, i, j) for j in order),
                p.cases(f"table/{head.value}/n", f"{head.label}: all", whole.row_totals[i]),
            ]
        )
        for i, head in enumerate(whole.rows)
    ]
    total: list[p.Cell | p.Part] = ["All"]
    for j in order:
        value, label = whole.columns[j].value, whole.columns[j].label
        n, among = whole.column_totals[j], whole.column_margin[j]
        total.append(
            (
                p.cases(f"table//{value}/n", f"All, “{label}”: n", n),
                " (",
                p.share(f"table//{value}/share", f"All, “{label}”: share", among),
                ")",
            )
        )
    total.append(p.cases("table//n", "All", whole.n))
    return p.Table(
        name="table",
        title=f"{outcome} by {explanatory}",
        columns=p.columns(explanatory, *heads, "All, n"),
        rows=(*rows, p.plain_row(total)),
        notes=_notes(whole, explanatory, confidence),
    )


def _cell(whole: CrosstabTable, i: int, j: int) -> p.Cell:
    row, column = whole.rows[i], whole.columns[j]
    key, label = f"table/{row.value}/{column.value}", f"{row.label}, “{column.label}”"
    return (
        p.cases(f"{key}/n", f"{label}: n", whole.counts[i][j]),
        " (",
        p.share(f"{key}/share", f"{label}: share", whole.share_within_row[i][j]),
        ")",
    )


def _notes(whole: CrosstabTable, explanatory: str, confidence: float) -> tuple[str, ...]:
    weighted = "weighted percentages" if whole.weighted else "Percentages"
    within = f"n counts cases; {weighted}" if whole.weighted else weighted
    notes = [f"{within} run within each row ({explanatory})."]
    if whole.test is not None:
        notes.append(f"No association: {p.reported('test', 'Test', whole.test, whole.n).text}.")
    strength = f"Cramér’s V = {plain(whole.cramers_v, 2)}"
    if whole.strength_ci is not None:
        limits = interval_in_print(whole.strength_ci, lambda x: plain(x, 2))
        strength += f", {level(confidence)} CI {limits}"
    return (*notes, f"{strength}.")


def methods(answer: Answered[CrosstabResults, CrosstabPanels]) -> list[str]:
    """How tables were estimated."""
    groups = answer.results.whole.groups
    if groups is None:
        return ["The strength of association is Cramér’s V (Cramér 1946)."]
    if answer.sample is not None:
        said = [UNDER_DESIGN]
    else:
        said = [f"Shares have {SHARE_INTERVALS['wilson']}.", AGAINST_REFERENCE]
    if groups.many > 1:
        said.append(picked_in_words(groups.many))
    return said
