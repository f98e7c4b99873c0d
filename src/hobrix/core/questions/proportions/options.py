"""What only the Proportions lens knows, as it stands under ``options`` of a question."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.lens_options import read_options
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import Recast
from hobrix.core.tables.one_proportion import Method

Alternative = Literal["two_sided", "less", "greater"]
Aim = Literal["equivalent", "not_below", "not_above"]


class ProportionOptions(Frozen):
    """``margin`` is a difference of shares above 0, for ``aim``; ``standard`` are weights of the
    strata by value (null: as common as in everyone counted)."""

    interval: Method = "wilson"
    alternative: Alternative = "two_sided"
    margin: Annotated[float, Field(gt=0, lt=1)] | None = None
    aim: Aim = "equivalent"
    standard: dict[str, Annotated[float, Field(ge=0, allow_inf_nan=False)]] | None = None
    plan_n: Annotated[int, Field(ge=2, le=10_000_000)] | None = None
    plan_width: Annotated[float, Field(gt=0, lt=0.5)] | None = None
    categories: dict[str, Recast] = {}


_SAID = {
    "margin": "The margin is a difference of shares above 0 and below 100 percentage points.",
    "plan_n": "The number per group is a whole number of at least 2.",
    "plan_width": "The half-width is above 0 and below 50 percentage points.",
    "standard": "The weights of the strata are numbers, 0 or more.",
}


def options_of(question: Question) -> ProportionOptions:
    """The options of a question for this lens; raises QuestionError."""
    return read_options(question, ProportionOptions, _SAID)
