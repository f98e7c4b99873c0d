"""Workbooks, Parquet, Data Packages and DDI: read, written, and refused when they are traps."""

import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hobrix.core.data import Category, Coded, Frame, Measured, MissingCode, Variable
from hobrix.core.errors import FormatError
from hobrix.core.formats import (
    Codebook,
    Noun,
    ReadOptions,
    Table,
    WorkbookOptions,
    frame_of,
    read_any_codebook,
    read_file,
    read_path,
    write_file,
)
from made_files import open_document, workbook


def values(table: Table, name: str) -> list[str]:
    source = table.columns[name]
    assert isinstance(source, Coded)
    return [source.values[code] if code >= 0 else "" for code in source.codes]


ROWS: list[list[Any]] = [
    ["town", "age", "score"],
    ["Vale", 30, 2.5],
    ["Port", 41, None],
    [None, None, None],
    ["Vale", 7, 1],
]


def test_a_sheet_with_names_in_its_first_row() -> None:
    table = read_file("x.xlsx", workbook({"First": ROWS})).table
    assert table.rows == 3
    assert values(table, "age") == ["30", "41", "7"]
    assert values(table, "score") == ["2.5", "", "1"]


def test_titles_above_the_names_are_left_out_and_said_so() -> None:
    read = read_file("x.xlsx", workbook({"First": [*[["Ostra Basin"], list[Any]()], *ROWS]}))
    assert list(read.table.columns) == ["town", "age", "score"]
    assert read.used.workbook.header_row == 3
    assert "taken from row 3" in read.table.remarks[0]


def test_sheet_and_header_row_can_be_chosen() -> None:
    data = workbook({"Empty": [], "Notes": [["read me"], ["please"]], "Data": ROWS})
    assert read_file("x.xlsx", data).sheets == ("Empty", "Notes", "Data")
    options = ReadOptions(workbook=WorkbookOptions("Data", 2))
    assert list(read_file("x.xlsx", data, options).table.columns) == ["Vale", "30", "2.5"]
    with pytest.raises(FormatError, match="no sheet called"):
        read_file("x.xlsx", data, ReadOptions(workbook=WorkbookOptions("Nowhere")))
    with pytest.raises(FormatError, match="has no row 9"):
        read_file("x.xlsx", data, ReadOptions(workbook=WorkbookOptions("Data", 9)))


def test_a_header_merged_over_columns_names_each_of_them() -> None:
    rows: list[list[Any]] = [
        ["Households"],
        ["town", "water", "", "n"],
        ["Vale", "piped", "river", 3],
    ]
    data = workbook({"S": rows}, merge="B2:C2")
    table = read_file("x.xlsx", data, ReadOptions(workbook=WorkbookOptions("S", 2))).table
    assert list(table.columns) == ["town", "water", "water_2", "n"]


def bomb() -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", b"0" * 60_000_000)
    return file.getvalue()


def archive_with(path: str, descriptor: dict[str, Any] | None = None) -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as archive:
        archive.writestr(path, "a,b\n1,2\n")
        if descriptor is not None:
            archive.writestr("datapackage.json", json.dumps(descriptor))
    return file.getvalue()


ENTITIES = b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><codeBook>&b;</codeBook>'
OUTSIDE = {"resources": [{"path": "../../etc/passwd"}]}
ADDRESS = {"resources": [{"path": "file:///etc/passwd"}]}


@pytest.mark.parametrize(
    ("name", "data", "message"),
    [
        ("x.xlsx", b"town,age\nVale,3\n", "not a workbook"),
        ("x.ods", archive_with("a.txt"), "not a workbook"),
        ("x.xlsx", bomb(), "no honest table"),
        ("x.zip", bomb(), "no honest table"),
        ("x.zip", archive_with("../evil.csv"), "leads out of the file"),
        ("x.zip", archive_with("data.csv"), "no Data Package"),
        ("x.zip", archive_with("data.csv", OUTSIDE), "leads out of the file"),
        ("x.zip", archive_with("data.csv", ADDRESS), "leads out of the file"),
        ("x.zip", archive_with("data.csv", {"resources": []}), "does not name a table"),
        ("x.zip", archive_with("data.csv", {"resources": [{"path": "b.csv"}]}), "does not hold"),
        ("x.parquet", b"PAR1 and nothing else", "not a Parquet file"),
        ("x.csv", b"PAR1\x15\x04", "a Parquet file"),
        ("x.pdf", b"%PDF", "not a file Hobrix can read"),
    ],
)
def test_traps_and_wrong_endings_are_refused(name: str, data: bytes, message: str) -> None:
    with pytest.raises(FormatError, match=message):
        read_file(name, data)


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (ENTITIES, "declares entities"),
        (b"<codeBook", "Line 1 is not valid XML"),
        (b"<html/>", "not a DDI codebook"),
        (b"<codeBook><dataDscr><var/></dataDscr></codeBook>", "has no name"),
    ],
)
def test_codebooks_that_are_not(data: bytes, message: str) -> None:
    with pytest.raises(FormatError, match=message):
        read_any_codebook("x.xml", data)


