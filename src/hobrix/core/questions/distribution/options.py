"""What only the Distribution lens knows, as it stands under ``options`` of a question."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.lens_options import read_options
from hobrix.core.questions.question import Question
from hobrix.core.tables.one_proportion import Method

Alternative = Literal["two_sided", "less", "greater"]


class EqualShares(Frozen):
    """Every category equally common."""

    kind: Literal["equal"] = "equal"


class StatedShares(Frozen):
    """Shares by category value, in any unit: percentages, ratios such as 2 : 1, or counts of a
    reference population."""

    kind: Literal["stated"] = "stated"
    shares: Annotated[dict[str, float], Field(min_length=1)]


class LikeVariable(Frozen):
    """As another variable's answers are distributed; categories are matched by value or label."""

    kind: Literal["variable"] = "variable"
    variable: str


class DistributionOptions(Frozen):
    """``against`` is a share in (0, 1) to test the event's share against."""

    interval: Method = "wilson"
    against: Annotated[float, Field(gt=0, lt=1)] | None = None
    alternative: Alternative = "two_sided"
    expected: Annotated[
        EqualShares | StatedShares | LikeVariable | None, Field(discriminator="kind")
    ] = None
    bin_width: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    all_values: bool = False


_SAID = {
    "against": "The share to test against must lie between 0 and 100%, without the ends.",
    "bin_width": "The width of a bin must be a number above 0.",
    "expected": "Expected shares must be numbers, one for each category.",
}


def options_of(question: Question) -> DistributionOptions:
    """The options of a question for this lens; raises QuestionError."""
    return read_options(question, DistributionOptions, _SAID)
