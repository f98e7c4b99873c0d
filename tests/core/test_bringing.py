"""Data sets brought together, held against plain pandas on the same tables."""

from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from core.parts import labels, part
from hobrix.core.bringing import (
    GroupsToCompare,
    MadeData,
    Match,
    OnePerCase,
    Stack,
    alike,
    carry_out,
    look_at_groups,
    look_at_match,
    look_at_stack,
    proposed,
)
from hobrix.core.data import Cases, Design, look_at_cases
from hobrix.core.errors import CodebookError, RecipeError

VISITS = Cases(rows="several", case="household", order="visit")


def visits(seed: int = 1, households: int = 60) -> pd.DataFrame:
    """Households with one to six visits, in no order, some answers blank."""
    random = np.random.default_rng(seed)
    rows = [
        {
            "household": f"H{i:03}",
            "visit": visit,
            "ill": random.choice(["yes", "no", ""], p=[0.3, 0.6, 0.1]),
            "source": random.choice(["piped", "well", "river"]),
            "litres": random.choice([np.nan, *range(20, 90)]),
        }
        for i in range(households)
        for visit in range(1, int(random.integers(1, 7)) + 1)
    ]
    return pd.DataFrame(rows).sample(frac=1, random_state=seed).reset_index(drop=True)


def clean(table: pd.DataFrame) -> pd.DataFrame:
    return table.replace("", np.nan).sort_values(["household", "visit"], kind="stable")


def per_case(made: MadeData, name: str) -> list[Any]:
    """In the order of households."""
    pairs = zip(labels(made, "household"), labels(made, name), strict=True)
    return [value for _, value in sorted(pairs, key=lambda pair: str(pair[0]))]


# --- rows and cases


def test_what_is_wrong_with_cases_is_said_in_words() -> None:
    table = pd.DataFrame(
        {
            "household": ["a", "a ", "a", "b", "", "c"],
            "visit": [1, 3, 2, 1, 1, 1],
            "ill": ["yes", "no", "no", "yes", "no", "no"],
        }
    )
    table.loc[len(table)] = ["b", 1, "no"]
    given = part(table, cases=VISITS, household="nominal").frame
    look = look_at_cases(given, VISITS)
    assert (look.cases, look.most, look.without_case) == (3, 3, 1)
    texts = " ".join(finding.text for finding in look.findings)
    assert "1 of 7 rows have no household" in texts
    assert "two rows of one household have the same visit: b" in texts
    assert "rows of 1 stand in another order than visit says" in texts


def test_one_row_per_case_that_is_none_is_named() -> None:
    table = pd.DataFrame({"household": ["a", "b", "a"], "ill": ["yes", "no", "no"]})
    frame = part(table).frame
    found = look_at_cases(frame, Cases(case="household")).findings
    assert found[0].status == "care"
    assert "household a is in more than one row" in found[0].text


def test_an_order_that_is_none_is_refused() -> None:
    frame = part(visits(), source="nominal").frame
    with pytest.raises(RecipeError, match="source says no order"):
        look_at_cases(frame, VISITS.model_copy(update={"order": "source"}))


def test_dates_written_year_month_day_put_rows_in_order() -> None:
    table = pd.DataFrame(
        {
            "household": ["a", "a", "a"],
            "visit": ["2024-03-01", "2023-11-30", "2024-02-11"],
            "n": [1, 2, 3],
        }
    )
    made = carry_out(OnePerCase(row="last"), [part(table, cases=VISITS)])
    assert labels(made, "n") in ([1.0], ["1"])


# --- one row per case


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize("which", ["first", "last"])
def test_first_and_last_rows(seed: int, which: str) -> None:
    table = visits(seed)
    made = carry_out(OnePerCase(row=which), [part(table, cases=VISITS)])
    by_case = clean(table).groupby("household", sort=True).nth(0 if which == "first" else -1)
    assert per_case(made, "household") == by_case["household"].tolist()
    assert per_case(made, "source") == by_case["source"].tolist()
    assert per_case(made, "litres") == [None if x != x else x for x in by_case["litres"]]


