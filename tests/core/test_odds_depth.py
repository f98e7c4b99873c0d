"""The Odds model in depth: acting together, bending, steps, strata, unusual rows, typed counts."""

from typing import Any

import numpy as np
import polars as pl
import pytest

from core.closeness import assert_agrees
from core.test_crosstab_depth import stratified_frame
from core.test_logistic_reference import design_of
from core.test_odds import CASES, asked, frame_of, odds, strata
from hobrix.core.data import Category, Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.formats.table import source_column
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.splines import knots_of, spline_columns, spline_slopes
from hobrix.core.questions import Answer, Question, answer

BY_NAME = {case["name"]: case for case in CASES}


def people(n: int = 900, seed: int = 3) -> Frame:
    """Made-up people: illness bends with age, and goes with the river more in the north."""
    random = np.random.default_rng(seed)
    age, river = random.integers(18, 90, n), random.integers(0, 2, n)
    north = random.integers(0, 2, n)
    eta = -1.5 + 0.002 * (age - 50) ** 2 + river * (0.2 + 1.2 * north)
    ill = random.random(n) < 1 / (1 + np.exp(-eta))
    table = pl.DataFrame(
        {
            "ill": np.where(ill, "yes", "no"),
            "age": [str(x) for x in age],
            "source": np.where(river, "river", "piped"),
            "region": np.where(north, "north", "south"),
        }
    )
    answers = {"ill": ("no", "yes"), "source": ("piped", "river"), "region": ("south", "north")}
    variables = [
        Variable(
            name=name,
            label=name.capitalize(),
            kind="nominal",
            categories=tuple(Category(value=v, label=v.capitalize()) for v in values),
            event=("yes",) if name == "ill" else (),
        )
        for name, values in answers.items()
    ]
    variables.append(Variable(name="age", label="Age", kind="numeric", unit="years"))
    return Frame.of(variables, {c: source_column(table[c]) for c in table.columns}, n)


def model_of(frame: Frame, **changes: Any) -> Answer:
    fields = {
        "lens": "odds",
        "outcome": {"variable": "ill"},
        "vary_with": [{"variable": "source"}],
        "allowing_for": [{"variable": "age", "per": 10}, {"variable": "region"}],
        **changes,
    }
    return answer(Question.model_validate(fields), frame, panels=None)


def test_acting_together_gives_an_odds_ratio_within_each_level() -> None:
    frame = people()
    terms = [{"variable": "source"}, {"variable": "source", "with": "region"}]
    given = model_of(frame, vary_with=terms)
    model = given.results.whole
    together = next(term for term in model.terms if term.together_with)
    assert [row.given for row in together.rows] == ["Region: South", "Region: North"]
    # The same model, written from the other side, gives the same odds ratio in the north.
    turned = model_of(
        frame,
        vary_with=terms,
        allowing_for=[{"variable": "age", "per": 10}, {"variable": "region", "reference": "north"}],
    ).results.whole
    source = next(term for term in turned.terms if term.term == "source")
    north = together.rows[1]
    assert north.odds_ratio == pytest.approx(source.rows[0].odds_ratio, rel=1e-9)
    assert north.ci == pytest.approx(source.rows[0].ci, rel=1e-8)
    assert source.holds_at == "Region: North"
    assert "**differ by** Region" in given.reading.lead
    # No test of a main effect is read where the two act together.
    assert source.part_of_interaction


def test_an_interaction_with_a_number_is_read_at_low_median_and_high_values() -> None:
    terms = [{"variable": "source"}, {"variable": "source", "with": "age"}]
    given = model_of(people(), vary_with=terms)
    together = next(term for term in given.results.whole.terms if term.together_with)
    assert len(together.rows) == 3
    b = {(c.term, c.level): c.log_odds for c in given.opened.coefficients.coefficients}
    age = float(together.rows[0].given.removeprefix("Age "))
    expected = b[("source", "river")] + b[("source*age", "river")] * age / 10
    assert together.rows[0].log_odds == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize("bend", ["quadratic", "spline"])
def test_a_number_may_bend(bend: str) -> None:
    frame = people()
    straight = model_of(frame)
    line = straight.opened.fit.linearity[0]
    assert line.bend is not None
    assert line.bend.p < 0.001
    check = next(check for check in straight.checks if check.id == "linearity")
    assert check.remedies[0].question is not None
    assert check.remedies[0].question.allowing_for[0].bend == "spline"
    bent = model_of(
        frame, allowing_for=[{"variable": "age", "per": 10, "bend": bend}, {"variable": "region"}]
    ).results.whole
    if bend == "spline":
        gain = 2 * (
            bent.likelihood.log_likelihood - straight.results.whole.likelihood.log_likelihood
        )
        assert gain == pytest.approx(line.bend.statistic, rel=1e-9)
        assert bent.parameters == straight.results.whole.parameters + line.bend.df
    rows = bent.terms[0].rows
    assert len(rows) == 4
    assert all("against" in row.label for row in rows)
    # Old and young alike are further from the median than the straight line would have it.
    assert rows[0].odds_ratio > 1
    assert rows[-1].odds_ratio > 1


