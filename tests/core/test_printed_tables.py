"""Answers as papers print them: the numbers are those of the data, worked out another way; directions
are said; every number has a name of its own; and it is written in the style asked for."""

import json
import re
from math import exp
from pathlib import Path
from typing import Any

import pandas as pd
import pytest
import statsmodels.formula.api as smf
from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

import hobrix
from hobrix.core.data import Frame
from hobrix.core.questions import Question
from hobrix.core.questions.number_style import NumberStyle, written_in
from hobrix.core.questions.printed import Table, text_of
from hobrix.core.report.answers import Printed, print_answer, print_characteristics

DEMO = Path(__file__).parents[2] / "src/hobrix/web/demo"
RIVER: dict[str, Any] = {"variable": "source"}


@pytest.fixture(scope="module")
def frame() -> Frame:
    return hobrix.read(DEMO / "ostra-round-1.csv", DEMO / "ostra-round-1.codebook.json").frame


@pytest.fixture(scope="module")
def people() -> pd.DataFrame:
    """The same file as pandas reads it, missing codes left out."""
    read = pd.read_csv(DEMO / "ostra-round-1.csv", dtype=str)
    codebook = json.loads((DEMO / "ostra-round-1.codebook.json").read_text())
    for variable in codebook["variables"]:
        if variable["name"] in ("ill", "source", "age", "income", "weight"):
            missing = [code["value"] for code in variable.get("missing", [])]
            text = read[variable["name"]].replace(missing, None)
            read[variable["name"]] = pd.to_numeric(text, errors="coerce")
    return read


def printed(frame: Frame, **asked: Any) -> Printed:
    question = Question.model_validate({"outcome": {"variable": "ill"}, **asked})
    with written_in(NumberStyle()):
        return print_answer(question, frame)


def value(given: Printed, key: str) -> Any:
    number = given.number(key)
    assert number is not None, key
    return number.limits if number.limits is not None else number.value


def words(table: Table) -> str:
    rows = [" | ".join(text_of(cell) for cell in row.cells) for row in table.rows]
    return "\n".join([table.title, *(c.heading for c in table.columns), *rows, *table.notes])


def test_the_event_by_group_is_what_pandas_and_statsmodels_count(
    frame: Frame, people: pd.DataFrame
) -> None:
    both = people.dropna(subset=["ill", "source"])
    n = pd.crosstab(both.source, both.ill)
    given = printed(frame, lens="crosstab", vary_with=[RIVER])
    for source, label in ((1, "Piped"), (4, "River")):
        events, of = n.loc[source, 1], n.loc[source].sum()
        assert value(given, f"event/{source}/events") == events
        assert value(given, f"event/{source}/n") == of
        assert value(given, f"event/{source}/share") == pytest.approx(events / of, rel=1e-12)
        low, high = proportion_confint(events, of, method="wilson")
        limits = value(given, f"event/{source}/share/ci")
        assert limits == pytest.approx((low, high), rel=1e-9)
        assert f"{label} | {events} | {of} |" in words(given.tables[0])
    river, piped = n.loc[4], n.loc[1]
    odds = river[1] * piped[0] / (river[0] * piped[1])
    assert value(given, "event/4/odds_ratio") == pytest.approx(odds, rel=1e-12)
    difference = confint_proportions_2indep(
        river[1], river.sum(), piped[1], piped.sum(), method="newcomb", compare="diff"
    )
    assert value(given, "event/4/difference/ci") == pytest.approx(difference, rel=1e-8)
    assert value(given, "flow/counted") == len(both)
    assert value(given, "flow/surveyed") == len(people)


def test_percentages_of_the_table_run_within_rows_and_the_table_says_so(
    frame: Frame, people: pd.DataFrame
) -> None:
    both = people.dropna(subset=["ill", "source"])
    shares = pd.crosstab(both.source, both.ill, normalize="index")
    given = printed(frame, lens="crosstab", vary_with=[RIVER])
    table = next(table for table in given.tables if table.name == "table")
    for source in range(1, 6):
        for ill in (0, 1):
            share = value(given, f"table/{source}/{ill}/share")
            assert share == pytest.approx(shares.loc[source, ill], rel=1e-12)
    assert "Percentages run within each row (Water source)." in table.notes


