"""Source columns as compressed bytes, and back."""

import hashlib
import json

import numpy as np
import zstandard

from hobrix.core.data import Coded, Measured, Source
from hobrix.core.data.column import IntArray

_LEVEL = 1


def pack(source: Source) -> tuple[bytes, str]:
    """A source column as bytes, with the hash of its content.

    A line of JSON (layout, types, value list) is followed by the raw arrays, all compressed
    with Zstandard, an open format (RFC 8878).
    """
    if isinstance(source, Coded):
        head = {"coded": source.codes.dtype.str, "values": source.values}
        arrays = [source.codes.tobytes()]
    else:
        head = {"measured": source.words.dtype.str, "values": source.word_values}
        arrays = [source.numbers.tobytes(), source.words.tobytes()]
    line = json.dumps({**head, "rows": len(source)}).encode()
    line += b" " * (-(len(line) + 1) % 8)  # so that the arrays start aligned
    raw = line + b"\n" + b"".join(arrays)
    compressed = zstandard.ZstdCompressor(level=_LEVEL).compress(raw)
    return compressed, hashlib.sha256(raw).hexdigest()


def unpack(data: bytes) -> Source:
    """The source column that was packed. Its arrays are read-only views of one buffer."""
    raw = zstandard.ZstdDecompressor().decompress(data)
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
