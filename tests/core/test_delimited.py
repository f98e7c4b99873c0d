"""Reading delimited text: what people really bring."""

import csv
import io
import random

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hobrix.core.data import Coded, Measured
from hobrix.core.errors import FormatError
from hobrix.core.formats import (
    DelimitedOptions,
    Table,
    delimited,
    few_values,
    read_delimited,
    rectangle,
)
from hobrix.core.formats import table as tables


def read(text: str | bytes, **options: object) -> Table:
    data = text if isinstance(text, bytes) else text.encode()
    return read_delimited(data, DelimitedOptions(**options))[0]  # type: ignore[arg-type]


def cells(table: Table, name: str) -> list[str]:
    source = table.columns[name]
    assert isinstance(source, Coded)
    return [source.values[code] if code >= 0 else "" for code in source.codes]


@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
def test_finds_the_delimiter(delimiter: str) -> None:
    text = delimiter.join(["a", "b", "c"]) + "\n" + delimiter.join(["x", "1", ""]) + "\n"
    table, used = read_delimited(text.encode())
    assert used.delimiter == delimiter
    assert list(table.columns) == ["a", "b", "c"]
    assert cells(table, "c") == [""]


@pytest.mark.parametrize(
    ("data", "encoding"),
    [
        ("næring,år\nJä,1\n".encode(), "utf-8"),
        ("næring,år\nJä,1\n".encode("utf-8-sig"), "utf-8-sig"),
        ("næring,år\nJä,1\n".encode("latin-1"), "cp1252"),
        ("næring,år\nJä,1\n".encode("utf-16"), "utf-16"),
        (b"a\x81\xe6,b\nx,y\n", "latin-1"),
    ],
)
def test_finds_the_encoding(data: bytes, encoding: str) -> None:
    table, used = read_delimited(data)
    assert used.encoding == encoding
    if encoding != "latin-1":
        assert list(table.columns) == ["næring", "år"]
        assert cells(table, "næring") == ["Jä"]


def test_quoted_cells_hold_delimiters_quotes_and_line_breaks() -> None:
    table = read('name,said\n"Vale, upper","a ""maybe"""\nPort,"two\nlines"\n')
    assert cells(table, "name") == ["Vale, upper", "Port"]
    assert cells(table, "said") == ['a "maybe"', "two\nlines"]


def test_a_quote_inside_an_unquoted_cell_is_a_character() -> None:
    table = read('size,town\n5" pipe,Vale\n3" pipe,Port\n')
    assert cells(table, "size") == ['5" pipe', '3" pipe']


def test_decimal_commas_are_noticed() -> None:
    table, used = read_delimited(b"score;age\n3,5;40\n2,25;41\n4;39\n")
    assert used.decimal_comma
    assert cells(table, "score") == ["3.5", "2.25", "4"]


def test_words_with_a_point_do_not_make_points_of_commas() -> None:
    _, used = read_delimited(b"w;note\n" + b"0,893;high\n2,345;low\n1,5;1.2\n" * 5)
    assert used.decimal_comma
    _, used = read_delimited(b"w;note\n" + b"0,893;1.7\n2,345;1.9\n" * 5)
    assert not used.decimal_comma


def test_decimal_commas_with_thousands_points() -> None:
    table = read("price;town\n1.234,50;Vale\n12,00;Port\n", decimal_comma=True)
    assert cells(table, "price") == ["1234.50", "12.00"]


def test_many_numbers_become_measurements_with_words_aside() -> None:
    numbers = [f"{i / 7:.6f}" for i in range(3000)]
    numbers[5], numbers[9] = "refused", ""
    source = read("x\n" + "\n".join(numbers) + "\n").columns["x"]
    assert isinstance(source, Measured)
    assert source.word_values == ("refused",)
    assert source.words[5] == 0
    assert np.isnan(source.numbers[[5, 9]]).all()
    assert source.numbers[6] == 0.857143


def test_leading_zeros_are_names_not_numbers() -> None:
    source = read("id\n" + "\n".join(f"{i:05d}" for i in range(2000)) + "\n").columns["id"]
    assert isinstance(source, Coded)
    assert source.values[7] == "00007"


def test_names_are_completed_and_kept_apart() -> None:
    table = read("town,,town, age \nVale,x,A,3\n")
    assert list(table.columns) == ["town", "column_2", "town_2", "age"]
    assert table.remarks == (
        "Column 2 has no name; it is called column_2.",
        "“town” names more than one column; column 3 is called town_2.",
    )


def test_blank_lines_are_no_rows() -> None:
    assert read("a,b\n1,2\n\n3,4\n\n\n").rows == 2


def test_many_blank_answers_are_read_in_one_pass() -> None:
    """A pass over the text for each of them would take minutes."""
    table = read_delimited(b"ill\n" + b"yes\n\nno\n" * 100_000)[0]
    assert (table.rows, cells(table, "ill").count("")) == (300_000, 100_000)


