"""Weighted shares with their intervals, the unweighted pale beside them."""

from hobrix.core.questions.survey.results import SurveyResults, SurveyShare
from hobrix.figures.rows import AT, estimates
from hobrix.figures.theme import Spec


def weighted(survey: SurveyResults) -> Spec | None:
    """A line per group or answer; the dashed line is everyone's share where groups are compared."""
    shares = survey.shares
    if not shares:
        return None
    values = [_line(at, share) for at, share in enumerate(shares)]
    people = sum(share.weighted_n for share in shares)
    everyone = sum(share.weighted_n * share.estimate for share in shares) / people
    most = max(share.ci[1] if share.ci else share.estimate for share in shares)
    x = {
        "type": "quantitative",
        "scale": {"domain": [0, min(100.0, 108 * most)], "nice": False},
        "axis": {"title": "weighted share, % (pale: unweighted)", "tickCount": 5},
    }
    pale = {
        "mark": {"type": "point", "aria": False, "filled": True, "size": 60, "opacity": 0.35},
        "encoding": {"x": {**x, "field": "unweighted"}, "y": AT},
    }
    null = 100 * everyone if survey.comparisons else 0.0
    return estimates(values, x, null, width=330, row=24, labels=150, behind=[pale])


def _line(at: int, share: SurveyShare) -> Spec:
    low, high = share.ci or (share.estimate, share.estimate)
    return {
        "at": at,
        "label": share.label,
        "estimate": 100 * share.estimate,
        "unweighted": 100 * share.unweighted,
        "low": 100 * low,
        "high": 100 * high,
        "text": f"{share.label}: {100 * share.estimate:.1f}% ({100 * low:.1f} to {100 * high:.1f}), "
        f"unweighted {100 * share.unweighted:.1f}%",
    }
