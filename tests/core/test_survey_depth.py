"""Designs in depth: models within strata, steps, fit, trend, strength, numbers, three ways."""

from typing import Any

import numpy as np
import polars as pl
import pytest
from scipy import linalg, special, stats

from core.weighted_people import DESIGN, TABLE, VARY, N, asked, frame, model_of, weighted_shares
from hobrix.core.errors import QuestionError
from hobrix.core.logistic.likelihood import probabilities
from hobrix.core.questions import Answer, Question, answer, rows_set_aside
from hobrix.core.survey.design import SampleDesign
from hobrix.core.survey.patterns import PatternTotals, grouped


def test_a_model_within_a_stratum_is_the_model_among_it() -> None:
    for stratum in asked("odds", **VARY, within=["half"]).results.strata:
        among = {"all": [{"variable": "half", "is": list(stratum.values)}]}
        alone = model_of(**VARY, among=among)
        assert stratum.n == alone.n
        rows = [row for term in alone.terms for row in term.rows]
        for mine, theirs in zip(stratum.ratios, rows, strict=True):
            assert mine is not None
            assert mine.odds_ratio == pytest.approx(theirs.odds_ratio, rel=1e-9)
            assert mine.ci == pytest.approx(theirs.ci, rel=1e-9)


def test_sameness_over_parts_without_clusters_in_common_adds_their_covariances() -> None:
    """North and south share no cluster, so the test is that of two independent estimates."""
    same = asked("odds", vary_with=[{"variable": "source"}], within=["half"]).results.same.test
    parts = []
    for half in ("north", "south"):
        among = {"all": [{"variable": "half", "is": [half]}]}
        given = asked("odds", vary_with=[{"variable": "source"}], among=among)
        parts.append(given.opened.coefficients)
    b = [np.array([c.log_odds for c in part.coefficients[1:]]) for part in parts]
    # Adjusted F of each part gives its covariance only up to the pair: take the errors of both.
    apart = b[1] - b[0]
    first, second = ([c.se for c in part.coefficients[1:]] for part in parts)
    errors = np.hypot(first, second)
    z = apart / errors
    nu, d = 40, 2
    w = same.statistic * nu * d / (nu - d + 1)
    # With correlation r of the two differences, W = (z1^2 - 2 r z1 z2 + z2^2) / (1 - r^2).
    r = np.roots([w, -2 * z[0] * z[1], z[0] ** 2 + z[1] ** 2 - w])
    assert any(abs(root.imag) < 1e-9 and 0 < root.real < 1 for root in np.atleast_1d(r))
    assert (same.df, same.df2) == (2, nu - d + 1)


def test_steps_test_what_they_add() -> None:
    given = asked("odds", **VARY)
    steps = given.opened.steps.steps
    assert [step.titles for step in steps] == [("age",), ("source",)]
    whole = {term.term: term.adjusted_wald for term in given.results.whole.terms}
    assert steps[1].adjusted_wald == whole["source"]
    alone = model_of(vary_with=[{"variable": "age"}])
    assert alone.terms[0].adjusted_wald.f == pytest.approx(steps[0].adjusted_wald.f, rel=1e-9)


