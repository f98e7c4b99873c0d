"""The Proportions lens: agreement with the reference, bad input, edges, what it says."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats import power as sm_power
from statsmodels.stats.proportion import proportion_confint

from core.asking import categories, coded, counts_frame, refusal
from core.closeness import assert_agrees
from core.test_crosstab_depth import stratified_frame
from hobrix import figures
from hobrix.core.data import Coded, Frame, Measured, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer
from hobrix.core.tables import k_proportions, two_by_two
from reference_numbers import reference_cases

GROUPS = [case for case in reference_cases("proportions") if case["name"].startswith("k_")]
TWO_BY_TWO = [case for case in reference_cases("two_by_two") if "table" in case["input"]]


def ask(table: Any, reference: str = "r1", frame: Frame | None = None, **changes: Any) -> Answer:
    """Rows are groups; the first column is the event. ``options`` are those of the lens."""
    if "options" in changes:
        changes["options"] = {"proportions": changes["options"]}
    fields = {
        "lens": "proportions",
        "outcome": {"variable": "column", "event": ["c1"]},
        "vary_with": [{"variable": "row", "reference": reference}],
        "counted_by": {"kind": "counts", "variable": "n"},
        **changes,
    }
    return answer(Question.model_validate(fields), frame or counts_frame(table), panels=None)


@pytest.mark.parametrize("case", GROUPS, ids=lambda case: case["name"])
def test_groups_through_the_question(case: dict[str, Any]) -> None:
    x, n, expected = case["input"]["x"], case["input"]["n"], case["expected"]
    given = ask([[a, b - a] for a, b in zip(x, n, strict=True)])
    whole, tests = given.results.whole, given.opened.tests
    assert_agrees([group.share for group in whole.groups], expected["estimates"])
    assert_agrees(whole.overall.share, expected["overall"])
    for key in ("statistic", "df", "p"):
        mine = getattr(tests.chi_square_homogeneity, key)
        assert_agrees(mine, expected["chi_square_homogeneity"][key], key)
    arrays = np.array(x, dtype=np.float64), np.array(n, dtype=np.float64)
    pairs = k_proportions.pairwise(*arrays)
    for pair, theirs in zip(pairs, expected["pairwise"], strict=True):
        assert [i + 1 for i in pair.groups] == theirs["groups"]
        for key in ("statistic", "p", "holm", "bonferroni", "benjamini_hochberg"):
            assert_agrees(getattr(pair, key), theirs[key], key)
    if len(n) > 2:
        assert [pair.holm for pair in tests.pairwise] == [pair.holm for pair in pairs]
    theirs = expected.get("cochran_armitage_trend")
    if theirs is None:
        return
    # Two groups have a trend, but the screen need not say so beside the test of both.
    trend = k_proportions.trend(*arrays, np.arange(len(n), dtype=np.float64))
    if len(n) > 2:
        assert given.results.trend.cochran_armitage_trend.statistic == trend.statistic
    for key in ("statistic", "p_two_sided", "p_decreasing", "p_increasing"):
        assert_agrees(getattr(trend, key), theirs[key], key)
    rest = theirs.get("departure_from_trend")
    if rest is not None and rest["df"] > 0:
        for key in ("statistic", "df", "p"):
            assert_agrees(getattr(trend.departure_from_trend, key), rest[key], f"departure {key}")


@pytest.mark.parametrize("case", TWO_BY_TWO, ids=lambda case: case["name"])
def test_two_groups_through_the_question(case: dict[str, Any]) -> None:
    expected = case["expected"]
    given = ask(case["input"]["table"], reference="r2")
    only, tested = given.results.whole.comparisons[0], given.opened.tests.comparisons[0]
    difference = only.risk_difference
    assert difference.ci == difference.counted.newcombe_ci
    assert_agrees(list(difference.ci), expected["risk_difference"]["newcombe_ci_95"])
    for key in ("odds_ratio", "risk_ratio"):
        found, theirs = getattr(only, key), expected[key]
        mine = "Infinity" if found.estimate == np.inf else found.estimate
        assert_agrees(mine, theirs["estimate"], key)
        limits = theirs["ci_95"]
        assert_agrees(found.ci and list(found.ci), None if None in limits else limits, key)
    assert_agrees(tested.fisher_p, expected["fisher_exact"]["two_sided"])
    assert_agrees(tested.z_test.statistic, expected["z_test_two_proportions"]["statistic"])
    needed = "Infinity" if tested.number_needed == np.inf else tested.number_needed
    assert_agrees(needed, expected["number_needed"])


@pytest.mark.parametrize(
    ("options", "slot", "message"),
    [
        ({"margin": 0}, "margin", "difference of shares above 0"),
        ({"plan_n": 1}, "plan_n", "at least 2"),
        ({"plan_width": 0.9}, "plan_width", "below 50"),
        ({"share_interval": "guess"}, "share_interval", "wilson"),
        ({"standard": {"a": -1}}, "standard", "0 or more"),
    ],
)
def test_options_that_make_no_sense(options: dict[str, Any], slot: str, message: str) -> None:
    where, words = refusal(lambda: ask([[5, 10], [8, 9]], options=options))
    assert where == f"options.proportions.{slot}"
    assert message in words


def test_an_event_is_needed() -> None:
    with pytest.raises(QuestionError, match="choose which answer") as refused:
        ask([[5, 10], [8, 9]], outcome={"variable": "column"})
    assert refused.value.slot == "outcome"


def test_groups_with_none_all_one_and_nobody() -> None:
    given = ask([[0, 20], [15, 0], [7, 9], [1, 0], [0, 0]])
    whole = given.results.whole
    assert [g.n for g in whole.groups] == [20, 15, 16, 1]
    first = whole.comparisons[0]
    assert first.odds_ratio.estimate == np.inf
    assert first.odds_ratio.ci is None
    limits = given.results.closer_to(first.value).odds_ratio_exact_ci
    assert limits is not None
    assert limits[1] == np.inf
    ids = {check.id for check in given.checks}
    assert {"zero_cells", "empty_groups", "small_groups", "expected_counts"} <= ids
    assert "nan" not in given.model_dump_json().lower().replace("nanc", "")


def test_everybody_has_the_event_is_refused() -> None:
    with pytest.raises(QuestionError, match="same answer"):
        ask([[5, 0], [8, 0]])


def test_three_hundred_groups() -> None:
    random = np.random.default_rng(1)
    table = np.column_stack([random.integers(1, 30, 300), random.integers(20, 90, 300)]).tolist()
    variables = [
        Variable(name="row", kind="nominal", categories=categories("r", 300)),
        Variable(name="column", kind="nominal", categories=categories("c", 2)),
        Variable(name="n", kind="numeric"),
    ]
    cells = [(i, j, table[i][j]) for i in range(300) for j in range(2)]
    codes = coded([0] * 600, "r", 300)
    sources: dict[str, Any] = {
        "row": type(codes)(np.array([c[0] for c in cells], np.int16), codes.values),
        "column": coded([c[1] for c in cells], "c", 2),
        "n": Measured(np.array([float(c[2]) for c in cells]), np.full(600, -1, np.int8), ()),
    }
    given = ask(table, frame=Frame.of(variables, sources, 600))
    assert len(given.results.whole.groups) == 300
    assert given.opened.tests.pairwise == ()
    assert len(figures.of(given)["dots"]["data"]["values"]) == 300


def test_in_a_case_control_study_odds_lead() -> None:
    frame = stratified_frame([[[30, 60], [20, 90]], [[12, 30], [10, 44]]], "case_control")
    given = ask(None, reference="r2", frame=frame, within=["stratum"])
    assert given.results.leading == "odds_ratio"
    assert given.results.whole.comparisons[0].risk_difference is None
    assert given.results.standardised == ()
    assert "percentage points" not in given.reading.lead
    with pytest.raises(QuestionError, match="no margin"):
        ask(None, reference="r2", frame=frame, options={"margin": 0.1})


def test_a_rare_event_is_led_by_the_ratio() -> None:
    assert ask([[8, 900], [3, 880]]).results.leading == "risk_ratio"
    assert ask([[80, 90], [30, 88]]).results.leading == "risk_difference"


def test_standardised_shares_by_hand() -> None:
    tables = [[[10, 30], [5, 45]], [[30, 20], [6, 4]]]
    given = ask(None, reference="r2", frame=stratified_frame(tables), within=["stratum"])
    total = np.array(tables).sum(axis=(1, 2)) / np.array(tables).sum()
    expected = total @ np.array([10 / 40, 30 / 50]), total @ np.array([5 / 50, 6 / 10])
    for mine, theirs in zip(given.results.standardised, expected, strict=True):
        assert mine.share == pytest.approx(theirs, rel=1e-12)
        assert mine.ci[0] < mine.share < mine.ci[1]
    # Standardised to the first stratum alone, its own share comes back.
    stated = {"standard": {"s1": 3, "s2": 0}}
    one = ask(None, "r2", stratified_frame(tables), within=["stratum"], options=stated)
    assert one.results.standardised[0].share == pytest.approx(0.25)
    for wrong, message in (({"s9": 1}, "no stratum"), ({"s1": 0}, "All weights")):
        with pytest.raises(QuestionError, match=message):
            ask(
                None,
                "r2",
                stratified_frame(tables),
                within=["stratum"],
                options={"standard": wrong},
            )


def test_equivalence_is_shown_by_the_interval_only() -> None:
    large = ask([[500, 500], [505, 495]], options={"margin": 0.05}).opened.margin.within_margin[0]
    small = ask([[5, 5], [5, 5]], options={"margin": 0.05}).opened.margin.within_margin[0]
    assert large.is_shown
    assert not small.is_shown
    assert large.level == pytest.approx(0.9)
    expected = two_by_two.risk_difference(np.array([[505.0, 495], [500, 500]]), 0.9).newcombe_ci
    assert large.ci == expected
    one_sided = {"margin": 0.05, "aim": "not_below"}
    assert ask([[500, 500], [600, 400]], options=one_sided).opened.margin.within_margin[0].is_shown


def test_overlap_that_would_mislead_is_pointed_out() -> None:
    given = ask([[60, 140], [80, 120]])
    assert given.results.closer[0].overlap_misleads
    assert any("overlap does not show" in note for note in given.reading.notes)
    assert not ask([[20, 180], [120, 80]]).results.closer[0].overlap_misleads


@pytest.mark.parametrize("alternative", ["two_sided", "less", "greater"])
def test_the_statement_decides_as_the_test_does(alternative: str) -> None:
    given = ask([[60, 140], [90, 110]], options={"alternative": alternative})
    lines = {line.heading: line.text for line in given.opened.statement.lines}
    z = given.opened.tests.comparisons[0].z_test
    p = {"two_sided": z.p_two_sided, "less": z.p_less, "greater": z.p_greater}[alternative]
    assert lines["Decision"].startswith("Reject" if p < 0.05 else "Do not reject")
    assert "r2" in lines["Alternative"]
    if p >= 0.05:
        assert "not the same as showing there is none" in lines["Conclusion"]


shares = st.integers(2, 60).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n)))


@given(st.lists(shares, min_size=2, max_size=6))
def test_turning_the_event_round_turns_the_trend(groups: list[tuple[int, int]]) -> None:
    x, n = (np.array(column, dtype=np.float64) for column in zip(*groups, strict=True))
    scores = np.arange(len(n), dtype=np.float64)
    mine, turned = k_proportions.trend(x, n, scores), k_proportions.trend(n - x, n, scores)
    assert (mine is None) == (turned is None)
    if mine is not None and turned is not None:
        assert mine.statistic == pytest.approx(-turned.statistic, rel=1e-9, abs=1e-12)
        chi = k_proportions.homogeneity(x, n).statistic
        rest = 0.0 if mine.departure_from_trend is None else mine.departure_from_trend.statistic
        assert mine.statistic**2 + rest == pytest.approx(chi, rel=1e-9, abs=1e-9) or len(n) == 2


@given(st.floats(0.02, 0.98), st.floats(0.01, 0.2))
def test_the_least_n_for_a_width(share: float, half: float) -> None:
    n = k_proportions.needed_for_width(share, half, 0.95)

    def width(size: int) -> float:
        low, high = proportion_confint(share * size, size, method="wilson")
        return float(high - low) / 2

    assert width(n) <= half * (1 + 1e-9)
    assert n == 1 or width(n - 1) > half * (1 - 1e-9)


@given(st.floats(0.05, 0.95), st.floats(0.05, 0.95), st.integers(20, 2000))
def test_power_near_that_of_a_library(p1: float, p0: float, n: int) -> None:
    mine = k_proportions.power(p1, p0, n, 0.05)
    assert 0 <= mine <= 1
    # The library takes the same error under both hypotheses; the two meet where shares are close.
    if abs(p1 - p0) < 0.03:
        error = np.sqrt(2 * (p1 + p0) / 2 * (1 - (p1 + p0) / 2) / n)
        theirs = sm_power.normal_power((p1 - p0) / error, 1, 0.05, sigma=1.0)
        assert mine == pytest.approx(theirs, abs=0.01)


def test_pictures_show_the_groups() -> None:
    drawn = figures.of(ask([[60, 140], [90, 110]]))["dots"]["data"]["values"]
    assert [round(dot["estimate"], 6) for dot in drawn] == [30.0, 45.0]
    assert [dot["reference"] for dot in drawn] == [True, False]


def test_homogeneity_is_the_chi_square_of_the_table() -> None:
    table = [[18, 42], [25, 37], [39, 32]]
    mine = ask(table).opened.tests.chi_square_homogeneity
    theirs = stats.chi2_contingency(np.array(table), correction=False)
    assert (mine.statistic, mine.p) == pytest.approx((theirs.statistic, theirs.pvalue), rel=1e-9)


def test_pairs_of_the_same_people() -> None:
    case = next(c for c in reference_cases("two_by_two") if c["name"] == "paired_before_after")
    table, expected = case["input"]["paired_table"], case["expected"]
    answers = categories("c", 2)
    base = counts_frame(table)
    renamed = base.variables["row"].model_copy(update={"categories": answers})
    codes = base.source("row")
    assert isinstance(codes, Coded)
    sources: dict[str, Any] = {
        "row": Coded(codes.codes, ("c1", "c2")),
        "column": base.source("column"),
        "n": base.source("n"),
    }
    variables = [renamed, base.variables["column"], base.variables["n"]]
    frame = Frame.of(variables, sources, base.rows)
    found = ask(None, reference="c1", frame=frame).opened.paired
    assert_agrees(found.first_share, expected["marginal_proportions"]["row"])
    assert_agrees(found.second_share, expected["marginal_proportions"]["column"])
    theirs = expected["marginal_difference"]
    # Ours is second minus first, the reference's the other way.
    assert_agrees(found.difference, -theirs["estimate"])
    assert_agrees(found.standard_error, theirs["standard_error"])
    assert_agrees([-found.ci[1], -found.ci[0]], theirs["wald_ci_95"])
    assert_agrees(found.mcnemar.exact_p, expected["mcnemar"]["exact_p"])
    assert ask([[5, 6], [7, 8]]).opened.paired is None
