"""Options of a question as one lens knows them."""

from collections.abc import Mapping
from typing import TypeVar

from pydantic import ValidationError

from hobrix.core.data import Frozen
from hobrix.core.errors import QuestionError
from hobrix.core.questions.question import Question

Options = TypeVar("Options", bound=Frozen)


def read_options(question: Question, model: type[Options], said: Mapping[str, str]) -> Options:
    """The options the lens knows; what other lenses know is passed over.

    Raises:
        QuestionError: beside the option that makes no sense, in the words ``said`` of it.
    """
    known = {k: v for k, v in question.options.items() if k in model.model_fields}
    try:
        return model.model_validate(known)
    except ValidationError as error:
        first = error.errors()[0]
        option = str(first["loc"][0])
        message = said.get(option, f"{option}: {first['msg']}.")
        raise QuestionError(message, slot=f"options.{option}") from None
