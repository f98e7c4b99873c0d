"""Answers side by side: aligned, told apart in words, and tested only where people are different."""

import math
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from scipy import stats

import hobrix
from core.parts import part
from hobrix.core.data import Cases, Frame
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Question, answer
from hobrix.core.questions.comparing import SideBySide, compare
from hobrix.core.questions.other_people import Asked

DEMO = Path(__file__).parents[2] / "src/hobrix/web/demo"


def people(seed: int = 4, n: int = 900) -> pd.DataFrame:
    random = np.random.default_rng(seed)
    source = random.choice(["piped", "well", "river"], n)
    odds = -1.0 + 0.8 * (source == "river")
    return pd.DataFrame(
        {
            "ill": np.where(random.random(n) < 1 / (1 + np.exp(-odds)), "yes", "no"),
            "source": source,
            "town": random.choice(["Norrin", "Vale", "Port"], n),
            "sex": random.choice(["man", "woman"], n),
            "village": random.integers(1, 20, n),
        }
    )


FRAME = part(people()).frame
OTHER = part(people(9, 700)).frame


def asked(frame: Frame = FRAME, data: str = "one", title: str = "", **changes: Any) -> Asked:
    fields = {
        "lens": "proportions",
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "source", "reference": "piped"}],
        **changes,
    }
    question = Question.model_validate(fields)
    return Asked(question, frame, title or data, data, frozenset({data}))


def among(town: str) -> dict[str, Any]:
    return {"all": [{"variable": "town", "is": [town]}]}


def row(found: SideBySide, measure: str, label: str) -> Any:
    return next(each for each in found.rows if (each.measure, each.label) == (measure, label))


RIVER = "source: river against piped"


def test_other_people_are_tested_by_the_limits_of_both() -> None:
    found = compare([asked(), asked(OTHER, "two")])
    share = row(found, "share", "source: river")
    table = [people(), people(9, 700)]
    cells = [each[each["source"] == "river"]["ill"].eq("yes") for each in table]
    assert [cell.estimate for cell in share.cells] == pytest.approx([c.mean() for c in cells])
    # Of Wilson's limits these are Newcombe's, method 10.
    p, n = [c.mean() for c in cells], [len(c) for c in cells]
    wilson = [stats.binomtest(int(c.sum()), len(c)).proportion_ci(0.95, "wilson") for c in cells]
    d = p[1] - p[0]
    low = d - math.hypot(p[1] - wilson[1].low, wilson[0].high - p[0])
    high = d + math.hypot(wilson[1].high - p[1], p[0] - wilson[0].low)
    contrast = share.contrasts[1]
    assert contrast.estimate == pytest.approx(d, rel=1e-12)
    assert contrast.ci == pytest.approx((low, high), rel=1e-9)
    assert contrast.is_apart == (low > 0 or high < 0)
    assert [cell.n for cell in share.cells] == n


def test_odds_ratios_of_other_people_have_a_quotient_with_limits() -> None:
    found = compare([asked(among=among("Norrin")), asked(among=among("Port"))])
    odds = row(found, "odds ratio", RIVER)
    logs, variances = [], []
    for town in ("Norrin", "Port"):
        table = people().query(f"town == '{town}'")
        counts = pd.crosstab(table["source"], table["ill"]).loc[["river", "piped"], ["yes", "no"]]
        a, b, c, d = counts.to_numpy().ravel()
        logs.append(math.log(a * d / (b * c)))
        variances.append(1 / a + 1 / b + 1 / c + 1 / d)
    gap, error = logs[1] - logs[0], stats.norm.ppf(0.975) * math.sqrt(sum(variances))
    assert odds.contrasts[1].estimate == pytest.approx(math.exp(gap), rel=1e-9)
    limits = (math.exp(gap - error), math.exp(gap + error))
    assert odds.contrasts[1].ci == pytest.approx(limits, rel=1e-9)
    assert found.answers[0].differs == ("among town: Norrin",)


