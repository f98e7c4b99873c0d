"""Conditional likelihood of matched sets against reference numbers, asked through the sentence."""

from typing import Any

import numpy as np
import pytest

from core.closeness import assert_agrees
from core.reference_questions import frame_of, question_of
from hobrix.core.errors import QuestionError
from hobrix.core.questions import answer
from hobrix.core.questions.number_style import NumberStyle, written_in
from hobrix.core.report.answers import print_answer
from reference_numbers import reference_cases

CASES = reference_cases("matched")
FINITE = [case for case in CASES if case["expected"]["maximum_likelihood_finite"]]
CLOSE = 1e-8


def asked(case: dict[str, Any], limits: str = "profile") -> Any:
    # What acts together stands in the sentence by itself too.
    alone = {t["variable"] for t in [*case["allowing_for"], *case["vary_with"]]}
    more = [m for m in case["matching_variables"] if m["variable"] not in alone]
    whole = {**case, "allowing_for": [*case["allowing_for"], *more]}
    question = question_of(whole, matched=case["set"], options={"within_sets": {"limits": limits}})
    return answer(question, frame_of(case), panels=None)


def assert_test(found: Any, expected: dict[str, Any] | None, where: str) -> None:
    if expected is None:
        assert found is None, where
        return
    assert found.df == expected["df"], where
    assert_agrees(found.statistic, expected["statistic"], where, relative=CLOSE)
    assert_agrees(found.p, expected["p"], where, relative=1e-7)


@pytest.mark.parametrize("case", FINITE, ids=lambda case: case["name"])
def test_odds_ratios_within_sets(case: dict[str, Any]) -> None:
    given, expected = asked(case), case["expected"]
    results = given.results
    assert results.lens == "within_sets"
    assert results.parameters == expected["parameters"]
    for key in ("log_likelihood", "log_likelihood_null", "deviance", "aic", "mcfadden"):
        assert_agrees(getattr(results.likelihood, key), expected[key], key, relative=CLOSE)
    assert_test(results.test, expected["model_likelihood_ratio"], "model")
    assert_test(results.score, expected["model_score"], "score")
    assert_test(results.wald, expected["model_wald"], "wald")
    terms = {term.term: term for term in results.terms}
    for each in expected["terms"]:
        for key in ("wald", "likelihood_ratio", "score"):
            assert_test(getattr(terms[each["term"]], key), each[key], f"{each['term']} {key}")
    found = {(c.term, c.level): c for c in given.opened.coefficients.coefficients}
    assert len(found) == len(expected["coefficients"])
    wald = {(c.term, c.level): c for c in asked(case, "wald").opened.coefficients.coefficients}
    for each in expected["coefficients"]:
        at = (each["term"], each["level"])
        for name in ("log_odds", "se", "z"):
            assert_agrees(getattr(found[at], name), each[name], str(at), relative=CLOSE)
        assert_agrees(found[at].p, each["p"], str(at), relative=1e-7)
        profile, plain = each["log_odds_ci_95_profile"], each["log_odds_ci_95_wald"]
        assert_agrees(list(found[at].log_odds_ci), profile, str(at), relative=1e-7)
        assert_agrees(list(wald[at].log_odds_ci), plain, str(at), relative=1e-7)


@pytest.mark.parametrize("case", FINITE, ids=lambda case: case["name"])
def test_sets_are_counted(case: dict[str, Any]) -> None:
    given, expected = asked(case, "wald"), case["expected"]
    sets = given.results.sets
    assert sets.sets == expected["sets"]
    assert sets.lost == expected["sets_lost_entirely_to_missing"]
    silent = expected["sets_without_contrast"]
    assert (sets.events_only, sets.no_events) == (silent["events_only"], silent["no_events"])
    assert sets.people_without_contrast == silent["people"]
    assert sets.informative == expected["sets_informative"]
    assert sets.people == expected["people_in_informative_sets"]
    assert sets.events == expected["events_in_informative_sets"]
    assert sets.alike == expected["informative_sets_with_identical_columns"]
    assert [s.model_dump() for s in sets.shapes] == [
        {"events": s["events"], "others": s["others"], "sets": s["sets"]}
        for s in expected["set_shapes"]
    ]
    assert given.counted.counted == sets.people
    assert given.counted.surveyed == expected["people"]


