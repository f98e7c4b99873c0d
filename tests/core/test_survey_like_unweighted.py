"""A weighted answer shows what the unweighted one does: each number worked out here by itself."""

from dataclasses import replace
from typing import Any

import numpy as np
import polars as pl
import pytest
from scipy import special

from core.weighted_people import DESIGN, TABLE, N, asked, frame, model_of
from hobrix import figures
from hobrix.core.questions import Question, answer
from hobrix.core.survey.design import SampleDesign

W = TABLE["w"].cast(pl.Float64).to_numpy()
ILL = (TABLE["ill"] == "yes").to_numpy()
SOURCE = TABLE["source"].to_numpy()
CLUSTERS = SampleDesign.of(
    W,
    TABLE["district"].cast(pl.Int64).to_numpy(),
    TABLE["village"].cast(pl.Int64).to_numpy(),
)


def error_of_share(part: np.ndarray, whole: np.ndarray) -> tuple[float, float]:
    """A share and its linearised error, from the rows."""
    weight = (W * whole).sum()
    share = (W * part * whole).sum() / weight
    scores = W * whole * (part - share) / weight
    variance = CLUSTERS.covariance(CLUSTERS.cluster_totals(scores[:, None]))[0, 0]
    return share, float(np.sqrt(variance))


def test_percentages_run_within_rows_within_columns_and_over_all() -> None:
    whole = asked("crosstab", vary_with=[{"variable": "source"}]).results.whole
    table = whole.weighted
    assert table.sum_of_weights == pytest.approx(W.sum(), rel=1e-12)
    for i, source in enumerate(whole.rows):
        for j, answered in enumerate(whole.columns):
            row, column = source.value == SOURCE, (answered.value == "yes") == ILL
            assert whole.share_within_row[i][j] == table.row_proportions[i][j].estimate
            assert whole.share_within_column[i][j] == table.column_proportions[i][j].estimate
            for cell, part, of in (
                (table.row_proportions[i][j], column, row),
                (table.column_proportions[i][j], row, column),
            ):
                assert (cell.estimate, cell.se) == pytest.approx(error_of_share(part, of), rel=1e-9)
                assert cell.unweighted == pytest.approx((part & of).sum() / of.sum())
                reach = CLUSTERS.t_quantile(0.95) * cell.se / (cell.estimate * (1 - cell.estimate))
                low, high = special.expit(special.logit(cell.estimate) + np.array([-reach, reach]))
                assert cell.ci_logit == pytest.approx((low, high), rel=1e-9)
            share, se = error_of_share(row & column, np.ones(N, dtype=bool))
            assert whole.cell_proportions[i][j] == pytest.approx(share, rel=1e-9)
            assert table.cell_se[i][j] == pytest.approx(se, rel=1e-9)


def test_every_cell_is_told_and_drawn() -> None:
    given = asked("crosstab", vary_with=[{"variable": "source"}])
    whole = given.results.whole
    cell, counts = whole.weighted.row_proportions[1][1], whole.counts[1]
    assert given.reading.cells[1][1].startswith(
        f"source: river. Weighted, {100 * cell.estimate:.1f}% ({100 * cell.ci_logit[0]:.1f}% to "
        f"{100 * cell.ci_logit[1]:.1f}%) answered yes, {counts[1]:.0f} of {sum(counts):.0f} sampled"
    )
    drawn = figures.of(given)
    bars = drawn["stacked"]["layer"][0]["data"]["values"]
    assert any(bar["share"] == pytest.approx(100 * cell.estimate) for bar in bars)
    told = [tile["text"] for tile in drawn["mosaic"]["layer"][0]["data"]["values"]]
    assert given.reading.cells[1][1] in told


VARY: dict[str, Any] = {
    "vary_with": [{"variable": "source", "reference": "piped"}],
    "allowing_for": [{"variable": "age", "per": 10}, {"variable": "schooling"}],
}


def test_unadjusted_odds_ratios_are_those_of_the_variable_alone() -> None:
    model = model_of(**VARY)
    for term in model.terms:
        slot: dict[str, Any] = {"variable": term.variable}
        slot |= {"reference": term.reference} if term.reference else {"per": 10}
        alone = model_of(vary_with=[slot]).terms[0]
        for row, single in zip(term.rows, alone.rows, strict=True):
            assert row.unadjusted == pytest.approx(single.odds_ratio, rel=1e-8)
            assert row.unadjusted_ci == pytest.approx(single.ci, rel=1e-8)
            assert single.unadjusted == pytest.approx(single.odds_ratio, rel=1e-12)


