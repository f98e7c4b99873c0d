"""Did allowing for others move a ratio because they are unequally common, or because odds ratios move?

An odds ratio lies further from 1 whenever anything else that matters is held equal, even where that is
as common on both sides (Greenland, Robins & Pearl 1999, Statistical Science 14:29). Whether a
difference goes with the others is therefore judged on the difference in shares, which does not.
"""

import math
from typing import Literal

from hobrix.core.questions.thresholds import MOVED, MOVED_SHARE

Verdict = Literal["same", "reversed", "not confounded", "smaller", "larger", "unknown"]


def verdict(
    before: float, now: float, alone: float | None, gap: float | None, wide: float = 1.0
) -> Verdict:
    """Odds ratios and differences in shares (None where they have no meaning) before and after the
    others are allowed for. ``wide`` is how many units count as much as two categories."""
    if abs(math.log(now / before)) * wide <= MOVED:
        return "same"
    if (
        min(abs(math.log(now)), abs(math.log(before))) * wide > MOVED
        and (now - 1) * (before - 1) < 0
    ):
        return "reversed"
    if gap is None or alone is None:
        return "unknown"
    if abs(gap - alone) * wide <= max(MOVED_SHARE, MOVED * abs(alone) * wide):
        return "not confounded"
    return "smaller" if abs(gap) < abs(alone) else "larger"
