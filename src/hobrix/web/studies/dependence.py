"""What an answer depends on: the variables its question names, as they are read now, and what is said of
the data set as a whole. Whatever else changes, the answer stays."""

import hashlib
import json
import threading
from collections.abc import Hashable, Iterable, Iterator
from typing import Any

from cachetools import LRUCache, cached
from pydantic import BaseModel

from hobrix.core.data import Design, EachRow, Frame, Prepared, parents_of
from hobrix.core.data.condense import About
from hobrix.core.data.counting import CountsColumn
from hobrix.core.data.steps import Band
from hobrix.core.errors import QuestionError
from hobrix.core.progress import Tell, quietly
from hobrix.core.questions import Question
from hobrix.core.questions.wording import listed, number
from hobrix.web.studies.frames import Workspace, frame_of, prepared, workspace_of
from hobrix.web.studies.linking import TooMany, changed_to, nearest_step, numbers
from hobrix.web.studies.models import DataSet


def mark_of(dataset: DataSet, question: Question) -> str:
    """Changes exactly when the answer may."""
    marks = _marks(dataset)
    # The other variables tell counts from weights, where rows are counted by a variable.
    by_rows = isinstance(question.counted_by, CountsColumn) and not dataset.is_linked
    names = set(marks) if by_rows else named_in(question, marks)
    names |= named_by_all(dataset) & set(marks)
    told = [_of_all(dataset), *(f"{name}={marks[name]}" for name in sorted(names))]
    if dataset.is_linked:
        told.append(changed_to(dataset))
    return hashlib.sha256("|".join(told).encode()).hexdigest()


def named_in(said: BaseModel, known: Any) -> set[str]:
    """Variables that stand anywhere in what is said, such as a question."""
    return {text for text in _texts(said.model_dump(mode="json")) if text in known}


def frame_about(
    dataset: DataSet, said: BaseModel, tell: Tell = quietly, also: Iterable[str] = ()
) -> Frame:
    """A frame for what is said in a question, a rule or a design: of a linked data set the variables named
    in it, and ``also`` these, are counted together. Raises as ``frame_of``."""
    if not dataset.is_linked:
        return frame_of(dataset)
    state = prepared(dataset)
    names = named_in(said, state.variables) | set(also)
    weights = _only_weights(dataset, said, state)
    weights = None if weights in set(also) else weights
    rounded = said.options.rounded if isinstance(said, Question) else {}
    try:
        return frame_of(dataset, About(tuple(sorted(names - {weights})), weights, rounded), tell)
    except TooMany as error:
        if not isinstance(said, Question):
            raise
        raise _coarser(dataset, said, error, state) from None


def _only_weights(dataset: DataSet, said: BaseModel, state: Prepared) -> str | None:
    """The weights of a design, or of a question's, where nothing else names them, so that they need not be
    told apart."""
    design: BaseModel = said.counted_by if isinstance(said, Question) else said
    without = {"counted_by": EachRow()} if isinstance(said, Question) else {"weights": None}
    others = said.model_copy(update=without)
    if not isinstance(design, Design):
        return None
    name = design.weights
    if name not in numbers(dataset) or name in state.made or state.variables[name].missing:
        return None
    used = {name for each in named_in(others, state.variables) for name in _parents(each, state)}
    return None if name in used else name


def _parents(name: str, state: Prepared) -> set[str]:
    making = state.made.get(name)
    if making is None:
        return {name}
    return {up for parent in parents_of(making) for up in _parents(parent, state)}


def _coarser(
    dataset: DataSet, question: Question, error: TooMany, state: Prepared
) -> QuestionError:
    """Beside the slot of the variable that has too many answers, with the question about its bands where
    there are some, and the one that takes numbers to the nearest multiple of a step."""
    slots = {
        "outcome": [question.outcome.variable] if question.outcome else [],
        "vary_with": [term.variable for term in question.vary_with],
        "allowing_for": [term.variable for term in question.allowing_for],
        "within": list(question.within),
    }
    at = (slot for slot, names in slots.items() for name in names if name in error.names)
    remedies = []
    for name, making in state.made.items():
        if isinstance(making, Band) and making.variable in error.names:
            asked = question.model_dump_json(by_alias=True).replace(
                json.dumps(making.variable), json.dumps(name)
            )
            remedies.append(
                (f"Ask about {state.variables[name].title}", Question.model_validate_json(asked))
            )
    steps = {n: nearest_step(dataset, n) for n in error.names if n in numbers(dataset)}
    rounded = {name: step for name, step in steps.items() if step is not None}
    if rounded and rounded.keys() - question.options.rounded.keys():
        to = [f"{state.variables[name].title} to {number(step)}" for name, step in rounded.items()]
        remedies.append((f"Round {listed(to)}", question.with_rounded(rounded)))
    return QuestionError(error.message, slot=next(at, "outcome"), remedies=tuple(remedies))


def named_by_all(dataset: DataSet) -> set[str]:
    """Variables that are named in what is said of the data set."""
    said = [
        dataset.counted_by,
        dataset.cases,
        dataset.case_status,
        dataset.matched_on,
        dataset.pooled_by,
    ]
    return set(_texts(said))


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for key, each in value.items():
            yield key
            yield from _texts(each)
    elif isinstance(value, list | tuple):
        for each in value:
            yield from _texts(each)


def _of_all(dataset: DataSet) -> str:
    """What is said of the data set as a whole."""
    said = [
        dataset.rows,
        dataset.noun_one,
        dataset.noun_many,
        dataset.study_design,
        dataset.case_status,
        dataset.matched_on,
        dataset.cases,
        dataset.pooled_by,
        dataset.noted,
        dataset.counted_by,
    ]
    return json.dumps(said, sort_keys=True)


@cached(LRUCache(64), key=lambda dataset: (dataset.id, dataset.version), lock=threading.RLock())
def _marks(dataset: DataSet) -> dict[str, str]:
    """A mark of each variable's values and of all the codebook says of it."""
    workspace = workspace_of(dataset)
    return {name: _mark(workspace, name) for name in workspace.state.variables}


def _mark(workspace: Workspace, name: str) -> str:
    content: Hashable = workspace.source_key(name)
    said = workspace.state.variables[name].model_dump_json()
    return hashlib.sha256(f"{content!r}|{said}".encode()).hexdigest()[:16]
