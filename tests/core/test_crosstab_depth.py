"""The Crosstab lens in depth: strata, exact tests, categories of one question, study designs."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy import stats

from core.asking import ask, categories, coded, cross
from core.closeness import assert_agrees
from hobrix.core.data import Frame, Measured, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer
from hobrix.core.tables import association, exact, exact_two_by_two, stratified, two_by_two
from reference_numbers import reference_cases

STRATIFIED = [case for case in reference_cases("stratified") if "tables" in case["input"]]


def stratified_frame(tables: Any, design: str = "") -> Frame:
    """Counts of K tables: variables stratum, row (r2 is the reference), column and n."""
    k, rows, columns = np.array(tables).shape
    cells = [
        (s, i, j, tables[s][i][j]) for s in range(k) for i in range(rows) for j in range(columns)
    ]
    variables = [
        Variable(name="stratum", label="Stratum", kind="nominal", categories=categories("s", k)),
        Variable(name="row", kind="nominal", categories=categories("r", rows), reference="r2"),
        Variable(name="column", kind="nominal", categories=categories("c", columns), event=("c1",)),
        Variable(name="n", kind="numeric"),
    ]
    sources: dict[str, Any] = {
        "stratum": coded([c[0] for c in cells], "s", k),
        "row": coded([c[1] for c in cells], "r", rows),
        "column": coded([c[2] for c in cells], "c", columns),
        "n": Measured(np.array([float(c[3]) for c in cells]), np.full(len(cells), -1, np.int8), ()),
    }
    frame = Frame.of(variables, sources, len(cells))
    return Frame(frame.rows, frame.variables, frame.load, frame.source, study_design=design)


def ask_strata(tables: Any, design: str = "", **changes: Any) -> Answer:
    fields = {
        "outcome": {"variable": "column"},
        "vary_with": [{"variable": "row"}],
        "within": ["stratum"],
        "counted_by": {"kind": "counts", "variable": "n"},
        **changes,
    }
    return answer(Question.model_validate(fields), stratified_frame(tables, design), panels=None)


@pytest.mark.parametrize("case", STRATIFIED, ids=lambda case: case["name"])
def test_strata_through_the_question(case: dict[str, Any]) -> None:
    given = ask_strata(case["input"]["tables"])
    expected = case["expected"]
    pair = given.results.pooled.pairs[0]
    odds = pair.mantel_haenszel_odds_ratio
    assert_agrees(odds.estimate, expected["mantel_haenszel_odds_ratio"]["estimate"])
    assert_agrees(list(odds.ci), expected["mantel_haenszel_odds_ratio"]["ci_95"])
    risk = pair.mantel_haenszel_risk_difference
    assert_agrees(list(risk.sato.ci), expected["mantel_haenszel_risk_difference"]["sato"]["ci_95"])
    for key in (
        "cochran_mantel_haenszel",
        "breslow_day",
        "breslow_day_tarone",
        "woolf_homogeneity",
    ):
        test = getattr(pair, key)
        assert_agrees(test and test.p, expected[key] and expected[key]["p"], key)
    assert pair.informative_strata == expected["informative_strata"]
    for stratum, theirs in zip(given.results.strata, expected["strata"], strict=True):
        if stratum.table is not None and stratum.table.groups is not None:
            mine = stratum.table.groups.comparisons[0].odds_ratio.estimate
            assert_agrees("Infinity" if mine == np.inf else mine, theirs["odds_ratio"])


def test_a_whole_that_reverses_says_so_only_where_it_is_clear() -> None:
    case = next(case for case in STRATIFIED if case["name"] == "three_strata_reversal")
    tables = np.array(case["input"]["tables"])
    few = ask_strata(tables.tolist()).reading.lead
    assert "Within each Stratum" in few
    assert "what the whole suggests **is not seen within**" in few
    many = ask_strata((10 * tables).tolist()).reading.lead
    assert "**the whole reverses** what happens within" in many


def test_strata_that_differ_are_not_pooled_in_silence() -> None:
    case = next(case for case in STRATIFIED if case["name"] == "opposite_odds_ratios")
    lead = ask_strata(case["input"]["tables"]).reading.lead
    assert "not the same everywhere" in lead


def test_empty_and_one_sided_strata_are_named() -> None:
    tables = [[[10, 20], [20, 10]], [[0, 0], [0, 0]], [[5, 0], [7, 0]], [[12, 9], [8, 14]]]
    given = ask_strata(tables)
    assert [s.left_out is None for s in given.results.strata] == [True, False, False, True]
    notes = " ".join(given.reading.notes)
    assert "s3 (all gave the same answer" in notes
    assert "Nobody counted is in s2" in notes


def test_too_many_strata_are_refused_and_few_that_hold_somebody_are_not() -> None:
    many = [[[1, 2], [2, 1]]] * 70
    with pytest.raises(QuestionError, match="makes 70 strata; up to 60") as refused:
        ask_strata(many)
    assert refused.value.slot == "within"
    mostly_empty = [[[3, 4], [4, 3]]] * 5 + [[[0, 0], [0, 0]]] * 70
    assert ask_strata(mostly_empty).results.pooled is not None


def test_in_a_case_control_study_shares_are_not_compared() -> None:
    tables = [[[30, 60], [20, 90]], [[12, 30], [10, 44]]]
    given = ask_strata(tables, "case_control")
    against = given.results.whole.groups.comparisons[0]
    assert against.odds_ratio.estimate is not None
    assert against.risk_ratio is None
    assert against.risk_difference is None
    for quantity in ("number_needed", "risk_exposed"):
        assert getattr(given.opened.two_groups, quantity) is None
    assert any(u.quantity == "risk_ratio" and "case–control" in u.reason for u in given.unavailable)
    assert given.results.pooled.pairs[0].mantel_haenszel_risk_ratio is None
    said = given.reading.lead + given.write_up + " ".join(f.label for f in given.reading.figures)
    assert "its odds, row: r1 against r2, have a ratio of" in given.reading.lead
    assert "Ratio of shares" not in said
    cohort = ask_strata(tables, "cohort")
    assert cohort.results.whole.groups.comparisons[0].risk_ratio is not None
    assert cohort.opened.two_groups.number_needed is not None


RECAST = [[20, 10, 5], [10, 20, 9], [8, 12, 30], [3, 2, 1]]


def recast(**of_row: Any) -> dict[str, Any]:
    return {"options": {"categories": {"row": of_row}}}


def test_categories_left_out_of_one_question_are_shown_in_the_strip() -> None:
    given = ask(RECAST, **recast(leave_out=["r4"]))
    assert [row.value for row in given.results.whole.rows] == ["r1", "r2", "r3"]
    assert given.results.whole.counts == ask(RECAST[:3]).results.whole.counts
    assert given.counted.in_subset == sum(map(sum, RECAST))
    assert [(a.reason, a.n) for a in given.counted.set_aside] == [
        ("left out of this question by row", 6)
    ]


def test_categories_combined_and_ordered_for_one_question() -> None:
    given = ask(RECAST, **recast(combine=[["r3", "r4"]], order=["r3", "r1"]))
    whole = given.results.whole
    assert [row.label for row in whole.rows] == ["r3 or r4", "r1", "r2"]
    assert whole.counts[0] == (11, 14, 31)


def test_missing_as_a_category_of_one_question() -> None:
    rows = [0] * 30 + [1] * 30 + [-1] * 12
    columns = [0, 1, 1] * 24
    variables = [
        Variable(name="row", kind="nominal", categories=categories("r", 2)),
        Variable(name="column", kind="nominal", categories=categories("c", 2), event=("c1",)),
    ]
    sources: dict[str, Any] = {"row": coded(rows, "r", 2), "column": coded(columns, "c", 2)}
    frame = Frame.of(variables, sources, 72)
    asked = Question.model_validate(
        {
            "outcome": {"variable": "column"},
            "vary_with": [{"variable": "row"}],
            **recast(missing=True),
        }
    )
    given = answer(asked, frame)
    assert [row.label for row in given.results.whole.rows] == ["r1", "r2", "No answer"]
    assert given.counted.counted == 72


@pytest.mark.parametrize(
    ("changes", "message"),
    [
        (recast(leave_out=["r9"]), "“r9” is not an answer"),
        (recast(combine=[["r1", "r2"], ["r2", "r3"]]), "two places at once"),
        (recast(leave_out=["r1", "r2", "r3"]), "Fewer than two answers"),
    ],
)
def test_options_that_make_no_sense(changes: dict[str, Any], message: str) -> None:
    with pytest.raises(QuestionError, match=message) as refused:
        ask(RECAST, **changes)
    assert refused.value.slot.startswith("options.")


@pytest.mark.parametrize(
    ("options", "message"),
    [
        (cross(adjust="guess"), "options.crosstab.adjust"),
        (cross(draws=5), "Between 1,000 and 1,000,000"),
        ({"categories": {"row": {"sort": 1}}}, "options.categories.row.sort"),
        ({"draws": 5000}, "options.draws"),
    ],
)
def test_options_that_do_not_exist_or_fit(options: dict[str, Any], message: str) -> None:
    with pytest.raises(ValidationError, match=message):
        ask(RECAST, options=options)


def test_a_remedy_shows_what_it_would_give_and_gives_that() -> None:
    table = [[30, 30, 30], [28, 30, 32], [2, 3, 4]]
    given = ask(table)
    check = next(c for c in given.checks if c.id == "expected_counts")
    remedy = next(r for r in check.remedies if "r2 and r3" in r.label)
    assert remedy.question is not None
    after = ask(table, options=remedy.question.options)
    smallest = after.results.whole.expected.minimum_expected
    assert f"smallest expected count then {smallest:.1f}" in remedy.label
    # Categories are put together for what they mean, not for the p they give.
    assert "p =" not in remedy.label
    assert smallest > 5


def test_several_explanatory_variables() -> None:
    tables = [[[30, 60], [20, 90]], [[12, 30], [10, 44]]]
    given = ask_strata(tables, within=[], vary_with=[{"variable": "row"}, {"variable": "stratum"}])
    assert [each.variable for each in given.results.several] == ["row", "stratum"]
    test = given.results.whole.test
    assert given.results.several[0].test == test
    assert given.results.several[0].p_holm >= test.p


@pytest.mark.parametrize("adjust", ["none", "bonferroni", "benjamini_hochberg", "holm"])
def test_residuals_allow_for_cells_as_asked(adjust: str) -> None:
    given = ask(RECAST[:3], options=cross(adjust=adjust))
    p = np.array(given.results.whole.adjusted_residuals_p).ravel()
    expected = {
        "none": p,
        "bonferroni": np.minimum(1, 9 * p),
        "benjamini_hochberg": stats.false_discovery_control(p),
    }
    found = np.array(given.results.whole.adjusted_residuals_p_adjusted).ravel()
    if adjust in expected:
        np.testing.assert_allclose(found, expected[adjust], rtol=1e-12)
    assert len(given.opened.where.pairwise) == 3
    assert given.opened.where.ranked[0].endswith("than expected")


def test_ordered_pairs_are_led_by_a_measure_of_order() -> None:
    leading = [each.key for each in ask(RECAST).opened.measures.measures if each.leads]
    assert leading == ["somers_d_column_given_row"]
    assert any("Somers" in figure.label for figure in ask(RECAST).reading.figures)


def test_large_tables_have_no_pairs_and_draw_few() -> None:
    random = np.random.default_rng(2)
    given = ask(random.integers(0, 6, (50, 50)).tolist())
    whole = given.results.whole
    assert whole.exact is not None
    assert whole.exact.method == "monte_carlo"
    assert given.opened.where.pairwise == ()
    assert given.opened.map is not None


def test_one_row_or_all_in_one_cell_is_refused() -> None:
    for table in ([[3, 4, 5]], [[7, 0], [0, 0]]):
        with pytest.raises(QuestionError, match=r"nothing to compare|same answer"):
            ask(table)


small = st.integers(2, 3).flatmap(
    lambda columns: st.lists(
        st.lists(st.integers(0, 5), min_size=columns, max_size=columns), min_size=2, max_size=3
    )
)


@settings(deadline=None, max_examples=60)
@given(small)
def test_the_exact_test_by_complete_enumeration(cells: list[list[int]]) -> None:
    table = np.array(cells, dtype=np.float64)
    if not table.sum(axis=0).all() or not table.sum(axis=1).all():
        return
    found = exact.fisher_freeman_halton(table)
    each = np.array(list(every_probability(table.astype(int))))
    assert each.sum() == pytest.approx(1, rel=1e-9)
    observed = found.observed_probability
    expected = each[each <= observed * (1 + 1e-7)].sum()
    assert found.p == pytest.approx(min(1.0, expected), rel=1e-9)
    tied = each[np.abs(each - observed) <= observed * 1e-7].sum()
    assert found.mid_p == pytest.approx(min(1.0, expected - tied / 2), rel=1e-9)


def every_probability(table: np.ndarray) -> Any:
    """The probability of every table with these margins, by brute force."""
    law = stats.random_table(table.sum(axis=1), table.sum(axis=0))
    rows = len(table)

    def fill(i: int, left: np.ndarray, done: list[list[int]]) -> Any:
        if i == rows - 1:
            yield float(law.pmf(np.array([*done, left])))
            return
        for way in compositions(int(table[i].sum()), left.tolist()):
            yield from fill(i + 1, left - np.array(way), [*done, way])

    yield from fill(0, table.sum(axis=0), [])


def compositions(total: int, most: list[int]) -> Any:
    if len(most) == 1:
        if total <= most[0]:
            yield [total]
        return
    for x in range(min(total, most[0]) + 1):
        for rest in compositions(total - x, most[1:]):
            yield [x, *rest]


def test_the_exact_test_gives_up_in_good_time() -> None:
    table = np.full((8, 8), 40.0)
    with pytest.raises(exact.TooLarge):
        exact.fisher_freeman_halton(table)


grids = st.integers(2, 5).flatmap(
    lambda columns: st.lists(
        st.lists(st.integers(1, 40), min_size=columns, max_size=columns), min_size=2, max_size=5
    )
)


@given(grids)
def test_directed_measures_turn_with_the_table(cells: list[list[int]]) -> None:
    table = np.array(cells, dtype=np.float64)
    for measures in (
        association.ordinal_measures,
        association.lambda_measures,
        association.tau_and_uncertainty,
    ):
        mine, turned = measures(table), measures(table.T)
        for key, measure in mine.items():
            other = turned[_turned(key)]
            assert (measure is None) == (other is None)
            if measure is not None and other is not None:
                assert measure.value == pytest.approx(other.value, rel=1e-9, abs=1e-12)
                if "lambda" not in key:  # a tie of modes is broken by position
                    assert measure.ase == pytest.approx(other.ase, rel=1e-7, abs=1e-9)


def _turned(key: str) -> str:
    if "column_given_row" in key:
        return key.replace("column_given_row", "row_given_column")
    return key.replace("row_given_column", "column_given_row")


@given(grids)
def test_reversing_an_order_changes_the_sign_only(cells: list[list[int]]) -> None:
    table = np.array(cells, dtype=np.float64)
    mine, reversed_ = association.ordinal_measures(table), association.ordinal_measures(table[::-1])
    for key, measure in mine.items():
        other = reversed_[key]
        if measure is not None and other is not None:
            assert measure.value == pytest.approx(-other.value, rel=1e-9, abs=1e-12)
    tau = mine["kendall_tau_b"]
    expanded = np.array(
        [(i, j) for i, row in enumerate(cells) for j, n in enumerate(row) for _ in range(n)]
    )
    theirs = stats.kendalltau(expanded[:, 0], expanded[:, 1]).statistic
    assert tau is not None
    assert tau.value == pytest.approx(theirs, rel=1e-9, abs=1e-12)


@settings(deadline=None)
@given(st.lists(st.lists(st.integers(1, 30), min_size=4, max_size=4), min_size=2, max_size=4))
def test_without_interaction_strata_are_the_same_everywhere(cells: list[list[int]]) -> None:
    tables = np.array(cells, dtype=np.float64).reshape(-1, 2, 2)
    # Every stratum with the same odds ratio: a / b : c / d kept by scaling rows of the first.
    same = np.stack([tables[0] * np.array([[k], [k + 1]]) for k in range(1, len(tables) + 1)])
    pooled = stratified.mantel_haenszel_odds_ratio(same, 0.95)
    assert pooled is not None
    found = stratified.breslow_day(same, pooled.estimate)
    assert found is not None
    assert found.plain.statistic == pytest.approx(0, abs=1e-6)
    three = stratified.three_way_interaction(same)
    assert three is not None
    assert three.statistic == pytest.approx(0, abs=1e-6)
    # For 2x2 tables it is the model's counterpart of Breslow-Day: the same degrees of freedom.
    assert three.df == found.plain.df


@pytest.mark.parametrize("scale", [1, 1000, 20_000])
def test_exact_inference_of_large_tables_meets_the_usual(scale: int) -> None:
    table = scale * np.array([[24.0, 26.0], [23.0, 27.0]])
    exact_ratio = exact_two_by_two.conditional_odds_ratio(table, 0.95)
    usual = two_by_two.odds_ratio(table, 0.95)
    assert exact_ratio.estimate == pytest.approx(usual.estimate, rel=0.03 / scale)
    if scale > 1:
        assert usual.ci is not None
        assert exact_ratio.exact_ci.low == pytest.approx(usual.ci.low, rel=1e-3)
    found = exact_two_by_two.fisher_exact(table)
    theirs = stats.fisher_exact(table.astype(int))
    assert found.two_sided == pytest.approx(theirs.pvalue, rel=1e-8, abs=1e-300)
    sides = found.less + found.greater - found.observed_table_probability
    assert sides == pytest.approx(1, rel=1e-9)


def test_asking_for_what_is_too_many_says_that_tables_were_drawn() -> None:
    random = np.random.default_rng(4)
    table = random.integers(5, 60, (7, 7)).tolist()
    given = ask(table, options=cross(exact="enumerate"))
    assert given.results.whole.exact.method == "monte_carlo"
    assert given.opened.exact.drawn_instead