def test_a_model_is_the_one_statsmodels_fits_unadjusted_and_adjusted(
    frame: Frame, people: pd.DataFrame
) -> None:
    given = printed(
        frame,
        lens="odds",
        vary_with=[RIVER],
        allowing_for=[{"variable": "age", "per": 10}],
    )
    whole = people.dropna(subset=["ill", "source", "age"])
    assert value(given, "worth/n") == len(whole)
    assert value(given, "worth/events") == whole.ill.sum()
    adjusted = smf.logit("ill ~ C(source) + I(age / 10)", whole).fit(disp=0, tol=1e-12)
    alone = smf.logit("ill ~ C(source)", whole).fit(disp=0, tol=1e-12)
    for source in (2, 3, 4, 5):
        key, name = f"model/source/{source}/", f"C(source)[T.{source}.0]"
        assert value(given, f"{key}/odds_ratio") == pytest.approx(
            exp(adjusted.params[name]), rel=1e-7
        )
        assert value(given, f"{key}/unadjusted") == pytest.approx(exp(alone.params[name]), rel=1e-7)
        low, high = adjusted.conf_int().loc[name]
        assert value(given, f"{key}/odds_ratio/ci") == pytest.approx(
            (exp(low), exp(high)), rel=1e-6
        )
        assert value(given, f"{key}/p") == pytest.approx(
            adjusted.pvalues[name], rel=1e-5, abs=1e-12
        )
    assert value(given, "worth/mcfadden") == pytest.approx(adjusted.prsquared, rel=1e-7)
    shared = words(given.tables[0])
    assert "Piped (reference)" in shared
    assert "Event: “Yes” (Stomach illness)" in shared
    assert "Sorted rightly" in shared
    assert "Hosmer–Lemeshow" in shared
    assert "(Cox and Snell)" in shared
    assert "(Nagelkerke)" in shared


def test_under_a_design_counts_are_cases_and_percentages_weighted(
    frame: Frame, people: pd.DataFrame
) -> None:
    design = {"kind": "design", "weights": "weight", "strata": "district", "clusters": "village"}
    given = printed(frame, lens="distribution", counted_by=design)
    answered = people.dropna(subset=["ill"])
    share = (answered.ill * answered.weight).sum() / answered.weight.sum()
    assert value(given, "frequencies/ill/1/n") == answered.ill.sum()
    assert value(given, "frequencies/ill/1/share") == pytest.approx(share, rel=1e-12)
    table = given.tables[0]
    assert table.notes[0].startswith("n counts cases; percentages are weighted.")
    assert "60 clusters in 5 strata" in table.notes[-1]


def test_the_first_table_lists_what_varies_and_what_is_allowed_for(
    frame: Frame, people: pd.DataFrame
) -> None:
    question = Question.model_validate(
        {
            "lens": "odds",
            "outcome": {"variable": "ill"},
            "vary_with": [RIVER],
            "allowing_for": [{"variable": "age"}],
        }
    )
    table = print_characteristics(question, frame, "outcome", "mean", tests=True)
    whole = people.dropna(subset=["ill", "age"])
    ill = whole.age[whole.ill == 1]
    shown = words(table)
    assert f"{ill.mean():.1f} ({ill.std():.1f})" in shown
    assert "n (%), percentages down each column; mean (SD)." in table.notes
    assert "p from chi-square and ANOVA." in table.notes