@pytest.mark.parametrize("seed", range(5))
def test_what_is_made_of_all_rows(seed: int) -> None:
    table = visits(seed)
    ill = {"all": [{"variable": "ill", "is": ["yes"]}]}
    recipe = OnePerCase.model_validate(
        {
            "row": "first",
            "made": [
                {"made": "ever", "name": "ever_ill", "where": ill},
                *(
                    {"made": "over_rows", "name": how, "variable": "litres", "how": how}
                    for how in ("least", "most", "mean", "count", "change")
                ),
            ],
        }
    )
    made = carry_out(recipe, [part(table, cases=VISITS)])
    rows = clean(table).groupby("household", sort=True)
    ever = rows["ill"].agg(
        lambda x: "Yes" if (x == "yes").any() else "No" if x.notna().any() else None
    )
    assert per_case(made, "ever_ill") == [None if x != x else x for x in ever]
    litres = rows["litres"]
    wanted = {
        "least": litres.min(),
        "most": litres.max(),
        "mean": litres.mean(),
        "count": litres.count(),
        "change": litres.agg(
            lambda x: x.dropna().iloc[-1] - x.dropna().iloc[0] if x.count() > 1 else np.nan
        ),
    }
    for how, expected in wanted.items():
        found = [np.nan if x is None else x for x in per_case(made, how)]
        np.testing.assert_allclose(found, expected.to_numpy(float), rtol=1e-12)


def test_the_first_row_that_meets_a_condition() -> None:
    table = visits(7)
    ill = {"all": [{"variable": "ill", "is": ["yes"]}]}
    recipe = OnePerCase.model_validate({"row": "first", "where": ill})
    made = carry_out(recipe, [part(table, cases=VISITS)])
    rows = clean(table)
    expected = rows[rows["ill"] == "yes"].groupby("household", sort=True).nth(0)
    assert per_case(made, "visit") == expected["visit"].tolist() or per_case(made, "visit") == [
        str(v) for v in expected["visit"]
    ]
    lost = rows["household"].nunique() - len(expected)
    assert f"{lost:,} cases have no row with ill: yes" in made.findings[0].text


# --- matching


def villages(n: int = 12) -> pd.DataFrame:
    return pd.DataFrame(
        {"code": [f"V{i}" for i in range(n)], "piped_since": [1990 + i for i in range(n)]}
    )


def match_of(**changes: Any) -> Match:
    return Match.model_validate(
        {"keys": [{"here": "village", "there": "code"}], "take": ["piped_since"], **changes}
    )


def test_many_rows_take_from_one() -> None:
    random = np.random.default_rng(3)
    people = pd.DataFrame(
        {"village": [f"V{i}" for i in random.integers(0, 15, 200)], "id": range(200)}
    )
    people.loc[:3, "village"] = [" V1 ", "", "V2", "v3"]
    parts = [part(people), part(villages(), "villages")]
    look = look_at_match(match_of(), parts)
    made = carry_out(match_of(), parts)
    trimmed = people.assign(code=people["village"].str.strip())
    expected = trimmed.merge(villages(), on="code", how="left", validate="many_to_one")[
        "piped_since"
    ]
    found = labels(made, "piped_since")
    assert [float(x) if x is not None else None for x in found] == [
        None if x != x else x for x in expected
    ]
    assert look.relation == "many to one"
    assert look.matched == expected.notna().sum()
    assert look.here.n == expected.isna().sum()
    unused = set(villages()["code"]) - set(trimmed["code"])
    assert look.there.n == len(unused)
    assert "find no key in villages; they stay" in look.findings[0].text
    variable = next(v for v, _ in made.columns if v.name == "piped_since")
    assert "no match" in [code.label for code in variable.missing]


