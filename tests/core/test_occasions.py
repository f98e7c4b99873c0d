"""Several yes/no answers of the same people, asked through the sentence."""

from dataclasses import replace
from typing import Any

import pytest

from core.closeness import assert_agrees
from core.reference_questions import frame_of
from hobrix.core.questions import Question, answer
from reference_numbers import reference_cases

CASES = [case for case in reference_cases("paired") if case["kind"] == "conditions"]


def asked(case: dict[str, Any]) -> Any:
    first, *others = case["conditions"]
    frame = frame_of({**case, "allowing_for": [], "vary_with": []})
    question = {
        "lens": "crosstab",
        "outcome": {"variable": first, "event": [case["event"]]},
        "vary_with": [{"variable": name} for name in others],
    }
    return answer(Question.model_validate(question), frame, panels=["occasions"])


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_cochrans_q_and_every_change(case: dict[str, Any]) -> None:
    found, expected = asked(case).opened.occasions, case["expected"]
    assert found.mixed == expected["rows_with_mixed_answers"]
    q = expected["cochran_q"]
    if q is None:
        assert found.test is None
    else:
        assert found.test.df == q["df"]
        assert_agrees(found.test.statistic, q["statistic"], "Q")
        assert_agrees(found.test.p, q["p"], "p")
    for mine, each in zip(found.changes, expected["pairwise"], strict=True):
        assert (mine.first, mine.second) == (each["first"], each["second"])
        assert_agrees(mine.exact_p, each["mcnemar"]["exact_p"], each["first"])
        assert_agrees(mine.p_adjusted, each["exact_p_holm"], each["first"])
        # They give the first less the second.
        assert_agrees(-mine.change, each["difference"]["estimate"], each["first"])


def test_it_is_not_offered_where_answers_differ() -> None:
    case = CASES[0]
    given = asked(case)
    assert "occasions" in [panel.name for panel in given.panels]
    frame = frame_of({**case, "allowing_for": [], "vary_with": []})
    first, second, *_ = case["conditions"]
    question = {
        "lens": "crosstab",
        "outcome": {"variable": first, "event": [case["event"]]},
        "vary_with": [{"variable": second}],
    }
    twice = answer(Question.model_validate(question), frame)
    assert "occasions" not in [panel.name for panel in twice.panels]


def test_expected_shares_of_the_same_people_lead_to_before_and_after() -> None:
    case = next(c for c in reference_cases("paired") if c["kind"] == "square")
    frame = frame_of(
        {**case, "allowing_for": [], "vary_with": []},
        **{
            name: {"kind": "ordinal", "values": list(case["categories"])}
            for name in (case["first"], case["second"])
        },
    )
    question = {
        "lens": "distribution",
        "outcome": {"variable": case["second"]},
        "options": {"distribution": {"expected": {"kind": "variable", "variable": case["first"]}}},
    }
    given = answer(Question.model_validate(question), frame, panels=None)
    (check,) = [each for each in given.checks if each.id == "same_people"]
    (remedy,) = check.remedies
    assert remedy.question is not None
    there = answer(remedy.question, frame)
    assert there.lens == "crosstab"
    assert "twice" in [panel.name for panel in there.panels]


def test_people_who_were_matched_are_told_in_every_table() -> None:
    case = next(c for c in reference_cases("matched") if c["name"] == "pairs_one_exposure")
    told: dict[str, Any] = {
        "study_design": "case_control",
        "case_status": "ill",
        "matched_on": "set",
    }
    frame = replace(frame_of(case), **told)
    for lens in ("crosstab", "proportions", "odds"):
        asked_ = {
            "lens": lens,
            "outcome": {"variable": "ill", "event": ["yes"]},
            "vary_with": [{"variable": "swam", "reference": "no"}],
        }
        given = answer(Question.model_validate(asked_), frame)
        (check,) = [each for each in given.checks if each.id == "matched"]
        (remedy,) = check.remedies
        assert remedy.question is not None
        within = answer(remedy.question, frame)
        assert within.lens == "within_sets"
        assert not [each for each in within.checks if each.id == "matched"]
