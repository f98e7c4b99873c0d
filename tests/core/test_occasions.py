"""Several yes/no answers of the same people, asked through the sentence."""

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
