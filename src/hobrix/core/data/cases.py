"""Whether a data set has one row per case or several: what is recorded of it."""

from typing import Literal

from pydantic import model_validator

from hobrix.core.data.variable import Frozen


class Cases(Frozen):
    """One row per case, or several: ``case`` tells cases apart, ``order`` puts their rows in order.

    Raises:
        ValueError: several rows per case, and nothing that tells cases apart.
    """

    rows: Literal["one", "several"] = "one"
    case: str | None = None
    order: str | None = None

    @model_validator(mode="after")
    def _tells_apart(self) -> "Cases":
        if self.rows == "several" and not self.case:
            raise ValueError("say which variable tells cases apart")
        return self

    @property
    def is_repeated(self) -> bool:
        return self.rows == "several"


class Finding(Frozen):
    """Something seen in the data, in words, and whether it is as it should be."""

    status: Literal["ok", "care", "fail"]
    text: str


# Nobody has said anything: each row is a case.
ONE_ROW_EACH = Cases()
