"""The answer around the numbers: who is counted, checks, reading, write-up, refusals."""

from typing import Any

import numpy as np
import pytest
from scipy import stats

from core.asking import ask, categories, coded, counts_frame, cross, crosstab_question
from hobrix.core.data import Frame, RowNoun, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer

ILL: dict[str, Any] = {
    "outcome": {"variable": "column", "event": ["c1"]},
    "vary_with": [{"variable": "row", "reference": "r1"}],
}


def check(given: Answer, name: str) -> Any:
    return next(check for check in given.checks if check.id == name)


def survey(rows: list[int], columns: list[int], **changes: Any) -> Frame:
    """Three groups and a yes/no outcome, one household per row; -1 is not answered."""
    variables = [
        Variable(name="row", label="Water source", kind="nominal", categories=categories("r", 3)),
        Variable(
            name="column",
            label="Illness",
            kind="nominal",
            categories=categories("c", 2),
            **changes,
        ),
    ]
    sources = {"row": coded(rows, "r", 3), "column": coded(columns, "c", 2)}
    return Frame.of(variables, sources, len(rows), RowNoun("household", "households"))


def each(**changes: Any) -> Question:
    return crosstab_question(counted_by={"kind": "each"}, **changes)


def test_who_is_counted() -> None:
    frame = survey([0, 0, 1, 2, -1, 1, -1, 0], [0, 1, 0, 1, 0, -1, -1, 1])
    counted = answer(each(), frame).counted
    assert (counted.surveyed, counted.in_subset, counted.counted) == (8, 8, 5)
    assert [(aside.reason, aside.n) for aside in counted.set_aside] == [
        ("no answer to Illness", 1),
        ("no answer to Water source", 1),
        ("no answer to Illness nor Water source", 1),
    ]
    assert counted.counting == "each household counts once"


def test_among_narrows_who_is_counted() -> None:
    frame = survey([0, 0, 1, 1, 2], [0, 1, 0, 1, 0])
    given = answer(each(among={"all": [{"variable": "row", "is": ["r1", "r2"]}]}), frame)
    assert given.counted.surveyed == 5
    assert given.counted.in_subset == given.results.whole.n == 4
    assert given.counted.subset == "Water source: r1 or r2"
    assert "“r3” (Water source)" in check(given, "empty_categories").text


def test_event_of_the_codebook_is_used_and_the_question_goes_before() -> None:
    frame = survey([0, 0, 1, 1, 2, 2], [0, 1, 0, 1, 0, 1], event=("c2",))
    by_codebook = answer(each(), frame).results.whole.groups
    by_question = answer(each(outcome={"variable": "column", "event": ["c1"]}), frame)
    assert by_codebook is not None
    assert by_codebook.event == ("c2",)
    assert by_question.results.whole.groups.event == ("c1",)


def test_without_an_event_nothing_is_said_of_odds() -> None:
    given = ask([[20, 30], [30, 20]])
    assert given.results.whole.groups is None
    assert "groups" in {gone.quantity for gone in given.unavailable}
    assert check(given, "event").status == "care"
    labels = [step.label for step in given.next_steps]
    assert "Take “c1” as the event" in labels


def test_several_answers_together_are_the_event() -> None:
    given = ask(
        [[10, 20, 30], [30, 20, 10]],
        outcome={"variable": "column", "event": ["c1", "c2"]},
        vary_with=[{"variable": "row", "reference": "r1"}],
    )
    by_group = given.results.whole.groups
    assert by_group is not None
    assert [group.events for group in by_group.groups] == [30, 50]
    assert by_group.event_label == "c1 or c2"
    assert by_group.comparisons[0].odds_ratio.estimate == pytest.approx(50 * 30 / (10 * 30))


def test_turning_round_inverts_the_odds_ratio() -> None:
    given = ask([[20, 80], [40, 60]], **ILL)
    turned = next(step for step in given.next_steps if step.label.startswith("Turn it round"))
    other = answer(turned.question, counts_frame([[20, 80], [40, 60]]))
    one, two = (a.results.whole.groups.comparisons[0].odds_ratio for a in (given, other))
    assert one.estimate * two.estimate == pytest.approx(1)


@pytest.mark.parametrize(
    ("table", "status"),
    [
        ([[20, 30], [30, 20]], "ok"),
        ([[30, 30, 30], [30, 30, 30], [3, 4, 4]], "fail"),
        ([[40, 30, 30, 20], [40, 30, 30, 20], [30, 30, 30, 1], [10, 9, 9, 0]], "care"),
        ([[2, 3], [3, 2]], "fail"),
    ],
)
def test_the_rule_of_five_is_about_expected_counts(table: list[list[int]], status: str) -> None:
    found = check(ask(table, options=cross(exact="no")), "expected_counts")
    assert found.status == status
    led = check(ask(table), "expected_counts")
    if status == "fail":
        assert led.status == "care"
        assert "The exact test (p" in led.text
    else:
        assert led == found or led.text == found.text


def test_observed_zeros_do_not_trouble_the_rule_of_five() -> None:
    assert check(ask([[0, 60], [60, 40]]), "expected_counts").status == "ok"


def test_those_set_aside_are_compared_with_those_counted() -> None:
    rows = [0] * 100 + [1] * 100 + [2] * 100
    columns = [0, 1] * 50 + [0, 1] * 50 + [-1] * 40 + [0, 1] * 30
    found = check(answer(each(), survey(rows, columns)), "set_aside")
    assert found.status == "care"
    assert "no answer to Illness for 40.0% of r3, against 0.0% of r1" in found.text


