"""Shares with their intervals: a dot and a line per group, with the overall share across."""

from hobrix.core.questions.answer import Reading
from hobrix.core.questions.estimates import Groups, Share
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.figures.rows import AT, estimates
from hobrix.figures.theme import Spec


def sheet(results: ProportionsResults, _reading: Reading) -> dict[str, Spec]:
    return {"dots": dots(results.whole)}


def dots(whole: Groups) -> Spec:
    """Groups from the first downwards in codebook order; the reference is a diamond, and under a
    design the unweighted share stands pale beside each."""
    # Two answers are called "Title: Yes" and "Title: No"; what they share says nothing here.
    starts = {group.label.partition(": ")[0] for group in whole.groups}
    is_shared = len(starts) == 1 and all(": " in group.label for group in whole.groups)
    names = [g.label.partition(": ")[2] if is_shared else g.label for g in whole.groups]
    values = [
        {**_dot(group, i, whole.reference), "label": name}
        for i, (group, name) in enumerate(zip(whole.groups, names, strict=True))
    ]
    is_weighted = whole.overall.weighted is not None
    said = "line: everyone; pale: unweighted" if is_weighted else "line: everyone"
    x = {
        "type": "quantitative",
        "scale": {"domainMin": 0},
        "axis": {"title": f"% {whole.event_label} ({said})", "tickCount": 6},
    }
    pale = {
        "mark": {"type": "point", "aria": False, "filled": True, "size": 60, "opacity": 0.35},
        "encoding": {"x": {**x, "field": "unweighted"}, "y": AT},
    }
    return estimates(
        values,
        x,
        100 * whole.overall.share,
        width=250,
        row=24,
        labels=122,
        diamonds="datum.reference",
        behind=[pale] if is_weighted else [],
    )


def _dot(group: Share, at: int, reference: str) -> Spec:
    low, high = group.share_ci or (group.share, group.share)
    text = f"{group.label}: {100 * group.share:.1f}% ({100 * low:.1f} to {100 * high:.1f})"
    dot = {
        "at": at,
        "value": group.value,
        "estimate": 100 * group.share,
        "low": 100 * low,
        "high": 100 * high,
        "reference": group.value == reference,
        "text": text,
    }
    if group.weighted is None:
        return dot
    unweighted = 100 * group.unweighted
    return {**dot, "unweighted": unweighted, "text": f"{text}, unweighted {unweighted:.1f}%"}
