"""What only the Proportions lens may be asked."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.said import Says
from hobrix.core.tables.one_proportion import Alternative, Method

Aim = Literal["equivalent", "not_below", "not_above"]


class ProportionOptions(Frozen):
    """``margin`` is a difference of shares above 0, for ``aim``; ``standard`` are weights of the
    strata by value (null: as common as in everyone counted)."""

    VERSION_1: ClassVar[dict[str, str]] = {"interval": "share_interval"}

    share_interval: Method = "wilson"
    alternative: Alternative = "two_sided"
    margin: Annotated[
        float | None,
        Field(gt=0, lt=1),
        Says("The margin is a difference of shares above 0 and below 100 percentage points."),
    ] = None
    aim: Aim = "equivalent"
    standard: Annotated[
        dict[str, Annotated[float, Field(ge=0, allow_inf_nan=False)]] | None,
        Says("The weights of the strata are numbers, 0 or more."),
    ] = None
    plan_n: Annotated[
        int | None,
        Field(ge=2, le=10_000_000),
        Says("The number per group is a whole number of at least 2."),
    ] = None
    plan_width: Annotated[
        float,
        Field(gt=0, lt=0.5),
        Says("The half-width is above 0 and below 50 percentage points."),
    ] = 0.05
