"""Any question gets an answer that holds together, or is refused in words."""

import json
import math
import warnings
from typing import Any

import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import linalg

from core.weighted_people import TABLE, frame
from hobrix import figures
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer
from hobrix.core.questions.crosstab.results import CrosstabResults, CrosstabTable
from hobrix.core.questions.distribution.results import DistributionResults
from hobrix.core.questions.every_answer.results import EveryAnswerResults
from hobrix.core.questions.odds.results import OddsResults
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.within_sets.results import MatchedResults

# Few people, so that categories are sparse, groups empty and clusters single.
TABLE_OF_FEW = (
    TABLE.head(300)
    .with_row_index()
    .with_columns(
        source=pl.when(pl.col("index") % 9 == 0).then(pl.lit("")).otherwise(pl.col("source")),
        w=pl.when(pl.col("index") % 17 == 0).then(pl.lit("0")).otherwise(pl.col("w")),
        rare=pl.when(pl.col("index") % 43 == 0).then(pl.lit("often")).otherwise(pl.lit("never")),
    )
    .drop("index")
)
PEOPLE = frame(TABLE_OF_FEW)
CATEGORICAL = ["ill", "schooling", "source", "half", "district", "rare"]
NUMERIC = ["age", "level", "one"]


def design(**fields: Any) -> dict[str, Any]:
    return {"kind": "design", "weights": "w", **fields}


countings = st.sampled_from(
    [
        {"kind": "each"},
        {"kind": "counts", "variable": "level"},
        design(),
        design(strata="district"),
        design(clusters="village"),
        design(strata="district", clusters="village"),
        design(strata="half", clusters="district", single="grand_mean"),
        design(strata="village", clusters="village"),
        design(strata="district", clusters="village", errors="jackknife"),
        design(strata="half", clusters="village", errors="bootstrap", draws=100),
    ]
)
subsets = st.sampled_from(
    [
        None,
        {"all": [{"variable": "half", "is": ["north"]}]},
        {"all": [{"variable": "age", "from": 40, "to": None}]},
        {"any": [{"variable": "rare", "is": ["often"]}, {"variable": "age", "from": 75, "to": 90}]},
    ]
)
names = st.sampled_from(CATEGORICAL + NUMERIC)
values = {"ill": ["yes"], "source": ["river", "well"], "rare": ["often"], "schooling": ["3"]}


@st.composite
def questions(draw: st.DrawFn) -> dict[str, Any]:
    lens = draw(st.sampled_from(["distribution", "crosstab", "proportions", "odds"]))
    # Mostly what the lens can use; now and then what it must refuse.
    outcomes = names if lens == "distribution" else st.sampled_from([*values, *values, "age"])
    outcome = draw(outcomes)
    others = draw(st.permutations([name for name in CATEGORICAL + NUMERIC if name != outcome]))
    sizes = (0, 2) if lens == "distribution" else (1, 2)
    vary = [others.pop() for _ in range(draw(st.integers(*sizes)))]
    allowing = [others.pop() for _ in range(draw(st.integers(0, 2)))] if lens == "odds" else []
    within = [others.pop()] if draw(st.booleans()) else []
    options: dict[str, Any] = {}
    event = values.get(outcome, [])
    matched = None
    if lens == "odds" and draw(st.integers(0, 2)) == 0:
        event = []
        options["every_answer"] = {
            "taken": draw(st.sampled_from(["as_recorded", "in_order", "in_no_order"])),
            "downward": draw(st.booleans()),
        }
    elif lens == "odds" and draw(st.integers(0, 5)) == 0:
        matched, within = "village", []
    if lens == "distribution" and draw(st.booleans()):
        options["distribution"] = {"expected": {"kind": "equal"}}
    if draw(st.booleans()):
        options["beside"] = True
    if draw(st.integers(0, 4)) == 0:
        options["rounded"] = {"age": draw(st.sampled_from([5, 20]))}
    return {
        "lens": lens,
        "outcome": {"variable": outcome, "event": event},
        "vary_with": [{"variable": name} for name in vary],
        "allowing_for": [{"variable": name} for name in allowing],
        "within": within,
        "matched": matched,
        "among": draw(subsets),
        "counted_by": draw(countings),
        "confidence": draw(st.sampled_from([0.9, 0.95])),
        "options": options,
    }


def no_nan(text: str) -> float:
    raise AssertionError(f"{text} in the JSON of an answer")


def holds_together(given_: Answer) -> None:
    counted = given_.counted
    assert counted.surveyed >= counted.in_subset >= counted.counted > 0
    assert given_.reading.lead
    assert given_.reading.headline
    assert given_.write_up
    order = ["fail", "care", "ok"]
    statuses = [order.index(check.status) for check in given_.checks]
    assert statuses == sorted(statuses)
    for step in (*given_.next_steps, *(r for c in given_.checks for r in c.remedies)):
        assert step.label
    json.loads(given_.model_dump_json(by_alias=True), parse_constant=no_nan)
    json.loads(json.dumps(figures.of(given_)), parse_constant=no_nan)


