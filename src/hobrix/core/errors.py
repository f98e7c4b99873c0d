"""What can be wrong with a file, a codebook or a question, in words the researcher can act on."""

from typing import Any


class HobrixError(Exception):
    """Anything the researcher can put right. ``message`` is a full sentence."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message

    def __reduce__(self) -> tuple[Any, ...]:
        # Sent between processes whole, whatever a kind of error takes to be made.
        return _again, (type(self), self.args), self.__dict__


class FormatError(HobrixError):
    """A file that cannot be read. ``line`` counts from 1 with the header; ``column`` is a name."""

    def __init__(self, message: str, *, line: int | None = None, column: str | None = None) -> None:
        super().__init__(message)
        self.line = line
        self.column = column


class CodebookError(HobrixError):
    """A codebook entry that contradicts itself. ``field`` is the part of the variable concerned."""

    def __init__(self, message: str, *, variable: str, field: str) -> None:
        super().__init__(message)
        self.variable = variable
        self.field = field


class QuestionError(HobrixError):
    """A question that cannot be answered. ``slot`` is the part of the sentence concerned;
    ``remedies`` are what may be tried: words, and the question that does it."""

    def __init__(
        self,
        message: str,
        *,
        slot: str,
        remedies: tuple[tuple[str, object], ...] = (),
    ) -> None:
        super().__init__(message)
        self.slot = slot
        self.remedies = remedies


class RecipeError(HobrixError):
    """Data sets that cannot be brought together so. ``field`` is the part concerned."""

    def __init__(self, message: str, *, field: str) -> None:
        super().__init__(message)
        self.field = field


def _again(kind: type[HobrixError], args: tuple[Any, ...]) -> HobrixError:
    return kind.__new__(kind, *args)