def test_a_key_twice_on_the_one_side_is_refused_with_its_rows() -> None:
    twice = pd.concat([villages(), villages().iloc[[4]]])
    with pytest.raises(RecipeError, match=r"V4 \(rows 5 and 13\)"):
        carry_out(
            match_of(), [part(pd.DataFrame({"village": ["V1", "V4"]})), part(twice, "villages")]
        )


def test_ten_in_a_hundred_keys_twice_are_counted() -> None:
    twice = pd.concat([villages(50), villages(5)])
    with pytest.raises(RecipeError, match="5 keys stand in more than one row"):
        carry_out(match_of(), [part(pd.DataFrame({"village": ["V1"]})), part(twice, "villages")])


def test_zeros_in_front_count_unless_one_says_not() -> None:
    here = part(pd.DataFrame({"village": ["007", "08", "9x"]}), village="nominal")
    there = part(
        pd.DataFrame({"code": ["7x", "7", "8"], "piped_since": [1, 2, 3]}), "b", code="nominal"
    )
    look = look_at_match(match_of(), [here, there])
    assert look.matched == 0
    assert "2 more rows would match if zeros in front did not count" in look.findings[1].text
    assert look_at_match(match_of(ignore_zeros=True), [here, there]).matched == 2


def test_two_keys_and_a_name_that_is_taken() -> None:
    here = pd.DataFrame(
        {"d": ["a", "a", "b", "b"], "v": [1, 2, 1, 2], "fact": ["x", "y", "x", "y"]}
    )
    there = pd.DataFrame({"d": ["b", "a", "a"], "v": [2, 1, 2], "fact": ["b2", "a1", "a2"]})
    recipe = Match.model_validate(
        {"keys": [{"here": "d", "there": "d"}, {"here": "v", "there": "v"}], "take": ["fact"]}
    )
    made = carry_out(recipe, [part(here), part(there, "b")])
    assert labels(made, "fact_2") == ["a1", "a2", None, "b2"]
    assert labels(made, "fact") == ["x", "y", "x", "y"]


@given(
    st.lists(st.integers(0, 30), min_size=1, max_size=60),
    st.sets(st.integers(0, 30), min_size=1, max_size=30),
)
def test_matching_is_a_left_join(here: list[int], there: set[int]) -> None:
    one = pd.DataFrame({"village": here})
    other = pd.DataFrame({"code": sorted(there), "piped_since": [x * 10.5 for x in sorted(there)]})
    made = carry_out(
        match_of(),
        [part(one, village="numeric"), part(other, "b", code="numeric", piped_since="numeric")],
    )
    expected = one.merge(other, left_on="village", right_on="code", how="left")["piped_since"]
    assert labels(made, "piped_since") == [None if x != x else x for x in expected]


# --- stacking


def rounds() -> tuple[pd.DataFrame, pd.DataFrame]:
    random = np.random.default_rng(11)
    one = pd.DataFrame(
        {
            "ill": random.choice(["yes", "no"], 300, p=[0.3, 0.7]),
            "source": random.choice(["piped", "well", "river"], 300),
            "age": random.integers(18, 80, 300),
        }
    )
    two = pd.DataFrame(
        {
            "q7": random.choice(["Yes", "No", "refused"], 200),
            "water": random.choice(["house tap", "yard tap", "well", "other"], 200),
            "months": random.integers(18, 80, 200) * 12,
        }
    )
    return one, two


def stack_of(**changes: Any) -> Stack:
    source = {
        "name": "source",
        "kind": "nominal",
        "categories": [{"value": v, "label": v.title()} for v in ("piped", "well", "river")],
        "taken": [
            {"variable": "source", "placed": {"piped": "piped", "well": "well", "river": "river"}},
            {
                "variable": "water",
                "placed": {"house tap": "piped", "yard tap": "piped", "other": None},
            },
        ],
    }
    age = {
        "name": "age",
        "kind": "ordinal",
        "categories": [
            {"value": "young", "label": "under 40"},
            {"value": "old", "label": "40 and over"},
        ],
        "cuts": [40],
        "taken": [{"variable": "age"}, {"variable": "months", "factor": 1 / 12}],
    }
    return Stack.model_validate({"names": ["one", "two"], "variables": [source, age], **changes})


