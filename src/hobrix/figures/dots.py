"""Shares with their intervals: a dot and a line per group, with the overall share across."""

from hobrix.core.questions.crosstab.results import Group
from hobrix.core.questions.proportions.results import Proportions
from hobrix.figures.rows import estimates
from hobrix.figures.theme import Spec


def dots(whole: Proportions) -> Spec:
    """Groups from the first downwards in codebook order; the reference is a diamond."""
    # Two answers are called "Title: Yes" and "Title: No"; what they share says nothing here.
    starts = {group.label.partition(": ")[0] for group in whole.groups}
    is_shared = len(starts) == 1 and all(": " in group.label for group in whole.groups)
    names = [g.label.partition(": ")[2] if is_shared else g.label for g in whole.groups]
    values = [
        {**_dot(group, i, whole.reference), "label": name}
        for i, (group, name) in enumerate(zip(whole.groups, names, strict=True))
    ]
    x = {
        "type": "quantitative",
        "scale": {"domainMin": 0},
        "axis": {"title": f"% {whole.event_label} (line: everyone)", "tickCount": 6},
    }
    return estimates(
        values,
        x,
        100 * whole.overall.share,
        width=250,
        row=24,
        labels=122,
        diamonds="datum.reference",
    )


def _dot(group: Group, at: int, reference: str) -> Spec:
    low, high = group.share_ci
    return {
        "at": at,
        "value": group.value,
        "estimate": 100 * group.share,
        "low": 100 * low,
        "high": 100 * high,
        "reference": group.value == reference,
        "text": f"{group.label}: {100 * group.share:.1f}% ({100 * low:.1f} to {100 * high:.1f})",
    }