def test_splines_are_smooth_and_straight_beyond_the_outer_knots() -> None:
    x = np.sort(np.random.default_rng(1).normal(size=400))
    knots = knots_of(x)
    assert len(knots) == 4
    h = 1e-6
    difference = (spline_columns(x + h, knots) - spline_columns(x - h, knots)) / (2 * h)
    np.testing.assert_allclose(spline_slopes(x, knots), difference, atol=1e-6)
    beyond = np.linspace(knots[-1] + 0.1, knots[-1] + 3, 7)
    np.testing.assert_allclose(np.diff(spline_columns(beyond, knots), 2, axis=0), 0, atol=1e-9)
    # A weight of two is a person twice.
    weights = np.where(np.arange(400) % 3 == 0, 2.0, 1.0)
    assert knots_of(x, weights) == knots_of(np.repeat(x, weights.astype(int)))


def test_one_term_at_a_time_follows_the_reference() -> None:
    case = BY_NAME["mixed_five_terms"]
    names = [t["variable"] for t in [*case["allowing_for"], *case["vary_with"]]]
    opened = asked(case, options=odds(new_step_at=names)).opened
    steps = opened.steps.steps
    for step, theirs in zip(steps, case["expected"]["sequential_terms"], strict=True):
        assert step.variables == (theirs["term"],)
        assert_agrees(step.gain.statistic, theirs["statistic"], theirs["term"], relative=1e-8)
    assert steps[-1].auc == pytest.approx(opened.sorting.auc.estimate, rel=1e-12)


def test_within_each_stratum_the_same_model_and_whether_it_is_the_same() -> None:
    frame = people()
    given = model_of(frame, allowing_for=[{"variable": "age", "per": 10}], within=["region"])
    results = given.results
    assert [stratum.label for stratum in results.strata] == ["Region: South", "Region: North"]
    only_north = model_of(
        frame,
        allowing_for=[{"variable": "age", "per": 10}],
        among={"all": [{"variable": "region", "is": ["north"]}]},
    ).results.whole
    mine = results.strata[1].ratios
    theirs = [row for term in only_north.terms for row in term.rows]
    for one, other in zip(mine, theirs, strict=True):
        assert one is not None
        assert one.odds_ratio == pytest.approx(other.odds_ratio, rel=1e-9)
    # The test is that of both terms acting together with the stratum.
    together = [{"variable": n, "with": "region"} for n in ("age", "source")]
    full = model_of(frame, vary_with=[{"variable": "source"}, *together]).results.whole
    plain = model_of(frame).results.whole
    assert results.same is not None
    assert results.same.test is not None
    gain = 2 * (full.likelihood.log_likelihood - plain.likelihood.log_likelihood)
    assert results.same.test.statistic == pytest.approx(gain, rel=1e-8)
    assert results.same.test.df == 2
    assert "have ratios that are **not the same**" in given.reading.lead


def test_a_stratum_that_cannot_be_fitted_is_named() -> None:
    frame = stratified_frame([[[30, 60], [20, 90]], [[12, 0], [10, 0]]])
    given = answer(
        Question.model_validate(
            {
                "lens": "odds",
                "outcome": {"variable": "column"},
                "vary_with": [{"variable": "row"}],
                "within": ["stratum"],
                "counted_by": {"kind": "counts", "variable": "n"},
            }
        ),
        frame,
    )
    assert [stratum.left_out is None for stratum in given.results.strata] == [True, False]
    assert "the event" in (given.results.strata[1].left_out or "")
    assert given.results.same is not None
    assert given.results.same.test is None
    assert given.results.same.reason


def test_leaving_rows_out_is_refitting_without_them() -> None:
    case = BY_NAME["mixed_five_terms"]
    row = case["expected"]["residuals"]["most_extreme"][0]["row"]
    without = asked(case, options=odds(without_rows=[row])).results.without
    assert without is not None
    frame = frame_of(case)
    kept = [i for i in range(frame.rows) if i != row - 1]
    table = {
        name: source_column(pl.Series(name, [_text(frame, name, i) for i in kept]))
        for name in frame.variables
    }
    fewer = Frame.of(frame.variables.values(), table, len(kept))
    fields = asked(case).question
    theirs = answer(fields, fewer).results.whole
    ratios = [row.odds_ratio for term in theirs.terms for row in term.rows]
    assert_agrees(list(without.odds_ratios), ratios, relative=1e-8)


def _text(frame: Frame, name: str, row: int) -> str | None:
    source: Any = frame.source(name)
    if hasattr(source, "codes"):
        code = int(source.codes[row])
        return None if code < 0 else source.values[code]
    number = float(source.numbers[row])
    return None if np.isnan(number) else repr(number)


