"""What only the Distribution lens may be asked."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.said import Says
from hobrix.core.tables.one_proportion import Alternative, Method


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

    VERSION_1: ClassVar[dict[str, str]] = {"interval": "share_interval"}

    share_interval: Method = "wilson"
    against: Annotated[
        float | None,
        Field(gt=0, lt=1),
        Says("The share to test against must lie between 0 and 100%, without the ends."),
    ] = None
    alternative: Alternative = "two_sided"
    expected: Annotated[
        Annotated[EqualShares | StatedShares | LikeVariable, Field(discriminator="kind")] | None,
        Says("Expected shares must be numbers, one for each category."),
    ] = None
    all_values: bool = False
    bin_width: Annotated[
        float | None,
        Field(gt=0, allow_inf_nan=False),
        Says("The width of a bin must be a number above 0."),
    ] = None