@settings(max_examples=150, deadline=None)
@given(questions())
def test_every_question_is_answered_or_refused_in_words(asked: dict[str, Any]) -> None:
    with warnings.catch_warnings():
        # A division by nothing that nobody thought of is a number that nobody should see.
        warnings.simplefilter("error", RuntimeWarning)
        # Newton-Raphson finds out by itself where it stands on a ridge.
        warnings.simplefilter("ignore", linalg.LinAlgWarning)
        refusal = None
        try:
            given_ = answer(Question.model_validate(asked), PEOPLE, panels=None)
        except QuestionError as refused:
            refusal = refused
    if refusal is not None:
        assert len(str(refusal)) > 15
        assert refusal.slot
        return
    holds_together(given_)
    sample, results = given_.sample, given_.results
    assert (sample is not None) == (asked["counted_by"]["kind"] == "design")
    if sample is not None:
        assert sample.psus >= sample.strata >= 1
    makes_sense = {
        "distribution": distributions_make_sense,
        "crosstab": table_makes_sense,
        "proportions": groups_make_sense,
        "odds": ratios_make_sense,
        "every_answer": answers_make_sense,
        "within_sets": sets_make_sense,
    }
    makes_sense[given_.lens](results)


@settings(max_examples=75, deadline=None)
@given(questions())
def test_every_way_on_leads_to_an_answer(asked: dict[str, Any]) -> None:
    try:
        given_ = answer(Question.model_validate(asked), PEOPLE)
    except QuestionError as refused:
        ways = [(label, way) for label, way in refused.remedies if isinstance(way, Question)]
    else:
        ways = [
            (remedy.label, remedy.question)
            for check in given_.checks
            for remedy in check.remedies
            if remedy.question is not None
        ]
        ways += [(step.label, step.question) for step in given_.next_steps]
    for label, way in ways:
        try:
            assert answer(way, PEOPLE).reading.lead
        except QuestionError as refused:
            raise AssertionError(f"“{label}” leads to: {refused} ({asked})") from refused


def answers_make_sense(results: EveryAnswerResults) -> None:
    assert sum(each.share for each in results.answers) == pytest.approx(1)
    assert sum(each.n for each in results.answers) == pytest.approx(results.n)
    for term in results.terms:
        for row in term.rows:
            if row.shares is not None:
                assert sum(row.shares) == pytest.approx(1)
            for each in row.ratios:
                assert each.ci[0] <= each.odds_ratio <= each.ci[1]
    if results.likelihood is not None:
        assert results.likelihood.log_likelihood >= results.likelihood.log_likelihood_null - 1e-9


def sets_make_sense(results: MatchedResults) -> None:
    sets = results.sets
    assert sets.informative + sets.events_only + sets.no_events + sets.lost == sets.sets
    assert sum(shape.sets for shape in sets.shapes) == sets.informative
    assert sum(s.sets * (s.events + s.others) for s in sets.shapes) == sets.people
    for term in results.terms:
        for row in term.rows:
            assert row.ci[0] <= row.odds_ratio <= row.ci[1]


def distributions_make_sense(results: DistributionResults) -> None:
    for each in results.variables:
        assert each.n_answered + each.n_missing == pytest.approx(each.n_all)
        for row in each.table:
            assert 0 <= row.percent_of_answered <= 100 * (1 + 1e-12)
            if row.ci is not None:
                assert row.ci[0] <= row.percent_of_answered * (1 + 1e-12)
                assert row.percent_of_answered <= row.ci[1] * (1 + 1e-12)


def groups_make_sense(results: ProportionsResults | CrosstabTable) -> None:
    groups = results.whole if isinstance(results, ProportionsResults) else results.groups
    if groups is None:
        return
    for share in groups.groups:
        assert 0 <= share.share <= 1
        assert 0 <= share.events <= share.n
        if share.share_ci is not None:
            low, high = share.share_ci
            assert low <= share.share * (1 + 1e-12)
            assert share.share <= high * (1 + 1e-12)
    for each in groups.comparisons:
        for effect in (each.risk_ratio, each.odds_ratio, each.risk_difference):
            if effect is not None and effect.ci is not None:
                assert effect.ci[0] - 1e-12 <= effect.estimate <= effect.ci[1] + 1e-12


def table_makes_sense(results: CrosstabResults) -> None:
    whole = results.whole
    groups_make_sense(whole)
    for row in whole.share_within_row:
        assert math.isclose(sum(row), 1, rel_tol=1e-9)
    assert math.isclose(sum(map(sum, whole.cell_proportions)), 1, rel_tol=1e-9)
    assert 0 <= whole.cramers_v <= 1 + 1e-12


def ratios_make_sense(results: OddsResults) -> None:
    for term in results.whole.terms:
        for line in term.rows:
            assert line.ci[0] <= line.odds_ratio <= line.ci[1]