def test_the_fit_test_by_its_definition() -> None:
    opened = asked("odds", vary_with=[{"variable": "age"}, {"variable": "source"}]).opened
    fit, coefficients = opened.fit, opened.coefficients.coefficients
    x = np.column_stack(
        [
            np.ones(N),
            TABLE["age"].cast(float).to_numpy(),
            (TABLE["source"] == "river").to_numpy(),
            (TABLE["source"] == "well").to_numpy(),
        ]
    ).astype(float)
    y, w = (TABLE["ill"] == "yes").to_numpy(), TABLE["w"].cast(float).to_numpy()
    p = probabilities(x, np.array([c.log_odds for c in coefficients]))
    group = grouped(p, w, 10)
    assert len(fit.groups) == group.max() + 1
    village, district = TABLE["village"].to_numpy(), TABLE["district"].to_numpy()
    of_group = (group[:, None] == np.arange(group.max() + 1)).astype(float)
    weight = w @ of_group
    mean = (w * (y - p)) @ of_group / weight
    scores = w[:, None] * of_group * ((y - p)[:, None] - mean) / weight
    covariance = np.zeros((len(mean), len(mean)))
    for one in np.unique(district):
        totals = np.array(
            [
                scores[(district == one) & (village == v)].sum(axis=0)
                for v in np.unique(village[district == one])
            ]
        )
        away = totals - totals.mean(axis=0)
        covariance += len(totals) / (len(totals) - 1) * away.T @ away
    g, nu = len(mean), 40
    wald = mean @ linalg.inv(covariance) @ mean
    assert fit.test.statistic == pytest.approx((nu - g + 2) / (nu * g) * wald, rel=1e-8)
    assert (fit.test.df, fit.test.df2) == (g - 1, nu - g + 2)
    assert sum(each.n for each in fit.groups) == N
    first = group == 0
    observed = (w * y)[first].sum() / w[first].sum()
    assert fit.groups[0].observed == pytest.approx(observed, rel=1e-12)


def test_a_trend_is_the_model_with_the_number_of_the_group() -> None:
    trend = asked("proportions", vary_with=[{"variable": "schooling"}]).results.trend
    row = model_of(vary_with=[{"variable": "level"}]).terms[0].rows[0]
    assert trend.per_step.odds_ratio == pytest.approx(row.odds_ratio, rel=1e-9)
    assert trend.per_step.p == trend.test.p == pytest.approx(row.p, rel=1e-8)
    assert trend.rises == (row.log_odds > 0)
    assert asked("proportions", vary_with=[{"variable": "source"}]).results.trend is None


def test_measures_of_equal_weights_are_the_ordinary_ones() -> None:
    """With simple random sampling the linearised variance is n / (n - 1) times the usual one."""
    simple = {"kind": "design", "weights": "one"}
    weighted, plain = (
        asked("crosstab", vary_with=[{"variable": "schooling"}], counted_by=how).opened.measures
        for how in (simple, {"kind": "each"})
    )
    ordinary = {measure.key: measure for measure in plain.measures}
    assert len(weighted.measures) >= 14
    for mine in weighted.measures:
        theirs = ordinary[mine.key]
        assert mine.value == pytest.approx(theirs.value, rel=1e-9, abs=1e-12)
        if mine.key not in ("stuart_tau_c", "cramers_v"):
            assert mine.se == pytest.approx(theirs.ase * np.sqrt(N / (N - 1)), rel=1e-6)


def test_linearised_measures_come_near_the_jackknife() -> None:
    jackknife = {**DESIGN, "errors": "jackknife"}
    vary = [{"variable": "schooling"}]
    linear = asked("crosstab", vary_with=vary)
    again = asked("crosstab", vary_with=vary, counted_by=jackknife)
    pairs = zip(linear.opened.measures.measures, again.opened.measures.measures, strict=True)
    for mine, theirs in pairs:
        # Not smooth: a mode may change. V has limits but no error of its own.
        if mine.key.startswith("lambda") or mine.key == "cramers_v":
            continue
        assert mine.se == pytest.approx(theirs.se, rel=0.1)
    limits = [given.results.whole.cramers_v_ci for given in (linear, again)]
    assert limits[0] == pytest.approx(limits[1], rel=0.1)


