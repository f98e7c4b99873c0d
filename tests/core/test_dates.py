"""Dates: forms told apart, what is made of them, and that they are no answers by themselves."""

import datetime
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from core.parts import labels, part
from hobrix.core.bringing import OnePerCase, Stack, carry_out, proposed
from hobrix.core.data import (
    AllOf,
    Cases,
    CategoricalColumn,
    Coded,
    Frame,
    IsDated,
    Measured,
    NumericColumn,
    Step,
    Variable,
    decode,
    made_source,
    propose,
    replay,
)
from hobrix.core.data.dates import day_number, day_of, forms_of
from hobrix.core.errors import CodebookError, QuestionError
from hobrix.core.formats import Codebook, Noun, read_codebook
from hobrix.core.formats.ddi import read_ddi, write_ddi
from hobrix.core.questions import Question, answer

STEP: TypeAdapter[Any] = TypeAdapter(Step)
DAYS = st.dates(min_value=datetime.date(1900, 1, 1), max_value=datetime.date(2100, 12, 31))
WRITTEN = {"ymd": "%Y-%m-%d", "dmy": "%d/%m/%Y", "mdy": "%m/%d/%Y"}


def texts(*values: str) -> Coded:
    kept = tuple(dict.fromkeys(values))
    return Coded(np.array([kept.index(value) for value in values], np.int16), kept)


@given(DAYS)
def test_what_is_written_is_read_back(day: datetime.date) -> None:
    for form, pattern in WRITTEN.items():
        assert day_of(day.strftime(pattern), form) == (day - datetime.date(1970, 1, 1)).days  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("text", "form", "day"),
    [
        ("2024-2-29", "ymd", datetime.date(2024, 2, 29)),
        ("2024-03-01T13:45:00", "ymd", datetime.date(2024, 3, 1)),
        ("2024/03/01 13:45", "ymd", datetime.date(2024, 3, 1)),
        ("1.3.2024", "dmy", datetime.date(2024, 3, 1)),
        ("3 May 2024", "dmy", datetime.date(2024, 5, 3)),
        ("03-Sep-2024", "mdy", datetime.date(2024, 9, 3)),
        ("May 3, 2024", "dmy", datetime.date(2024, 5, 3)),
    ],
)
def test_common_forms(text: str, form: Any, day: datetime.date) -> None:
    assert day_of(text, form) == day_number(day)


@pytest.mark.parametrize(
    "text", ["2023-02-29", "31/04/2024", "2024-1", "12", "1-2/2024", "3 Ma 2024", ""]
)
def test_what_is_no_date(text: str) -> None:
    assert not forms_of([text])


@pytest.mark.parametrize(
    ("values", "form", "asked"),
    [
        (["2024-03-01", "2023-12-31"], "ymd", False),
        (["03/04/2024", "25/04/2024"], "dmy", False),
        (["03/04/2024", "04/25/2024"], "mdy", False),
        (["03/04/2024", "04/05/2024"], "dmy", True),
        (["3 Apr 2024", "4 May 2024"], "dmy", False),
    ],
)
def test_days_and_months_are_told_apart_or_asked_about(
    values: list[str], form: str, asked: bool
) -> None:
    found = propose("when", texts(*values))
    assert (found.variable.kind, found.variable.date_form) == ("date", form)
    assert any("cannot be told apart" in look.text for look in found.to_look_at) == asked


def test_a_column_with_a_few_words_among_dates() -> None:
    values = [f"2024-03-{day:02}" for day in range(1, 29)]
    found = propose("when", texts(*values, "unclear", "refused"))
    assert found.variable.kind == "date"
    assert [code.value for code in found.variable.missing] == ["refused"]
    assert "“unclear” is no date and no answer" in found.to_look_at[0].text
    assert np.isnan(decode(texts("unclear"), found.variable).values[0])


def test_what_is_not_known_does_not_make_dates_words() -> None:
    found = propose("born", texts("1999-05-01", "2001-12-31", "1980-02-29", "unknown"))
    assert found.variable.kind == "date"
    assert [look.text for look in found.to_look_at] == ["“unknown” is no date and no answer."]
    # What is no date cannot be made one by saying so.
    assert [look.asks for look in found.to_look_at] == [None]