def test_rows_under_rows() -> None:
    one, two = rounds()
    parts = [part(one, "one"), part(two, "two")]
    made = carry_out(stack_of(), parts)
    place = {"house tap": "Piped", "yard tap": "Piped"}
    expected = [*one["source"].str.title(), *(place.get(x) for x in two["water"])]
    assert labels(made, "source") == expected
    bands = pd.cut(
        pd.concat([one["age"], two["months"] / 12]),
        [-np.inf, 40, np.inf],
        right=False,
        labels=["under 40", "40 and over"],
    )
    assert labels(made, "age") == bands.tolist()
    assert labels(made, "data_set") == ["one"] * 300 + ["two"] * 200
    assert labels(made, "row_there")[299:301] == [300.0, 1.0]
    variable = next(v for v, _ in made.columns if v.name == "source")
    assert {code.label for code in variable.missing} == {"not placed yet", "set aside"}
    look = look_at_stack(stack_of(), parts)[0]
    assert look.not_placed == (two["water"] == "well").sum()
    assert f"“well” ({look.not_placed:,})" in look.findings[0].text
    assert look.parts[1] is not None
    placed = two["water"].map(place).dropna()
    assert look.parts[1].shares[0] == pytest.approx((placed == "Piped").mean())


def test_missing_answers_keep_their_reason() -> None:
    one, two = rounds()
    common = {
        "name": "ill",
        "kind": "nominal",
        "categories": [{"value": "yes", "label": "Yes"}, {"value": "no", "label": "No"}],
        "event": ["yes"],
        "taken": [
            {"variable": "ill", "placed": {"yes": "yes", "no": "no"}},
            {"variable": "q7", "placed": {"Yes": "yes", "No": "no"}},
        ],
    }
    made = carry_out(stack_of(variables=[common]), [part(one, "one"), part(two, "two")])
    variable, source = next(each for each in made.columns if each[0].name == "ill")
    refused = [code.value for code in variable.missing if code.label == "refused"]
    assert refused == ["(refused)"]
    assert (
        sum(source.values[c] == "(refused)" for c in source.codes) == (two["q7"] == "refused").sum()
    )


def test_rows_that_count_differently_are_refused_with_the_way_out() -> None:
    one, _ = rounds()
    with pytest.raises(RecipeError, match="Make one row per case of two first"):
        carry_out(stack_of(variables=[]), [part(one, "one"), part(visits(), "two", cases=VISITS)])


def test_cases_are_made_distinct_unless_they_are_the_same() -> None:
    parts = [part(visits(1), "one", cases=VISITS), part(visits(2), "two", cases=VISITS)]
    made = carry_out(stack_of(variables=[]), parts)
    assert made.cases == Cases(rows="several", case="case", order="order")
    assert len(set(labels(made, "case"))) == 120
    assert "60 cases are called the same" in made.findings[0].text
    same = carry_out(stack_of(variables=[], same_cases=True), parts)
    assert len(set(labels(same, "case"))) == 60


