"""Columns, codebook entries, subsets and ways of counting."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from hobrix.core.data import (
    AllOf,
    AnyOf,
    Category,
    Coded,
    CountsColumn,
    EachRow,
    Frame,
    Measured,
    MissingCode,
    NumericColumn,
    Variable,
    decode,
    row_counts,
)
from hobrix.core.data.column import as_coded, as_number, as_text
from hobrix.core.errors import CodebookError, QuestionError

SOURCE = Coded(np.array([0, 1, 2, 3, -1], np.int8), ("1", "2", "99", "7"))


def nominal(**changes: object) -> Variable:
    fields = {
        "name": "x",
        "kind": "nominal",
        "categories": [Category(value="2", label="two"), Category(value="1", label="one")],
        "missing": [MissingCode(value="99")],
    }
    return Variable.model_validate({**fields, **changes})


def test_codes_follow_the_order_of_the_codebook() -> None:
    column = decode(SOURCE, nominal())
    assert column.codes.tolist() == [1, 0, -1, -1, -1]


def test_the_same_column_as_numbers() -> None:
    column = decode(SOURCE, nominal(kind="numeric"))
    assert isinstance(column, NumericColumn)
    np.testing.assert_array_equal(column.values, [1, 2, np.nan, 7, np.nan])


def test_missing_numbers_of_a_measured_column() -> None:
    source = Measured(np.array([1.5, -9.0, np.nan]), np.array([-1, -1, 0], np.int8), ("no",))
    variable = Variable(name="x", kind="numeric", missing=(MissingCode(value="-9.0"),))
    np.testing.assert_array_equal(decode(source, variable).values, [1.5, np.nan, np.nan])


def test_measured_as_categories() -> None:
    source = Measured(
        np.array([2.0, 1.5, np.nan, 2.0]), np.array([-1, -1, 0, -1], np.int8), ("no",)
    )
    coded = as_coded(source)
    assert coded.values == ("1.5", "2", "no")
    assert coded.codes.tolist() == [1, 0, 2, 1]


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_numbers_as_text_read_back(number: float) -> None:
    assert as_number(as_text(number)) == number


@pytest.mark.parametrize("text", ["", "x", "nan", "inf", "1_000", "1,5"])
def test_what_is_no_number(text: str) -> None:
    assert as_number(text) is None


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        (
            {"categories": [Category(value="1", label="a"), Category(value="1", label="b")]},
            "categories",
        ),
        ({"missing": [MissingCode(value="2")]}, "missing"),
        ({"event": ["5"]}, "event"),
        ({"reference": "5"}, "reference"),
    ],
)
def test_a_codebook_entry_must_not_contradict_itself(
    changes: dict[str, object], field: str
) -> None:
    with pytest.raises(CodebookError) as caught:
        nominal(**changes)
    assert caught.value.field == field


def frame() -> Frame:
    age = Measured(np.array([10.0, 20, 30, 40, np.nan]), np.full(5, -1, np.int8), ())
    count = Measured(np.array([1.0, 0, 3, 2, np.nan]), np.full(5, -1, np.int8), ())
    return Frame.of(
        [nominal(), Variable(name="age", kind="numeric"), Variable(name="n", kind="numeric")],
        {"x": SOURCE, "age": age, "n": count},
        5,
    )


@pytest.mark.parametrize(
    ("rule", "expected", "words"),
    [
        ({"all": [{"variable": "x", "is": ["1"]}]}, [1, 0, 0, 0, 0], "x: one"),
        ({"all": [{"variable": "x", "is": ["1", "2"]}]}, [1, 1, 0, 0, 0], "x: one or two"),
        ({"all": [{"variable": "age", "from": 20, "to": 30}]}, [0, 1, 1, 0, 0], "age 20 to 30"),
        ({"all": [{"variable": "age", "from": 20}]}, [0, 1, 1, 1, 0], "age 20 or more"),
        ({"all": [{"variable": "age", "to": 20}]}, [1, 1, 0, 0, 0], "age 20 or less"),
        ({"all": [{"variable": "age", "missing": True}]}, [0, 0, 0, 0, 1], "age not answered"),
        ({"any": [{"variable": "x", "missing": False}]}, [1, 1, 0, 0, 0], "x answered"),
        (
            {"all": [{"variable": "x", "is": ["2"]}, {"variable": "age", "to": 20}]},
            [0, 1, 0, 0, 0],
            "x: two and age 20 or less",
        ),
        (
            {"any": [{"variable": "x", "is": ["1"]}, {"all": [{"variable": "age", "from": 40}]}]},
            [1, 0, 0, 1, 0],
            "x: one or age 40 or more",
        ),
    ],
)
def test_subsets(rule: dict[str, object], expected: list[int], words: str) -> None:
    subset: AllOf | AnyOf = TypeAdapter(AllOf | AnyOf).validate_python(rule)
    assert subset.mask(frame()).astype(int).tolist() == expected
    assert subset.words(frame()) == words


@pytest.mark.parametrize(
    "rule",
    [
        {"all": []},
        {"all": [{"variable": "x", "is": []}]},
        {"all": [{"variable": "age", "from": None, "to": None}]},
        {"some": [{"variable": "x", "is": ["1"]}]},
    ],
)
def test_subsets_that_say_nothing_are_refused(rule: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        TypeAdapter(AllOf | AnyOf).validate_python(rule)


def test_a_subset_names_what_it_does_not_know() -> None:
    for rule in ({"variable": "nobody", "is": ["1"]}, {"variable": "x", "is": ["5"]}):
        with pytest.raises(QuestionError) as caught:
            AllOf.model_validate({"all": [rule]}).mask(frame())
        assert caught.value.slot == "among"


def test_counting() -> None:
    assert row_counts(EachRow(), frame()) is None
    counts = row_counts(CountsColumn(variable="n"), frame())
    assert counts is not None
    assert counts.tolist() == [1, 0, 3, 2, 0]


@pytest.mark.parametrize(
    ("values", "message"),
    [
        ([1.0, -2.0], "-2 in row 2 is negative"),
        ([1.5, 2.0], "1.5 in row 1 is not a whole number"),
        ([np.nan, np.nan], "holds no number"),
    ],
)
def test_columns_that_cannot_count(values: list[float], message: str) -> None:
    source = Measured(np.array(values), np.full(2, -1, np.int8), ())
    bad = Frame.of([Variable(name="n", kind="numeric")], {"n": source}, 2)
    with pytest.raises(QuestionError, match=message) as caught:
        row_counts(CountsColumn(variable="n"), bad)
    assert caught.value.slot == "counted_by"


def test_a_frame_loads_a_column_once() -> None:
    loaded: list[str] = []

    def load(variable: Variable) -> NumericColumn:
        loaded.append(variable.name)
        return NumericColumn(np.zeros(1))

    known = {"n": Variable(name="n", kind="numeric")}
    source = Measured(np.zeros(1), np.full(1, -1, np.int8), ())
    lazy = Frame(rows=1, variables=known, load=load, source=lambda _: source)
    lazy.column("n")
    lazy.column("n")
    assert loaded == ["n"]