ASKED: list[dict[str, Any]] = [
    {"lens": "crosstab", "vary_with": [RIVER]},
    {"lens": "proportions", "vary_with": [RIVER]},
    {"lens": "distribution"},
    {"lens": "distribution", "outcome": {"variable": "income"}},
    {"lens": "crosstab", "outcome": {"variable": "boil"}, "vary_with": [{"variable": "trust"}]},
    {"lens": "odds", "vary_with": [RIVER], "allowing_for": [{"variable": "income"}]},
    {
        "lens": "odds",
        "vary_with": [{"variable": "flooded"}, {"variable": "flooded", "with": "district"}],
        "allowing_for": [{"variable": "district"}],
    },
    {
        "lens": "odds",
        "outcome": {"variable": "trust"},
        "vary_with": [RIVER],
        "allowing_for": [{"variable": "age"}],
    },
    {
        "lens": "odds",
        "outcome": {"variable": "source"},
        "vary_with": [{"variable": "flooded"}],
        "allowing_for": [{"variable": "age"}],
        "confidence": 0.9,
    },
]


@pytest.mark.parametrize("asked", ASKED, ids=lambda asked: f"{asked['lens']}-{len(asked)}")
def test_every_number_has_a_name_of_its_own_and_stands_in_its_table(
    frame: Frame, asked: dict[str, Any]
) -> None:
    given = printed(frame, **asked)
    for table in (*given.tables, given.flow):
        keys = [number.key for number in table.numbers]
        assert len(keys) == len(set(keys)), table.name
        assert all(len(row.cells) == len(table.columns) for row in table.rows), table.name
        for number in table.numbers:
            assert given.number(number.key) is not None
            assert number.cell
            assert number.text
    assert len({table.name for table in given.tables}) == len(given.tables)


@pytest.mark.parametrize("asked", ASKED, ids=lambda asked: f"{asked['lens']}-{len(asked)}")
def test_with_a_decimal_comma_no_number_keeps_its_point(
    frame: Frame, asked: dict[str, Any]
) -> None:
    question = Question.model_validate({"outcome": {"variable": "ill"}, **asked})
    with written_in(NumberStyle(decimal_comma=True)):
        given = print_answer(question, frame)
    texts = [words(table) for table in (*given.tables, given.flow)]
    texts += [given.answer.write_up, given.answer.reading.lead]
    for text in texts:
        assert not re.search(r"\d\.\d", text), text
    plain = printed(frame, **asked)
    for number in given.numbers():
        same = plain.number(number.key)
        assert same is not None
        assert (same.value, same.limits) == (number.value, number.limits)


@pytest.mark.parametrize(
    ("style", "p", "share", "strength"),
    [
        (NumberStyle(), "p = .042", "12.3%", ".15"),
        (NumberStyle(leading_zero=True), "p = 0.042", "12.3%", "0.15"),
        (NumberStyle(decimal_comma=True), "p = ,042", "12,3%", ",15"),
        (NumberStyle(p_digits=2), "p = .04", "12.3%", ".15"),
        (NumberStyle(p_digits=3, percent_digits=0), "p = .042", "12%", ".15"),
        (
            NumberStyle(percent_digits=2, leading_zero=True, decimal_comma=True),
            "p = 0,042",
            "12,34%",
            "0,15",
        ),
    ],
)
def test_styles_are_what_they_are_called(
    style: NumberStyle, p: str, share: str, strength: str
) -> None:
    from hobrix.core.questions.wording import p_in_print, percent, unit_in_print

    with written_in(style):
        assert p_in_print(0.04213) == p
        assert percent(0.12341) == share
        assert unit_in_print(0.1498) == strength
    # Outside everything is written as the screen does.
    assert (p_in_print(0.04213), percent(0.12341)) == ("p = .042", "12.3%")


def test_p_never_looks_like_a_level_that_it_is_not_nor_like_nothing() -> None:
    from hobrix.core.questions.wording import p_in_print

    with written_in(NumberStyle(p_digits=2)):
        assert p_in_print(0.0496) == "p = .0496"
        assert p_in_print(0.0004) == "p < .01"
        assert p_in_print(0.0504) == "p = .0504"
    with written_in(NumberStyle(p_digits=3)):
        assert p_in_print(0.5) == "p = .500"
        assert p_in_print(0.0001) == "p < .001"