@pytest.mark.parametrize("counted", ["kept", "rescaled"])
def test_weights_are_kept_or_rescaled_and_strata_made_distinct(counted: str) -> None:
    random = np.random.default_rng(5)
    parts = []
    for name, n in (("one", 40), ("two", 25)):
        table = pd.DataFrame(
            {
                "w": random.uniform(1, 9, n),
                "s": random.integers(1, 4, n),
                "c": random.integers(1, 9, n),
            }
        )
        made = part(table, name, w="numeric", s="nominal", c="nominal")
        design = Design(weights="w", strata="s", clusters="c")
        parts.append(type(made)(name, type(made.frame)(**{**vars(made.frame), "recorded": design})))
    stacked = carry_out(stack_of(variables=[], counted=counted), parts)
    weights = np.array(labels(stacked, "weight"), float)
    given = [part_.frame.numeric("w", "").values for part_ in parts]
    factors = [1.0, 1.0] if counted == "kept" else [len(w) / w.sum() for w in given]
    np.testing.assert_allclose(
        weights, np.concatenate([w * f for w, f in zip(given, factors, strict=True)])
    )
    assert stacked.design == Design(weights="weight", strata="stratum", clusters="cluster")
    assert {str(x).split(":")[0] for x in labels(stacked, "stratum")} == {"one", "two"}
    with pytest.raises(RecipeError, match="has no weights"):
        carry_out(stack_of(variables=[], counted=counted), [parts[0], part(rounds()[0], "two")])


def test_contradictory_placement_is_refused() -> None:
    one = {
        "name": "x",
        "kind": "nominal",
        "categories": [{"value": "a", "label": "A"}],
        "taken": [{"variable": "ill", "placed": {"yes": "b"}}, None],
    }
    with pytest.raises((CodebookError, ValidationError), match="no common answer"):
        stack_of(variables=[one])
    with pytest.raises(ValidationError, match="two common variables"):
        stack_of(variables=[{**one, "taken": [None, None]}] * 2)


def test_a_share_and_a_unit_that_stand_apart_are_pointed_out() -> None:
    one = pd.DataFrame({"source": ["piped"] * 85 + ["river"] * 15, "age": [40] * 100})
    two = pd.DataFrame({"source": ["piped"] * 50 + ["river"] * 50, "age": [480] * 100})
    parts = [part(one, "one", age="numeric"), part(two, "two", age="numeric")]
    kept = [proposed(parts, ["source", "source"], "source"), proposed(parts, ["age", "age"], "age")]
    looks = look_at_stack(Stack(names=("one", "two"), variables=tuple(kept)), parts)
    assert "“piped” is more common in one (85.0% against 50.0%)" in looks[0].findings[0].text
    assert "The median is 480 in two and 40 in one" in looks[1].findings[0].text


def test_what_may_be_the_same_is_found_and_answers_are_placed_by_label() -> None:
    one = pd.DataFrame(
        {
            "stomach_illness": ["yes", "no"] * 20,
            "water_source": ["piped", "well"] * 20,
            "age_of_head": list(range(20, 60)),
            "notes": [f"note {i}" for i in range(40)],
        }
    )
    two = pd.DataFrame(
        {
            "q3_water_source": ["Piped", "Well", "tanker", "Piped"] * 10,
            "q9_illness_stomach": ["Yes", "No"] * 20,
            "q1_age_head": list(range(25, 65)),
        }
    )
    parts = [part(one, "one"), part(two, "two")]
    found = {each.variables for each in alike(parts)}
    assert found == {
        ("stomach_illness", "q9_illness_stomach"),
        ("water_source", "q3_water_source"),
        ("age_of_head", "q1_age_head"),
    }
    assert not {each.variables[0] for each in alike(parts, [["water_source"], []])} & {
        "water_source"
    }
    common = proposed(parts, ["water_source", "q3_water_source"], "source")
    assert common.taken[1] is not None
    assert common.taken[1].placed == {"Piped": "piped", "Well": "well"}


# --- groups