def test_the_same_number_stands_beside_itself_from_three_lenses() -> None:
    lenses = ["crosstab", "proportions", "odds"]
    found = compare([asked(lens=lens, title=lens) for lens in lenses])
    cells = row(found, "odds ratio", RIVER).cells
    assert [cell.estimate for cell in cells] == pytest.approx([cells[0].estimate] * 3, rel=1e-9)
    assert [each.differs for each in found.answers] == [
        ("Crosstab",),
        ("Proportions",),
        ("Odds model",),
    ]


def test_crude_against_adjusted_is_a_change_and_no_test() -> None:
    adjusted = asked(lens="odds", allowing_for=[{"variable": "sex"}])
    found = compare([asked(lens="odds"), adjusted])
    contrast = row(found, "odds ratio", RIVER).contrasts[1]
    assert contrast.ci is None
    assert contrast.says == "the same people: shown as change, not tested"
    assert [each.differs for each in found.answers] == [
        ("allows for nothing",),
        ("allows for sex",),
    ]


def test_people_in_both_and_clusters_in_both_are_not_taken_as_independent() -> None:
    some = asked(among={"any": [*among("Norrin")["all"], *among("Vale")["all"]]})
    found = compare([some, asked(among=among("Vale"))])
    assert "rows are in both" in row(found, "share", "source: river").contrasts[1].says
    design: dict[str, Any] = {"counted_by": {"kind": "design", "clusters": "village"}}
    two = [asked(among=among(town), **design) for town in ("Norrin", "Vale")]
    assert "the same clusters" in row(compare(two), "share", "source: river").contrasts[1].says
    frame = Frame(
        rows=FRAME.rows,
        variables=FRAME.variables,
        load=FRAME.load,
        source=FRAME.source,
        cases=Cases(rows="several", case="village"),
    )
    two = [asked(frame, among=among(town)) for town in ("Norrin", "Vale")]
    assert "the same clusters" in row(compare(two), "share", "source: river").contrasts[1].says
    linked = Asked(asked(OTHER).question, OTHER, "made", "made", frozenset({"made", "one"}))
    says = row(compare([asked(), linked]), "share", "source: river").contrasts[1].says
    assert "may hold the same rows" in says


@pytest.mark.parametrize(
    ("changes", "why", "offer"),
    [
        (
            {"outcome": {"variable": "ill", "event": ["no"]}},
            "the event is “no” (ill) there",
            "Ask about “yes” (ill)",
        ),
        (
            {"vary_with": [{"variable": "source", "reference": "well"}]},
            "against another reference",
            "Take the reference of",
        ),
        (
            {"vary_with": [{"variable": "sex"}]},
            "does not vary with source there",
            "Vary with source",
        ),
        ({"lens": "odds"}, "no share in that lens", "Ask through the lens of"),
    ],
)
def test_what_cannot_stand_there_says_why_and_what_could(
    changes: dict[str, Any], why: str, offer: str
) -> None:
    other = asked(OTHER, "two", **changes)
    found = compare([asked(title="first"), other])
    label, measure = ("source: river", "share") if "lens" in changes else (RIVER, "odds ratio")
    cell = row(found, measure, label).cells[1]
    assert cell.estimate is None
    assert why in cell.why_not
    assert cell.offer is not None
    assert cell.offer.label.startswith(offer)
    mended = Asked(cell.offer.question, OTHER, "two", "two", frozenset({"two"}))
    assert row(compare([asked(), mended]), measure, label).cells[1].estimate is not None


def test_an_answer_that_is_none_says_why_and_the_others_stand() -> None:
    nobody = asked(among={"all": [{"variable": "town", "missing": True}]}, title="nobody")
    found = compare([asked(), nobody])
    assert "No row is left" in (found.answers[1].why_not or "") or found.answers[1].why_not
    assert row(found, "odds ratio", RIVER).cells[1].why_not == "no answer"


def test_intervals_of_other_levels_are_not_tested_together() -> None:
    found = compare([asked(), asked(OTHER, "two", confidence=0.9)])
    contrast = row(found, "odds ratio", RIVER).contrasts[1]
    assert contrast.ci is None
    assert "different levels" in contrast.says


@pytest.mark.parametrize("many", [0, 1, 9])
def test_two_to_eight_are_compared(many: int) -> None:
    with pytest.raises(QuestionError, match="Choose 2 to 8 answers"):
        compare([asked()] * many)


