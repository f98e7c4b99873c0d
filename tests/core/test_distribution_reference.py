"""The Distribution lens and its estimators agree with the reference numbers."""

from typing import Any

import numpy as np
import polars as pl
import pytest

from core.closeness import assert_agrees
from hobrix.core.data import Category, Frame, MissingCode, Variable
from hobrix.core.formats import Table
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Question, answer
from hobrix.core.tables import goodness_of_fit, numeric_summary, one_proportion
from reference_numbers import reference_cases

ONE = [case for case in reference_cases("proportions") if case["name"].startswith("one_")]
FITS = reference_cases("goodness_of_fit")
FREQUENCIES = reference_cases("frequency")


def names(case: dict[str, Any]) -> str:
    return case["name"]


@pytest.mark.parametrize(
    "method", ["wilson", "clopper_pearson", "agresti_coull", "jeffreys", "wald"]
)
@pytest.mark.parametrize("case", ONE, ids=names)
def test_intervals_of_one_share(case: dict[str, Any], method: Any) -> None:
    x, n = case["input"]["x"], case["input"]["n"]
    for level, limits in case["expected"]["confidence_intervals"].items():
        found = one_proportion.share_interval(x, n, float(level), method)
        assert_agrees([found.low, found.high], limits[method], f"{method} {level}")
    for level, limits in case["expected"]["confidence_intervals"].items():
        for name in ("agresti_coull_untruncated", "wald_untruncated"):
            found = getattr(one_proportion, name)(x, n, float(level))
            assert_agrees([found.low, found.high], limits[name], name)


@pytest.mark.parametrize("case", ONE, ids=names)
def test_one_share_against_a_stated_one(case: dict[str, Any]) -> None:
    x, n, stated = case["input"]["x"], case["input"]["n"], case["input"]["p0"]
    for key, test in (
        ("exact_binomial_test", one_proportion.exact_binomial_test(x, n, stated)),
        ("score_z_test", one_proportion.score_test(x, n, stated)),
    ):
        for quantity, value in case["expected"][key].items():
            assert_agrees(getattr(test, quantity), value, f"{key} {quantity}")


def counts_by_category(observed: list[int]) -> Frame:
    categories = tuple(Category(value=f"c{i}", label=f"C{i}") for i in range(len(observed)))
    variables = [
        Variable(name="answer", kind="nominal", categories=categories),
        Variable(name="n", kind="numeric"),
    ]
    cells = pl.Series([c.value for c in categories], dtype=pl.String)
    counts = pl.Series([str(n) for n in observed], dtype=pl.String)
    sources = {"answer": source_column(cells), "n": source_column(counts)}
    return Frame.of(variables, sources, len(observed))


@pytest.mark.parametrize("case", FITS, ids=names)
def test_goodness_of_fit_through_the_question(case: dict[str, Any]) -> None:
    observed, shares = case["input"]["observed"], case["input"]["expected_shares"]
    question = Question.model_validate(
        {
            "lens": "distribution",
            "outcome": {"variable": "answer"},
            "counted_by": {"kind": "counts", "variable": "n"},
            "options": {
                "distribution": {
                    "expected": {
                        "kind": "stated",
                        "shares": {f"c{i}": share for i, share in enumerate(shares)},
                    }
                }
            },
        }
    )
    found = answer(question, counts_by_category(observed)).results.variables[0]
    fit = found.goodness_of_fit.model_dump()
    expected = case["expected"]
    assert found.n_answered == expected["n"]
    for key in (
        "expected_shares",
        "expected_counts",
        "pearson_residuals",
        "standardized_residuals",
    ):
        assert_agrees(fit[key], expected[key], key)
    assert_agrees(fit["cohens_w"], expected["cohens_w"])
    for test in ("pearson", "likelihood_ratio"):
        for key in ("statistic", "df", "p"):
            assert_agrees(fit[test][key], expected[test][key], f"{test} {key}")
    if "exact_multinomial" in expected:
        for key, value in expected["exact_multinomial"].items():
            assert_agrees(fit["exact_multinomial"][key], value, key)


def frequency_frame(given: dict[str, Any], kind: Any) -> Frame:
    def text(value: Any) -> str | None:
        return None if value is None else repr(value)

    codes = {repr(code) for code in given["missing_codes"]}
    cells = pl.Series([text(value) for value in given["values"]], dtype=pl.String)
    variable = Variable(
        name="x",
        kind=kind,
        missing=tuple(MissingCode(value=code) for code in sorted(codes)),
        categories=tuple(
            Category(value=repr(value), label=f"answer {value}")
            for value in given.get("categories", [])
        ),
    )
    variables, sources = [variable], {"x": source_column(cells)}
    if "weights" in given:
        variables.append(Variable(name="w", kind="numeric"))
        weights = pl.Series([str(w) for w in given["weights"]], dtype=pl.String)
        sources["w"] = source_column(weights)
    table = Table(columns=sources, rows=len(given["values"]))
    return Frame.of(variables, table.columns, table.rows)


@pytest.mark.parametrize("case", FREQUENCIES, ids=names)
def test_frequencies(case: dict[str, Any]) -> None:
    given, expected = case["input"], case["expected"]
    kind = "ordinal" if "categories" in given else "numeric"
    asked: dict[str, Any] = {"lens": "distribution", "outcome": {"variable": "x"}}
    if "weights" in given:
        asked["counted_by"] = {"kind": "counts", "variable": "w"}
    answered = answer(Question.model_validate(asked), frequency_frame(given, kind), panels=None)
    found, values = answered.results.variables[0], answered.opened.values
    for key in ("n_all", "n_answered", "n_missing", "percent_missing_of_all"):
        assert_agrees(getattr(found, key), expected[key], key)
    reasons = {row.code: row.count for row in found.missing_breakdown}
    for row in expected["missing_breakdown"]:
        code = "" if row["code"] is None else repr(row["code"])
        assert reasons.get(code, 0) == row["count"]
    table = found.table if values is None else values.table
    assert len(table) == len(expected["table"])
    for mine, row in zip(table, expected["table"], strict=True):
        assert float(mine.value) == row["value"]
        for key in (
            "count",
            "percent_of_all",
            "percent_of_answered",
            "cumulative_percent_of_answered",
        ):
            assert_agrees(getattr(mine, key), row[key], f"{row['value']} {key}")
    assert found.summary is not None
    for key, value in expected["summary"].items():
        assert_agrees(getattr(found.summary, key), value, key)


@pytest.mark.parametrize("case", FREQUENCIES, ids=names)
def test_weights_are_repeated_rows(case: dict[str, Any]) -> None:
    values = np.array([v for v in case["input"]["values"] if v is not None], dtype=np.float64)
    weights = np.arange(1.0, len(values) + 1)
    by_weight = numeric_summary.summarise(numeric_summary.distinct(values, weights))
    repeated = numeric_summary.summarise(
        numeric_summary.distinct(np.repeat(values, weights.astype(int)))
    )
    assert by_weight == repeated


def test_the_exact_multinomial_test_is_the_binomial_one_for_two_categories() -> None:
    for x in range(13):
        multinomial = goodness_of_fit.exact_multinomial(np.array([x, 12.0 - x]), np.array([3.0, 7]))
        binomial = one_proportion.exact_binomial_test(x, 12, 0.3)
        assert multinomial is not None
        assert multinomial.p == pytest.approx(binomial.p_two_sided, rel=1e-10)
        assert multinomial.number_of_outcomes == 13
