"""A confidence interval, and the quantile that most of them rest on."""

from typing import Annotated, Any, NamedTuple

from scipy import special


class Interval(NamedTuple):
    """Both limits of a confidence interval."""

    low: float
    high: float


class _OrInfinity:
    """Describes a number that may be infinite: JSON has no infinity, so it is written as the word."""

    @staticmethod
    def __get_pydantic_json_schema__(_core: Any, _handler: Any) -> dict[str, Any]:
        return {"anyOf": [{"type": "number"}, {"const": "Infinity", "type": "string"}]}


MaybeInfinite = Annotated[float, _OrInfinity]


def normal_quantile(confidence: float) -> float:
    """The quantile z with P(|Z| <= z) = confidence."""
    return float(special.ndtri((1 + confidence) / 2))