def test_codes_years_and_postcodes_are_no_dates() -> None:
    for values in (["2019", "2020"], ["1", "2"], ["45000", "45001"], ["1-2", "3-4"]):
        assert propose("x", texts(*values)).variable.kind != "date"


def test_days_as_spreadsheets_count_them() -> None:
    variable = Variable(name="when", kind="date")
    numbers = Measured(
        np.array([45352.75, np.nan, 7.0]), np.array([-1, 0, -1], np.int8), ("2024-03-02",)
    )
    found = decode(numbers, variable)
    assert isinstance(found, NumericColumn)
    assert found.values[:2].tolist() == [day_number(datetime.date(2024, 3, day)) for day in (1, 2)]
    assert np.isnan(found.values[2])


# --- what is made of dates


def made(step: dict[str, Any], *days: list[datetime.date]) -> list[Any]:
    names = ["start", "end"][: len(days)]
    variables = [Variable(name=name, kind="date", date_form="ymd") for name in names]
    making = STEP.validate_python(step)
    state = replay(variables, [making])
    columns = [
        decode(texts(*(day.isoformat() for day in each)), variable)
        for each, variable in zip(days, variables, strict=True)
    ]
    column = decode(made_source(making, columns), state.variables[making.name])
    if isinstance(column, CategoricalColumn):
        return [column.categories[code].label for code in column.codes.tolist()]
    return list(column.values.tolist())


@given(st.lists(DAYS, min_size=1, max_size=20))
def test_parts_are_those_of_the_calendar(days: list[datetime.date]) -> None:
    def part_of(part: str) -> list[Any]:
        return made({"step": "date_part", "variable": "start", "part": part, "name": "x"}, days)

    assert part_of("year") == [day.year for day in days]
    assert part_of("quarter") == [f"Q{pd.Timestamp(day).quarter}" for day in days]
    assert part_of("month") == [day.strftime("%B") for day in days]


@given(st.lists(DAYS, min_size=1, max_size=20), st.sampled_from(["quarter", "month", "year"]))
def test_bands_of_time(days: list[datetime.date], by: str) -> None:
    first, last = datetime.date(2019, 11, 15), datetime.date(2021, 2, 3)
    found = made(
        {
            "step": "date_bands",
            "variable": "start",
            "by": by,
            "first": str(first),
            "last": str(last),
            "name": "x",
        },
        days,
    )
    frequency = {"quarter": "Q", "month": "M", "year": "Y"}[by]

    def named(day: Any) -> str:
        period = pd.Period(day, frequency)
        return {
            "quarter": f"{period.year} Q{period.quarter}",
            "month": f"{period.year}-{period.month:02}",
            "year": str(period.year),
        }[by]

    for day, band in zip(days, found, strict=True):
        period = pd.Period(day, frequency)
        if period < pd.Period(first, frequency):
            assert band == f"before {named(first)}"
        elif period > pd.Period(last, frequency):
            assert band == f"after {named(last)}"
        else:
            assert band == named(day)


@given(st.lists(st.tuples(DAYS, DAYS), min_size=1, max_size=20))
def test_time_between(pairs: list[tuple[datetime.date, datetime.date]]) -> None:
    start, end = [one for one, _ in pairs], [other for _, other in pairs]

    def between(unit: str) -> list[Any]:
        step = {"step": "time_between", "start": "start", "end": "end", "unit": unit, "name": "x"}
        return made(step, start, end)

    assert between("days") == [(b - a).days for a, b in pairs]
    assert between("years") == pytest.approx([(b - a).days / 365.25 for a, b in pairs])
    for (a, b), years in zip(pairs, between("full_years"), strict=True):
        if b >= a and (a.month, a.day) != (2, 29):
            assert (
                a.replace(year=a.year + int(years)) <= b < a.replace(year=a.year + int(years) + 1)
            )


