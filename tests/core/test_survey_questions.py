"""Questions with a survey design, through the sentence: the reference numbers in every lens."""

import math
from dataclasses import asdict, replace
from typing import Any

import numpy as np
import polars as pl
import pytest
from scipy import stats

from core.closeness import assert_agrees
from hobrix import figures
from hobrix.core.data import Category, Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Answer, Question, answer
from hobrix.core.survey.shares import WeightedShare
from reference_numbers import REFERENCE, reference_cases

CASES = reference_cases("survey")
each_case = pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])


def frame_of(case: dict[str, Any]) -> Frame:
    table = pl.read_csv(REFERENCE / case["data"], infer_schema=False)
    variables = []
    for name in table.columns:
        is_number = name in (case["design"]["weight"], "age")
        levels = sorted(set(table[name].drop_nulls()) - {""})
        variables.append(
            Variable(
                name=name,
                kind="numeric" if is_number else "nominal",
                categories=()
                if is_number
                else tuple(Category(value=level, label=level) for level in levels),
            )
        )
    return Frame.of(variables, {n: source_column(table[n]) for n in table.columns}, table.height)


def design_of(case: dict[str, Any]) -> dict[str, Any]:
    given = case["design"]
    return {
        "kind": "design",
        "weights": given["weight"],
        "strata": given["strata"],
        "clusters": given["psu"],
    }


def asked(case: dict[str, Any], **fields: Any) -> Answer:
    outcome = {"variable": case["outcome"]["variable"], "event": [case["outcome"]["event"]]}
    question = {"outcome": outcome, "counted_by": design_of(case), **fields}
    return answer(Question.model_validate(question), frame_of(case), panels=None)


def agrees(mine: dict[str, Any], theirs: dict[str, Any], leaving_out: set[str], where: str) -> None:
    """Everything the reference gives stands under its name, to a relative 1e-8; its limits at 95%
    are those of a question at that level."""
    for key, value in theirs.items():
        if key in leaving_out:
            continue
        found, place = mine[key.replace("_95", "")], f"{where}.{key}"
        if isinstance(value, dict):
            agrees(found, value, leaving_out, place)
        elif isinstance(value, list) and value and isinstance(value[0], dict | list):
            assert len(found) == len(value), place
            for i, (one, other) in enumerate(zip(found, value, strict=True)):
                agrees({str(i): one}, {str(i): other}, leaving_out, place)
        elif isinstance(value, str):
            assert found == value, place
        elif isinstance(value, list) and value and isinstance(value[0], str):
            assert list(found) == value, place
        else:
            assert_agrees(found, value, place, relative=1e-8)


# What the reference tells about rows that were set aside stands in ``counted``; the other published
# form of the correction is not ours; the quantile and degrees of freedom stand in the design.
ELSEWHERE = {
    "missing_outcome",
    "dropped_for_missing",
    "psus_per_stratum",
    "psus_with_domain_members",
    "diagnostic_se_if_other_rows_are_deleted_first",
    "diagnostic_df_if_other_rows_are_deleted_first",
    "se_if_single_psu_strata_centred_at_grand_mean",
    "rao_scott_pearson_variant_observed_proportions",
    "t_quantile",
    "design_df",
}


def share_of(given: Answer, case: dict[str, Any]) -> WeightedShare:
    """Of the event, in a distribution."""
    rows = given.results.variables[0].table
    return next(row.weighted for row in rows if row.value == case["outcome"]["event"])


@each_case
def test_a_share_of_all_and_among_some(case: dict[str, Any]) -> None:
    part = case["domain"]
    among = {"all": [{"variable": part["variable"], "is": [part["level"]]}]}
    for key, fields in (("proportion", {}), ("domain", {"among": among})):
        given = asked(case, lens="distribution", **fields)
        agrees(asdict(share_of(given, case)), case["expected"][key], ELSEWHERE, key)
    expected = case["expected"]["design"]
    agrees(given.sample.model_dump(), expected, ELSEWHERE - {"design_df"}, "design")
    is_single = any(check.id == "single_cluster" for check in given.checks)
    assert is_single == bool(expected["single_psu_strata"])


@each_case
def test_a_single_cluster_may_add_its_distance_from_the_grand_mean(case: dict[str, Any]) -> None:
    key = "se_if_single_psu_strata_centred_at_grand_mean"
    expected = case["expected"]["proportion"].get(key)
    counted_by = {**design_of(case), "single": "grand_mean"}
    given = asked(case, lens="distribution", counted_by=counted_by)
    usual = case["expected"]["proportion"]["se"]
    assert_agrees(share_of(given, case).se, usual if expected is None else expected)