def test_pairs_have_the_odds_of_those_that_differ_and_mcnemar_beside() -> None:
    (case,) = [case for case in FINITE if case["expected"].get("pairs")]
    expected, pairs = case["expected"]["pairs"], asked(case).results.pairs
    assert (pairs.both, pairs.only_event, pairs.only_other, pairs.neither) == (
        expected["both_exposed"],
        expected["only_event_exposed"],
        expected["only_other_exposed"],
        expected["neither_exposed"],
    )
    assert_agrees(pairs.odds_ratio, expected["odds_ratio"], "odds ratio")
    assert_agrees(pairs.exact_p, expected["mcnemar_exact_p"], "exact p")
    score = case["expected"]["model_score"]
    assert_agrees(pairs.mcnemar.statistic, score["statistic"], "McNemar is the score test")


@pytest.mark.parametrize(
    "case",
    [c for c in CASES if not c["expected"]["maximum_likelihood_finite"]],
    ids=lambda c: c["name"],
)
def test_what_cannot_be_estimated_is_said(case: dict[str, Any]) -> None:
    with pytest.raises(QuestionError) as refused:
        asked(case)
    expected, said = case["expected"], refused.value.message
    if expected.get("reason") == "no_informative_set":
        assert f"Not one of {expected['sets']} sets told by set holds" in said
        assert refused.value.slot == "matched"
    elif expected.get("reason"):
        assert "is the same for all members of every set told by set" in said
    else:
        for each in expected["coefficients"]:
            if each["maximum_likelihood"] != "finite":
                assert f"{each['term']}: {each['level']}" in said
        assert "told apart in part" in said


def test_a_variable_that_was_matched_on_is_named() -> None:
    (case,) = [c for c in CASES if c["name"] == "matching_variable_as_a_term"]
    given = asked(case)
    assert given.results.constant == ("age_band",)
    term = next(t for t in given.results.terms if t.term == "age_band")
    assert (term.rows, term.test) == ((), None)
    assert "age_band does not vary within any set" in " ".join(given.reading.notes)
    standing = {check.id: check for check in given.checks}
    assert standing["matched_on"].status == "care"


def test_stratified_by_one_set_is_the_exact_odds_ratio() -> None:
    """One set of many: the conditional estimate is that of Fisher's exact distribution."""
    from scipy import stats

    from hobrix.core.logistic import matched

    a, b, c, d = 9, 4, 3, 11
    exposed = np.repeat([1.0, 1.0, 0.0, 0.0], [a, b, c, d])
    event = np.repeat([1.0, 0.0, 1.0, 0.0], [a, b, c, d])
    sets = matched.MatchedSets(exposed[:, None], event, np.zeros(len(event), dtype=np.int64))
    found = matched.fit(sets)
    theirs = stats.contingency.odds_ratio([[a, b], [c, d]], kind="conditional").statistic
    assert_agrees(float(np.exp(found.coefficients[0])), theirs, relative=1e-7)


@pytest.mark.parametrize("case", FINITE[:4], ids=lambda case: case["name"])
def test_every_number_in_print_has_a_name_of_its_own(case: dict[str, Any]) -> None:
    question = question_of(case, matched=case["set"])
    with written_in(NumberStyle()):
        given = print_answer(question, frame_of(case))
    (table,) = [each for each in given.tables if each.name == "model"]
    keys = [number.key for number in table.numbers]
    assert len(keys) == len(set(keys))
    assert any(key.endswith("/odds_ratio") for key in keys)
    assert all(len(row.cells) == len(table.columns) for row in table.rows)
    assert "Conditional logistic regression within" in table.notes[0]
