"""Source columns as compressed bytes, and back."""

import hashlib
import json
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

import numpy as np
import zstandard

from hobrix.core.data import Coded, Measured, Source
from hobrix.core.data.column import IntArray
from hobrix.core.errors import HobrixError

_LEVEL = 1


def pack(source: Source) -> tuple[bytes, str]:
    """A source column as bytes, with the hash of its content.

    A line of JSON (layout, types, value list) is followed by the raw arrays, all compressed
    with Zstandard, an open format (RFC 8878).
    """
    arrays: list[np.ndarray]
    if isinstance(source, Coded):
        head = {"coded": source.codes.dtype.str, "values": source.values}
        arrays = [source.codes]
    else:
        head = {"measured": source.words.dtype.str, "values": source.word_values}
        arrays = [source.numbers, source.words]
    line = json.dumps({**head, "rows": len(source)}).encode()
    line += b" " * (-(len(line) + 1) % 8)  # so that the arrays start aligned
    raw = b"".join([line, b"\n", *(np.ascontiguousarray(each).data for each in arrays)])
    compressed = zstandard.ZstdCompressor(level=_LEVEL).compress(raw)
    return compressed, hashlib.sha256(raw).hexdigest()


def pack_all(
    sources: Sequence[Source], tell: Callable[[int], None] = lambda _: None
) -> list[tuple[bytes, str]]:
    """Several columns side by side on the machine's cores, in their order. ``tell`` hears how many are done
    before each, and may raise to stop."""
    packed: list[tuple[bytes, str]] = []
    # Closed first, so that whoever stops does not wait for the columns that have not begun.
    with ThreadPoolExecutor() as pool, closing(pool.map(pack, sources)) as each:  # type: ignore[type-var]
        for _ in sources:
            tell(len(packed))
            packed.append(next(each))
    return packed


class Damaged(HobrixError):
    """A column whose bytes are not those that were kept."""

    def __init__(self) -> None:
        super().__init__(
            "The values of a variable are damaged where they are kept, so this cannot be shown. Put a "
            "backup back, or bring the file in again."
        )


def unpack(data: bytes, sha256: str) -> Source:
    """The source column that was packed under this hash. Its arrays are read-only views of one
    buffer.

    Raises:
        Damaged: the bytes are others by now.
    """
    try:
        raw = zstandard.ZstdDecompressor().decompress(data)
    except zstandard.ZstdError:
        raise Damaged from None
    if hashlib.sha256(raw).hexdigest() != sha256:
        raise Damaged
    end = raw.index(b"\n")
    head = json.loads(raw[:end])
    rows = head["rows"]
    values = tuple(head["values"])
    if "coded" in head:
        return Coded(codes=_integers(raw, head["coded"], rows, end + 1), values=values)
    numbers = np.frombuffer(raw, dtype=np.float64, count=rows, offset=end + 1)
    words = _integers(raw, head["measured"], rows, end + 1 + numbers.nbytes)
    return Measured(numbers=numbers, words=words, word_values=values)


def _integers(raw: bytes, dtype: str, rows: int, offset: int) -> IntArray:
    codes: IntArray = np.frombuffer(raw, dtype=np.dtype(dtype), count=rows, offset=offset)
    return codes
