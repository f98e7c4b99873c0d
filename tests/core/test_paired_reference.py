"""The same people twice or more, against reference numbers."""

import csv
import json
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest

from core.asking import counts_frame, crosstab_question
from core.closeness import assert_agrees
from hobrix.core.data import Category, Frame, Variable
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Question, answer
from hobrix.core.tables import agreement, paired

FOLDER = Path(__file__).parents[1] / "reference"
CASES = json.loads((FOLDER / "paired.json").read_text())["cases"]
SQUARE = [case for case in CASES if case["kind"] == "square"]
SEVERAL = [case for case in CASES if case["kind"] == "conditions"]


def rows(case: dict[str, Any]) -> list[dict[str, str]]:
    with (FOLDER / case["data"]).open(newline="") as file:
        return list(csv.DictReader(file))


def table_of(case: dict[str, Any]) -> np.ndarray:
    place = {value: i for i, value in enumerate(case["categories"])}
    counts = np.zeros((len(place), len(place)))
    for row in rows(case):
        first, second = row[case["first"]], row[case["second"]]
        if first in place and second in place:
            counts[place[first], place[second]] += (
                float(row[case["counts"]]) if case["counts"] else 1
            )
    return counts


def told_of_test(found: Any) -> Any:
    return None if found is None else {"statistic": found.statistic, "df": found.df, "p": found.p}


def agrees(found: Any, expected: Any, where: str) -> None:
    """The numbers that are expected, of those found by the same names."""
    if isinstance(expected, dict):
        assert found is not None, where
        for key, value in expected.items():
            agrees(found[key], value, f"{where}.{key}")
    else:
        assert_agrees(found, expected, where)


def told_of_mcnemar(found: paired.McNemar) -> dict[str, Any]:
    return {
        "discordant": list(found.discordant),
        "exact_p": found.exact_p,
        "mid_p": found.mid_p,
        "chi_square": told_of_test(found.chi_square),
        "chi_square_continuity_corrected": told_of_test(found.chi_square_continuity_corrected),
    }


def told_of_difference(found: paired.MarginalDifference) -> dict[str, Any]:
    return {
        "estimate": found.estimate,
        "standard_error": found.standard_error,
        "wald_ci_95": list(found.ci),
        "newcombe_ci_95": list(found.newcombe_ci),
    }


@pytest.mark.parametrize("case", SQUARE, ids=lambda case: case["name"])
def test_twice(case: dict[str, Any]) -> None:
    counts, expected = table_of(case), case["expected"]
    assert counts.tolist() == expected["table"]
    agrees(100 * np.trace(counts) / counts.sum(), expected["percent_agreement"], "agreement")
    found = agreement.symmetry(counts)
    bowker = expected["bowker_symmetry"]
    agrees(
        told_of_test(found), bowker and {k: bowker[k] for k in ("statistic", "df", "p")}, "bowker"
    )
    both = agreement.marginal_homogeneity(counts)
    stuart, bhapkar = both or (None, None)
    agrees(told_of_test(stuart), expected["stuart_maxwell"], "stuart")
    agrees(told_of_test(bhapkar), expected["bhapkar"], "bhapkar")
    for name in ("unweighted", "linear", "quadratic"):
        k = agreement.kappa(counts, name, 0.95)
        told = {
            "observed": k.observed,
            "expected": k.expected,
            "estimate": k.estimate,
            "se": k.standard_error,
            "se_null": k.standard_error_null,
            "z": k.z,
            "p": k.p,
            "ci_95": None if k.ci is None else list(k.ci),
        }
        agrees(told, expected["kappa"][name if name == "unweighted" else f"{name}_weights"], name)
    agrees(agreement.greatest_kappa(counts), expected["kappa"]["maximum_unweighted"], "greatest")
    if len(counts) > 2:
        return
    agrees(told_of_mcnemar(paired.mcnemar(counts)), expected["mcnemar"], "mcnemar")
    wanted = {k: expected["difference"][k] for k in told_of_difference(_difference(counts))}
    agrees(told_of_difference(_difference(counts)), wanted, "difference")
    odds, ratio = paired.change_odds(counts, 0.95), expected["difference"]["odds_ratio_conditional"]
    if ratio is None or ratio["log_standard_error"] is None:
        assert odds is None
    else:
        assert odds is not None
        told = {
            "estimate": odds.estimate,
            "log_standard_error": odds.log_standard_error,
            "ci_95": list(odds.ci),
        }
        agrees(told, ratio, "odds")


