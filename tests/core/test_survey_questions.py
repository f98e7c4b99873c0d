"""Questions with a survey design, through the sentence: the reference numbers in every lens."""

from dataclasses import replace
from typing import Any

import numpy as np
import polars as pl
import pytest

from core.closeness import assert_agrees
from hobrix import figures
from hobrix.core.data import Category, Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Answer, Question, answer
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
    return answer(Question.model_validate(question), frame_of(case))


def agrees(mine: dict[str, Any], theirs: dict[str, Any], leaving_out: set[str], where: str) -> None:
    """Everything the reference gives stands under its name, to a relative 1e-8."""
    for key, value in theirs.items():
        if key in leaving_out:
            continue
        found, place = mine[key], f"{where}.{key}"
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


@each_case
def test_a_share_of_all_and_among_some(case: dict[str, Any]) -> None:
    part = case["domain"]
    among = {"all": [{"variable": part["variable"], "is": [part["level"]]}]}
    for key, fields in (("proportion", {}), ("domain", {"among": among})):
        given = asked(case, lens="distribution", **fields)
        assert given.survey is not None
        mine = next(s for s in given.survey.shares if s.value == case["outcome"]["event"])
        agrees(mine.model_dump(), case["expected"][key], ELSEWHERE, key)
    expected = case["expected"]["design"]
    agrees(given.survey.design.model_dump(), expected, ELSEWHERE - {"design_df"}, "design")
    is_single = any(check.id == "single_cluster" for check in given.checks)
    assert is_single == bool(expected["single_psu_strata"])


@each_case
def test_a_single_cluster_may_add_its_distance_from_the_grand_mean(case: dict[str, Any]) -> None:
    key = "se_if_single_psu_strata_centred_at_grand_mean"
    expected = case["expected"]["proportion"].get(key)
    counted_by = {**design_of(case), "single": "grand_mean"}
    given = asked(case, lens="distribution", counted_by=counted_by)
    assert given.survey is not None
    mine = next(s for s in given.survey.shares if s.value == case["outcome"]["event"])
    usual = case["expected"]["proportion"]["se"]
    assert_agrees(mine.se, usual if expected is None else expected)


@each_case
def test_tables(case: dict[str, Any]) -> None:
    for pair, expected in zip(case["two_way"], case["expected"]["two_way"], strict=True):
        outcome = {"variable": pair["columns"]}
        given = asked(case, outcome=outcome, vary_with=[{"variable": pair["rows"]}])
        assert given.survey is not None
        table = given.survey.table
        assert table is not None
        mine = table.model_dump() | {
            "generalised_deff_eigenvalues": sorted(table.generalised_deff_eigenvalues)
        }
        expected["generalised_deff_eigenvalues"].sort()
        agrees(mine, expected, ELSEWHERE, f"{pair['rows']} by {pair['columns']}")


@each_case
def test_comparisons(case: dict[str, Any]) -> None:
    compared = case["compare"]
    vary = [{"variable": compared["variable"], "reference": compared["reference"]}]
    given = asked(case, lens="proportions", vary_with=vary)
    assert given.survey is not None
    mine = next(c for c in given.survey.comparisons if c.value == compared["group"])
    expected = case["expected"]["comparison"]
    for key in ("risk_difference", "risk_ratio", "odds_ratio"):
        agrees(mine.model_dump()[key], expected[key], ELSEWHERE, key)
    shares = {share.value: share for share in given.survey.shares}
    for side in ("group", "reference"):
        share = shares[compared[side]]
        found = {f"n_{side}": share.n, f"risk_{side}": share.estimate, f"se_{side}": share.se}
        agrees(found, {key: expected[key] for key in found}, ELSEWHERE, side)


@each_case
def test_the_model(case: dict[str, Any]) -> None:
    def terms(slot: str) -> list[dict[str, Any]]:
        return [{k: t[k] for k in ("variable", "reference", "per") if k in t} for t in case[slot]]

    slots = {slot: terms(slot) for slot in ("vary_with", "allowing_for")}
    given = asked(case, lens="odds", **slots)
    assert given.survey is not None
    model, expected = given.survey.model, case["expected"]["logistic"]
    assert model is not None
    assert model.n == expected["n"]
    mine = {(c.term, c.level): c.model_dump() for c in model.coefficients}
    assert len(mine) == len(expected["coefficients"])
    for theirs in expected["coefficients"]:
        agrees(mine[(theirs["term"], theirs["level"])], theirs, set(), theirs["term"])
    tests = {term.term: term.wald for term in model.terms}
    for theirs in [*expected["terms"], {**expected["model"], "term": "model"}]:
        test = model.model if theirs["term"] == "model" else tests[theirs["term"]]
        assert test is not None
        agrees(test.model_dump(), theirs, {"term"}, theirs["term"])
    assert "likelihood_ratio" in {each.quantity for each in given.survey.unavailable}
    assert not any(check.id == "fit" for check in given.checks)


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
    assert given.survey is not None
    for share in given.survey.shares:
        assert share.estimate == pytest.approx(share.unweighted, rel=1e-12)
    assert "hardly moves the shares" in given.survey.moved
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
    assert given.survey is not None
    assert given.survey.design.rows == 57
    assert given.survey.shares[0].n < 57
    river = sum(1.0 + i % 4 for i in range(3, 60) if i % 2)
    everybody = sum(1.0 + i % 4 for i in range(3, 60))
    assert given.counted.counting.endswith(f"standing for {river:.0f} of {everybody:.0f}")
    assert given.survey.design.psus == 6


