"""The Distribution lens: bad input in words, invariants, and what it says."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from core.asking import categories, coded, refusal
from hobrix import figures
from hobrix.core.data import Coded, Frame, Measured, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Answer, Question, answer, at_a_glance, screen
from hobrix.core.tables import goodness_of_fit, numeric_summary, one_proportion

ANSWERS = [0] * 30 + [1] * 50 + [2] * 15 + [-1] * 5
GROUP = [i % 2 for i in range(100)]
AGES = np.array([float(20 + i % 60) for i in range(98)] + [np.nan, np.nan])


def frame(**kinds: Any) -> Frame:
    words = np.full(100, -1, np.int8)
    words[99] = 0
    variables = [
        Variable(
            name="source", label="Water source", kind=kinds.get("source", "ordinal"),
            categories=categories("s", 4), event=kinds.get("event", ()),
        ),
        Variable(name="town", kind="nominal", categories=categories("t", 2)),
        Variable(name="other", kind="nominal", categories=categories("s", 4)),
        Variable(name="age", kind="numeric", unit="years"),
        Variable(name="silent", kind="nominal", categories=categories("x", 2)),
        Variable(name="note", kind="text"),
        Variable(name="same", kind="nominal", categories=categories("y", 2)),
    ]  # fmt: skip
    sources: dict[str, Any] = {
        "source": coded(ANSWERS, "s", 4),
        "town": coded(GROUP, "t", 2),
        "other": coded([i % 4 for i in range(100)], "s", 4),
        "age": Measured(AGES, words, ("old",)),
        "silent": coded([-1] * 100, "x", 2),
        "note": Coded(np.arange(100, dtype=np.int8), tuple(f"note {i}" for i in range(100))),
        "same": coded([0] * 100, "y", 2),
    }
    return Frame.of(variables, sources, 100)


def ask(outcome: str = "source", options: Any = None, **changes: Any) -> Answer:
    fields = {
        "lens": "distribution",
        "outcome": {"variable": outcome},
        "options": {"distribution": options or {}},
    }
    given = changes.pop("frame", None) or frame()
    return answer(Question.model_validate({**fields, **changes}), given, panels=None)


def stated(**shares: float) -> dict[str, Any]:
    return {"expected": {"kind": "stated", "shares": shares}}


BAD: list[tuple[dict[str, Any], str, str]] = [
    ({"options": stated(s1=-1, s2=1, s3=1, s4=1)}, "options.distribution.expected", "-1 for “s1” is no share"),
    ({"options": stated(s1=0, s2=0, s3=0, s4=0)}, "options.distribution.expected", "All shares are 0"),
    ({"options": stated(s1=50, s2=50)}, "options.distribution.expected", "No share is stated for “s3” and “s4”"),
    ({"options": stated(s1=1, s2=1, s3=0, s4=1)}, "options.distribution.expected", "Nobody is expected in “s3”"),
    ({"options": stated(s1=1, s2=1, s3=1, s4=1, s9=1)}, "options.distribution.expected", "“s9” is not an answer"),
    (
        {"options": {"expected": {"kind": "stated", "shares": {"s1": "half"}}}},
        "options.distribution.expected",
        "Expected shares must be numbers",
    ),
    ({"options": {"against": 1.2}}, "options.distribution.against", "between 0 and 100%"),
    ({"options": {"bin_width": -3}}, "options.distribution.bin_width", "above 0"),
    ({"options": {"share_interval": "guess"}}, "options.distribution.share_interval", "wilson"),
    (
        {"options": {"expected": {"kind": "variable", "variable": "town"}}},
        "options.distribution.expected",
        "town has no answer like",
    ),
    ({"outcome": "silent"}, "outcome", "Nobody counted answered silent"),
    ({"outcome": "nowhere"}, "outcome", "no variable called"),
    ({"outcome": "age", "options": {"expected": {"kind": "equal"}}}, "options.distribution.expected", "Band it"),
    ({"within": ["age"]}, "within", "numeric"),
]  # fmt: skip


@pytest.mark.parametrize(("changes", "slot", "message"), BAD)
def test_bad_input_is_refused_beside_its_slot(
    changes: dict[str, Any], slot: str, message: str
) -> None:
    where, words = refusal(lambda: ask(**changes))
    assert where == slot
    assert message in words


def test_an_empty_question_is_refused() -> None:
    with pytest.raises(QuestionError, match="Choose the outcome"):
        answer(Question(lens="distribution"), frame())
    with pytest.raises(QuestionError, match="Choose the outcome"):
        screen(Question(), frame())


def test_too_many_groups_are_refused() -> None:
    many = Variable(name="many", kind="nominal", categories=categories("m", 100))
    base = frame()
    codes = Coded(np.arange(100, dtype=np.int8), tuple(f"m{i + 1}" for i in range(100)))
    sources: dict[str, Any] = {name: base.source(name) for name in base.variables} | {"many": codes}
    wide = Frame.of([*base.variables.values(), many], sources, 100)
    with pytest.raises(QuestionError, match="up to 60 can be compared"):
        ask(within=["many"], frame=wide)


def test_shares_of_another_sum_are_scaled_and_it_is_said() -> None:
    ratios = ask(options=stated(s1=2, s2=4, s3=1, s4=1))
    percentages = ask(options=stated(s1=25, s2=50, s3=12.5, s4=12.5))
    fits = [a.results.variables[0].goodness_of_fit for a in (ratios, percentages)]
    assert fits[0].pearson == fits[1].pearson
    assert any("sum to 8; they were scaled" in note for note in ratios.reading.notes)
    assert not any("scaled" in note for note in percentages.reading.notes)


def test_shares_of_another_variable() -> None:
    given = ask(options={"expected": {"kind": "variable", "variable": "other"}})
    fit = given.results.variables[0].goodness_of_fit
    assert fit.expected_shares == (0.25, 0.25, 0.25, 0.25)
    assert "depart from the shares of the other variable, taken as known" in given.reading.lead
    assert "most in “s2”: 50, 26.2 more than expected" in given.reading.lead


def test_another_variable_with_answers_of_its_own_is_refused() -> None:
    base = frame()
    narrow = Variable(name="narrow", kind="nominal", categories=categories("s", 2))
    sources: dict[str, Any] = {name: base.source(name) for name in base.variables}
    sources["narrow"] = coded([i % 2 for i in range(100)], "s", 2)
    wide = Frame.of([*base.variables.values(), narrow], sources, 100)
    with pytest.raises(QuestionError, match="other is also answered “s3” and “s4”"):
        ask("narrow", {"expected": {"kind": "variable", "variable": "other"}}, frame=wide)


def test_a_share_against_a_stated_one_has_its_hypotheses_in_words() -> None:
    given = ask(
        frame=frame(event=("s2",)),
        options={"against": 0.4, "alternative": "greater", "share_interval": "clopper_pearson"},
    )
    share = given.results.variables[0].share
    assert (share.events, share.n) == (50, 95)
    assert share.tests.null == "The share of “s2” (Water source) is 40%."
    assert share.tests.alternative_in_words == "The share of “s2” (Water source) is above 40%."
    expected = stats.binomtest(50, 95, 0.4, alternative="greater")
    assert share.tests.exact_binomial_test.p_greater == pytest.approx(expected.pvalue, rel=1e-9)
    limits = stats.binomtest(50, 95).proportion_ci(method="exact")
    assert share.share_ci == pytest.approx((limits.low, limits.high), rel=1e-9)
    assert "**is above 40%**" in given.reading.lead


def test_the_strip_and_the_reasons_agree() -> None:
    given = ask("age")
    found = given.results.variables[0]
    assert [(m.code, m.count) for m in found.missing_breakdown] == [("", 1), ("old", 1)]
    assert (given.counted.in_subset, given.counted.counted) == (100, 98)
    assert sum(aside.n for aside in given.counted.set_aside) == 2


def test_numbers_are_grouped_when_long_and_listed_on_request() -> None:
    grouped = ask("age").opened.values
    assert grouped.grouped
    assert sum(row.count for row in grouped.table) == 98
    assert "to under" in grouped.table[0].label
    listed = ask("age", options={"all_values": True}).opened.values
    assert not listed.grouped
    assert len(listed.table) == listed.different == 60


def test_a_hundred_thousand_distinct_numbers() -> None:
    values = np.random.default_rng(3).lognormal(3, 1, 100_000)
    source = Measured(values, np.full(100_000, -1, np.int8), ())
    wide = Frame.of([Variable(name="x", kind="numeric")], {"x": source}, 100_000)
    given = ask("x", options={"all_values": True, "bin_width": 0.001}, frame=wide)
    found = given.results.variables[0]
    assert found.different == 100_000
    assert given.opened.values.grouped
    assert len(found.histogram.counts) <= 201
    assert sum(found.histogram.counts) == 100_000
    assert any(check.id == "skewed" and check.status == "care" for check in given.checks)


def test_within_each_gives_every_group_that_holds_somebody() -> None:
    given = ask(within=["town"])
    assert [s.label for s in given.results.strata] == ["town: t1", "town: t2"]
    parts = [s.outcome.n_answered for s in given.results.strata]
    assert sum(parts) == given.results.variables[0].n_answered


def test_other_variables_of_the_question_are_shown_too() -> None:
    given = ask(vary_with=[{"variable": "town"}, {"variable": "age"}])
    assert [v.variable for v in given.results.variables] == ["source", "town", "age"]
    assert given.next_steps[0].question.lens == "crosstab"


def test_free_text_lists_the_commonest_first() -> None:
    found = ask("note").results.variables[0]
    assert found.different == 100
    assert found.summary is None


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"outcome": "age"},
        {"outcome": "note"},
        {"outcome": "same"},
        {"frame": frame(event=("s2",)), "options": {"against": 0.5}},
        {"options": {"expected": {"kind": "equal"}, "share_interval": "wald"}},
        {"source": "nominal", "within": ["town"]},
    ],
)
def test_words_never_hold_what_is_not_a_number(changes: dict[str, Any]) -> None:
    changes.pop("source", None)
    given = ask(**changes)
    text = given.model_dump_json()
    assert "NaN" not in text
    said = [
        given.reading.lead,
        given.write_up,
        *given.reading.notes,
        *(c.text for c in given.checks),
    ]
    assert not any("nan" in words.split() or "None" in words for words in said)
    assert Answer.model_validate_json(text) == given


def test_pictures_draw_what_the_answer_says() -> None:
    given = ask(options={"expected": {"kind": "equal"}}, vary_with=[{"variable": "age"}])
    drawn = figures.of(given)
    assert set(drawn) == {"distribution:source", "distribution:age", "expected"}
    shares = [v["share"] for v in drawn["distribution:source"]["data"]["values"]]
    assert shares == [r.percent_of_answered for r in given.results.variables[0].table]
    observed = [v["observed"] for v in drawn["expected"]["data"]["values"]]
    assert observed == [30, 50, 15, 0]
    bins = drawn["distribution:age"]["layer"][0]["data"]["values"]
    assert sum(b["percent"] for b in bins) == pytest.approx(100)


def test_a_picture_of_many_answers_says_that_it_shows_only_the_first() -> None:
    variable = Variable(name="village", kind="nominal", categories=categories("v", 60))
    villages = coded([i % 60 for i in range(600)], "v", 60)
    many = Frame.of([variable], {"village": villages}, 600)
    drawn = figures.of(ask("village", frame=many))["distribution:village"]
    assert len(drawn["data"]["values"]) == 40
    title = drawn["layer"][0]["encoding"]["x"]["axis"]["title"]
    assert title[1] == "(the first 40 of 60 answers)"


def test_many_at_a_glance() -> None:
    found = {each.variable: each for each in at_a_glance(Question(), frame())}
    assert "note" not in found
    assert found["source"].n_missing == 5
    assert found["source"].test.df == 3
    assert found["age"].middle == pytest.approx(np.nanmedian(AGES))
    assert found["age"].test is None
    assert found["silent"].test is None
    assert found["source"].p_holm >= found["source"].p_benjamini_hochberg >= found["source"].test.p
    named = at_a_glance(Question(), frame(), ["town", "source"])
    assert [each.variable for each in named] == ["town", "source"]


def test_many_against_stated_shares() -> None:
    found = {e.variable: e for e in at_a_glance(Question(), frame(), shares=[1, 1, 1, 1])}
    equal = {e.variable: e for e in at_a_glance(Question(), frame())}
    assert found["source"].test == equal["source"].test
    assert found["town"].test is None
    two = {e.variable: e for e in at_a_glance(Question(), frame(), shares=[30, 70])}
    assert two["town"].test.statistic == pytest.approx(stats.chisquare([50, 50], [30, 70])[0])
    for wrong in ([1], [1, -1], [0, 1], [1, float("inf")]):
        with pytest.raises(QuestionError, match="each above 0"):
            at_a_glance(Question(), frame(), shares=wrong)


def test_screening_ranks_by_strength_and_passes_over_what_cannot_be_compared() -> None:
    base = frame()
    twin = Variable(name="twin", kind="nominal", categories=categories("w", 4))
    sources: dict[str, Any] = {name: base.source(name) for name in base.variables}
    sources["twin"] = coded(ANSWERS, "w", 4)
    wider = Frame.of([*base.variables.values(), twin], sources, 100)
    found = screen(Question.model_validate({"outcome": {"variable": "source"}}), wider)
    assert found.related[0].variable == "twin"
    assert found.related[0].cramers_v == pytest.approx(1)
    assert found.looked_at == len(found.related) == 4
    assert found.passed_over == 3  # silent, note and same
    assert next(r for r in found.related if r.variable == "age").banded
    table = [[sum(a == i and g == j for a, g in zip(ANSWERS, GROUP, strict=True)) for j in (0, 1)] for i in range(3)]  # fmt: skip
    town = next(r for r in found.related if r.variable == "town")
    expected = stats.chi2_contingency(np.array(table), correction=False)
    assert town.test.statistic == pytest.approx(expected.statistic, rel=1e-9)
    p = sorted(r.test.p for r in found.related)
    rank = p.index(town.test.p)
    assert town.p_holm == pytest.approx(min(1, max((4 - i) * p[i] for i in range(rank + 1))))


counts = st.lists(st.integers(0, 8), min_size=2, max_size=4).filter(lambda c: sum(c) > 0)


@given(counts, st.data())
def test_the_exact_multinomial_p_by_brute_force(observed: list[int], data: st.DataObject) -> None:
    shares = data.draw(st.lists(st.integers(1, 5), min_size=len(observed), max_size=len(observed)))
    found = goodness_of_fit.exact_multinomial(np.array(observed, float), np.array(shares, float))
    law = stats.multinomial(sum(observed), np.array(shares) / sum(shares))
    ways = [
        way for way in np.ndindex(*[sum(observed) + 1] * len(observed)) if sum(way) == sum(observed)
    ]
    each = law.pmf(np.array(ways))
    expected = each[each <= law.pmf(observed) * (1 + 1e-7)].sum()
    assert found is not None
    assert found.number_of_outcomes == len(ways)
    assert found.p == pytest.approx(min(1, expected), rel=1e-9)


@given(
    st.integers(1, 400).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n))),
    st.floats(0.01, 0.99),
)
def test_the_exact_binomial_test_against_a_library(case: tuple[int, int], p: float) -> None:
    x, n = case
    mine = one_proportion.exact_binomial_test(x, n, p)
    for alternative, value in (
        ("two-sided", mine.p_two_sided),
        ("less", mine.p_less),
        ("greater", mine.p_greater),
    ):
        side: Any = alternative
        theirs = stats.binomtest(x, n, p, alternative=side).pvalue
        assert value == pytest.approx(theirs, rel=1e-9)


numbers = st.lists(
    st.one_of(st.integers(-50, 50).map(float), st.floats(-1e6, 1e6)), min_size=1, max_size=60
)


@given(numbers)
def test_every_number_falls_into_one_bin(values: list[float]) -> None:
    found = numeric_summary.distinct(np.array(values))
    bins = numeric_summary.histogram(found)
    assert bins.counts.sum() == len(values)
    assert bins.edges[0] <= min(values)
    assert bins.edges[-1] >= max(values)
    assert len(bins.counts) <= 60


@given(numbers, st.floats(0, 1))
def test_quantiles_are_those_of_the_library(values: list[float], share: float) -> None:
    found = numeric_summary.distinct(np.array(values))
    theirs = np.quantile(np.array(values), share)
    assert numeric_summary.quantile(found, share) == pytest.approx(theirs, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize("values", [[0.0, 5e-324], [0.0, 1.03e-270], [1e15, 1e15 + 1]])
def test_numbers_that_are_all_but_equal(values: list[float]) -> None:
    found = numeric_summary.distinct(np.array(values))
    summary = numeric_summary.summarise(found)
    assert summary.min <= summary.median <= summary.max
    assert numeric_summary.histogram(found).counts.sum() == 2


@given(numbers)
def test_moments_are_those_of_the_library(values: list[float]) -> None:
    mine = numeric_summary.summarise(numeric_summary.distinct(np.array(values)))
    assert mine.mean == pytest.approx(np.mean(values), rel=1e-9, abs=1e-9)
    if len(values) > 1:
        assert mine.sd == pytest.approx(np.std(values, ddof=1), rel=1e-6, abs=1e-9)
