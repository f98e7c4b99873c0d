"""A confidence interval, and the quantile that most of them rest on."""

from dataclasses import dataclass

from scipy import special


@dataclass(frozen=True)
class Interval:
    """Both limits of a confidence interval."""

    low: float
    high: float


def normal_quantile(confidence: float) -> float:
    """The quantile z with P(|Z| <= z) = confidence."""
    return float(special.ndtri((1 + confidence) / 2))