def test_a_column_of_its_own_may_have_blank_answers() -> None:
    assert cells(read("a\nx\n\ny\n"), "a") == ["x", "", "y"]


def test_three_hundred_columns() -> None:
    names = [f"v{i}" for i in range(300)]
    table = read(",".join(names) + "\n" + ",".join("1" for _ in names) + "\n")
    assert len(table.columns) == 300


@pytest.mark.parametrize(
    ("data", "message", "line"),
    [
        (b"", "The file is empty.", None),
        (b"  \n \n", "The file is empty.", None),
        (b"a,b\n", "The file has column names but no rows.", 1),
        (b"a,b\n1,2\n3\n", "Line 3 has 1 cells where the header has 2: it ends before “b”.", 3),
        (b"a,b\n1,2\n3,4,5\n", "Line 3 has 3 cells where the header has 2", 3),
        (b"a,b\n1\n3,4,5\n", "Line 2 has 1 cells where the header has 2", 2),
        (b'a,b\n"x\ny",2\n3\n', "Line 4 has 1 cells", 4),
        (b"PK\x03\x04aaaa", "This is a zip archive or a spreadsheet", None),
        (b"\x89PNG\r\n\x1a\n", "This is a picture", None),
        (b"a,b\n\x00\x01,\x02\n", "This file holds binary data", None),
    ],
)
def test_what_cannot_be_read_says_where(data: bytes, message: str, line: int | None) -> None:
    with pytest.raises(FormatError) as caught:
        read_delimited(data)
    assert message in caught.value.message
    assert caught.value.line == line


def test_a_ragged_row_names_the_column() -> None:
    with pytest.raises(FormatError) as caught:
        read_delimited(b"town,age,ill\nVale,3\n")
    assert caught.value.column == "ill"


def test_a_quote_that_is_never_closed() -> None:
    lines = ["a,b"] + ['"x,1'] + ["y,2"] * 40
    with pytest.raises(FormatError, match="quote that is not closed") as caught:
        read("\n".join(lines))
    assert caught.value.line == 2


def test_an_encoding_that_does_not_fit() -> None:
    with pytest.raises(FormatError, match="Line 2 is not valid utf-8"):
        read("a\nå\n".encode("latin-1"), encoding="utf-8")
    with pytest.raises(FormatError, match="no text encoding"):
        read("a\nå\n", encoding="martian")


texts = st.text(
    st.characters(blacklist_categories=["Cs"], blacklist_characters="\r\x00"), max_size=12
)


@given(st.lists(st.tuples(texts, texts), min_size=1, max_size=20))
def test_what_csv_writes_reads_back(rows: list[tuple[str, str]]) -> None:
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\n", quoting=csv.QUOTE_ALL)
    writer.writerow(["first", "second"])
    writer.writerows(rows)
    table, _ = read_delimited(
        file.getvalue().encode(), DelimitedOptions(delimiter=",", decimal_comma=False)
    )
    # Cells are stripped as polars strips them: of white space at both ends.
    assert table.rows == len(rows)
    found = cells(table, "first")
    assert [text.split() for text in found] == [first.split() for first, _ in rows]


def test_fast_and_explained_ways_read_the_same() -> None:
    chooser = random.Random(4)
    plain = [f"{chooser.choice('xyz')},{chooser.randint(1, 5)}" for _ in range(200)]
    fast = read("a,b\n" + "\n".join(plain) + "\n")
    explained = read("a,b\n\n" + "\n".join(plain) + "\n")
    assert cells(fast, "a") == cells(explained, "a")
    assert cells(fast, "b") == cells(explained, "b")


