"""What the codebook says of a variable: its kind, categories in order, event, reference."""

from collections import Counter
from collections.abc import Iterable
from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from hobrix.core.data.dates import DateForm
from hobrix.core.errors import CodebookError

# What a variable can be called.
Name = Annotated[str, Field(min_length=1, max_length=255)]
Kind = Literal["nominal", "ordinal", "numeric", "date", "text"]


class Frozen(BaseModel):
    """Base of the immutable values that core takes and gives."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        populate_by_name=True,
        serialize_by_alias=True,
        # JSON has no infinity: it is written as the word.
        ser_json_inf_nan="strings",
    )


class Category(Frozen):
    """One answer: ``value`` as it stands in the file, ``label`` as people read it."""

    value: str
    label: str


class MissingCode(Frozen):
    """A value in the file that is not an answer, with the reason it stands for."""

    value: str
    label: str = ""


class Spelling(Frozen):
    """Another way in which a category's value is written in the file."""

    written: str
    value: str


class Variable(Frozen):
    """One entry of the codebook.

    ``categories`` are in the order in which they are shown and scored. They are kept, unused,
    while ``kind`` is another, so that a change of kind can be taken back. ``date_form`` is how dates
    are written; ``spellings`` are other ways of writing a category's value.
    ``event`` holds the values of the categories that together count as the event.

    Raises:
        CodebookError: when a value is listed twice, is both an answer and a missing code, or
            when event or reference is not one of the categories.
    """

    name: str
    label: str = ""
    kind: Kind
    categories: tuple[Category, ...] = ()
    missing: tuple[MissingCode, ...] = ()
    event: tuple[str, ...] = ()
    reference: str | None = None
    unit: str = ""
    date_form: DateForm | None = None
    spellings: tuple[Spelling, ...] = ()

    @model_validator(mode="after")
    def _is_consistent(self) -> Self:
        values = [category.value for category in self.categories]
        codes = [code.value for code in self.missing]
        self._refuse(_repeated(values), "categories", "is listed twice among the categories")
        self._refuse(_repeated(codes), "missing", "is listed twice among the missing codes")
        self._refuse(set(values) & set(codes), "missing", "is both an answer and a missing code")
        written = [spelling.written for spelling in self.spellings]
        self._refuse(_repeated(written), "spellings", "is another spelling of two answers")
        self._refuse(set(written) & {*values, *codes}, "spellings", "is an answer of its own")
        self._refuse(set(self.event) - set(values), "event", "is not one of the categories")
        if self.reference is not None:
            self._refuse(
                {self.reference} - set(values), "reference", "is not one of the categories"
            )
        return self

    def _refuse(self, values: Iterable[str], field: str, complaint: str) -> None:
        for value in sorted(values):
            raise CodebookError(
                f"{self.name}: “{value}” {complaint}.", variable=self.name, field=field
            )

    @property
    def title(self) -> str:
        """The label where there is one, otherwise the name; without the marks that end a question, which
        would stand within a sentence."""
        whole = self.label or self.name
        return whole.rstrip(" ?:.") or whole

    @property
    def is_categorical(self) -> bool:
        return self.kind in ("nominal", "ordinal")

    @property
    def can_be_asked(self) -> bool:
        """Free text and dates are no answers yet; something can be made of them."""
        return self.kind not in ("text", "date")

    def label_of(self, value: str) -> str:
        """The label of a category, or the value itself where none is known."""
        return next((c.label for c in self.categories if c.value == value), value)

    def default_reference(self) -> str | None:
        """The reference category: the stated one, otherwise the first."""
        if self.reference is not None:
            return self.reference
        return self.categories[0].value if self.categories else None


def _repeated(values: list[str]) -> list[str]:
    return [value for value, times in Counter(values).items() if times > 1]
