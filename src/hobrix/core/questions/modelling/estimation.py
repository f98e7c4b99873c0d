"""How a model is estimated, as a question may ask for it."""

from dataclasses import dataclass
from typing import Literal

FitMethod = Literal["maximum_likelihood", "firth"]
LimitsBy = Literal["wald", "profile"]


@dataclass(frozen=True)
class Estimation:
    """The likelihood that is maximised, what limits come from, and their level."""

    method: FitMethod
    limits: LimitsBy
    confidence: float
