"""What only the model of every answer may be asked."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.modelling.estimation import LimitsBy
from hobrix.core.questions.said import Says

MOST_PROFILES = 6


class EveryAnswerOptions(Frozen):
    """``taken`` as the codebook has the outcome, or otherwise; ``downward`` tells the odds of a lower answer;
    ``base`` is the answer others are compared with (empty: the reference of the codebook, or the first);
    ``new_step_at`` names variables that begin a step of
    their own; ``profiles`` hold a value per variable."""

    taken: Literal["as_recorded", "in_order", "in_no_order"] = "as_recorded"
    downward: bool = False
    base: str = ""
    limits: LimitsBy = "wald"
    new_step_at: tuple[str, ...] = ()
    profiles: Annotated[
        tuple[dict[str, str | float], ...],
        Field(max_length=MOST_PROFILES),
        Says(f"Up to {MOST_PROFILES} profiles can stand side by side."),
    ] = ()