def test_a_number_is_weighted_whole_and_within() -> None:
    results = asked("distribution", outcome={"variable": "age"}, within=["half"]).results
    age, w = (TABLE[name].cast(float).to_numpy() for name in ("age", "w"))
    summary, bins = results.variables[0].summary, results.variables[0].histogram
    assert summary.mean == pytest.approx(np.average(age, weights=w), rel=1e-12)
    spread = np.sqrt(np.average((age - summary.mean) ** 2, weights=w))
    assert summary.sd == pytest.approx(spread, rel=1e-12)
    assert summary.weighted.unweighted == pytest.approx(age.mean(), rel=1e-12)
    first = (age >= bins.edges[0]) & (age < bins.edges[1])
    assert bins.percent[0] == pytest.approx(100 * w[first].sum() / w.sum(), rel=1e-12)
    assert bins.unweighted_percent[0] == pytest.approx(100 * first.mean(), rel=1e-12)
    assert bins.counts[0] == first.sum()
    assert sum(bins.percent) == pytest.approx(100, rel=1e-12)
    north = (TABLE["half"] == "north").to_numpy()
    mean = results.strata[0].outcome.summary.mean
    assert mean == pytest.approx(np.average(age[north], weights=w[north]), rel=1e-12)


@pytest.mark.parametrize(
    ("lens", "fields"),
    [
        ("distribution", {}),
        ("distribution", {"outcome": {"variable": "age"}}),
        ("crosstab", {"vary_with": [{"variable": "source"}]}),
        ("proportions", {"vary_with": [{"variable": "source"}]}),
        ("odds", VARY),
    ],
)
def test_three_ways_are_the_three_answers(lens: str, fields: dict[str, Any]) -> None:
    with_design = asked(lens, **fields, options={"beside": True}).beside
    assert asked(lens, **fields).beside is None
    only = {"kind": "design", "weights": "w"}
    alone = asked(lens, **fields, counted_by=only, options={"beside": True}).beside
    assert with_design is not None
    assert alone is not None
    assert with_design.rows
    for mine, theirs in zip(with_design.rows, alone.rows, strict=True):
        assert mine.weights_only == theirs.design == theirs.weights_only
        assert mine.unweighted == theirs.unweighted
        assert mine.unweighted is not None
        if mine.unit != "p":
            assert mine.design.estimate == pytest.approx(mine.weights_only.estimate, rel=1e-9)
            assert mine.design.ci != mine.weights_only.ci
    assert "Strata and clusters" in with_design.moved


def test_strata_taken_together_are_as_if_recoded() -> None:
    recoded = TABLE.with_columns(
        district=pl.when(pl.col("district") == "3").then(pl.lit("1")).otherwise(pl.col("district"))
    )
    vary: dict[str, Any] = {"vary_with": [{"variable": "source"}]}
    theirs = asked("proportions", recoded, **vary)
    together = {**DESIGN, "together": [["1", "3"]]}
    mine = asked("proportions", **vary, counted_by=together)
    assert mine.sample == theirs.sample
    assert mine.results.whole.comparisons == theirs.results.whole.comparisons


@pytest.mark.parametrize("errors", ["jackknife", "bootstrap"])
@pytest.mark.parametrize("lens", ["distribution", "crosstab", "proportions", "odds"])
def test_replicates_answer_in_every_lens(errors: str, lens: str) -> None:
    how = {**DESIGN, "errors": errors, "draws": 200, "seed": 3}
    fields: dict[str, Any] = (
        {}
        if lens == "distribution"
        else VARY
        if lens == "odds"
        else {"vary_with": [{"variable": "source"}]}
    )
    mine, linear = asked(lens, **fields, counted_by=how), asked(lens, **fields)
    assert mine.sample.errors != linear.sample.errors
    assert mine.sample.errors in mine.write_up
    pairs = list(zip(errors_of(mine), errors_of(linear), strict=True))
    assert len(pairs) > 1
    for one, other in pairs:
        assert one == pytest.approx(other, rel=0.25)
        assert one != other


def errors_of(given: Answer) -> list[float]:
    """Of the shares or coefficients of an answer."""
    if given.lens == "odds":
        return [each.se for each in given.opened.coefficients.coefficients]
    return [share.se for share in weighted_shares(given)]


