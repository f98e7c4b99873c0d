"""What only the Crosstab lens knows, as it stands under ``options`` of a question."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.lens_options import read_options
from hobrix.core.questions.question import Question
from hobrix.core.questions.recast import Recast

Adjustment = Literal["holm", "bonferroni", "benjamini_hochberg", "none"]
ExactMethod = Literal["when_sparse", "enumerate", "monte_carlo", "no"]


class CrosstabOptions(Frozen):
    """``draws`` and ``seed`` are those of the Monte Carlo test; ``categories`` by variable."""

    adjust: Adjustment = "holm"
    exact: ExactMethod = "when_sparse"
    draws: Annotated[int, Field(ge=1000, le=1_000_000)] = 20_000
    seed: Annotated[int, Field(ge=0, lt=2**32)] = 1
    categories: dict[str, Recast] = {}


_SAID = {"draws": "Between 1,000 and 1,000,000 tables can be drawn."}


def options_of(question: Question) -> CrosstabOptions:
    """The options of a question for this lens; raises QuestionError."""
    return read_options(question, CrosstabOptions, _SAID)
