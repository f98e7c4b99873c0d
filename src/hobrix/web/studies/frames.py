"""From a stored data set to a frame, with decoded columns kept in memory.

The cache is keyed by content, so it needs no invalidation: a changed column or codebook entry
has another key, and what is no longer asked for falls out.
"""

import hashlib
import threading
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any

import numpy as np
from cachetools import LRUCache, cached
from django.conf import settings
from pydantic import TypeAdapter

from hobrix.core.data import (
    Cases,
    CategoricalColumn,
    Coded,
    Column,
    Design,
    Frame,
    Measured,
    NumericColumn,
    Prepared,
    RowNoun,
    Source,
    Step,
    Variable,
    decode,
    made_source,
    parents_of,
    replay_what_fits,
)
from hobrix.core.errors import CodebookError
from hobrix.web.studies.blobs import unpack
from hobrix.web.studies.models import Blob, DataSet

steps_adapter: TypeAdapter[Any] = TypeAdapter(Step)


def _bytes_of(item: Any) -> int:
    match item:
        case CategoricalColumn() | Coded():
            return int(item.codes.nbytes) + 500
        case NumericColumn():
            return int(item.values.nbytes)
        case _:
            return int(item.numbers.nbytes + item.words.nbytes)


_lock = threading.RLock()
_columns: LRUCache[Hashable, Any] = LRUCache(settings.COLUMN_CACHE_SIZE, getsizeof=_bytes_of)
_codebooks: LRUCache[Hashable, Any] = LRUCache(64)


@dataclass(frozen=True)
class StoredColumns:
    """Where the columns of a data set's file are kept: key and content hash of each blob."""

    blobs: dict[str, tuple[int, str]]
    variables: dict[str, Variable]


@cached(
    _codebooks,
    key=lambda dataset: ("file", dataset.id, dataset.version),
    lock=threading.RLock(),
)
def stored_columns(dataset: DataSet) -> StoredColumns:
    """The variables of the file as first understood, and where their values are."""
    entries = list(dataset.entries.values_list("id", "variable", "blob__sha256"))
    variables = [Variable.model_validate(variable) for _, variable, _ in entries]
    return StoredColumns(
        blobs={v.name: (pk, sha) for v, (pk, _, sha) in zip(variables, entries, strict=True)},
        variables={variable.name: variable for variable in variables},
    )


@cached(
    _codebooks,
    key=lambda dataset: ("codebook", dataset.id, dataset.version),
    lock=threading.RLock(),
)
def prepared(dataset: DataSet) -> Prepared:
    """The codebook as it stands: the variables of the file with all active steps applied.

    Where the data sets change that it is made from, steps may no longer fit: those wait, without
    effect, until they do again.
    """
    steps = dataset.steps.filter(is_active=True).values_list("step", flat=True)
    variables = stored_columns(dataset).variables.values()
    state, _ = replay_what_fits(variables, [steps_adapter.validate_python(step) for step in steps])
    return state


class Workspace:
    """The columns of a data set under one state of its codebook.

    Weights that cannot be made of the data as they are now are missing in every row, unless the
    workspace is ``strict``: it raises CodebookError then.
    """

    def __init__(self, dataset: DataSet, state: Prepared, *, strict: bool = False) -> None:
        self.dataset = dataset
        self.state = state
        self.strict = strict

    def frame(self, worked_out: dict[Hashable, Any] | None = None) -> Frame:
        """A frame that reads only the columns it is asked for; ``worked_out`` is shared by frames of
        the same state."""
        noun = RowNoun(self.dataset.noun_one, self.dataset.noun_many)
        counting = self.dataset.counted_by
        return Frame(
            rows=self.dataset.rows,
            variables=self.state.variables,
            load=lambda variable: self.column(variable.name),
            source=self.source,
            noun=noun,
            study_design=self.dataset.study_design,
            case_status=self.dataset.case_status,
            cases=Cases.model_validate(self.dataset.cases),
            pooled_by=self.dataset.pooled_by,
            note=self.dataset.noted,
            recorded=Design.model_validate(counting) if counting.get("kind") == "design" else None,
            worked_out={} if worked_out is None else worked_out,
        )

    def column(self, name: str) -> Column:
        variable = self.state.variables[name]
        key = (self.source_key(name), _reading_key(variable))
        made: Column = _remembered(key, lambda: decode(self.source(name), variable))
        return made

    def source(self, name: str) -> Source:
        """The values of a variable as they stand in the file, or as they were made."""
        making = self.state.made.get(name)
        if making is None:
            pk, sha = stored_columns(self.dataset).blobs[name]
            stored: Source = _remembered(sha, lambda: _read(pk))
            return stored
        parents = [self.column(parent) for parent in parents_of(making)]
        try:
            made: Source = _remembered(self.source_key(name), lambda: made_source(making, parents))
        except CodebookError:
            if self.strict:
                raise
            return Measured.of(np.full(self.dataset.rows, np.nan))
        return made

    def trouble(self, name: str) -> str | None:
        """Why a variable cannot be made of the data as they are now."""
        try:
            Workspace(self.dataset, self.state, strict=True).source(name)
        except CodebookError as error:
            return error.message
        return None

    def source_key(self, name: str) -> Hashable:
        """Names the values of a variable: those of the file, or how they are made of which."""
        making = self.state.made.get(name)
        if making is None:
            return stored_columns(self.dataset).blobs[name][1]
        parents = tuple(
            (self.source_key(parent), _reading_key(self.state.variables[parent]))
            for parent in parents_of(making)
        )
        return ("made", making.model_dump_json(), parents)


def workspace_of(dataset: DataSet) -> Workspace:
    """The data set with its codebook as it stands."""
    return Workspace(dataset, prepared(dataset))


def frame_of(dataset: DataSet) -> Frame:
    """A frame over a stored data set with its codebook as it stands."""
    return workspace_of(dataset).frame(_worked_out(dataset))


@cached(
    LRUCache(8),
    key=lambda dataset: (dataset.id, dataset.version),
    lock=threading.RLock(),
)
def _worked_out(_dataset: DataSet) -> dict[Hashable, Any]:
    """What frames of this version of a data set have worked out, such as its survey design."""
    return {}


def _read(pk: int) -> Source:
    data, sha256 = Blob.objects.values_list("data", "sha256").get(pk=pk)
    return unpack(bytes(data), sha256)


def _reading_key(variable: Variable) -> str:
    """What decides how a column is decoded."""
    parts = variable.model_dump_json(
        include={"kind", "categories", "missing", "date_form", "spellings"}
    )
    return hashlib.sha256(parts.encode()).hexdigest()


def _remembered(key: Hashable, make: Callable[[], Any]) -> Any:
    with _lock:
        if key in _columns:
            return _columns[key]
    made = make()
    with _lock:
        if _bytes_of(made) <= _columns.maxsize:
            _columns[key] = made
    return made
