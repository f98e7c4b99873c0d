"""What only the Odds model lens knows, as it stands under ``options`` of a question."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.lens_options import read_options
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import Recast

MOST_PROFILES, MOST_ROWS_LEFT_OUT = 6, 50


class OddsOptions(Frozen):
    """``new_step_at`` names variables that begin a step of their own; ``profiles`` hold a value per
    variable; ``without_rows`` are row numbers from 1; ``curve`` is a numeric variable, and
    ``curve_by`` a categorical one; ``categories`` by variable."""

    method: Literal["maximum_likelihood", "firth"] = "maximum_likelihood"
    interval: Literal["wald", "profile"] = "wald"
    cutoff: Annotated[float, Field(gt=0, lt=1)] = 0.5
    new_step_at: tuple[str, ...] = ()
    profiles: Annotated[tuple[dict[str, str | float], ...], Field(max_length=MOST_PROFILES)] = ()
    curve: str | None = None
    curve_by: str | None = None
    without_rows: Annotated[tuple[int, ...], Field(max_length=MOST_ROWS_LEFT_OUT)] = ()
    categories: dict[str, Recast] = {}


_SAID = {
    "cutoff": "The cut-off must lie between 0 and 1.",
    "profiles": f"Up to {MOST_PROFILES} profiles can stand side by side.",
    "without_rows": f"Up to {MOST_ROWS_LEFT_OUT} rows can be left out to see what they do.",
}


def options_of(question: Question) -> OddsOptions:
    """The options of a question for this lens; raises QuestionError."""
    return read_options(question, OddsOptions, _SAID)
