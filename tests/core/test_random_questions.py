"""Any question gets an answer that holds together, or is refused in words."""

import json
import math
import warnings
from typing import Any

import polars as pl
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import linalg

from core.weighted_people import TABLE, frame
from hobrix import figures
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer

# Few people, so that categories are sparse, groups empty and clusters single.
PEOPLE = frame(
    TABLE.head(300)
    .with_row_index()
    .with_columns(
        source=pl.when(pl.col("index") % 9 == 0).then(pl.lit("")).otherwise(pl.col("source")),
        w=pl.when(pl.col("index") % 17 == 0).then(pl.lit("0")).otherwise(pl.col("w")),
        rare=pl.when(pl.col("index") % 43 == 0).then(pl.lit("often")).otherwise(pl.lit("never")),
    )
    .drop("index")
)
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
    if lens == "distribution" and draw(st.booleans()):
        options["expected"] = {"kind": "equal"}
    if draw(st.booleans()):
        options["beside"] = True
    return {
        "lens": lens,
        "outcome": {"variable": outcome, "event": values.get(outcome, [])},
        "vary_with": [{"variable": name} for name in vary],
        "allowing_for": [{"variable": name} for name in allowing],
        "within": within,
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
            given_ = answer(Question.model_validate(asked), PEOPLE)
        except QuestionError as refused:
            refusal = refused
    if refusal is not None:
        assert len(str(refusal)) > 15
        assert refusal.slot
        return
    holds_together(given_)
    survey = given_.survey
    assert (survey is not None) == (asked["counted_by"]["kind"] == "design")
    if survey is None:
        return
    assert survey.design.psus >= survey.design.strata >= 1
    for share in survey.shares:
        assert 0 <= share.estimate <= 1
        assert 0 <= share.unweighted_count_of_events <= share.n <= survey.design.rows
        if share.ci is not None:
            assert share.ci[0] <= share.estimate <= share.ci[1]
    for each in survey.comparisons:
        for ratio in (each.risk_ratio, each.odds_ratio):
            if ratio is not None and ratio.ci is not None:
                assert ratio.ci[0] <= ratio.estimate * (1 + 1e-12)
                assert ratio.estimate <= ratio.ci[1] * (1 + 1e-12)
    if survey.table is not None:
        for row in survey.table.row_proportions:
            assert math.isclose(sum(cell.estimate for cell in row), 1, rel_tol=1e-9)
        assert math.isclose(sum(map(sum, survey.table.cell_proportions)), 1, rel_tol=1e-9)
        assert 0 <= survey.table.cramers_v <= 1 + 1e-12
    if survey.model is not None:
        for term in survey.model.terms:
            for line in term.rows:
                assert line.ci[0] <= line.odds_ratio <= line.ci[1]