@each_case
def test_tables(case: dict[str, Any]) -> None:
    for pair, expected in zip(case["two_way"], case["expected"]["two_way"], strict=True):
        outcome = {"variable": pair["columns"]}
        given = asked(case, outcome=outcome, vary_with=[{"variable": pair["rows"]}])
        whole, tests = given.results.whole, given.opened.tests.weighted
        mine = whole.model_dump() | whole.weighted.model_dump() | tests.model_dump()
        mine["rows"], mine["columns"] = (
            [c.label for c in of] for of in (whole.rows, whole.columns)
        )
        mine["generalised_deff_eigenvalues"] = sorted(tests.generalised_deff_eigenvalues)
        expected["generalised_deff_eigenvalues"].sort()
        agrees(mine, expected, ELSEWHERE, f"{pair['rows']} by {pair['columns']}")


@each_case
def test_comparisons(case: dict[str, Any]) -> None:
    compared = case["compare"]
    vary = [{"variable": compared["variable"], "reference": compared["reference"]}]
    given = asked(case, lens="proportions", vary_with=vary)
    groups = given.results.whole
    mine = groups.against(compared["group"])
    expected = case["expected"]["comparison"]
    for key in ("risk_difference", "risk_ratio", "odds_ratio"):
        effect = getattr(mine, key)
        agrees(asdict(effect.weighted), expected[key], ELSEWHERE, key)
        assert (effect.estimate, effect.ci) == (effect.weighted.estimate, effect.weighted.ci)
    for side in ("group", "reference"):
        share = groups.group(compared[side]).weighted
        found = {f"n_{side}": share.n, f"risk_{side}": share.estimate, f"se_{side}": share.se}
        agrees(found, {key: expected[key] for key in found}, ELSEWHERE, side)


@each_case
def test_the_model(case: dict[str, Any]) -> None:
    def terms(slot: str) -> list[dict[str, Any]]:
        return [{k: t[k] for k in ("variable", "reference", "per") if k in t} for t in case[slot]]

    slots = {slot: terms(slot) for slot in ("vary_with", "allowing_for")}
    given = asked(case, lens="odds", **slots)
    model, expected = given.results.whole, case["expected"]["logistic"]
    assert model.n == expected["n"]
    # What is z without a design is t with it.
    mine = {
        (c.term, c.level): c.model_dump() | {"t": c.z}
        for c in given.opened.coefficients.coefficients
    }
    assert len(mine) == len(expected["coefficients"])
    for theirs in expected["coefficients"]:
        agrees(mine[(theirs["term"], theirs["level"])], theirs, set(), theirs["term"])
    tests = {term.term: term.adjusted_wald for term in model.terms}
    for theirs in [*expected["terms"], {**expected["model"], "term": "model"}]:
        test = model.adjusted_wald if theirs["term"] == "model" else tests[theirs["term"]]
        agrees(asdict(test), theirs, {"term"}, theirs["term"])
    assert "likelihood_ratio" in {each.quantity for each in given.unavailable}
    assert model.likelihood is None


def survey(weights: list[Any], villages: list[str], **fields: Any) -> Answer:
    n = len(weights)
    table = pl.DataFrame(
        {
            "ill": ["yes" if i % 3 == 0 else "no" for i in range(n)],
            "source": ["river" if i % 2 else "piped" for i in range(n)],
            "w": [None if w is None else str(w) for w in weights],
            "village": villages,
        }
    )

    def categories(name: str) -> tuple[Category, ...]:
        return tuple(Category(value=v, label=v) for v in sorted(set(table[name]) - {""}))

    variables = [
        Variable(name="w", kind="numeric"),
        *(
            Variable(
                name=name,
                kind="nominal",
                categories=categories(name),
                event=("yes",) if name == "ill" else (),
            )
            for name in ("ill", "source", "village")
        ),
    ]
    frame = Frame.of(variables, {c: source_column(table[c]) for c in table.columns}, n)
    question = {
        "outcome": {"variable": "ill"},
        "vary_with": [{"variable": "source"}],
        "counted_by": {"kind": "design", "weights": "w", "clusters": "village"},
        **fields,
    }
    return answer(Question.model_validate(question), frame)


