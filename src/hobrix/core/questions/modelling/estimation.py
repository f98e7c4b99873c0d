"""How a model is estimated, as a question may ask for it."""

from dataclasses import dataclass
from typing import Literal

FitMethod = Literal["maximum_likelihood", "firth"]
LimitsBy = Literal["wald", "profile"]

# Up to so many patterns every term has its likelihood-ratio test.
MANY_PATTERNS = 100_000


@dataclass(frozen=True)
class Estimation:
    """The likelihood that is maximised, what limits come from, and their level."""

    method: FitMethod
    limits: LimitsBy
    confidence: float
