"""Options that say in words what is wrong with a value."""

from typing import Any

from pydantic import GetCoreSchemaHandler, ValidationError
from pydantic_core import CoreSchema, PydanticCustomError, core_schema


class Says:
    """Marks a field: whatever is wrong with its value is said in these words."""

    def __init__(self, words: str) -> None:
        self.words = words

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        return core_schema.no_info_wrap_validator_function(self._checked, handler(source))

    def _checked(self, value: Any, inner: Any) -> Any:
        try:
            return inner(value)
        except ValidationError:
            raise PydanticCustomError("said", "{words}", {"words": self.words}) from None