def test_a_package_by_the_standard_alone(tmp_path: Path) -> None:
    """Without anything of our own: titles, categories in order, and missing values."""
    schema = {
        "missingValues": ["", "-9"],
        "fields": [
            {
                "name": "trust",
                "title": "Trust",
                "categories": [{"value": "2", "label": "A lot"}, {"value": "1", "label": "None"}],
                "categoriesOrdered": True,
                "missingValues": [{"value": "9", "label": "refused"}],
            },
            {"name": "age", "type": "integer"},
            {"name": "town", "title": "Town", "type": "string"},
        ],
    }
    (tmp_path / "data.csv").write_text("trust,age,town\n1,30,Vale\n9,-9,Port\n2,41,Vale\n")
    descriptor = {"resources": [{"path": "data.csv", "schema": schema}]}
    (tmp_path / "datapackage.json").write_text(json.dumps(descriptor))
    read = read_path(tmp_path)
    assert read.codebook is not None
    frame = frame_of(read.table, read.codebook)
    assert frame.column("trust").codes.tolist() == [1, -1, 0]
    assert frame.variables["trust"].kind == "ordinal"
    np.testing.assert_array_equal(frame.column("age").values, [30, np.nan, 41])
    assert frame.variables["town"].label == "Town"


def test_what_a_spreadsheet_would_run_is_made_harmless() -> None:
    risky = ("=1+1", "@SUM(A1)", "+x", "-y", "'=z", "-5")
    table = Table({"x": Coded(np.arange(6, dtype=np.int8), risky)}, 6)
    codebook = Codebook(variables=(Variable(name="x", kind="text"),))
    lines = write_file("csv", table, codebook, "x").decode().splitlines()[1:]
    assert lines == ["'=1+1", "'@SUM(A1)", "'+x", "'-y", "''=z", "-5"]
    sheet = zipfile.ZipFile(io.BytesIO(write_file("xlsx", table, codebook, "x")))
    assert b"<f>" not in sheet.read("xl/worksheets/sheet1.xml")


texts = st.text(
    st.characters(codec="utf-8", exclude_categories=["Cs", "Cc", "Zl", "Zp", "Zs"]),
    min_size=1,
    max_size=8,
).filter(lambda text: text.strip() == text and text.lower() not in ("nan", "inf", "-inf"))
names = st.text("abcdefghij_", min_size=1, max_size=6)


@st.composite
def coded(draw: st.DrawFn, name: str, rows: int) -> tuple[Variable, Coded]:
    found = draw(st.lists(texts, min_size=2, max_size=5, unique=True))
    n_missing = draw(st.integers(0, len(found) - 2))
    answers, missing = found[n_missing:], found[:n_missing]
    labels = draw(st.lists(texts, min_size=len(found), max_size=len(found)))
    label = dict(zip(found, labels, strict=True))
    variable = Variable(
        name=name,
        label=draw(texts),
        kind=draw(st.sampled_from(["nominal", "ordinal"])),
        categories=tuple(Category(value=v, label=label[v]) for v in answers),
        missing=tuple(MissingCode(value=v, label=label[v]) for v in missing),
        event=tuple(answers[: draw(st.integers(0, 1))]),
        reference=draw(st.sampled_from([None, answers[-1]])),
    )
    codes = draw(st.lists(st.integers(-1, len(found) - 1), min_size=rows, max_size=rows))
    return variable, Coded(np.array(codes, dtype=np.int8), tuple(found))


@st.composite
def data_sets(draw: st.DrawFn) -> tuple[Table, Codebook]:
    rows = draw(st.integers(1, 12))
    variables, columns = [], {}
    for name in draw(st.lists(names, min_size=1, max_size=3, unique=True)):
        variable, source = draw(coded(name, rows))
        variables.append(variable)
        columns[name] = source
    numbers = draw(
        st.lists(st.floats(-1e6, 1e6) | st.just(float("nan")), min_size=rows, max_size=rows)
    )
    variables.append(Variable(name="number", label="A number", kind="numeric", unit="m"))
    sources: dict[str, Any] = {
        **columns,
        "number": Measured(np.array(numbers) + 0.0, np.full(rows, -1, np.int8), ()),
    }
    noun = Noun(one="household", many="households")
    return Table(sources, rows), Codebook(noun=noun, variables=tuple(variables))


def assert_same(frame: Frame, other: Frame) -> None:
    assert dict(frame.variables) == dict(other.variables)
    assert frame.noun == other.noun
    for name, variable in frame.variables.items():
        one, two = frame.column(name), other.column(name)
        if variable.is_categorical:
            assert one.codes.tolist() == two.codes.tolist()
        else:
            # A sheet keeps 16 digits of a number, one fewer than a double may need.
            np.testing.assert_allclose(one.values, two.values, rtol=1e-15)


@given(data_sets(), st.sampled_from(["zip", "xlsx", "parquet"]))
@settings(max_examples=150)
def test_what_is_written_reads_back_the_same(data: tuple[Table, Codebook], kind: Any) -> None:
    table, codebook = data
    read = read_file(f"x.{kind}", write_file(kind, table, codebook, "Round one"))
    assert read.codebook is not None
    assert_same(frame_of(read.table, read.codebook), frame_of(table, codebook))


@given(data_sets())
def test_csv_with_its_ddi_codebook_reads_back_the_same(data: tuple[Table, Codebook]) -> None:
    table, codebook = data
    read = read_file("x.csv", write_file("csv", table, codebook, "x"))
    known = read_any_codebook("x.xml", write_file("xml", table, codebook, "x"))
    # DDI has no word for event, reference and what a row is called.
    plain = Codebook(
        variables=tuple(
            v.model_copy(update={"event": (), "reference": None}) for v in codebook.variables
        )
    )
    assert isinstance(known, Codebook)
    assert_same(frame_of(read.table, known), frame_of(table, plain))


def test_an_open_document_sheet() -> None:
    read = read_file("x.ods", open_document([["town", "age"], ["Vale", 30], ["Port", None]]))
    assert read.sheets == ("Answers",)
    assert values(read.table, "town") == ["Vale", "Port"]
    assert values(read.table, "age") == ["30", ""]
