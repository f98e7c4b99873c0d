"""Steps that prepare data: what they make, what they refuse, and that they replay."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from hobrix.core.data import (
    CategoricalColumn,
    Category,
    Coded,
    Column,
    Frame,
    Measured,
    MissingCode,
    NumericColumn,
    Prepared,
    Step,
    Variable,
    apply,
    decode,
    made_source,
    parents_of,
    replay,
    replay_what_fits,
    suggested_cuts,
)
from hobrix.core.errors import CodebookError

STEP: TypeAdapter[Any] = TypeAdapter(Step)


def scale(name: str) -> Variable:
    categories = tuple(Category(value=str(i), label=f"{name} {i}") for i in (1, 2, 3, 9))
    return Variable(name=name, label=name.title(), kind="ordinal", categories=categories)


VARIABLES = [scale("a"), scale("b"), Variable(name="age", label="Age", kind="numeric")]
SOURCES: dict[str, Any] = {
    "a": Coded(np.array([0, 1, 2, 3, -1, 0], np.int8), ("1", "2", "3", "9")),
    "b": Coded(np.array([2, 2, -1, 3, 0, 1], np.int8), ("1", "2", "3", "9")),
    "age": Measured(np.array([20.0, 30, 45, 60, np.nan, 29.999]), np.full(6, -1, np.int8), ()),
}


def step(**fields: Any) -> Any:
    return STEP.validate_python(fields)


def column(state: Prepared, name: str) -> Column:
    making = state.made.get(name)
    if making is None:
        return decode(SOURCES[name], state.variables[name])
    source = made_source(making, [column(state, parent) for parent in parents_of(making)])
    return decode(source, state.variables[name])


def codes(state: Prepared, name: str) -> list[int]:
    found = column(state, name)
    assert isinstance(found, CategoricalColumn)
    return found.codes.tolist()


def values(state: Prepared, name: str) -> list[float | None]:
    found = column(state, name)
    assert isinstance(found, NumericColumn)
    return [None if np.isnan(x) else x for x in found.values]


GROUPS = [{"label": "low", "values": ["1", "2"]}, {"label": "high", "values": ["3"]}]


def test_regrouping_keeps_the_original_and_sets_the_rest_aside() -> None:
    state = replay(VARIABLES, [step(step="regroup", variable="a", name="a2", groups=GROUPS)])
    assert codes(state, "a2") == [0, 0, 1, -1, -1, 0]
    assert codes(state, "a") == [0, 1, 2, 3, -1, 0]
    assert state.variables["a2"].kind == "ordinal"
    assert [c.label for c in state.variables["a2"].categories] == ["low", "high"]


def test_bands_include_their_lower_end() -> None:
    state = replay(VARIABLES, [step(step="band", variable="age", name="band", cuts=[30, 45])])
    assert codes(state, "band") == [0, 1, 2, 2, -1, 0]
    labels = [c.label for c in state.variables["band"].categories]
    assert labels == ["under 30", "30 to under 45", "45 and over"]


def test_yes_or_no_from_answers() -> None:
    state = replay(VARIABLES, [step(step="yes_no", variable="a", name="yes", event=["3", "9"])])
    assert codes(state, "yes") == [0, 0, 1, 1, -1, 0]
    assert state.variables["yes"].event == ("yes",)


@pytest.mark.parametrize(
    ("fields", "expected"),
    [
        ({"how": "sum"}, [4, 5, None, 18, None, 3]),
        ({"how": "mean"}, [2, 2.5, None, 9, None, 1.5]),
        ({"how": "mean", "at_least": 1}, [2, 2.5, 3, 9, 1, 1.5]),
        ({"how": "difference"}, [-2, -1, None, 0, None, -1]),
        ({"how": "count", "values": ["3", "9"]}, [1, 1, None, 2, None, 0]),
        ({"how": "count", "values": ["3", "9"], "at_least": 1}, [1, 1, 1, 2, 0, 0]),
    ],
)
def test_calculated_variables(fields: dict[str, Any], expected: list[float | None]) -> None:
    making = step(step="calculate", name="c", variables=["a", "b"], **fields)
    assert values(replay(VARIABLES, [making]), "c") == expected


def test_a_code_declared_missing_later_is_missing_in_what_was_made() -> None:
    steps = [
        step(step="calculate", how="sum", name="total", variables=["a", "b"]),
        step(step="declare_missing", variables=["a", "b"], codes=[{"value": "9", "label": "no"}]),
    ]
    assert values(replay(VARIABLES, steps), "total")[3] is None


def test_declaring_missing_and_taking_it_back() -> None:
    missing = step(step="declare_missing", variables=["a"], codes=[{"value": "9"}])
    state = replay(VARIABLES, [missing])
    assert codes(state, "a") == [0, 1, 2, -1, -1, 0]
    back = step(step="count_as_answer", variables=["a"], values=["9"])
    assert codes(apply(state, back), "a") == [0, 1, 2, 3, -1, 0]


def test_declaring_the_event_missing_leaves_no_event() -> None:
    steps = [
        step(step="describe", variable="a", event=["9"], reference="9"),
        step(step="declare_missing", variables=["a"], codes=[{"value": "9"}]),
    ]
    variable = replay(VARIABLES, steps).variables["a"]
    assert (variable.event, variable.reference) == ((), None)


def test_describing_keeps_answers_it_does_not_list() -> None:
    """They may have come with newer data."""
    listed = [{"value": "9", "label": "nine"}, {"value": "1", "label": "one"}]
    state = replay(VARIABLES, [step(step="describe", variable="a", categories=listed)])
    assert [c.value for c in state.variables["a"].categories] == ["9", "1", "2", "3"]


@pytest.mark.parametrize(
    ("fields", "field", "message"),
    [
        ({"step": "describe", "variable": "x", "label": "y"}, "variable", "no variable"),
        ({"step": "describe", "variable": "a", "event": ["7"]}, "event", "not one of"),
        (
            {"step": "describe", "variable": "a", "categories": [{"value": "7", "label": ""}]},
            "categories",
            "not an answer",
        ),
        ({"step": "regroup", "variable": "a", "name": "b", "groups": GROUPS}, "name", "already"),
        (
            {"step": "regroup", "variable": "age", "name": "x", "groups": GROUPS},
            "variable",
            "no categories",
        ),
        (
            {"step": "yes_no", "variable": "a", "name": "x", "event": ["7"]},
            "groups",
            "not an answer",
        ),
    ],
)
def test_steps_that_do_not_fit_are_refused(fields: Any, field: str, message: str) -> None:
    with pytest.raises(CodebookError, match=message) as caught:
        replay(VARIABLES, [step(**fields)])
    assert caught.value.field == field


@pytest.mark.parametrize(
    "fields",
    [
        {"step": "band", "variable": "age", "name": "x", "cuts": [30, 30]},
        {"step": "band", "variable": "age", "name": "x", "cuts": [30], "labels": ["one"]},
        {"step": "regroup", "variable": "a", "name": "x", "groups": [GROUPS[0], GROUPS[0]]},
        {"step": "calculate", "how": "difference", "variables": ["a"], "name": "x"},
        {"step": "calculate", "how": "count", "variables": ["a"], "name": "x"},
    ],
)
def test_steps_that_make_no_sense_are_refused(fields: Any) -> None:
    with pytest.raises(ValidationError):
        step(**fields)


def test_replaying_on_newer_data_tells_what_does_not_fit() -> None:
    steps = [
        step(step="describe", variable="a", label="First"),
        step(step="describe", variable="gone", label="Gone"),
        step(step="band", variable="age", name="band", cuts=[40]),
        step(step="describe", variable="band", label="Age in two bands"),
    ]
    state, failures = replay_what_fits(VARIABLES, steps)
    assert [(failure.index, "gone" in failure.message) for failure in failures] == [(1, True)]
    assert state.variables["band"].label == "Age in two bands"


all_steps = st.sampled_from(
    [
        step(step="describe", variable="a", label="x"),
        step(step="describe", variable="a", kind="nominal", reference="2"),
        step(step="declare_missing", variables=["a", "b"], codes=[{"value": "9"}]),
        step(step="count_as_answer", variables=["a"], values=["9"]),
        step(step="regroup", variable="a", name="g", groups=GROUPS),
        step(step="band", variable="age", name="h", cuts=[25.5, 50]),
        step(step="calculate", how="mean", variables=["a", "b"], name="m"),
        step(step="yes_no", variable="g", name="y", event=["low"]),
    ]
)


@given(st.lists(all_steps, max_size=8))
def test_steps_survive_json_and_replay_to_the_same(steps: list[Any]) -> None:
    written = [STEP.dump_json(each) for each in steps]
    read = [STEP.validate_json(each) for each in written]
    assert replay_what_fits(VARIABLES, read) == replay_what_fits(VARIABLES, steps)
    state, _ = replay_what_fits(VARIABLES, steps)
    for name in state.variables:
        assert len(column(state, name)) == 6


@given(
    st.lists(st.integers(-50, 50), min_size=2, max_size=60).filter(lambda x: len(set(x)) > 1),
    st.integers(2, 8),
    st.sampled_from(["equal_width", "equal_count"]),
)
def test_suggested_cuts_leave_no_band_below_the_lowest(
    numbers: list[int], bands: int, how: Any
) -> None:
    source = Measured(np.array(numbers, float), np.full(len(numbers), -1, np.int8), ())
    frame = Frame.of([Variable(name="x", kind="numeric")], {"x": source}, len(numbers))
    cuts = suggested_cuts(frame, "x", how, bands)
    assert len(cuts) < bands
    assert list(cuts) == sorted(set(cuts))
    assert all(min(numbers) < cut <= max(numbers) for cut in cuts)


def test_equal_counts_are_equal_without_ties() -> None:
    source = Measured(np.arange(100.0), np.full(100, -1, np.int8), ())
    frame = Frame.of([Variable(name="x", kind="numeric")], {"x": source}, 100)
    assert suggested_cuts(frame, "x", "equal_count", 4) == (25, 50, 75)
    assert suggested_cuts(frame, "x", "equal_width", 4) == (20, 50, 70)


def test_missing_codes_of_the_file_are_kept_with_their_reason() -> None:
    variable = VARIABLES[0].model_copy(update={"missing": (MissingCode(value=".", label="blank"),)})
    missing = step(step="declare_missing", variables=["a"], codes=[{"value": "9", "label": "no"}])
    codes = apply(Prepared({"a": variable}, {}), missing).variables["a"].missing
    assert [(code.value, code.label) for code in codes] == [(".", "blank"), ("9", "no")]