def test_events_out_of_trials_are_the_grouped_model() -> None:
    table = pl.DataFrame(
        {"dose": ["0", "1", "2", "3"], "ill": ["2", "5", "9", "14"], "n": ["20", "21", "22", "20"]}
    )
    variables = [Variable(name=name, kind="numeric") for name in table.columns]
    frame = Frame.of(variables, {n: source_column(table[n]) for n in table.columns}, 4)
    fields = {
        "lens": "odds",
        "outcome": {"variable": "ill"},
        "vary_with": [{"variable": "dose"}],
        "counted_by": {"kind": "counts", "variable": "n"},
    }
    given = answer(Question.model_validate(fields), frame, panels=["coefficients"])
    model, coefficients = given.results.whole, given.opened.coefficients.coefficients
    assert (model.n, model.events) == (83, 30)
    dose, ill, n = (table[c].cast(pl.Float64).to_numpy() for c in ("dose", "ill", "n"))
    direct = ml.fit(ml.Patterns(np.column_stack([np.ones(4), dose]), ill, n))
    assert coefficients[1].log_odds == pytest.approx(direct.coefficients[1], rel=1e-10)
    with pytest.raises(QuestionError, match="is numeric") as refused:
        answer(Question.model_validate({**fields, "counted_by": {"kind": "each"}}), frame)
    assert refused.value.slot == "outcome"
    swapped = {
        **fields,
        "outcome": {"variable": "n"},
        "counted_by": {"kind": "counts", "variable": "ill"},
    }
    with pytest.raises(QuestionError, match="row 1 has 20 out of 2"):
        answer(Question.model_validate(swapped), frame)


def test_missing_as_a_category_on_request() -> None:
    case = BY_NAME["missing_values"]
    plain = asked(case).results.whole
    name = next(t["variable"] for t in case["vary_with"] if t["kind"] == "categorical")
    whole = asked(case, options={"categories": {name: {"missing": True}}}).results.whole
    assert whole.n > plain.n
    term = next(term for term in whole.terms if term.variable == name)
    assert "No answer" in [row.label for row in term.rows]


def test_a_variable_of_sixty_categories_and_values_of_a_million_million() -> None:
    random = np.random.default_rng(5)
    n = 4000
    table = pl.DataFrame(
        {
            "ill": np.where(random.random(n) < 0.4, "yes", "no"),
            "village": [f"v{i:02d}" for i in random.integers(0, 60, n)],
            "income": [repr(float(x)) for x in 1e12 + 1e6 * random.normal(size=n)],
        }
    )

    def categories(name: str) -> tuple[Category, ...]:
        return tuple(Category(value=v, label=v) for v in sorted(set(table[name])))

    variables = [
        Variable(name="ill", kind="nominal", categories=categories("ill"), event=("yes",)),
        Variable(name="village", kind="nominal", categories=categories("village")),
        Variable(name="income", kind="numeric"),
    ]
    frame = Frame.of(variables, {c: source_column(table[c]) for c in table.columns}, n)
    model = model_of(
        frame,
        vary_with=[{"variable": "village"}],
        allowing_for=[{"variable": "income", "per": 1e6}],
    ).results.whole
    assert model.parameters == 61
    assert abs(model.terms[0].rows[0].log_odds) < 0.5


def test_cases_that_say_who_is_counted() -> None:
    given = strata(options={"categories": {"row": {"leave_out": []}}})
    assert given.counted.counted == given.results.whole.n
    case = BY_NAME["missing_values"]
    counted = asked(case).counted
    assert counted.in_subset - counted.counted == case["expected"]["dropped_for_missing"]


def test_collapsing_before_the_design_gives_the_patterns_of_the_whole_design() -> None:
    case = BY_NAME["interaction_categorical_categorical"]
    data, _ = design_of(case)
    assert asked(case).results.whole.covariate_patterns == len(data.trials)


def test_in_a_case_control_study_there_are_odds_but_no_probabilities() -> None:
    frame = stratified_frame([[[30, 60], [20, 90]], [[12, 30], [10, 44]]], "case_control")
    fields = {
        "lens": "odds",
        "outcome": {"variable": "column"},
        "vary_with": [{"variable": "row"}],
        "allowing_for": [{"variable": "stratum"}],
        "counted_by": {"kind": "counts", "variable": "n"},
    }
    given = answer(Question.model_validate(fields), frame)
    model = given.results.whole
    assert model.terms[1].rows[0].odds_ratio > 0
    assert model.average_marginal_effects == ()
    assert "profile" not in {panel.name for panel in given.panels}
    assert all(row.difference is None for term in model.terms for row in term.rows)
    assert "predictions" in {each.quantity for each in given.unavailable}
    assert not any("probability" in figure.label for figure in given.reading.figures)