def test_weights_all_alike_and_a_cluster_per_row_change_no_share() -> None:
    given = survey([1.5] * 60, [f"v{i:02d}" for i in range(60)])
    for share in given.results.whole.groups.groups:
        assert share.share == pytest.approx(share.unweighted, rel=1e-12)
    assert "hardly moves the percentages" in given.sample.moved
    assert given.results.whole.n == 60


@pytest.mark.parametrize(
    ("weights", "message"),
    [
        ([1.0] * 29 + [-1.0], "negative weight, in row 30"),
        ([0.0] * 30, "no weight above zero"),
    ],
)
def test_weights_that_cannot_be(weights: list[float], message: str) -> None:
    with pytest.raises(QuestionError, match=message) as refused:
        survey(weights, [f"v{i % 6}" for i in range(30)])
    assert refused.value.slot == "counted_by"


def test_a_row_without_a_cluster_is_named() -> None:
    with pytest.raises(QuestionError, match="1 rows with a weight have no cluster, first row 5"):
        survey([1.0] * 30, ["" if i == 4 else f"v{i % 6}" for i in range(30)])


def test_rows_without_a_weight_stay_out_and_those_outside_the_subset_stay_in() -> None:
    villages = [f"v{i % 6}" for i in range(60)]
    among = {"all": [{"variable": "source", "is": ["river"]}]}
    weights = [None if i < 3 else 1.0 + i % 4 for i in range(60)]
    given = survey(weights, villages, lens="distribution", vary_with=[], among=among)
    assert given.sample.rows == 57
    assert given.results.variables[0].n_answered < 57
    river = sum(1.0 + i % 4 for i in range(3, 60) if i % 2)
    everybody = sum(1.0 + i % 4 for i in range(3, 60))
    assert given.counted.counting.endswith(f"standing for {river:.0f} of {everybody:.0f}")
    assert given.sample.psus == 6


def test_one_cluster_leaves_no_degree_of_freedom() -> None:
    given = survey([1.0] * 30, ["v1"] * 30)
    check = next(check for check in given.checks if check.id == "design_df")
    assert check.status == "fail"
    assert all(share.share_ci is None for share in given.results.whole.groups.groups)
    assert given.model_dump_json()


@each_case
def test_within_strata_is_among_them_one_at_a_time(case: dict[str, Any]) -> None:
    part = case["domain"]
    other = case["two_way"][0]["rows"]
    if other == part["variable"]:
        other = case["compare"]["variable"]
    if other == part["variable"]:
        pytest.skip("the case has no third variable")
    vary = [{"variable": other}]
    for lens in ("proportions", "distribution"):
        slots = {"vary_with": vary} if lens == "proportions" else {}
        given = asked(case, lens=lens, within=[part["variable"]], **slots)
        among = {"all": [{"variable": part["variable"], "is": [part["level"]]}]}
        alone = asked(case, lens=lens, among=among, **slots)
        stratum = next(s for s in given.results.strata if s.values == (part["level"],))
        if lens == "proportions":
            pairs = (stratum.groups, alone.results.whole.groups)
        else:
            pairs = (stratum.outcome.table, alone.results.variables[0].table)
        for mine, theirs in zip(*pairs, strict=True):
            assert mine.label == theirs.label
            assert_agrees(mine.weighted.estimate, theirs.weighted.estimate)
            assert_agrees(mine.weighted.se, theirs.weighted.se)