def test_on_or_after_a_day() -> None:
    days = [datetime.date(2024, 3, day) for day in (1, 2, 3)]
    step = {"step": "on_or_after", "variable": "start", "day": "2024-03-02", "name": "x"}
    assert made(step, days) == ["No", "Yes", "Yes"]


def test_only_dates_make_them() -> None:
    step = STEP.validate_python({"step": "date_part", "variable": "x", "part": "year", "name": "y"})
    with pytest.raises(CodebookError, match="does not hold dates"):
        replay([Variable(name="x", kind="numeric")], [step])
    with pytest.raises(ValidationError, match="lies before the first"):
        STEP.validate_python(
            {
                "step": "date_bands",
                "variable": "x",
                "by": "year",
                "first": "2024-01-01",
                "last": "2023-01-01",
                "name": "y",
            }
        )


# --- in questions, subsets, files and several data sets


def visits() -> pd.DataFrame:
    return pd.DataFrame(
        {
            "household": ["a", "a", "b", "b", "c"],
            "seen": ["05/03/2024", "25/11/2023", "01/02/2024", "02/02/2024", "13/01/2024"],
            "ill": ["yes", "no", "no", "yes", "no"],
            "source": ["well", "river", "well", "river", "well"],
        }
    )


@pytest.mark.parametrize("slot", ["outcome", "vary_with", "allowing_for", "within"])
@pytest.mark.parametrize("lens", ["distribution", "crosstab", "proportions", "odds"])
def test_dates_are_no_answers_and_the_way_out_is_told(lens: str, slot: str) -> None:
    frame = part(visits(), household="nominal").frame
    fields: dict[str, Any] = {
        "lens": lens,
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "source"}],
    }
    term = {"variable": "seen"}
    fields[slot] = {"outcome": term, "within": ["seen"]}.get(slot, [term])
    with pytest.raises(QuestionError, match="seen holds dates") as refused:
        answer(Question.model_validate(fields), frame)
    assert refused.value.slot == slot


def test_among_with_a_range_of_dates() -> None:
    frame = part(visits()).frame
    rule = AllOf(
        all=(
            IsDated(
                variable="seen", since=datetime.date(2024, 1, 13), until=datetime.date(2024, 2, 1)
            ),
        )
    )
    assert rule.mask(frame).tolist() == [False, False, True, False, True]
    assert rule.words(frame) == "seen 2024-01-13 to 2024-02-01"
    with pytest.raises(ValidationError, match="needs a first or a last day"):
        IsDated(variable="seen")
    with pytest.raises(QuestionError, match="holds no dates"):
        IsDated(variable="ill", since=datetime.date(2024, 1, 1)).mask(frame)


def test_dates_put_rows_in_order() -> None:
    cases = Cases(rows="several", case="household", order="seen")
    last = carry_out(OnePerCase(row="last"), [part(visits(), cases=cases)])
    assert labels(last, "ill") == ["yes", "yes", "no"]


def test_dates_of_two_data_sets_in_two_forms() -> None:
    other = pd.DataFrame({"visited": ["12/31/2023", "1/2/2024"]})
    parts = [part(visits(), "one"), part(other, "two")]
    common = proposed(parts, ["seen", "visited"], "seen")
    stacked = carry_out(Stack(names=("one", "two"), variables=(common,)), parts)
    variable, source = stacked.columns[2]
    assert (variable.kind, variable.date_form) == ("date", "ymd")
    assert isinstance(source, Coded)
    found = [source.values[code] for code in source.codes]
    assert found == [
        "2024-03-05",
        "2023-11-25",
        "2024-02-01",
        "2024-02-02",
        "2024-01-13",
        "2023-12-31",
        "2024-01-02",
    ]


def test_a_codebook_file_keeps_dates() -> None:
    frame: Frame = part(visits()).frame

    known = Codebook(noun=Noun(), variables=tuple(frame.variables.values()))
    again = read_codebook(known.model_dump_json().encode())
    assert again.variables[1].date_form == "dmy"
    assert read_ddi(write_ddi(known, "x")).variables[1].kind == "date"
