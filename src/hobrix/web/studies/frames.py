"""From a stored data set to a frame, with decoded columns kept in memory.

The cache is keyed by content, so it needs no invalidation: a changed column or codebook entry
has another key, and what is no longer asked for falls out.
"""

import hashlib
import threading
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from cachetools import LRUCache, cached
from django.conf import settings
from numpy.typing import NDArray
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
from hobrix.core.data.condense import About, Needed, needed
from hobrix.core.errors import CodebookError, HobrixError
from hobrix.core.progress import Tell, quietly
from hobrix.linked.patterns import PatternTable
from hobrix.web.studies import linking
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

    def __init__(
        self,
        dataset: DataSet,
        state: Prepared,
        *,
        strict: bool = False,
        about: About | None = None,
        tell: Tell = quietly,
    ) -> None:
        self.dataset = dataset
        self.state = state
        self.strict = strict
        self._about = about
        self._tell = tell

    def over(self, names: Iterable[str]) -> "Workspace":
        """The same to look at these variables together, which decides what is counted where rows stay
        elsewhere: what the codebook kept of them, in which numbers may be rounded."""
        about = About(tuple(names), is_look=True)
        return Workspace(self.dataset, self.state, strict=self.strict, about=about, tell=self._tell)

    def on(self, rows: PatternTable) -> "Workspace":
        """The same on some rows of a linked data set, each by itself."""
        found = Workspace(self.dataset, self.state, about=About(()), tell=self._tell)
        found.__dict__["_counted"] = rows
        found.__dict__["_rows_key"] = None
        return found

    @cached_property
    def _counted(self) -> PatternTable | None:
        """What was counted of a linked data set, whose rows are those of this workspace then."""
        if not self.dataset.is_linked or self._about is None:
            return None
        return linking.patterns_of(self.dataset, self._needed, self.state.variables, self._tell)

    @cached_property
    def _needed(self) -> Needed:
        return needed(self._about or About(()), self.state, linking.large(self.dataset))

    @property
    def _is_apart(self) -> bool:
        """Whether each variable stands for itself, counted alone."""
        return self.dataset.is_linked and self._about is None

    @property
    def rows(self) -> int:
        return self.dataset.rows if self._counted is None else len(self._counted)

    def frame(self, worked_out: dict[Hashable, Any] | None = None) -> Frame:
        """A frame that reads only the columns it is asked for; ``worked_out`` is shared by frames of
        the same state."""
        noun = RowNoun(self.dataset.noun_one, self.dataset.noun_many)
        counting = self.dataset.counted_by
        return Frame(
            rows=self.rows,
            stands_for=None if self._counted is None else self._counted.n,
            averaged=None
            if self._counted is None or self._counted.averaged is None
            else (self._counted.averaged, self._counted.squares),
            counted_where=""
            if self._counted is None
            else linking.counted_where(self.dataset, self._counted),
            variables=self.state.variables,
            load=lambda variable: self.column(variable.name),
            source=self.source,
            noun=noun,
            study_design=self.dataset.study_design,
            case_status=self.dataset.case_status,
            matched_on=self.dataset.matched_on,
            cases=Cases.model_validate(self.dataset.cases),
            pooled_by=self.dataset.pooled_by,
            note=self.dataset.noted,
            recorded=Design.model_validate(counting) if counting.get("kind") == "design" else None,
            worked_out={} if worked_out is None else worked_out,
        )

    def column(self, name: str) -> Column:
        if self._is_apart:
            return self.over([name]).column(name)
        variable = self.state.variables[name]
        key = self._key(self.source_key(name), _reading_key(variable))
        made: Column = _remembered(key, lambda: decode(self.source(name), variable))
        return made

    def source(self, name: str) -> Source:
        """The values of a variable as they stand in the file, or as they were made."""
        if self._is_apart:
            return self.over([name]).source(name)
        making = self.state.made.get(name)
        if self._counted is not None and name in self._counted.names:
            return self._counted.source(name)
        if making is None:
            pk, sha = stored_columns(self.dataset).blobs[name]
            stored: Source = _remembered(sha, lambda: _read(pk))
            return stored
        parents = [self.column(parent) for parent in parents_of(making)]
        try:
            key = self._key(self.source_key(name))
            made: Source = _remembered(key, lambda: made_source(making, parents))
        except CodebookError:
            if self.strict:
                raise
            return Measured.of(np.full(self.rows, np.nan))
        return made

    def _key(self, *content: Hashable) -> Hashable:
        """Under which columns are remembered; None for rows that are looked at once."""
        return None if self._rows_key is None else (self._rows_key, *content)

    @cached_property
    def _rows_key(self) -> Hashable:
        """Which rows columns have: those of the file, or what was counted together."""
        if self._counted is None:
            return "all"
        return (self.dataset.id, self.dataset.linked["mark"], self._counted.key)

    def how_many(self, name: str, where: NDArray[np.bool_]) -> int:
        """Rows of the data in a mask of what ``source`` and ``column`` give of a variable."""
        counted = self.over([name])._counted if self._is_apart else self._counted
        return int(np.count_nonzero(where) if counted is None else counted.n[where].sum())

    def trouble(self, name: str) -> str | None:
        """Why a variable cannot be made of the data as they are now."""
        try:
            Workspace(self.dataset, self.state, strict=True, tell=self._tell).source(name)
        except CodebookError as error:
            return error.message
        return None

    def source_key(self, name: str) -> Hashable:
        """Names the values of a variable: those of the file, or how they are made of which."""
        making = self.state.made.get(name)
        if making is None and self.dataset.is_linked:
            return ("linked", self.dataset.id, self.dataset.linked["mark"], name)
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


def frame_of(
    dataset: DataSet, about: Iterable[str] | About | None = None, tell: Tell = quietly
) -> Frame:
    """A frame over a stored data set with its codebook as it stands. Of a linked data set the variables
    that it is to be ``about`` are counted together where they are; ``tell`` hears how far that is.

    Raises:
        HobrixError: a linked data set, and nobody says what it is about; or it cannot be counted.
    """
    if not dataset.is_linked:
        return workspace_of(dataset).frame(_worked_out(dataset))
    if about is None:
        raise HobrixError(
            "The rows of this data set stay where they are: this needs all of them here. Bring the file in, "
            "or ask about some variables at a time."
        )
    about = about if isinstance(about, About) else About(tuple(about))
    return Workspace(dataset, prepared(dataset), about=about, tell=tell).frame()


def codebook_frame(dataset: DataSet) -> Frame:
    """A frame whose codebook can be asked, and of a linked data set nothing else."""
    return frame_of(dataset) if not dataset.is_linked else frame_of(dataset, ())


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
    if key is None:
        return make()
    with _lock:
        if key in _columns:
            return _columns[key]
    made = make()
    with _lock:
        if _bytes_of(made) <= _columns.maxsize:
            _columns[key] = made
    return made
