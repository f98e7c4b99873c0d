"""Expected shares: equal, stated, or as another variable is distributed; refused where they
make no sense."""

import math

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions.distribution.options import EqualShares, LikeVariable, StatedShares
from hobrix.core.questions.sampling import Sampling
from hobrix.core.questions.wording import first_of

SLOT = "options.distribution.expected"


def expected_shares(
    expected: EqualShares | StatedShares | LikeVariable,
    variable: Variable,
    counts: dict[str, float],
    frame: Frame,
    sampling: Sampling,
) -> dict[str, float]:
    """Shares above 0 by category value, of any sum, for the categories to compare.

    Raises:
        QuestionError: shares that are negative, all zero, left out, for no category, or zero
            where somebody gave the answer.
    """
    match expected:
        case EqualShares():
            stated = dict.fromkeys(counts, 1.0)
        case StatedShares():
            stated = _as_stated(expected.shares, variable, counts)
        case LikeVariable():
            stated = _like(expected.variable, variable, counts, frame, sampling)
    impossible = [variable.label_of(v) for v, share in stated.items() if not share and counts[v]]
    if impossible:
        raise QuestionError(
            f"Nobody is expected in {_quoted(impossible)}, but some are there. Expect a share "
            "above 0, or leave these answers out of the question.",
            slot=SLOT,
        )
    kept = {value: share for value, share in stated.items() if share > 0}
    if len(kept) < 2:
        raise QuestionError("Shares are compared for two categories or more.", slot=SLOT)
    return kept


def _as_stated(
    shares: dict[str, float], variable: Variable, counts: dict[str, float]
) -> dict[str, float]:
    for value, share in shares.items():
        if value not in counts:
            raise QuestionError(f"“{value}” is not an answer to {variable.title}.", slot=SLOT)
        if share < 0 or not math.isfinite(share):
            message = f"{share:g} for “{variable.label_of(value)}” is no share: 0 or more, please."
            raise QuestionError(message, slot=SLOT)
    left_out = [variable.label_of(value) for value in counts if value not in shares]
    if left_out:
        message = f"No share is stated for {_quoted(left_out)}. Every category needs one."
        raise QuestionError(message, slot=SLOT)
    if not any(shares.values()):
        raise QuestionError("All shares are 0. At least two must be above 0.", slot=SLOT)
    return {value: shares[value] for value in counts}


def _like(
    name: str, variable: Variable, counts: dict[str, float], frame: Frame, sampling: Sampling
) -> dict[str, float]:
    other = frame.variable(name, SLOT)
    column = frame.categorical(name, SLOT)
    tally = sampling.cells([column.codes], [len(column.categories)])[1:]
    by_value = dict(zip((c.value for c in column.categories), tally.tolist(), strict=True))
    by_label = dict(zip((c.label for c in column.categories), tally.tolist(), strict=True))
    stated = {v: by_value.get(v, by_label.get(variable.label_of(v))) for v in counts}
    unmatched = [variable.label_of(v) for v, n in stated.items() if n is None]
    if unmatched:
        raise QuestionError(
            f"{other.title} has no answer like {_quoted(unmatched)}: the two cannot be compared.",
            slot=SLOT,
        )
    known = set(counts) | {variable.label_of(value) for value in counts}
    strange = [
        category.label
        for category, n in zip(column.categories, tally.tolist(), strict=True)
        if n and category.value not in known and category.label not in known
    ]
    if strange:
        raise QuestionError(
            f"{other.title} is also answered {_quoted(strange)}, which {variable.title} has no "
            "category for: their shares cannot be compared.",
            slot=SLOT,
        )
    if not np.any(tally):
        raise QuestionError(f"Nobody counted answered {other.title}.", slot=SLOT)
    return {value: float(n or 0.0) for value, n in stated.items()}


def _quoted(labels: list[str]) -> str:
    return first_of([f"“{label}”" for label in labels], 5)
