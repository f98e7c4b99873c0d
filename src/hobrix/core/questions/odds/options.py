"""What only the Odds model lens may be asked."""

from typing import Annotated, ClassVar

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.modelling.estimation import FitMethod, LimitsBy
from hobrix.core.questions.said import Says

MOST_PROFILES, MOST_ROWS_LEFT_OUT = 6, 50


class OddsOptions(Frozen):
    """``new_step_at`` names variables that begin a step of their own; ``profiles`` hold a value per
    variable; ``without_rows`` are row numbers from 1; ``curve`` is a numeric variable, and
    ``curve_by`` a categorical one."""

    VERSION_1: ClassVar[dict[str, str]] = {"interval": "limits"}

    method: FitMethod = "maximum_likelihood"
    limits: LimitsBy = "wald"
    cutoff: Annotated[float, Field(gt=0, lt=1), Says("The cut-off must lie between 0 and 1.")] = 0.5
    new_step_at: tuple[str, ...] = ()
    profiles: Annotated[
        tuple[dict[str, str | float], ...],
        Field(max_length=MOST_PROFILES),
        Says(f"Up to {MOST_PROFILES} profiles can stand side by side."),
    ] = ()
    curve: str | None = None
    curve_by: str | None = None
    without_rows: Annotated[
        tuple[int, ...],
        Field(max_length=MOST_ROWS_LEFT_OUT),
        Says(f"Up to {MOST_ROWS_LEFT_OUT} rows can be left out to see what they do."),
    ] = ()