def test_nested_models_of_the_same_people_are_tested_by_their_likelihoods() -> None:
    import statsmodels.api as sm

    larger = asked(lens="odds", allowing_for=[{"variable": "sex"}, {"variable": "town"}], title="b")
    (found,) = compare([asked(lens="odds", title="a"), larger]).nested
    assert (found.smaller, found.larger) == (0, 1)
    table = people()
    y = table["ill"].eq("yes").astype(float)

    def value(*names: str) -> float:
        dummies = pd.get_dummies(table[list(names)], drop_first=True, dtype=float)
        return float(sm.Logit(y, sm.add_constant(dummies)).fit(disp=0, tol=1e-12).llf)

    statistic = 2 * (value("source", "sex", "town") - value("source"))
    assert found.test is not None
    assert (found.test.statistic, found.test.df) == (pytest.approx(statistic, rel=1e-9), 3)
    assert found.test.p == pytest.approx(stats.chi2.sf(statistic, 3), rel=1e-7)
    assert "“b” has sex and town besides: likelihood-ratio χ²(3" in found.says


def test_nested_models_of_other_people_are_not() -> None:
    table = people()
    table.loc[:40, "sex"] = ""
    frame = part(table).frame
    larger = asked(frame, lens="odds", allowing_for=[{"variable": "sex"}], title="b")
    (found,) = compare([asked(frame, lens="odds", title="a"), larger]).nested
    assert found.test is None
    assert "rest on different people" in found.says
    assert compare([asked(), asked(OTHER, "two")]).nested == ()


def test_nested_models_under_a_design_are_tested_by_wald_as_the_larger_tests_its_terms() -> None:
    frame = hobrix.read(DEMO / "ostra-round-1.csv", DEMO / "ostra-round-1.codebook.json").frame
    among = {"all": [{"variable": "age", "low": 0, "high": 120}]}
    design = {"kind": "design", "weights": "weight", "strata": "district", "clusters": "village"}
    base = {
        "lens": "odds",
        "outcome": {"variable": "ill"},
        "vary_with": [{"variable": "source"}],
        "counted_by": design,
        "among": among,
    }

    def item(title: str, **changes: object) -> Asked:
        question = Question.model_validate({**base, **changes})
        return Asked(question, frame, title, "one", frozenset({"one"}))

    more = [{"variable": "age"}]
    (found,) = compare([item("small"), item("large", allowing_for=more)]).nested
    assert found.test is not None
    whole = answer(Question.model_validate({**base, "allowing_for": more}), frame).results.whole
    age = next(term for term in whole.terms if term.variable == "age")
    assert age.test is not None
    assert (found.test.statistic, found.test.p) == (age.test.statistic, age.test.p)
    assert found.says.startswith("“large” has Age of head besides: adjusted Wald F(1, ")
    # Another design is another sample.
    other = {**design, "clusters": None}
    assert compare([item("small", counted_by=other), item("large", allowing_for=more)]).nested == ()


def test_a_question_that_is_not_finished_stands_beside_another_and_says_why() -> None:
    unfinished = Asked(Question(), FRAME, "unfinished", "one", frozenset({"one"}))
    models = asked(lens="odds"), asked(lens="odds", allowing_for=[{"variable": "sex"}])
    found = compare([unfinished, *models])
    assert found.answers[0].why_not
    assert [(each.smaller, each.larger) for each in found.nested] == [(1, 2)]


def test_models_of_another_kind_are_not_nested() -> None:
    """One likelihood of answers in order, and one in no order, are of different things."""

    def of_source(taken: str, **more: Any) -> Asked:
        return asked(
            lens="odds",
            outcome={"variable": "source"},
            vary_with=[{"variable": "town"}],
            options={"every_answer": {"taken": taken}},
            **more,
        )

    more = {"allowing_for": [{"variable": "sex"}]}
    (found,) = compare([of_source("in_order"), of_source("in_order", **more)]).nested
    assert found.test is not None
    assert found.test.df == 1
    (several,) = compare([of_source("in_no_order"), of_source("in_no_order", **more)]).nested
    assert several.test is not None
    assert several.test.df == 2
    assert compare([of_source("in_order"), of_source("in_no_order", **more)]).nested == ()
