"""A made-up weighted sample of people in villages within districts, and questions about it."""

from typing import Any

import numpy as np
import polars as pl
from scipy import special

from hobrix.core.data import Category, Frame, Variable
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Answer, Question, answer
from hobrix.core.questions.odds.results import OddsModel
from hobrix.core.survey.shares import WeightedShare

N = 900
DESIGN: dict[str, Any] = {
    "kind": "design",
    "weights": "w",
    "strata": "district",
    "clusters": "village",
}


def _table() -> pl.DataFrame:
    random = np.random.default_rng(12)
    village = random.integers(0, 45, N)
    district = village % 5
    schooling = random.integers(0, 4, N)
    source = random.integers(0, 3, N)
    age = random.integers(18, 80, N)
    lean = random.normal(0, 0.5, 45)[village]
    chance = special.expit(-1.2 + 0.3 * schooling + 0.4 * (source == 1) + 0.01 * age + lean)
    return pl.DataFrame(
        {
            "ill": np.where(random.random(N) < chance, "yes", "no"),
            "schooling": schooling.astype(str),
            "level": schooling.astype(str),
            "source": np.array(["piped", "river", "well"])[source],
            "age": age.astype(str),
            "half": np.where(district < 2, "north", "south"),
            "district": district.astype(str),
            "village": village.astype(str),
            "w": [repr(float(w)) for w in random.uniform(0.5, 3, N) * (1 + district / 5)],
            "one": ["1"] * N,
        }
    )


TABLE = _table()
KINDS = {"age": "numeric", "w": "numeric", "level": "numeric", "one": "numeric"}


def frame(data: pl.DataFrame = TABLE) -> Frame:
    variables = []
    for name in data.columns:
        kind = KINDS.get(name, "ordinal" if name == "schooling" else "nominal")
        levels = [] if kind == "numeric" else sorted(set(data[name]) - {""})
        variables.append(
            Variable(
                name=name,
                kind=kind,
                categories=tuple(Category(value=v, label=v) for v in levels),
                event=("yes",) if name == "ill" else (),
            )
        )
    return Frame.of(variables, {n: source_column(data[n]) for n in data.columns}, data.height)


def asked(lens: str, data: pl.DataFrame = TABLE, **fields: Any) -> Answer:
    """The answer with all its panels."""
    question = {
        "lens": lens,
        "outcome": {"variable": "ill"},
        "counted_by": DESIGN,
        **fields,
    }
    return answer(Question.model_validate(question), frame(data), panels=None)


def model_of(**fields: Any) -> OddsModel:
    return asked("odds", **fields).results.whole


def weighted_shares(given: Answer) -> list[WeightedShare]:
    """Of the answers, or of the event in every group."""
    results: Any = given.results
    if given.lens == "distribution":
        return [row.weighted for row in results.variables[0].table]
    groups = results.whole.groups if given.lens == "crosstab" else results.whole
    return [group.weighted for group in groups.groups]


VARY: dict[str, Any] = {
    "vary_with": [{"variable": "source"}],
    "allowing_for": [{"variable": "age"}],
}
