"""Reading a file in a process of its own: whatever a reader does, the one that asked lives.

``python -m hobrix.core.formats.apart NAME OPTIONS DATA OUT`` reads DATA and writes OUT: a table as named
arrays (NumPy's open format, no code in it) with a head in JSON, or in JSON why it cannot be read.
"""

import io
import json
import sys
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np

from hobrix.core.data import Coded, Measured, Source
from hobrix.core.errors import FormatError
from hobrix.core.formats.codebook import Codebook
from hobrix.core.formats.delimited import DelimitedOptions
from hobrix.core.formats.reading import FileRead, ReadOptions, read_file
from hobrix.core.formats.table import Table
from hobrix.core.formats.workbook import WorkbookOptions

_HEAD = "head"


def written(read: FileRead) -> bytes:
    """What was read, as bytes."""
    arrays: dict[str, np.ndarray] = {}
    columns = []
    for at, (name, source) in enumerate(read.table.columns.items()):
        if isinstance(source, Coded):
            arrays[f"{at}.codes"] = source.codes
            columns.append([name, list(source.values), True])
        else:
            arrays[f"{at}.numbers"], arrays[f"{at}.words"] = source.numbers, source.words
            columns.append([name, list(source.word_values), False])
    head = {
        "columns": columns,
        "rows": read.table.rows,
        "remarks": read.table.remarks,
        "codebook": None if read.codebook is None else read.codebook.model_dump_json(),
        "used": asdict(read.used),
        "sheets": read.sheets,
    }
    arrays[_HEAD] = np.frombuffer(json.dumps(head).encode(), dtype=np.uint8)
    file = io.BytesIO()
    # By name, so that no column can take the place of an argument.
    np.savez(file, **arrays)  # type: ignore[arg-type]
    return file.getvalue()


def read_back(data: bytes) -> FileRead:
    """What ``written`` wrote; raises FormatError with what it says instead."""
    if data.startswith(b"{"):
        told = json.loads(data)
        raise FormatError(told["message"], line=told["line"], column=told["column"])
    with np.load(io.BytesIO(data), allow_pickle=False) as arrays:
        head: dict[str, Any] = json.loads(arrays[_HEAD].tobytes())
        columns: dict[str, Source] = {}
        for at, (name, values, is_coded) in enumerate(head["columns"]):
            if is_coded:
                columns[name] = Coded(arrays[f"{at}.codes"], tuple(values))
            else:
                numbers, words = arrays[f"{at}.numbers"], arrays[f"{at}.words"]
                columns[name] = Measured(numbers, words, tuple(values))
    codebook = head["codebook"]
    return FileRead(
        Table(columns, head["rows"], tuple(head["remarks"])),
        None if codebook is None else Codebook.model_validate_json(codebook),
        options_of(head["used"]),
        tuple(head["sheets"]),
    )


def options_of(told: dict[str, Any]) -> ReadOptions:
    """Options from their plain form."""
    return ReadOptions(DelimitedOptions(**told["delimited"]), WorkbookOptions(**told["workbook"]))


def main(name: str, options: str, data: str, out: str) -> None:
    """Read, and write what came of it."""
    try:
        found = read_file(name, Path(data).read_bytes(), options_of(json.loads(options)))
        answer = written(found)
    except FormatError as error:
        told = {"message": error.message, "line": error.line, "column": error.column}
        answer = json.dumps(told).encode()
    Path(out).write_bytes(answer)


if __name__ == "__main__":
    main(*sys.argv[1:])