@pytest.mark.parametrize(
    ("lens", "fields", "parts"),
    [
        # The model and both variables by themselves are a third each.
        ("odds", VARY, 3),
        # The trend along the groups.
        ("proportions", {"vary_with": [{"variable": "schooling"}]}, 1),
    ],
)
def test_long_work_tells_how_far_it_is_and_can_be_ended(
    lens: str, fields: dict[str, Any], parts: int
) -> None:
    class Ended(Exception):
        pass

    told: list[float] = []

    def tell(done: float) -> None:
        told.append(done)
        if done > 0.4:
            raise Ended

    how = {**DESIGN, "errors": "bootstrap", "draws": 200}
    question = Question.model_validate(
        {"lens": lens, "outcome": {"variable": "ill"}, "counted_by": how, **fields}
    )
    with pytest.raises(Ended):
        answer(question, frame(), tell)
    assert told == pytest.approx([i / (200 * parts) for i in range(len(told))])
    assert told[-2] <= 0.4 < told[-1]


def test_a_jackknife_of_too_many_clusters_is_refused_beside_the_design() -> None:
    wide = pl.concat([TABLE] * 8)
    how = {"kind": "design", "weights": "w", "errors": "jackknife"}
    with pytest.raises(QuestionError, match="7,200 clusters takes too long") as refused:
        asked("distribution", wide, counted_by=how)
    assert refused.value.slot == "counted_by"


def test_large_tables_of_clusters_by_patterns_are_kept_sparse() -> None:
    """The same sums whether kept whole or sparse."""
    random = np.random.default_rng(2)
    n = 3000
    w, y = random.uniform(1, 2, n), (random.random(n) < 0.4).astype(float)
    place = random.integers(-1, n, n)
    x = np.column_stack([np.ones(n), np.arange(n) / n])
    design = SampleDesign.of(w)
    large = PatternTotals.count(design, x, place, y)
    assert not isinstance(large.weights, np.ndarray)
    inside = place >= 0
    p = np.full(n, 0.3)
    direct = np.zeros((n, 2))
    direct[inside] = (w * (y - 0.3))[inside, None] * x[place[inside]]
    np.testing.assert_allclose(large.missed(p) @ x, direct, rtol=1e-12, atol=1e-12)
    np.testing.assert_allclose(
        large.patterns.trials, np.bincount(place[inside], weights=w[inside], minlength=n)
    )


def test_several_variables_are_each_asked_alone() -> None:
    vary = [{"variable": name} for name in ("source", "schooling", "age", "half")]
    several = asked("crosstab", vary_with=vary).results.several
    assert [each.left_out for each in several] == [None, None, "not in categories", None]
    tested = [each for each in several if each.test is not None]
    for each in tested:
        alone = asked("crosstab", vary_with=[{"variable": each.variable}]).results.whole
        assert each.test == alone.test
        assert (each.cramers_v, each.cramers_v_ci) == (alone.cramers_v, alone.cramers_v_ci)
    least = min(tested, key=lambda each: each.test.p if each.test else 1.0)
    assert least.test is not None
    assert least.p_holm == pytest.approx(3 * least.test.p)
    assert asked("crosstab", vary_with=vary[:1]).results.several == ()


def test_other_variables_of_a_distribution_are_weighted_too() -> None:
    vary = [{"variable": "source"}, {"variable": "age"}]
    _, source, age = asked("distribution", vary_with=vary).results.variables
    for mine, name in ((source, "source"), (age, "age")):
        alone = asked("distribution", outcome={"variable": name}).results.variables[0]
        assert (mine.table, mine.summary) == (alone.table, alone.summary)