def groups_of(**changes: Any) -> GroupsToCompare:
    ill = {"all": [{"variable": "ill", "is": ["yes"]}]}
    well = {"all": [{"variable": "ill", "is": ["no"]}]}
    return GroupsToCompare.model_validate(
        {
            "groups": [
                {"name": "affected", "where": ill, "holds": "ever", "row": "first"},
                {"name": "unaffected", "where": well, "holds": "last", "row": "last"},
            ],
            "conditions": ["source"],
            "taken_at": "litres",
            "study_design": "case_control",
            **changes,
        }
    )


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize("in_two", ["left_out", "first"])
def test_groups_by_first_and_last_record(seed: int, in_two: str) -> None:
    table = visits(seed)
    parts = [part(table, cases=VISITS)]
    recipe = groups_of(in_two=in_two)
    made, look = carry_out(recipe, parts), look_at_groups(recipe, parts)
    rows = clean(table)
    affected = rows.groupby("household")["ill"].agg(lambda x: (x == "yes").any())
    last = rows.groupby("household").nth(-1).set_index("household")
    unaffected = last["ill"] == "no"
    both = affected & unaffected
    first = rows.groupby("household").nth(0).set_index("household")
    is_in_first = affected & ~both if in_two == "left_out" else affected
    expected = pd.concat(
        [
            first[is_in_first].assign(group="affected"),
            last[unaffected & ~both].assign(group="unaffected"),
        ]
    ).sort_index()
    assert per_case(made, "household") == expected.index.tolist()
    assert per_case(made, "group") == expected["group"].tolist()
    assert per_case(made, "source") == expected["source"].tolist()
    assert look.in_two == both.sum()
    assert look.in_none == (~affected & ~unaffected).sum()
    assert set(look.in_two_cases) <= set(both[both].index)
    assert len(look.in_two_cases) == min(20, both.sum())
    condition = look.conditions[0]
    table_of = pd.crosstab(expected["group"], expected["source"])
    for i, group in enumerate(("affected", "unaffected")):
        assert [table_of.loc[group].get(a, 0) for a in condition.answers] == list(
            condition.counts[i]
        )
        assert look.groups[i].n == (expected["group"] == group).sum()
        litres = expected.loc[expected["group"] == group, "litres"]
        when = f"{litres.median():g} ({litres.min():g} to {litres.max():g})"
        assert look.groups[i].taken_at == when
    assert made.study_design == "case_control"
    assert made.case_status == "group"
    outcome = made.columns[0][0]
    assert (outcome.event, outcome.reference) == (("affected",), "unaffected")


def test_never_needs_an_answer_to_judge_by() -> None:
    table = pd.DataFrame(
        {
            "household": ["a", "a", "b", "c", "c"],
            "visit": [1, 2, 1, 1, 2],
            "ill": ["no", "no", "", "yes", "no"],
            "x": list("pqrst"),
        }
    )
    ill = {"all": [{"variable": "ill", "is": ["yes"]}]}
    recipe = groups_of(
        groups=[
            {"name": "ill", "where": ill, "of_meeting": True},
            {"name": "never ill", "where": ill, "holds": "never", "row": "last"},
        ],
        conditions=[],
        taken_at=None,
    )
    parts = [part(table, cases=VISITS, x="nominal")]
    made = carry_out(recipe, parts)
    assert labels(made, "household") == ["a", "c"]
    assert labels(made, "x") == ["q", "s"]
    assert look_at_groups(recipe, parts).in_none == 1


def test_an_empty_group_and_tiny_cells_are_named() -> None:
    table = pd.DataFrame(
        {
            "household": list("abcd"),
            "visit": [1] * 4,
            "ill": ["yes", "no", "no", "no"],
            "source": ["piped", "well", "well", "piped"],
        }
    )
    parts = [part(table, cases=VISITS)]
    look = look_at_groups(groups_of(taken_at=None), parts)
    assert "Only 1 affected with source: piped" in look.conditions[0].findings[0].text
    nobody = {"all": [{"variable": "ill", "missing": True}]}
    empty = groups_of(
        taken_at=None,
        groups=[{"name": "x", "where": nobody}, {"name": "y", "where": nobody, "holds": "never"}],
    )
    with pytest.raises(RecipeError, match="No case is in “x”"):
        carry_out(empty, parts)
