"""Data dictionaries in tables, as people write them."""

from typing import Any

import pytest

from hobrix.core.data import Variable
from hobrix.core.errors import FormatError
from hobrix.core.formats import Dictionary, Part, Table, read_any_codebook, read_delimited
from hobrix.core.formats.codebook import variables_of
from made_files import workbook

DATA = read_delimited(b"Ill,source,age,remark\n1,1,34,x\n2,2,41,y\n1,9,52,z\n2,1,61,w\n1,2,99,v\n")[
    0
]


def read(text: str, **told: Part | None) -> Dictionary:
    given = {("", name): part for name, part in told.items()}
    found = read_any_codebook("dictionary.csv", text.encode(), given)
    assert isinstance(found, Dictionary)
    return found


def described(dictionary: Dictionary, table: Table = DATA) -> dict[str, Variable]:
    return {each.name: each for each in variables_of(table, dictionary.describing(table))}


def pairs(listed: Any) -> list[tuple[str, str]]:
    return [(each.value, each.label) for each in listed]


LINES = """variable,label,code,meaning,missing
ill,Stomach illness,1,Yes,
,,2,No,
source,Water source,1,River,
,,2,Piped,
,,9,Refused,yes
"""
CELLS = """Variable name;Description;Values;Missing values;Units
ill;Stomach illness;1=Yes | 2=No;;
source;Water source;1=River | 2=Piped;9=Refused;
age;Age;;99;years
"""


@pytest.mark.parametrize("text", [LINES, CELLS], ids=["a line for each code", "codes in one cell"])
def test_labels_codes_and_missing_codes(text: str) -> None:
    found = described(read(text))
    assert (found["Ill"].label, found["Ill"].kind) == ("Stomach illness", "nominal")
    assert pairs(found["Ill"].categories) == [("1", "Yes"), ("2", "No")]
    assert (found["Ill"].event, found["Ill"].reference) == (("1",), "2")
    assert pairs(found["source"].categories) == [("1", "River"), ("2", "Piped")]
    assert pairs(found["source"].missing) == [("9", "Refused")]


def test_missing_codes_and_units_of_numbers() -> None:
    age = described(read(CELLS))["age"]
    assert (age.kind, age.unit, pairs(age.missing)) == ("numeric", "years", [("99", "")])
    assert described(read('variable,missing\nage,"98, 99"\n'))["age"].missing[1].value == "99"


def test_variables_on_one_sheet_and_codes_on_another() -> None:
    book = workbook(
        {
            "Read me": [["Ostra Basin, second round"]],
            "Variables": [["Field", "Question", "Type"], ["ill", "Ill?", "categorical"], ["age", "Age", "integer"]],
            "Codes": [["Field", "Code", "Answer"], ["ill", 1, "Yes"], ["ill", 2, "No"]],
        }
    )  # fmt: skip
    found = read_any_codebook("dictionary.xlsx", book)
    assert isinstance(found, Dictionary)
    ill = described(found)["Ill"]
    assert (ill.label, pairs(ill.categories)) == ("Ill?", [("1", "Yes"), ("2", "No")])
    assert described(found)["age"].kind == "numeric"


def test_what_it_does_not_tell_is_inferred() -> None:
    found = described(read("variable,label\nill,Stomach illness\n"))
    assert found["Ill"].label == "Stomach illness"
    assert [c.value for c in found["Ill"].categories] == ["1", "2"]
    assert found["age"].kind == described(read("variable\nill\n"))["age"].kind
    assert found["remark"].label == ""


def test_codes_are_taken_as_the_data_write_them() -> None:
    table = read_delimited(b"q\n01\n02\n01\n")[0]
    found = described(read("variable,code,meaning\nq,1,Yes\nq,2,No\n"), table)
    assert pairs(found["q"].categories) == [("01", "Yes"), ("02", "No")]


def test_answers_of_the_data_that_it_does_not_list_are_kept() -> None:
    found = described(read("variable,code,meaning\nsource,1,River\n"))
    assert [c.value for c in found["source"].categories] == ["1", "2"]


def test_how_columns_were_taken_is_told_and_may_be_said_otherwise() -> None:
    text = "code in file,what it is,variable\nx,Stomach illness,ill\n"
    dictionary = read(text)
    assert [(c.name, c.part, c.example) for c in dictionary.columns] == [
        ("code in file", None, "x"),
        ("what it is", None, "Stomach illness"),
        ("variable", "variable", "ill"),
    ]
    told = read(text, **dict[str, Any]({"what it is": "label"}))
    assert described(told)["Ill"].label == "Stomach illness"


def test_variables_that_the_data_do_not_have_are_named() -> None:
    dictionary = read("variable,label\nILL ,a\nweight,b\n")
    known, unknown = dictionary.by_column(list(DATA.columns))
    assert (list(known), unknown) == (["Ill"], ("weight",))


@pytest.mark.parametrize(
    ("text", "told", "words"),
    [
        ("a,b\n1,2\n", {}, "No column of this table is known to name the variables"),
        ("variable,a,b\nx,1,2\n", {"a": "label", "b": "label"}, "taken as the same: “label”"),
    ],
)
def test_a_table_that_is_no_dictionary(text: str, told: dict[str, Part], words: str) -> None:
    dictionary = read(text, **told)
    assert words in str(dictionary.problem)
    with pytest.raises(FormatError, match=words):
        dictionary.describing(DATA)


def test_a_code_that_is_answer_and_missing_is_missing() -> None:
    """As where all codes are listed, and those that are missing once more."""
    found = described(read("variable,codes,missing\nsource,1=River; 2=Piped; 9=Refused,9\n"))
    assert pairs(found["source"].missing) == [("9", "Refused")]
    assert pairs(found["source"].categories) == [("1", "River"), ("2", "Piped")]
