"""From the words of a situation to rows and a question."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Category, Coded, Frame, Measured, RowNoun, Variable
from hobrix.core.questions import Question

LETTERS = "abcdefghijklmnopqrstuvwxyz"
Codes = NDArray[np.int16]


def frame_of(situation: dict[str, Any]) -> Frame:
    """A row per person, or with ``counts`` a row per cell and a column that counts."""
    tables = situation.get("strata") or [
        kind["table"] for kind in situation.get("sets", []) for _ in range(kind["times"])
    ]
    tables = tables or [situation["table"]]
    answers = situation.get("answers", ["no", "yes"])
    groups = situation.get("groups", _letters(len(tables[0])))
    names = situation.get("strata_names", [f"s{i + 1}" for i in range(len(tables))])
    cells = [
        (row, column, stratum, n)
        for stratum, table in enumerate(tables)
        for row, counts in enumerate(table)
        for column, n in enumerate(counts)
        if n
    ]
    cells += [(-1, column, -1, n) for column, n in enumerate(situation.get("no_group", []))]
    cells += [(row, -1, 0, n) for row, n in enumerate(situation.get("no_outcome", []))]
    cells += [
        (row, column, -1, n)
        for row, counts in enumerate(situation.get("no_stratum", []))
        for column, n in enumerate(counts)
    ]
    many = np.array([cell[3] for cell in cells])
    each = (
        np.arange(len(cells)) if situation.get("counts") else np.repeat(np.arange(len(cells)), many)
    )
    group, outcome, stratum = (
        np.array([cell[k] for cell in cells], dtype=np.int16)[each] for k in range(3)
    )
    titles = {"outcome": "Outcome", "group": "Group", "stratum": "Stratum"}
    titles |= situation.get("titles", {})
    kinds = situation.get("kinds", {})
    event = situation.get("event", ["yes"] if answers == ["no", "yes"] else [])
    variables: list[Variable] = []
    sources: dict[str, Coded | Measured] = {}
    for name, labels, codes in (
        ("outcome", answers, outcome),
        ("group", groups, group),
        ("stratum", names, stratum),
        ("cluster", *_clusters(situation, stratum)),
        ("layer", *_layers(situation, stratum)),
    ):
        variables.append(
            Variable(
                name=name,
                label=titles.get(name, name.capitalize()),
                kind=kinds.get(name, "nominal"),
                categories=tuple(Category(value=label, label=label) for label in labels),
                event=tuple(event) if name == "outcome" else (),
            )
        )
        sources[name] = Coded(codes.astype(np.int16), tuple(labels))
    numbers = {"weight": _weights(situation, group), "n": many[each].astype(float)}
    if "numbers" in situation:  # the groups are numbers
        numbers["group"] = np.array([*situation["numbers"], np.nan], dtype=float)[group]
    units = {"group": situation.get("unit", "")}
    for name, values in numbers.items():
        variables = [variable for variable in variables if variable.name != name]
        title = titles.get(name, "Number of people" if name == "n" else name.capitalize())
        variables.append(Variable(name=name, label=title, kind="numeric", unit=units.get(name, "")))
        sources[name] = Measured.of(values)
    frame = Frame.of(variables, sources, len(each), RowNoun("person", "people"))
    told: dict[str, Any] = {
        key: situation[key] for key in ("study_design", "case_status") if key in situation
    }
    return frame if not told else _with(frame, told)


def _with(frame: Frame, told: dict[str, Any]) -> Frame:
    from dataclasses import replace

    return replace(frame, **told)


def _letters(many: int) -> list[str]:
    """a to z, then aa, ab, …"""
    if many <= len(LETTERS):
        return list(LETTERS[:many])
    return [f"{LETTERS[i // 26]}{LETTERS[i % 26]}" for i in range(many)]


def _clusters(situation: dict[str, Any], stratum: Codes) -> tuple[list[str], Codes]:
    """Pairs of people that hold a bit of everything, so that a design changes next to nothing; or
    one cluster per stratum."""
    if situation.get("clusters") == "one per layer":
        codes = np.arange(len(stratum)) % 4
    else:
        size = situation.get("cluster_size", 2)
        codes = np.random.default_rng(5).permutation(len(stratum)) // size
    return [f"c{i}" for i in range(int(codes.max()) + 1)], codes.astype(np.int16)


def _layers(situation: dict[str, Any], stratum: Codes) -> tuple[list[str], Codes]:
    codes = np.arange(len(stratum)) % 4
    return [str(i) for i in range(4)], codes.astype(np.int16)


def _weights(situation: dict[str, Any], group: Codes) -> NDArray[np.float64]:
    by_group = situation.get("weights")
    if by_group is None:
        return np.ones(len(group))
    if by_group == "very unequal":
        return np.where(np.arange(len(group)) % 10, 1.0, 100.0)
    return np.array([*by_group, 1.0], dtype=float)[group]


def question_of(situation: dict[str, Any]) -> Question:
    role = situation.get("strata_are", "within")
    vary = [{"variable": "group", **situation.get("term", {})}]
    if role == "together":
        vary.append({"variable": "group", "with": "stratum"})
    question: dict[str, Any] = {
        "lens": situation["lens"],
        "outcome": {"variable": "outcome"},
        "vary_with": [] if situation["lens"] == "distribution" else vary,
        "allowing_for": [],
        "within": [],
        "confidence": situation.get("confidence", 0.95),
        "options": situation.get("options", {}),
    }
    if "strata" in situation:
        question["within" if role == "within" else "allowing_for"] = (
            ["stratum"] if role == "within" else [{"variable": "stratum"}]
        )
    if "sets" in situation:
        question["matched"] = "stratum"
    question |= situation.get("asks", {})
    if situation.get("counts"):
        question["counted_by"] = {"kind": "counts", "variable": "n"}
    if situation.get("design"):
        question["counted_by"] = {"kind": "design", "weights": "weight", "clusters": "cluster"}
        if situation.get("clusters") == "one per layer":
            question["counted_by"]["strata"] = "layer"
    return Question.model_validate(question)
