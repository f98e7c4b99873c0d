"""The event in each group, as papers print it; of tables and shares alike."""

from hobrix.core.questions.estimates import Against, Groups, NamedTest, Share
from hobrix.core.questions.printed import (
    NONE,
    Cell,
    Number,
    Row,
    Table,
    cases,
    columns,
    difference,
    limits,
    plain_row,
    ratio_number,
    reported,
    share,
    with_limits,
)
from hobrix.core.questions.wording import level, points, ratio


def event_by_group(
    groups: Groups,
    outcome: str,
    explanatory: str,
    confidence: float,
    test: NamedTest | None,
) -> Table:
    """A line per group: how many with the event of how many, the share with its interval, and ratios
    against the reference."""
    event, against = groups.event_label, _bare(groups.reference_label, explanatory)
    heads = [f"“{event}”, n", "of"]
    if groups.shares_have_meaning:
        heads += ["%", f"{level(confidence)} CI", f"Difference, points (against {against})"]
    heads.append(f"Odds ratio (against {against})")
    notes = [f"Event: “{event}” ({outcome}). Reference: {against} ({explanatory})."]
    if groups.shares_have_meaning:
        notes.append("Percentages run within each group; in parentheses intervals.")
    if test is not None:
        n = sum(group.n for group in groups.groups)
        notes.append(f"All groups alike: {reported('test', 'Test', test, n).text}.")
    return Table(
        name="event",
        title=f"“{event}” ({outcome}) by {explanatory}",
        columns=columns(explanatory, *heads),
        rows=tuple(_row(groups, group, explanatory) for group in groups.groups),
        notes=tuple(notes),
    )


def _bare(label: str, explanatory: str) -> str:
    """A group under the name of its variable."""
    return label.removeprefix(f"{explanatory}: ")


def _row(groups: Groups, group: Share, explanatory: str) -> Row:
    key, label = f"event/{group.value}", f"{group.label}, “{groups.event_label}”"
    cells: list[Cell | str | Number] = [
        _bare(group.label, explanatory),
        cases(f"{key}/events", f"{label}: n", group.events),
        cases(f"{key}/n", f"{group.label}: all", group.n),
    ]
    is_base = group.value == groups.reference
    found = None if is_base else groups.against(group.value)
    if groups.shares_have_meaning:
        cells.append(share(f"{key}/share", f"{label}: share", group.share))
        cells.append(
            NONE
            if group.share_ci is None
            else limits(
                f"{key}/share/ci", f"{label}: interval of the share", group.share_ci, points
            )
        )
        cells.append("0" if found is None else _difference(key, label, found))
    cells.append("1" if found is None else _odds_ratio(key, label, found))
    return plain_row(cells)


def _difference(key: str, label: str, found: Against) -> Cell:
    effect = found.risk_difference
    if effect is None or effect.estimate is None:
        return (NONE,)
    value = difference(f"{key}/difference", f"{label}: difference", effect.estimate)
    return with_limits(f"{key}/difference", f"{label}: difference", value, effect.ci, points)


def _odds_ratio(key: str, label: str, found: Against) -> Cell:
    effect = found.odds_ratio
    if effect.estimate is None:
        return (NONE,)
    value = ratio_number(f"{key}/odds_ratio", f"{label}: odds ratio", effect.estimate)
    return with_limits(f"{key}/odds_ratio", f"{label}: odds ratio", value, effect.ci, ratio)