def test_one_cluster_leaves_no_degree_of_freedom() -> None:
    given = survey([1.0] * 30, ["v1"] * 30)
    check = next(check for check in given.checks if check.id == "design_df")
    assert check.status == "fail"
    assert given.survey is not None
    assert all(share.ci is None for share in given.survey.shares)
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
        assert given.survey is not None
        assert alone.survey is not None
        stratum = next(s for s in given.survey.strata if s.values == (part["level"],))
        assert [share.label for share in stratum.shares] == [s.label for s in alone.survey.shares]
        for mine, theirs in zip(stratum.shares, alone.survey.shares, strict=True):
            assert_agrees(mine.estimate, theirs.estimate)
            assert_agrees(mine.se, theirs.se)


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
    assert given.survey is not None
    assert (given.survey.design.strata, given.survey.design.design_df) == (5000, 5000)
    yes = given.survey.shares[1]
    w, y = table["w"].cast(pl.Float64).to_numpy(), (table["ill"] == "yes").to_numpy()
    assert yes.estimate == pytest.approx(w[y].sum() / w.sum(), rel=1e-12)
    drawn = figures.of(given)["weighted"]["data"]["values"]
    assert [line["estimate"] for line in drawn] == [100 * s.estimate for s in given.survey.shares]


def test_a_method_without_a_design_based_form_is_said() -> None:
    plain = survey([1.0 + i % 3 for i in range(60)], [f"v{i % 10}" for i in range(60)], lens="odds")
    asked_firth = survey(
        [1.0 + i % 3 for i in range(60)],
        [f"v{i % 10}" for i in range(60)],
        lens="odds",
        options={"method": "firth"},
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
        assert given.survey is not None
        assert (given.survey.shares, given.survey.comparisons) == ((), ())
        check = next(check for check in given.checks if check.id == "study_design")
        assert check.remedies[0].question is not None
        assert check.remedies[0].question.lens == "odds"
        assert given.reading.lead


@pytest.mark.parametrize("event", ["yes", "no"])
def test_the_weighted_table_is_drawn_and_told_as_it_is_counted(event: str) -> None:
    case = CASES[0]
    outcome = {"variable": "ill", "event": [event]}
    vary = [{"variable": "water_source", "reference": "well"}]
    given = asked(case, lens="crosstab", outcome=outcome, vary_with=vary)
    table = given.survey and given.survey.table
    assert table is not None
    assert [table.columns[j] for j in table.event] == [event]
    people = np.array(table.row_margin)
    shares = np.array([[cell.estimate for cell in row] for row in table.row_proportions])
    np.testing.assert_allclose(table.column_margin, people @ shares, rtol=1e-12)
    sentence = given.reading.cells[0][table.event[0]]
    assert f"Weighted, {100 * shares[0][table.event[0]]:.1f}%" in sentence
    tiles = figures.of(given)["mosaic"]["layer"][0]["data"]["values"]
    for tile in tiles:
        assert tile["x1"] - tile["x0"] == pytest.approx(shares[tile["row"], tile["column"]])
        is_left = tile["x0"] == 0
        assert is_left == (table.columns[tile["column"]] == event)
    tall = np.array([t["y1"] - t["y0"] for t in tiles if t["x0"] == 0])
    np.testing.assert_allclose(tall / tall.sum(), people / people.sum(), rtol=1e-9)
    by_group = {share.label: share for share in given.survey.shares}  # type: ignore[union-attr]
    furthest = max(given.survey.comparisons, key=lambda c: abs(c.odds_ratio.t))  # type: ignore[union-attr]
    odds = furthest.odds_ratio
    assert (
        f"share of “{event}” (ill) was {100 * by_group[furthest.label].estimate:.1f}% with "
        f"{furthest.label} and {100 * by_group['well'].estimate:.1f}% with well "
        f"(odds ratio = {odds.estimate:.2f}, 95% CI [{odds.ci[0]:.2f}, {odds.ci[1]:.2f}])"
    ) in given.write_up
