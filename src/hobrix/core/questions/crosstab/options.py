"""What only the Crosstab lens may be asked."""

from typing import Annotated, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.said import Says

Adjustment = Literal["holm", "bonferroni", "benjamini_hochberg", "none"]
ExactMethod = Literal["when_sparse", "enumerate", "monte_carlo", "no"]


class CrosstabOptions(Frozen):
    """``draws`` and ``seed`` are those of the Monte Carlo test."""

    adjust: Adjustment = "holm"
    exact: ExactMethod = "when_sparse"
    draws: Annotated[
        int,
        Field(ge=1000, le=1_000_000),
        Says("Between 1,000 and 1,000,000 tables can be drawn."),
    ] = 20_000
    seed: Annotated[int, Field(ge=0, lt=2**32)] = 1
