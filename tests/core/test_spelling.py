"""Answers written in several ways made one; decimal commas in workbooks read as numbers."""

import io
from typing import Any

import numpy as np
import xlsxwriter
from pydantic import TypeAdapter

from hobrix.core.data import (
    CategoricalColumn,
    Coded,
    Measured,
    Step,
    Variable,
    decode,
    propose,
    replay,
)
from hobrix.core.data.spelling import spelled_once, spelled_twice
from hobrix.core.formats import Codebook, read_file
from hobrix.core.formats.codebook import complete
from hobrix.core.formats.table import Table

STEP: TypeAdapter[Any] = TypeAdapter(Step)
TOWNS = ("Vale", "vale", "Port", "VALE", "port ", "Estuary")
WRITTEN = Coded(np.tile(np.arange(6, dtype=np.int8), 3), TOWNS)


def answers(column: Any) -> list[str]:
    assert isinstance(column, CategoricalColumn)
    return [column.categories[code].label for code in column.codes]


def test_spellings_become_the_first_of_them_and_event_and_reference_move_along() -> None:
    proposed = propose("town", WRITTEN)
    (look,) = (each for each in proposed.to_look_at if each.values == ("vale",))
    assert look.text == "“Vale” and “vale” differ only in capitals or spaces."
    variable = Variable.model_validate(
        {**proposed.variable.model_dump(), "event": ("vale", "VALE"), "reference": "port "}
    )
    step = STEP.validate_python({"step": "one_spelling", "variable": "town"})
    state = replay([variable], [step])
    assert all(state.decided["town"].issuperset(each.values) for each in proposed.to_look_at)
    after = state.variables["town"]
    assert [c.value for c in after.categories] == ["Vale", "Port", "Estuary"]
    assert (after.event, after.reference) == (("Vale",), "Port")
    assert (
        answers(decode(WRITTEN, after)) == ["Vale", "Vale", "Port", "Vale", "Port", "Estuary"] * 3
    )
    assert spelled_twice(after) == ()
    assert spelled_once(after) == after


def test_yes_and_no_in_several_ways_get_their_event_once_they_are_two_answers() -> None:
    written = Coded(np.tile(np.arange(5, dtype=np.int8), 3), ("Yes", "no", "YES", "No", "yes"))
    proposed = propose("ill", written).variable
    assert proposed.event == ()
    step = STEP.validate_python({"step": "one_spelling", "variable": "ill"})
    after = replay([proposed], [step]).variables["ill"]
    assert (after.event, after.reference) == (("Yes",), "no")


def test_only_what_is_named_is_made_one_and_what_was_said_to_differ_stays() -> None:
    proposed = propose("town", WRITTEN).variable
    differ = {"step": "count_as_answer", "variables": ["town"], "values": ["port "]}
    one = {"step": "one_spelling", "variable": "town", "values": ["vale"]}
    state = replay([proposed], [STEP.validate_python(step) for step in (differ, one)])
    after = state.variables["town"]
    # “VALE” is another spelling of the same answer.
    assert [c.value for c in after.categories] == ["Vale", "Port", "port ", "Estuary"]
    assert state.decided["town"] == {"port ", "vale", "VALE"}
    words = STEP.validate_python(one).words("Town")
    assert words == "Town: “vale” is another spelling of the same answer"


def test_newer_data_with_another_spelling_are_made_one_as_well() -> None:
    first = propose("town", Coded(np.array([0, 1], np.int8), ("Vale", "Port"))).variable
    newer = complete(first, Table({"town": WRITTEN}, 18))
    step = STEP.validate_python({"step": "one_spelling", "variable": "town"})
    after = replay([newer], [step]).variables["town"]
    assert [c.value for c in after.categories] == ["Vale", "Port", "Estuary"]


def test_a_codebook_keeps_spellings() -> None:
    after = spelled_once(propose("town", WRITTEN).variable)
    again = Codebook.model_validate_json(Codebook(variables=(after,)).model_dump_json())
    assert complete(again.variables[0], Table({"town": WRITTEN}, 18)) == after


def workbook(*columns: list[Any]) -> bytes:
    file = io.BytesIO()
    book = xlsxwriter.Workbook(file, {"in_memory": True})
    sheet = book.add_worksheet()
    for k, column in enumerate(columns):
        sheet.write_column(0, k, [f"v{k}", *column])
    book.close()
    return file.getvalue()


def test_decimal_commas_as_text_in_a_workbook_are_numbers_and_said_to_be() -> None:
    texts = [f"{i},{i % 10}5" for i in range(1500)]
    words = ["1,5", "yes", "no"] * 500
    read = read_file("a.xlsx", workbook(texts, words, list(range(1500)))).table
    first = read.columns["v0"]
    assert isinstance(first, Measured)
    assert first.numbers[:3].tolist() == [0.05, 1.15, 2.25]
    assert any("decimal commas in “v0”: read as numbers" in remark for remark in read.remarks)
    assert isinstance(read.columns["v1"], Coded)
    assert "1,5" in read.columns["v1"].values
