"""Tests and limits of one number: normal, or on t of a survey design."""

import math
from dataclasses import dataclass

from scipy import special

from hobrix.core.survey.design import SampleDesign
from hobrix.core.tables.interval import Interval, normal_quantile


@dataclass(frozen=True)
class Inference:
    """At a level of confidence; ``design`` is that of the sample, None where each row counts once."""

    confidence: float
    design: SampleDesign | None

    @property
    def quantile(self) -> float:
        """How many errors wide limits are; infinite where a design leaves no degree of freedom."""
        if self.design is None:
            return normal_quantile(self.confidence)
        return self.design.t_quantile(self.confidence)

    def p_of(self, z: float) -> float | None:
        """Two-sided; None where a design leaves no degree of freedom."""
        if self.design is None:
            return 2 * float(special.ndtr(-abs(z)))
        return self.design.p_of(z)

    def limits_of(self, value: float, se: float) -> Interval:
        """value ± as many errors as the confidence asks for; without end where no error is known,
        as with the only clusters of their strata."""
        quantile = self.quantile
        reach = quantile * se if math.isfinite(quantile) and se > 0 else math.inf
        return Interval(value - reach, value + reach)
