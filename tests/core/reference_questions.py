"""Cases of fitted models in the reference numbers, as questions about frames."""

from typing import Any

import polars as pl

from hobrix.core.data import Category, Frame, Variable
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Question
from reference_numbers import REFERENCE


def frame_of(case: dict[str, Any], **variables_as: dict[str, Any]) -> Frame:
    """The file of a case: its numeric terms and counts are numbers, everything else categories in the order of
    text, or as ``variables_as`` says."""
    data = pl.read_csv(REFERENCE / case["data"], infer_schema=False).fill_null("")
    terms = [*case["allowing_for"], *case["vary_with"], *case.get("matching_variables", [])]
    kinds = {t["variable"]: t["kind"] for t in terms if "kind" in t}
    variables = []
    for name in data.columns:
        if kinds.get(name) == "numeric" or name == case.get("counts"):
            variables.append(Variable(name=name, kind="numeric"))
            continue
        given = variables_as.get(name, {})
        values = given.pop("values", None) or sorted(set(data[name]) - {""})
        categories = tuple(Category(value=v, label=v) for v in values)
        usual = {"kind": "nominal", "categories": categories}
        variables.append(Variable.model_validate({"name": name, **usual, **given}))
    return Frame.of(variables, {n: source_column(data[n]) for n in data.columns}, data.height)


def slot(terms: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [
        {
            "variable": t["variable"],
            **{k: t[k] for k in ("reference", "per", "with") if t.get(k) is not None},
        }
        for t in terms
    ]


def question_of(case: dict[str, Any], **fields: Any) -> Question:
    """Through the lens for models; ``fields`` say what else is asked."""
    outcome = case["outcome"]
    event = [outcome["event"]] if "event" in outcome else []
    return Question.model_validate(
        {
            "lens": "odds",
            "outcome": {"variable": outcome["variable"], "event": event},
            "vary_with": slot(case["vary_with"]),
            "allowing_for": slot(case["allowing_for"]),
            "counted_by": {"kind": "counts", "variable": case["counts"]}
            if case.get("counts")
            else {"kind": "each"},
            **fields,
        }
    )
