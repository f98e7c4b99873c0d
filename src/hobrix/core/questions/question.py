"""The question: a sentence with slots. Its JSON is public and versioned."""

from typing import Annotated, Literal, Self

from pydantic import Field, JsonValue

from hobrix.core.data import AllOf, AnyOf, Counting, EachRow, Frozen

Lens = Literal["distribution", "crosstab", "proportions", "odds"]


class Outcome(Frozen):
    """The outcome; ``event`` holds the values that together count as the event.

    An empty event means: as the codebook says.
    """

    variable: str
    event: tuple[str, ...] = ()


class Term(Frozen):
    """A variable of interest or a covariate; ``reference`` null means: as the codebook says.

    ``per`` is the number of units one step of a numeric variable stands for; ``bend`` lets its
    log odds bend; ``with`` names the other variable of an interaction.
    """

    variable: str
    reference: str | None = None
    per: float | None = None
    bend: Literal["quadratic", "spline"] | None = None
    together_with: Annotated[str | None, Field(alias="with")] = None


class Question(Frozen):
    """Among …, how does … vary with …, allowing for …, within each …?"""

    version: Literal[1] = 1
    lens: Lens = "crosstab"
    outcome: Outcome | None = None
    vary_with: tuple[Term, ...] = ()
    allowing_for: tuple[Term, ...] = ()
    within: tuple[str, ...] = ()
    among: AllOf | AnyOf | None = None
    counted_by: Counting = EachRow()
    confidence: Annotated[float, Field(ge=0.5, le=0.9999)] = 0.95
    # What only one lens knows; see the ``options`` module of the lens.
    options: dict[str, JsonValue] = {}

    def with_event(self, *values: str) -> Self:
        """The same question about another event."""
        assert self.outcome is not None
        outcome = self.outcome.model_copy(update={"event": values})
        return self.model_copy(update={"outcome": outcome})

    def with_reference(self, value: str) -> Self:
        """The same question against another reference category."""
        first, *others = self.vary_with
        terms = (first.model_copy(update={"reference": value}), *others)
        return self.model_copy(update={"vary_with": terms})
