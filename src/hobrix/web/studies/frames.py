"""From a stored data set to a frame, with decoded columns kept in memory.

The cache is keyed by content, so it needs no invalidation: a changed column or codebook entry
has another key, and what is no longer asked for falls out.
"""

import hashlib
import threading
from collections.abc import Hashable
from typing import Any

from cachetools import LRUCache, cached
from django.conf import settings

from hobrix.core.data import (
    CategoricalColumn,
    Coded,
    Column,
    Frame,
    NumericColumn,
    RowNoun,
    Source,
    Variable,
    decode,
)
from hobrix.web.studies.blobs import unpack
from hobrix.web.studies.models import Blob, DataSet


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


@cached(_codebooks, key=lambda dataset: (dataset.id, dataset.version), lock=threading.RLock())
def _codebook(dataset: DataSet) -> dict[str, tuple[Variable, int, str]]:
    """Variables by name, each with the key and content hash of its blob."""
    entries = dataset.entries.values_list("id", "variable", "blob__sha256")
    variables = [(Variable.model_validate(variable), pk, sha) for pk, variable, sha in entries]
    return {variable.name: (variable, pk, sha) for variable, pk, sha in variables}


def source_of(dataset: DataSet, name: str) -> Source:
    """The source column of a variable."""
    _, pk, sha = _codebook(dataset)[name]
    return _remembered(
        sha, lambda: unpack(bytes(Blob.objects.values_list("data", flat=True).get(pk=pk)))
    )


def frame_of(dataset: DataSet) -> Frame:
    """A frame over a stored data set; reads only the columns it is asked for."""
    codebook = _codebook(dataset)

    def load(variable: Variable) -> Column:
        return _remembered(
            (codebook[variable.name][2], _reading_key(variable)),
            lambda: decode(source_of(dataset, variable.name), variable),
        )

    return Frame(
        rows=dataset.rows,
        variables={name: variable for name, (variable, _, _) in codebook.items()},
        load=load,
        noun=RowNoun(dataset.noun_one, dataset.noun_many),
    )


def _reading_key(variable: Variable) -> str:
    """What decides how a column is decoded."""
    parts = variable.model_dump_json(include={"kind", "categories", "missing"})
    return hashlib.sha256(parts.encode()).hexdigest()


def _remembered(key: Hashable, make: Any) -> Any:
    with _lock:
        if key in _columns:
            return _columns[key]
    made = make()
    with _lock:
        if _bytes_of(made) <= _columns.maxsize:
            _columns[key] = made
    return made
