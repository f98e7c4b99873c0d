"""Small files that would fill the memory are refused in words, before anything of them is built."""

import io
import resource
import time
import zipfile
from collections.abc import Callable, Iterator

import polars as pl
import pytest

from hobrix.core.errors import FormatError
from hobrix.core.formats import DelimitedOptions, ReadOptions, read_file
from hobrix.core.formats.limits import LONGEST_CELL
from made_bombs import BOMBS, parquet, repeated, with_part
from made_files import open_document


@pytest.fixture(autouse=True)
def little_memory() -> Iterator[None]:
    """Nothing of them may take more than a second or two, or much memory."""
    began, before = time.monotonic(), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    yield
    assert time.monotonic() - began < 20
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 800_000


@pytest.mark.parametrize(("name", "data", "says"), BOMBS)
def test_what_reaches_too_far_is_refused(name: str, data: Callable[[], bytes], says: str) -> None:
    made = data()
    with pytest.raises(FormatError, match=says):
        read_file(name, made)


def test_blank_repeats_at_the_end_are_those_of_every_spreadsheet() -> None:
    made = repeated(16_384, 1_048_570, filled=False)
    assert read_file("a.ods", made).table.rows == 1


def test_entities_are_never_expanded() -> None:
    plain = open_document([["a"], ["1"]])
    with zipfile.ZipFile(io.BytesIO(plain)) as archive:
        content = archive.read("content.xml")
    declared = b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]>'
    head, _, rest = content.partition(b"?>")
    made = with_part(plain, "content.xml", head + b"?>" + declared + rest)
    with pytest.raises(FormatError, match="declares entities"):
        read_file("a.ods", made)


def test_cells_as_long_as_a_spreadsheet_allows_are_read() -> None:
    frame = pl.DataFrame({"a": ["x" * LONGEST_CELL, "y"]})
    assert read_file("a.parquet", parquet(frame)).table.rows == 2


def test_columns_of_bytes_are_no_answers() -> None:
    file = io.BytesIO()
    pl.DataFrame({"a": ["x"], "raw": [b"\xff\x00"]}).write_parquet(file)
    with pytest.raises(FormatError, match="Column “raw” holds bytes"):
        read_file("x.parquet", file.getvalue())


@pytest.mark.parametrize(
    "encoding", ["undefined", "punycode", "idna", "utf-7", "base64", "nothing", "\0"]
)
def test_encodings_that_are_none_of_text_are_refused(encoding: str) -> None:
    options = ReadOptions(delimited=DelimitedOptions(encoding=encoding))
    with pytest.raises(FormatError, match="no text encoding"):
        read_file("x.csv", b"a,b\n1,2\n", options)


def test_a_quote_that_is_never_closed_is_said_to_be() -> None:
    text = b'a,b\n1,2\n"3,' + b"x\n" * 100_000
    with pytest.raises(FormatError, match="never closed") as refused:
        read_file("x.csv", text)
    assert refused.value.line == 3


def test_an_empty_first_line_names_no_columns() -> None:
    with pytest.raises(FormatError, match="first line is empty"):
        read_file("x.csv", b"\n1,2\n3,4\n")
