"""Files as they come when something went wrong: cut off, with bytes changed, with parts of their insides
changed, in an encoding that is not theirs."""

import io
import json
import random
import zipfile
from collections.abc import Callable
from typing import Any

import polars as pl

from made_files import open_document, workbook

ROWS: list[list[Any]] = [
    ["village", "ill", "age"],
    *([f"V{i % 7}", "yes" if i % 3 else "no", i] for i in range(60)),
]


def _csv() -> bytes:
    return "\n".join(",".join(str(cell) for cell in row) for row in ROWS).encode()


def _parquet() -> bytes:
    file = io.BytesIO()
    columns = {name: [row[at] for row in ROWS[1:]] for at, name in enumerate(ROWS[0])}
    pl.DataFrame(columns).write_parquet(file)
    return file.getvalue()


def _package() -> bytes:
    file = io.BytesIO()
    fields = [{"name": name, "type": "string"} for name in ROWS[0]]
    resource = {"name": "survey", "path": "survey.csv", "schema": {"fields": fields}}
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("datapackage.json", json.dumps({"name": "p", "resources": [resource]}))
        archive.writestr("survey.csv", _csv())
    return file.getvalue()


def _ddi() -> bytes:
    return b"""<?xml version="1.0"?><codeBook xmlns="ddi:codebook:2_5"><dataDscr>
<var name="ill"><labl>Stomach illness</labl><catgry><catValu>yes</catValu><labl>Yes</labl></catgry>
<catgry missing="Y"><catValu>9</catValu><labl>refused</labl></catgry></var></dataDscr></codeBook>"""


def _codebook() -> bytes:
    variable = {"name": "ill", "kind": "nominal", "categories": [{"value": "yes", "label": "Yes"}]}
    return json.dumps({"variables": [variable]}).encode()


WHOLE: dict[str, bytes] = {
    "csv": _csv(),
    "tsv": _csv().replace(b",", b"\t"),
    "xlsx": workbook({"Data": ROWS}),
    "ods": open_document(ROWS),
    "parquet": _parquet(),
    "zip": _package(),
}
CODEBOOKS: dict[str, bytes] = {
    "xml": _ddi(),
    "json": _codebook(),
    "csv": b"variable,label,code,meaning\nill,Stomach illness,yes,Yes\n,,no,No\n",
}
ODD = (
    b"\x00",
    b"\xff",
    b"\xfe\xff",
    b'"',
    b"\r",
    b"\n\n\n",
    b",",
    b"-1",
    b"1e999",
    b"\xed\xa0\xbd",
    b"<!",
)
ENCODINGS = ("utf-16", "utf-32", "utf-7", "cp1252", "shift_jis", "cp037")


def damaged(whole: bytes, kind: str, chooser: random.Random) -> bytes:
    """The file with one to four things gone wrong."""
    for _ in range(chooser.randint(1, 4)):
        whole = chooser.choice(_ways(kind))(whole, chooser)
    return whole


def _ways(kind: str) -> list[Callable[[bytes, random.Random], bytes]]:
    ways: list[Callable[[bytes, random.Random], bytes]] = [_cut, _changed, _grown, _moved]
    if kind in ("xlsx", "ods", "zip"):
        # Mostly inside: what is damaged outside is no archive any more.
        ways += [_inside] * 4
    elif kind != "parquet":
        ways += [_recoded]
    return ways


def _cut(data: bytes, chooser: random.Random) -> bytes:
    return data[: chooser.randint(0, len(data))]


def _changed(data: bytes, chooser: random.Random) -> bytes:
    made = bytearray(data)
    for _ in range(chooser.choice((1, 3, 30)) if made else 0):
        made[chooser.randrange(len(made))] = chooser.randrange(256)
    return bytes(made)


def _grown(data: bytes, chooser: random.Random) -> bytes:
    at = chooser.randint(0, len(data))
    return data[:at] + chooser.choice(ODD) * chooser.choice((1, 2, 500, 140_000)) + data[at:]


def _moved(data: bytes, chooser: random.Random) -> bytes:
    """A piece stands somewhere else."""
    one, other = sorted(chooser.randint(0, len(data)) for _ in range(2))
    at = chooser.randint(0, len(data))
    return data[:at] + data[one:other] + data[at:]


def _recoded(data: bytes, chooser: random.Random) -> bytes:
    try:
        return data.decode().encode(chooser.choice(ENCODINGS))
    except UnicodeError:
        return data


def _inside(data: bytes, chooser: random.Random) -> bytes:
    """One part of an archive is damaged, lost or there twice."""
    file = io.BytesIO()
    try:
        with (
            zipfile.ZipFile(io.BytesIO(data)) as before,
            zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as after,
        ):
            names = before.namelist()
            unlucky = chooser.choice(names) if names else ""
            for name in names:
                part = before.read(name)
                if name == unlucky:
                    way = chooser.choice((_cut, _changed, _grown, _moved, None))
                    if way is None:
                        continue
                    part = way(part, chooser)
                after.writestr(name, part)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError, RuntimeError, EOFError):
        return data
    except Exception:  # zlib
        return data
    return file.getvalue()
