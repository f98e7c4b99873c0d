"""The question: a sentence with slots. Its JSON is public and versioned."""

from collections.abc import Mapping
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from hobrix.core.data import AllOf, AnyOf, Counting, Design, EachRow, Frozen
from hobrix.core.questions.options import USUAL, LensName, Options, options_of_version_1
from hobrix.core.questions.recast import Recast


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
    """Among …, how does … vary with …, allowing for …, within each …?

    Version 1, whose options stood side by side whatever the lens, is read as version 2.
    """

    version: Literal[2] = 2
    lens: LensName = USUAL
    outcome: Outcome | None = None
    vary_with: tuple[Term, ...] = ()
    allowing_for: tuple[Term, ...] = ()
    within: tuple[str, ...] = ()
    # The variable that tells the sets in which people were matched.
    matched: str | None = None
    among: AllOf | AnyOf | None = None
    counted_by: Counting = EachRow()
    confidence: Annotated[float, Field(ge=0.5, le=0.9999)] = 0.95
    options: Options = Options()

    @model_validator(mode="before")
    @classmethod
    def _from_version_1(cls, given: Any) -> Any:
        if not isinstance(given, dict) or given.get("version", 2) != 1:
            return given
        flat, lens = given.get("options") or {}, given.get("lens", USUAL)
        if not isinstance(flat, dict):
            return given
        return {**given, "version": 2, "options": options_of_version_1(flat, lens)}

    @property
    def is_designed(self) -> bool:
        """Whether rows are weighted by a survey design."""
        return isinstance(self.counted_by, Design)

    @property
    def alpha(self) -> float:
        """The level of significance that goes with the confidence."""
        return 1 - self.confidence

    def changed(self, **fields: object) -> Self:
        """The same question with other slots."""
        return self.model_copy(update=fields)

    def with_event(self, *values: str) -> Self:
        """The same question about another event."""
        assert self.outcome is not None
        return self.changed(outcome=self.outcome.model_copy(update={"event": values}))

    def with_reference(self, value: str) -> Self:
        """The same question against another reference category."""
        first, *others = self.vary_with
        return self.changed(vary_with=(first.model_copy(update={"reference": value}), *others))

    def with_options(self, lens: str, **options: object) -> Self:
        """The same question with options of one lens changed."""
        own = getattr(self.options, lens).model_copy(update=options)
        return self.changed(options=self.options.model_copy(update={lens: own}))

    def with_rounded(self, steps: Mapping[str, float]) -> Self:
        """The same question with numbers taken to the nearest multiple of a step, by variable."""
        options = self.options.model_copy(update={"rounded": dict(steps)})
        return self.changed(options=options)

    def with_recast(self, variable: str, recast: Recast) -> Self:
        """The same question using the categories of a variable otherwise."""
        categories = {**self.options.categories, variable: recast}
        return self.changed(options=self.options.model_copy(update={"categories": categories}))