def test_rows_count_the_sample_and_stand_beside_the_model_without_weights() -> None:
    model = model_of(**VARY)
    term = next(term for term in model.terms if term.term == "source")
    assert (term.reference_n, term.reference_events) == (
        (SOURCE == "piped").sum(),
        (ILL & (SOURCE == "piped")).sum(),
    )
    counted_once = model_of(**VARY, counted_by={"kind": "each"})
    plain = next(term for term in counted_once.terms if term.term == "source")
    for row, other in zip(term.rows, plain.rows, strict=True):
        assert (row.n, row.events) == (other.n, other.events)
        assert row.unweighted.odds_ratio == pytest.approx(other.odds_ratio, rel=1e-9)
        assert row.unweighted.ci == pytest.approx(other.ci, rel=1e-9)
    assert model.share == pytest.approx((W * ILL).sum() / W.sum(), rel=1e-12)


@pytest.mark.parametrize("options", [{"method": "firth"}, {"limits": "profile"}])
def test_methods_without_a_design_based_form_change_nothing(options: dict[str, str]) -> None:
    assert model_of(**VARY, options={"odds": options}).terms == model_of(**VARY).terms


def test_average_differences_are_those_of_the_population() -> None:
    """One factor by itself: the model gives the weighted shares, so their difference and its error."""
    model = model_of(vary_with=[{"variable": "source", "reference": "piped"}])
    shares = asked("proportions", vary_with=[{"variable": "source", "reference": "piped"}])
    gaps = {each.value: each.risk_difference.weighted for each in shares.results.whole.comparisons}
    for row in model.terms[0].rows:
        assert row.difference is not None
        gap = gaps[row.level or ""]
        assert row.difference.estimate == pytest.approx(gap.estimate, rel=1e-8)
        assert row.difference.se == pytest.approx(gap.se, rel=1e-8)
        assert row.difference.ci == pytest.approx(gap.ci, rel=1e-8)
        assert row.difference.p == pytest.approx(gap.p, rel=1e-7)


def test_average_differences_average_over_the_weights() -> None:
    given = asked("odds", **VARY)
    model = given.results.whole
    b = {(c.term, c.level): c.log_odds for c in given.opened.coefficients.coefficients}
    age = TABLE["age"].cast(pl.Float64).to_numpy() / 10
    schooling = [b.get(("schooling", level), 0.0) for level in TABLE["schooling"]]
    eta = b[("intercept", None)] + b[("age", None)] * age + np.array(schooling)
    river = special.expit(eta + b[("source", "river")])
    expected = (W * (river - special.expit(eta))).sum() / W.sum()
    effects = {(e.variable, e.level): e.estimate for e in model.average_marginal_effects}
    assert effects[("source", "river")] == pytest.approx(expected, rel=1e-9)


def test_a_case_control_study_has_odds_but_no_probabilities() -> None:
    of_cases = replace(frame(), study_design="case_control")
    question = {"lens": "odds", "outcome": {"variable": "ill"}, "counted_by": DESIGN, **VARY}
    given = answer(Question.model_validate(question), of_cases)
    model = given.results.whole
    assert "profile" not in {panel.name for panel in given.panels}
    assert {row.difference for term in model.terms for row in term.rows} == {None}
    assert model.terms[0].rows[0].odds_ratio > 0


def test_a_common_event_asks_for_care_by_its_weighted_share() -> None:
    given = asked("odds", **VARY)
    check = next(check for check in given.checks if check.id == "common_event")
    assert f"({100 * given.results.whole.share:.1f}%)" in check.text
    assert any("ratio of **odds**" in note for note in given.reading.notes)


def test_a_stratum_that_tells_the_outcome_apart_is_left_out() -> None:
    nobody = (pl.col("half") == "north") & (pl.col("source") == "well")
    data = TABLE.with_columns(
        ill=pl.when(nobody).then(pl.lit("no")).otherwise(pl.col("ill")),
    )
    results = asked("odds", data, vary_with=[{"variable": "source"}], within=["half"]).results
    north, south = results.strata
    assert "told apart" in (north.left_out or "")
    assert south.left_out is None
    assert results.same.test is None
    assert results.same.reason


def test_those_without_an_answer_have_weighted_shares_of_all() -> None:
    data = TABLE.with_row_index().with_columns(
        schooling=pl.when(pl.col("index") % 10 == 0).then(pl.lit("")).otherwise(pl.col("schooling"))
    )
    given = asked("distribution", data.drop("index"), outcome={"variable": "schooling"})
    told = given.results.variables[0]
    gone = np.arange(N) % 10 == 0
    assert [(each.code, each.count) for each in told.missing_breakdown] == [("", gone.sum())]
    share_gone = 100 * W[gone].sum() / W.sum()
    assert told.missing_breakdown[0].percent_of_all == pytest.approx(share_gone, rel=1e-12)
    assert told.percent_missing_of_all == pytest.approx(share_gone, rel=1e-12)
    of_all = sum(row.percent_of_all for row in told.table)
    assert of_all == pytest.approx(100 - share_gone, rel=1e-12)
    schooling = TABLE["schooling"].cast(pl.Int64).to_numpy()
    up_to = [100 * (W * ~gone * (schooling <= k)).sum() / W[~gone].sum() for k in range(4)]
    cumulative = [row.cumulative_percent_of_answered for row in told.table]
    assert cumulative == pytest.approx(up_to, rel=1e-12)