def test_those_set_aside_by_chance_are_only_reported() -> None:
    random = np.random.default_rng(3)
    rows = random.integers(0, 3, 900)
    columns = np.where(random.random(900) < 0.05, -1, random.integers(0, 2, 900))
    found = check(answer(each(), survey(rows.tolist(), columns.tolist())), "set_aside")
    assert found.status == "ok"
    assert "No clear sign that they differ" in found.text


def test_a_reference_that_nobody_is_in_is_not_replaced_silently() -> None:
    asked = {**ILL, "vary_with": [{"variable": "row", "reference": "r1"}]}
    given = ask([[0, 0], [20, 30], [30, 20]], **asked)
    by_group = given.results.whole.groups
    assert by_group is not None
    assert by_group.reference == "r2"
    assert "compared against “r2” instead" in check(given, "reference").text
    there = ask([[5, 9], [20, 30], [30, 20]], **asked)
    assert "reference" not in {check.id for check in there.checks}


def test_rows_without_a_count_are_told() -> None:
    frame = counts_frame([[20, 30], [30, 20]])
    column = frame.column("n")
    column.values[0] = np.nan
    found = check(answer(crosstab_question(), frame), "counting")
    assert found.status == "care"
    assert "taken as 0: 1." in found.text


def test_lead_gives_the_effect_in_the_users_words_and_p_never_alone() -> None:
    given = ask([[118, 849], [107, 234]], **ILL)
    lead = given.reading.lead
    assert "**varies with row**" in lead
    assert "31.4% of answers where row is r2" in lead
    assert "12.2% where it is r1" in lead
    assert "p < 0.001" in lead
    assert "0.000" not in lead + given.write_up


def test_not_significant_is_not_no_effect() -> None:
    lead = ask([[50, 50], [55, 45]], **ILL).reading.lead
    assert lead.startswith("**No clear sign**")
    assert "does not show there is none" in lead
    assert "percentage points" in lead


def test_a_common_event_warns_of_reading_odds_as_shares() -> None:
    note = ask([[40, 60], [70, 30]], **ILL).reading.notes[0]
    assert "is not how many times as common" in note
    assert "**share** is 1.75 times as high" in note
    rare = ask([[10, 990], [20, 980]], **ILL).reading.notes[0]
    assert "is rare" in rare


def test_a_handful_of_cases_does_not_make_the_headline() -> None:
    table = [[100, 900], [300, 700], [2, 0]]
    lead = ask(table, **ILL).reading.lead
    assert "30.0% of answers with r2" in lead


def test_write_up_in_the_usual_style() -> None:
    table = [[118, 849], [107, 234]]
    statistic = stats.chi2_contingency(table, correction=False).statistic
    text = ask(table, **ILL).write_up
    assert f"“c1” (column) was associated with row, χ²(1, N = 1,308) = {statistic:.1f}, " in text
    assert "p < .001; Cramér’s V = .22, 95% CI [" in text
    assert "31.4% (107 of 341)" in text
    assert "odds ratio = 3.29" in text


def test_zero_cells_have_no_usual_interval_and_say_so() -> None:
    given = ask([[0, 25], [6, 21]], **ILL)
    assert given.results.whole.groups.comparisons[0].odds_ratio.ci is None
    reasons = {gone.quantity: gone.reason for gone in given.unavailable}
    assert "a cell is zero" in reasons["odds_ratio.ci"]
    assert '"Infinity"' in given.model_dump_json()
    assert "NaN" not in given.model_dump_json()


def test_every_cell_is_told_in_a_sentence() -> None:
    given = ask([[118, 849], [107, 234]], **ILL)
    assert given.reading.cells[1][0] == (
        "row: r2. 107 of 341 answered c1 (31.4%); 58.7 expected if unrelated: clearly more."
    )


def test_an_answer_reads_back_from_its_json() -> None:
    given = ask([[118, 849], [107, 234]], **ILL)
    assert Answer.model_validate_json(given.model_dump_json()) == given


@pytest.mark.parametrize(
    ("changes", "slot", "message"),
    [
        ({"outcome": None}, "outcome", "Choose the outcome"),
        ({"vary_with": []}, "vary_with", "Choose what"),
        ({"vary_with": [{"variable": "column"}]}, "vary_with", "cannot vary with itself"),
        ({"vary_with": [{"variable": "n"}]}, "vary_with", "is numeric"),
        ({"outcome": {"variable": "nobody"}}, "outcome", "no variable called “nobody”"),
        ({"outcome": {"variable": "column", "event": ["x"]}}, "outcome", "not an answer"),
        ({"outcome": {"variable": "column", "event": ["c1", "c2"]}}, "outcome", "leave one out"),
        ({"vary_with": [{"variable": "row", "reference": "x"}]}, "vary_with", "not an answer"),
        ({"within": ["row"]}, "within", "in the sentence already"),
        ({"among": {"all": [{"variable": "n", "from": 1000}]}}, "among", "No row is left"),
        ({"counted_by": {"kind": "counts", "variable": "row"}}, "counted_by", "not numeric"),
    ],
)
def test_what_cannot_be_asked_says_which_slot(changes: Any, slot: str, message: str) -> None:
    with pytest.raises(QuestionError, match=message) as caught:
        ask([[20, 30], [30, 20]], **changes)
    assert caught.value.slot == slot


@pytest.mark.parametrize(
    ("table", "slot", "message"),
    [
        ([[5, 7], [0, 0]], "vary_with", "the same answer to row: “r1”"),
        ([[5, 0], [7, 0]], "outcome", "the same answer to column: “c1”"),
        ([[0, 0], [0, 0]], "vary_with", "answered both"),
    ],
)
def test_nothing_to_compare(table: list[list[int]], slot: str, message: str) -> None:
    with pytest.raises(QuestionError, match=message) as caught:
        ask(table)
    assert caught.value.slot == slot