@pytest.mark.parametrize(
    ("lens", "fields"),
    [
        ("distribution", {}),
        ("crosstab", {"vary_with": [{"variable": "source"}]}),
        ("crosstab", {"vary_with": [{"variable": "source"}], "within": ["half"]}),
        ("odds", VARY),
    ],
)
def test_rows_without_a_weight_are_set_aside(lens: str, fields: dict[str, Any]) -> None:
    """And so the answer that counts each row once is about the same rows."""
    gaps = TABLE.with_columns(
        w=pl.when(pl.int_range(N) < 7)
        .then(pl.lit(""))
        .when(pl.int_range(N) < 12)
        .then(pl.lit("0"))
        .otherwise(pl.col("w"))
    )
    given = asked(lens, gaps, **fields)
    assert (given.counted.surveyed, given.counted.counted) == (N, N - 12)
    assert [(aside.reason, aside.n) for aside in given.counted.set_aside] == [
        ("no weight above 0", 12)
    ]
    assert given.sample.rows == N - 12
    question = Question.model_validate(
        {"lens": lens, "outcome": {"variable": "ill"}, "counted_by": DESIGN, **fields}
    )
    aside = rows_set_aside(question, frame(gaps), 0, 50)
    assert aside.total == 12
    assert set(aside.unanswered) == {("w",)}


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        ({}, "900 rows drawn one by one (899 df)"),
        ({"strata": "district"}, "900 rows drawn one by one in 5 strata (895 df)"),
        ({"clusters": "village"}, "45 clusters (44 df)"),
        ({"strata": "district", "clusters": "village"}, "45 clusters in 5 strata (40 df)"),
    ],
)
def test_the_write_up_says_what_was_drawn(parts: dict[str, str], words: str) -> None:
    design = {"kind": "design", "weights": "w", **parts}
    given = asked("distribution", counted_by=design)
    assert words in given.write_up


def test_a_group_that_one_cluster_has_is_told_where_clusters_are_left_out() -> None:
    lonely = TABLE.with_columns(
        source=pl.when((pl.col("village") == "7") & (pl.col("age").cast(int) < 50))
        .then(pl.lit("tanker"))
        .otherwise(pl.col("source"))
    )
    how = {**DESIGN, "errors": "jackknife"}
    for lens in ("crosstab", "proportions"):
        vary = [{"variable": "source"}]
        given = asked(lens, lonely, vary_with=vary, counted_by=how)
        assert given.sample.replicates_lost == 1
        assert any("In 1 replicate something has no value" in c.text for c in given.checks)
        # Errors of the other groups stay near the linearised ones.
        linear = asked(lens, lonely, vary_with=vary)
        labels = sorted(set(lonely["source"]))
        pairs = zip(labels, weighted_shares(given), weighted_shares(linear), strict=True)
        for label, mine, theirs in pairs:
            if label != "tanker":
                assert mine.se == pytest.approx(theirs.se, rel=0.1)
    plain = asked("crosstab", vary_with=[{"variable": "source"}], counted_by=how)
    assert plain.sample.replicates_lost == 0


def test_profiles_have_the_errors_of_the_design() -> None:
    """With a group as reference and age 0, the log odds of a profile are the intercept."""
    profiles = [{"source": source, "age": 0} for source in ("piped", "river", "well")]
    for profile in profiles:
        reference = {"variable": "source", "reference": profile["source"]}
        opened = asked(
            "odds",
            vary_with=[reference],
            allowing_for=[{"variable": "age"}],
            options={"odds": {"profiles": profiles}},
        ).opened
        found = opened.profile
        here = next(p for p in found.predictions if p.values["source"] == profile["source"])
        intercept = opened.coefficients.coefficients[0]
        assert here.log_odds == pytest.approx(intercept.log_odds, rel=1e-9)
        reach = stats.t.ppf(0.975, 40) * intercept.se
        limits = special.expit([here.log_odds - reach, here.log_odds + reach])
        assert here.ci == pytest.approx(tuple(limits), rel=1e-8)
    assert found.curve is not None
    assert found.curve.across == "age"
    assert len(found.curve.lines) == 3


def test_a_model_that_has_no_test_of_fit_says_why() -> None:
    two_groups = asked("odds", vary_with=[{"variable": "half"}])
    assert two_groups.opened.fit.test is None
    assert "three groups" in two_groups.opened.fit.no_test
    assert "fit" not in {check.id for check in two_groups.checks}
    assert asked("odds", **VARY).opened.fit.test is not None