@pytest.mark.parametrize("part", [3, 7, 64])
@pytest.mark.parametrize(
    "text",
    [
        'a,b\n"x, y","say ""hi"""\n"two\nlines",2\n',
        "a,b\n1,2\n3,4\n",
        'a,b\n1,2\n3,"open\n',
        "a,b\n1,2\n3,4,5\n",
        'a,b\n5" pipe,x\n3" pipe,y\n',
        'a,b\n"",1\n2,""\n"",""\n',
        'a,b\n"","\n2"\n',
        'a,b\n""x,1\n',
        "a,b\n\n1,2\n",
        "a,b\n1,2",
    ],
)
def test_looking_at_parts_finds_the_same_as_looking_at_the_whole(
    text: str, part: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole = rectangle.lines_of_rectangle(text.encode(), ",")
    monkeypatch.setattr(rectangle, "_PART", part)
    monkeypatch.setattr(rectangle, "_IN_CACHE", part)
    assert rectangle.lines_of_rectangle(text.encode(), ",") == whole


@given(st.lists(st.integers(1, 5), min_size=1, max_size=40), st.booleans())
def test_no_ragged_row_slips_through(widths: list[int], quoted: bool) -> None:
    """Also when short and long rows make up for each other."""
    cell = '"x"' if quoted else "x"
    lines = [",".join(["a", "b", "c"]), *(",".join([cell] * width) for width in widths)]
    data = ("\n".join(lines) + "\n").encode()
    if set(widths) == {3}:
        assert read(data).rows == len(widths)
    else:
        with pytest.raises(FormatError, match="cells where the header has 3"):
            read_delimited(data, DelimitedOptions(delimiter=","))


@pytest.mark.parametrize(
    ("text", "seen"),
    [
        ("a,b\n1,2\n", (2, 2, False)),
        ('a,b\n"",2\n1,""\n', (3, 3, False)),
        ("a,b\n1\n", (1, 2, False)),
        ("a,b\n\n1,2\n", (2, 3, True)),
        ('a,b\n"x",2\n', None),
        ('a,b\n"",",2\n', None),
        ('a,b\n""",""\n', None),
        ('a,b\nx"",2\n', None),
    ],
)
def test_quotes_of_empty_cells_need_no_careful_look(
    text: str, seen: tuple[int, int, bool] | None
) -> None:
    array = np.frombuffer(text.encode(), dtype=np.uint8)
    assert rectangle._plainly(array, ",") == seen
    if seen is None or seen[2]:
        return
    expected = seen[1] if seen[0] == seen[1] else None
    assert rectangle.lines_of_rectangle(text.encode(), ",") == expected


@pytest.mark.parametrize(
    ("first", "then", "values", "last"),
    [
        (["a", "b"], ["c", "a", None], ("a", "b", "c"), [2, 0, -1]),
        ([None], ["x", None, " x"], ("x",), [0, -1, 0]),
        (["a", None], ["a"], ("a",), [0]),
    ],
)
def test_values_that_come_after_many_rows_are_found_too(
    first: list[str | None],
    then: list[str | None],
    values: tuple[str, ...],
    last: list[int],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(tables, "_LOOK", 10)
    found = tables.source_column(pl.Series([*first * 20, *then], dtype=pl.String))
    assert isinstance(found, Coded)
    assert found.values == values
    assert found.codes[-len(last) :].tolist() == last
    assert len(found.codes) == 20 * len(first) + len(then)


CELL = st.sampled_from(["", "a", " a ", "'=x", "7", "07", "1,5", '"', "two\nlines", "é;"])


@given(
    st.lists(st.lists(CELL, min_size=2, max_size=2), min_size=1, max_size=40),
    st.sampled_from(",;"),
    st.integers(1, 60),
    st.booleans(),
)
def test_columns_known_to_hold_few_values_are_read_the_same(
    rows: list[list[str]], delimiter: str, seen: int, is_quoted: bool
) -> None:
    """Also where a value comes that was not seen, and where what is seen is half of a quoted cell."""
    text = io.StringIO()
    writer = csv.writer(
        text,
        delimiter=delimiter,
        lineterminator="\n",
        quoting=csv.QUOTE_ALL if is_quoted else csv.QUOTE_MINIMAL,
    )
    writer.writerows([["first", "second"], *rows])
    data, options = text.getvalue().encode(), DelimitedOptions(delimiter=delimiter)  # type: ignore[arg-type]
    whole, used = read_delimited(data, options)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(few_values, "_LARGE", 0)
        patch.setattr(few_values, "_ROWS", 1 + seen // 4)
        patch.setattr(few_values, "_GLIMPSE", seen)
        again, used_again = read_delimited(data, options)
    assert used_again == used
    assert again.remarks == whole.remarks
    for name, column in whole.columns.items():
        other = again.columns[name]
        assert isinstance(column, Coded)
        assert isinstance(other, Coded)
        assert other.values == column.values
        assert other.codes.tolist() == column.codes.tolist()
        assert other.codes.dtype == column.codes.dtype


def test_columns_of_few_values_are_known_by_parts_of_a_large_text(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    lines = [
        f"{i},{'ab'[i % 2]},{i % 7},{'late' if i > 400_000 else 'early'}\n" for i in range(700_000)
    ]
    raw = ("id,group,size,time\n" + "".join(lines)).encode()

    def read(raw: bytes, rows: int | None) -> pl.DataFrame:
        schema = dict.fromkeys("0123", pl.String)
        return pl.read_csv(raw, has_header=False, skip_rows=1, n_rows=rows, schema=schema)

    known = few_values.few_values(raw, read)
    assert {name: kind.categories.to_list() for name, kind in known.items()} == {
        "1": ["a", "b"],
        "2": [str(i) for i in range(7)],
    }
    # One that comes where nobody looked is read all the same, and not in the way that takes long.
    monkeypatch.setattr(delimited, "_cells_explained", None)
    at = 2 * len(raw) // 5
    place = raw.index(b",a,", at)
    table = read(raw[:place] + b",c," + raw[place + 3 :], None)
    cells = read_delimited(raw[:place] + b",c," + raw[place + 3 :])[0].columns["group"]
    assert isinstance(cells, Coded)
    assert cells.values == ("a", "b", "c")
    assert int((cells.codes == 2).sum()) == table["1"].to_list().count("c") == 1
