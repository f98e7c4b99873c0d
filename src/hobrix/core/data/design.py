"""Survey designs: what is recorded of weights, strata and clusters."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, model_validator

from hobrix.core.data.variable import Frozen, Variable

SLOT = "counted_by"
MOST_DRAWS = 2000


class Design(Frozen):
    """A sample with weights, strata or clusters (first-stage units): those it has. Without weights
    all rows weigh the same.

    ``together`` names strata, by value, that are taken as one: each tuple is one stratum. A stratum
    that still has one cluster adds nothing to errors, or its distance from the mean of all clusters
    (``single``). ``errors`` are linearised or from replicates; ``draws`` and ``seed`` are those of
    the bootstrap.
    """

    kind: Literal["design"] = "design"
    weights: str | None = None
    strata: str | None = None
    clusters: str | None = None
    together: Annotated[tuple[tuple[str, ...], ...], Field(max_length=1000)] = ()
    single: Literal["nothing", "grand_mean"] = "nothing"
    errors: Literal["linearised", "jackknife", "bootstrap"] = "linearised"
    draws: Annotated[int, Field(ge=100, le=MOST_DRAWS)] = 500
    seed: Annotated[int, Field(ge=0, lt=2**32)] = 1

    @model_validator(mode="after")
    def _says_something(self) -> "Design":
        if not self.names:
            raise ValueError("a design needs weights, strata or clusters")
        return self

    def weights_only(self) -> "Design | None":
        """The same weights without strata and clusters; None where there are none."""
        return Design(weights=self.weights) if self.weights else None

    @property
    def names(self) -> set[str]:
        """The variables it rests on."""
        return {name for name in (self.weights, self.strata, self.clusters) if name}

    def words(self, variables: Mapping[str, Variable]) -> str:
        titles = [
            f"{what} {variables[name].title}"
            for what, name in (
                ("weights", self.weights),
                ("strata", self.strata),
                ("clusters", self.clusters),
            )
            if name
        ]
        return ", ".join(titles)