def _difference(counts: np.ndarray) -> paired.MarginalDifference:
    return paired.marginal_difference(counts, 0.95)


@pytest.mark.parametrize("case", SEVERAL, ids=lambda case: case["name"])
def test_several_times(case: dict[str, Any]) -> None:
    names, expected = case["conditions"], case["expected"]
    answered = [[row[name] for name in names] for row in rows(case)]
    complete = [row for row in answered if all(row)]
    assert len(answered) - len(complete) == expected["dropped_for_missing"]
    found = paired.occasions(np.array(complete) == case["event"], 0.95)
    assert found.n == expected["n"]
    assert list(found.events) == [each["events"] for each in expected["conditions"]]
    assert found.mixed == expected["rows_with_mixed_answers"]
    agrees(told_of_test(found.q), expected["cochran_q"], "q")
    assert len(found.changes) == len(expected["pairwise"])
    for change, wanted in zip(found.changes, expected["pairwise"], strict=True):
        assert (names[change.first], names[change.second]) == (wanted["first"], wanted["second"])
        agrees(told_of_mcnemar(change.mcnemar), wanted["mcnemar"], wanted["second"])
        agrees(change.p_adjusted, wanted["exact_p_holm"], wanted["second"])
        agrees(told_of_difference(change.difference), wanted["difference"], wanted["second"])


def asked(**fields: Any) -> Any:
    """The panel of a table of the reference, asked through a question about its rows."""
    name = fields.pop("case")
    case = next(each for each in CASES if each["name"] == name)
    kind = fields.pop("kind", "nominal")
    answers = tuple(Category(value=v, label=v) for v in case["categories"])
    data = pl.read_csv(FOLDER / case["data"], infer_schema=False)
    variables = [
        Variable(name=case[when], kind=kind, categories=answers) for when in ("first", "second")
    ]
    sources = {v.name: source_column(data[v.name].fill_null("")) for v in variables}
    frame = Frame.of(variables, sources, data.height)
    question = {
        "outcome": {"variable": case["second"], "event": fields.pop("event", [])},
        "vary_with": [{"variable": case["first"]}],
        **fields,
    }
    return answer(Question.model_validate(question), frame, panels=["twice"]), case["expected"]


def test_before_and_after_through_a_question() -> None:
    given, expected = asked(case="before_and_after", event=["yes"])
    panel = given.opened.twice
    assert_agrees(panel.answers[0].change, -expected["difference"]["estimate"], "change")
    low, high = expected["difference"]["newcombe_ci_95"]
    assert_agrees(list(panel.answers[0].ci), [-high, -low], "limits of the change")
    assert panel.same == 49 + 33
    assert [(m.one, m.other, m.there, m.back) for m in panel.moved] == [("yes", "no", 19, 38)]
    # Twice as many came to boil as stopped.
    assert_agrees(panel.change_odds.estimate, 2.0, "odds of change")
    assert (
        "82 of 139 (59.0%) gave the same answer. “yes” changed by 13.7 percentage points"
        in given.write_up
    )
    assert "p = .016 (McNemar’s exact test)" in given.write_up
    assert [each.weights for each in panel.agreement] == ["unweighted"]


def test_three_ordered_answers() -> None:
    given, expected = asked(case="three_ratings", kind="ordinal")
    panel = given.opened.twice
    agrees(told_of_test(panel.homogeneity), expected["stuart_maxwell"], "stuart")
    assert [each.weights for each in panel.agreement] == ["unweighted", "linear", "quadratic"]
    agrees(panel.agreement[2].estimate, expected["kappa"]["quadratic_weights"]["estimate"], "kappa")
    changes = [each.change for each in panel.answers]
    assert_agrees(changes, [-d for d in expected["marginal_differences"]], "changes")
    assert panel.moved[0].one == "doubtful"
    assert (panel.moved[0].there, panel.moved[0].back) == (24, 10)
    assert panel.mcnemar is None
    assert "Marginal homogeneity: Stuart–Maxwell χ²(2) = 8.57, p = .014." in given.write_up


def test_nobody_changed_and_other_answers() -> None:
    given, _ = asked(case="no_discordant_pairs")
    panel = given.opened.twice
    assert (panel.symmetry, panel.homogeneity, panel.change_odds, panel.moved) == (None,) * 3 + (
        (),
    )
    weighted = counts_frame([[3, 1], [2, 4]])
    other = answer(crosstab_question(), weighted)
    assert "twice" not in [each.name for each in other.panels]