def test_five_thousand_strata_of_two_and_weights_drawn_as_told() -> None:
    n = 10_000
    random = np.random.default_rng(9)
    table = pl.DataFrame(
        {
            "ill": np.where(random.random(n) < 0.3, "yes", "no"),
            "w": [repr(float(x)) for x in random.uniform(0.5, 3, n)],
            "stratum": [str(i // 2) for i in range(n)],
        }
    )
    answers = (Category(value="no", label="No"), Category(value="yes", label="Yes"))
    variables = [
        Variable(name="ill", kind="nominal", categories=answers, event=("yes",)),
        Variable(name="w", kind="numeric"),
        Variable(name="stratum", kind="numeric"),
    ]
    frame = Frame.of(variables, {c: source_column(table[c]) for c in table.columns}, n)
    question = {
        "lens": "distribution",
        "outcome": {"variable": "ill"},
        "counted_by": {"kind": "design", "weights": "w", "strata": "stratum"},
    }
    given = answer(Question.model_validate(question), frame)
    assert (given.sample.strata, given.sample.design_df) == (5000, 5000)
    rows = given.results.variables[0].table
    yes = rows[1].weighted
    w, y = table["w"].cast(pl.Float64).to_numpy(), (table["ill"] == "yes").to_numpy()
    assert yes.estimate == pytest.approx(w[y].sum() / w.sum(), rel=1e-12)
    drawn = figures.of(given)["distribution:ill"]["data"]["values"]
    assert [line["share"] for line in drawn] == [100 * row.weighted.estimate for row in rows]
    unweighted = [100 * (~y).mean(), 100 * y.mean()]
    assert [line["unweighted"] for line in drawn] == pytest.approx(unweighted, rel=1e-12)


def test_a_method_without_a_design_based_form_is_said() -> None:
    plain = survey([1.0 + i % 3 for i in range(60)], [f"v{i % 10}" for i in range(60)], lens="odds")
    asked_firth = survey(
        [1.0 + i % 3 for i in range(60)],
        [f"v{i % 10}" for i in range(60)],
        lens="odds",
        options={"odds": {"method": "firth"}},
    )
    assert not any(check.id == "method" for check in plain.checks)
    check = next(check for check in asked_firth.checks if check.id == "method")
    assert "pseudo-maximum likelihood" in check.text


@each_case
def test_a_case_control_study_shows_no_weighted_shares(case: dict[str, Any]) -> None:
    frame = replace(frame_of(case), study_design="case_control")
    pair = case["two_way"][0]
    for lens in ("crosstab", "proportions"):
        question = {
            "lens": lens,
            "outcome": {
                "variable": case["outcome"]["variable"],
                "event": [case["outcome"]["event"]],
            },
            "vary_with": [{"variable": pair["rows"]}],
            "counted_by": design_of(case),
        }
        given = answer(Question.model_validate(question), frame)
        groups = given.results.whole.groups if lens == "crosstab" else given.results.whole
        assert not groups.shares_have_meaning
        assert {each.risk_ratio for each in groups.comparisons} == {None}
        assert {each.risk_difference for each in groups.comparisons} == {None}
        assert "%" not in given.reading.lead
        assert any(check.id == "study_design" for check in given.checks)
        assert "odds" in given.reading.lead


@pytest.mark.parametrize("event", ["yes", "no"])
def test_the_weighted_table_is_drawn_and_told_as_it_is_counted(event: str) -> None:
    case = CASES[0]
    outcome = {"variable": "ill", "event": [event]}
    vary = [{"variable": "water_source", "reference": "well"}]
    given = asked(case, lens="crosstab", outcome=outcome, vary_with=vary)
    table = given.results.whole
    first = table.order[0]
    assert table.columns[first].label == event
    people, shares = np.array(table.row_margin), np.array(table.share_within_row)
    np.testing.assert_allclose(table.column_margin, people @ shares, rtol=1e-12)
    sentence = given.reading.cells[0][first]
    assert f"Weighted, {100 * shares[0][first]:.1f}%" in sentence
    tiles = figures.of(given)["mosaic"]["layer"][0]["data"]["values"]
    for tile in tiles:
        assert tile["x1"] - tile["x0"] == pytest.approx(shares[tile["row"], tile["column"]])
        is_left = tile["x0"] == 0
        assert is_left == (tile["column"] == first)
    tall = np.array([t["y1"] - t["y0"] for t in tiles if t["x0"] == 0])
    np.testing.assert_allclose(tall / tall.sum(), people / people.sum(), rtol=1e-9)
    groups = table.groups
    clearest = max(groups.comparisons, key=lambda c: abs(c.odds_ratio.weighted.t))
    odds, far, base = clearest.odds_ratio, groups.group(clearest.value), groups.base
    # Bonferroni's limits: picked out of two.
    df = given.sample.design_df
    wider = stats.t.isf(0.0125, df) / stats.t.isf(0.025, df)
    reach = wider * math.log(odds.ci[1] / odds.ci[0]) / 2
    low, high = (odds.estimate * math.exp(side * reach) for side in (-1, 1))
    assert (
        f"weighted share of “{event}” was {100 * far.share:.1f}% ({far.events:.0f} of {far.n:.0f} "
        f"sampled) with {clearest.label}, the clearest of 2 differences, and {100 * base.share:.1f}% ({base.events:.0f} of "
        f"{base.n:.0f} sampled) with well (odds ratio = {odds.estimate:.2f}, 95% CI [{low:.2f}, "
        f"{high:.2f}], both allowed for)"
    ) in given.write_up