def test_each_share_stands_against_the_stated_one() -> None:
    shares = {"0": 1, "1": 1, "2": 1, "3": 2}
    options = {"distribution": {"expected": {"kind": "stated", "shares": shares}}}
    given = asked("distribution", outcome={"variable": "schooling"}, options=options)
    fit = given.results.variables[0].goodness_of_fit
    assert fit.expected_shares == pytest.approx([0.2, 0.2, 0.2, 0.4])
    schooling = TABLE["schooling"].cast(pl.Int64).to_numpy()
    for level, (expected, z) in enumerate(
        zip(fit.expected_shares, fit.standardized_residuals, strict=True)
    ):
        share, se = error_of_share(schooling == level, np.ones(N, dtype=bool))
        assert z == pytest.approx((share - expected) / se, rel=1e-9)
    test = fit.test
    reported = f"Rao–Scott test of fit F({test.df:.2f}, {test.df2:.1f}) = {test.statistic:.1f}"
    assert reported in given.write_up


@pytest.mark.parametrize(
    ("lens", "fields", "said"),
    [
        ("odds", VARY, "In a weighted logistic regression of “yes” (ill; "),
        ("odds", VARY, "source as a whole: adjusted Wald F(2, 39) = "),
        ("distribution", {}, "The weighted share of “yes” was "),
        ("distribution", {"outcome": {"variable": "schooling"}}, "Weighted shares were “0” "),
        ("distribution", {"outcome": {"variable": "age"}}, "The weighted mean was "),
        ("crosstab", {"vary_with": VARY["vary_with"]}, "Rao–Scott F("),
        ("proportions", {"vary_with": VARY["vary_with"]}, "percentage points, 95% CI ["),
    ],
)
def test_the_write_up_names_the_method_and_the_sample(
    lens: str, fields: dict[str, Any], said: str
) -> None:
    given = asked(lens, **fields)
    assert said in given.write_up
    assert given.write_up.endswith(
        "Estimates are weighted, with linearised errors for 45 clusters in 5 strata (40 df)."
    )


def test_without_an_event_the_table_tells_what_moved() -> None:
    fields: dict[str, Any] = {
        "outcome": {"variable": "schooling"},
        "vary_with": [{"variable": "source"}],
    }
    given = asked("crosstab", **fields, options={"beside": True})
    whole = given.results.whole
    cells = [
        (abs(cell.estimate - cell.unweighted), column.label, row.label, cell)
        for row, line in zip(whole.rows, whole.weighted.row_proportions, strict=True)
        for column, cell in zip(whole.columns, line, strict=True)
    ]
    _, column, row, cell = max(cells, key=lambda each: each[0])
    assert given.sample.moved == (
        f"The design moves “{column}” with {row} most, from {100 * cell.unweighted:.1f}% to "
        f"{100 * cell.estimate:.1f}%."
    )
    v, test = given.beside.rows
    assert (v.label, test.label) == ("Cramér’s V", "Test of no association, p")
    plain = asked("crosstab", **fields, counted_by={"kind": "each"}).results.whole
    assert (v.unweighted.estimate, v.unweighted.ci) == (plain.cramers_v, plain.cramers_v_ci)
    assert (v.design.estimate, v.design.ci) == (whole.cramers_v, whole.cramers_v_ci)
    assert v.weights_only.estimate == pytest.approx(v.design.estimate, rel=1e-12)
    assert v.weights_only.ci != v.design.ci
    assert (test.unweighted.estimate, test.design.estimate) == (plain.test.p, whole.test.p)


def test_a_misfit_offers_to_let_the_number_bend() -> None:
    age = TABLE["age"].cast(pl.Float64).to_numpy()
    chance = special.expit((np.abs(age - 49) - 15) / 4)
    ill = np.where(np.random.default_rng(2).random(N) < chance, "yes", "no")
    data = TABLE.with_columns(ill=pl.Series(ill))
    given = asked("odds", data, vary_with=[{"variable": "age"}])
    check = next(check for check in given.checks if check.id == "fit")
    assert check.status == "care"
    assert [remedy.label for remedy in check.remedies] == ["Let age bend"]
    mended = check.remedies[0].question
    assert mended is not None
    again = answer(mended, frame(data), panels=None)
    assert next(check for check in again.checks if check.id == "fit").status == "ok"
