"""The Odds model lens: agreement with the reference through the sentence, and clear refusals."""

from typing import Any

import numpy as np
import polars as pl
import pytest

from core.asking import ask as cross
from core.asking import counts_frame, refusal
from core.closeness import assert_agrees
from core.test_crosstab_depth import stratified_frame
from hobrix import figures
from hobrix.core.data import Category, Frame, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.formats.table import source_column
from hobrix.core.questions import Answer, Question, answer
from reference_numbers import REFERENCE, reference_cases

CASES = [
    case for case in reference_cases("logistic") if case["expected"]["maximum_likelihood_finite"]
]
SEPARATED = [
    case
    for case in reference_cases("logistic")
    if not case["expected"]["maximum_likelihood_finite"]
]


def frame_of(case: dict[str, Any]) -> Frame:
    table = pl.read_csv(REFERENCE / case["data"], infer_schema=False)
    kinds = {
        t["variable"]: t for t in [*case["vary_with"], *case["allowing_for"]] if not t.get("with")
    }
    names = [*kinds, case["outcome"]["variable"], *([case["counts"]] if case["counts"] else [])]
    variables = []
    for name in names:
        numeric = name == case["counts"] or kinds.get(name, {}).get("kind") == "numeric"
        levels = sorted(set(table[name].drop_nulls()) - {""})
        variables.append(
            Variable(
                name=name,
                kind="numeric" if numeric else "nominal",
                categories=()
                if numeric
                else tuple(Category(value=level, label=level) for level in levels),
            )
        )
    sources = {name: source_column(table[name]) for name in names}
    return Frame.of(variables, sources, table.height)


def asked(case: dict[str, Any], **changes: Any) -> Answer:
    def terms(slot: str) -> list[dict[str, Any]]:
        keep = ("variable", "reference", "per", "with")
        return [{k: term[k] for k in keep if k in term} for term in case[slot]]

    fields = {
        "lens": "odds",
        "outcome": {
            "variable": case["outcome"]["variable"],
            "event": [case["outcome"]["event"]],
        },
        "vary_with": terms("vary_with"),
        "allowing_for": terms("allowing_for"),
        **(
            {"counted_by": {"kind": "counts", "variable": case["counts"]}} if case["counts"] else {}
        ),
        **changes,
    }
    return answer(Question.model_validate(fields), frame_of(case), panels=None)


def odds(**options: Any) -> dict[str, Any]:
    return {"odds": options}


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_the_model_through_the_sentence(case: dict[str, Any]) -> None:
    given, expected = asked(case, options=odds(profiles=case["profiles"])), case["expected"]
    model, opened = given.results.whole, given.opened
    assert (model.n, model.events) == (expected["n"], expected["events"])
    for key in ("covariate_patterns", "parameters", "separation"):
        assert getattr(model, key) == expected[key]
    for key in (
        "log_likelihood",
        "log_likelihood_null",
        "deviance",
        "deviance_null",
        "aic",
        "bic",
        "mcfadden",
        "mcfadden_adjusted",
        "cox_snell",
        "nagelkerke",
        "tjur",
    ):
        assert_agrees(getattr(model.likelihood, key), expected[key], key, relative=1e-8)
    assert_agrees(opened.fit.brier, expected["brier"], "brier", relative=1e-8)
    coefficients_agree(opened.coefficients.coefficients, expected["coefficients"])
    terms_agree(model.terms, expected["terms"])
    panels_agree(opened, expected)
    effects = {(e.variable, e.level): e for e in model.average_marginal_effects}
    for theirs in expected["average_marginal_effects"]:
        mine = effects[(theirs["variable"], theirs["level"])]
        for key in ("estimate", "se", "z"):
            assert_agrees(getattr(mine, key), theirs[key], key, relative=1e-8)
        assert_agrees(list(mine.ci), theirs["ci_95"], "effect", relative=1e-7)
    tidwell = {each.variable: each.box_tidwell for each in opened.fit.linearity}
    for theirs in expected["box_tidwell"]:
        if theirs["variable"] not in tidwell:
            # Not asked of a number that acts together with another variable.
            assert any(t.part_of_interaction for t in model.terms)
            continue
        mine = tidwell[theirs["variable"]]
        assert mine is not None
        assert_agrees(mine.statistic, theirs["statistic"], "Box–Tidwell", relative=1e-7)


def coefficients_agree(rows: Any, expected: list[dict[str, Any]]) -> None:
    coefficients = {(row.term, row.level): row for row in rows}
    for theirs in expected:
        mine = coefficients[(theirs["term"], theirs["level"])]
        assert_agrees(mine.log_odds, theirs["log_odds"], "log odds", relative=1e-8)
        assert_agrees(mine.se, theirs["se"], "se", relative=1e-8)
        assert_agrees(list(mine.log_odds_ci), theirs["log_odds_ci_95_wald"], "Wald", relative=1e-8)
        assert_agrees(mine.p, theirs["p"], "p", relative=1e-7)
        if theirs["odds_ratio"] is None:
            assert mine.odds_ratio == np.inf  # more than a double can hold
            continue
        # An error in a large exponent grows with it.
        relative = 1e-8 * max(1.0, abs(mine.log_odds))
        assert_agrees(mine.odds_ratio, theirs["odds_ratio"], "odds ratio", relative=relative)
        if None not in theirs["ci_95_wald"]:
            assert_agrees(list(mine.ci), theirs["ci_95_wald"], "interval", relative=relative)


def terms_agree(found: Any, expected: list[dict[str, Any]]) -> None:
    terms = {term.term: term for term in found}
    for theirs in expected:
        mine = terms[theirs["term"]]
        assert mine.part_of_interaction == theirs["part_of_interaction"]
        for key in ("wald", "likelihood_ratio"):
            test = getattr(mine, key)
            assert_agrees(test.statistic, theirs[key]["statistic"], key, relative=1e-8)
        assert_agrees(mine.gvif_adjusted, theirs["gvif_adjusted"], "gvif", relative=1e-8)


def panels_agree(opened: Any, expected: dict[str, Any]) -> None:
    for step, theirs in zip(
        opened.steps.steps if opened.steps else [], expected["steps"], strict=True
    ):
        assert_agrees(step.gain.statistic, theirs["statistic"], step.step, relative=1e-8)
        assert_agrees(step.log_likelihood, theirs["log_likelihood"], step.step, relative=1e-8)
    for mine, theirs in zip(opened.profile.predictions, expected["predictions"], strict=True):
        for key in ("log_odds", "se_log_odds", "probability"):
            assert_agrees(getattr(mine, key), theirs[key], key, relative=1e-8)
        assert_agrees(list(mine.ci), theirs["ci_95"], "prediction", relative=1e-8)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_fit_sorting_and_unusual_rows_through_the_sentence(case: dict[str, Any]) -> None:
    opened, expected = asked(case).opened, case["expected"]
    mine, theirs = opened.fit.hosmer_lemeshow, expected["hosmer_lemeshow"]
    assert (mine.df, mine.groups) == (theirs["df"], theirs["groups"])
    assert_agrees(mine.statistic, theirs["statistic"], "Hosmer–Lemeshow", relative=1e-8)
    for key in ("pearson_goodness_of_fit", "deviance_goodness_of_fit"):
        test = getattr(opened.fit, key)
        assert (test is None) == (expected[key]["df"] <= 0)
        if test is not None:
            assert_agrees(test.statistic, expected[key]["statistic"], key, relative=1e-8)
    by_cutoff = {each.cutoff: each for each in opened.sorting.classification}
    for theirs in expected["classification"]:
        for key, value in vars(by_cutoff[theirs["cutoff"]]).items():
            assert_agrees(value, theirs[key], key)
    for key, theirs in (
        ("estimate", "estimate"),
        ("se", "se"),
        ("ci", "ci_95"),
        ("ci_logit", "ci_95_logit"),
    ):
        value = getattr(opened.sorting.auc, key)
        value = list(value) if isinstance(value, tuple) else value
        assert_agrees(value, expected["auc"][theirs], key, relative=1e-8)
    for key, value in expected["concordance"].items():
        assert_agrees(getattr(opened.sorting.concordance, key), value, key, relative=1e-8)
    keys = ("fitted", "pearson", "standardized_pearson", "deviance", "leverage", "cooks_distance")
    for which in ("first_rows", "most_extreme"):
        rows = getattr(opened.unusual, which)
        for mine, theirs in zip(rows, expected["residuals"][which], strict=False):
            assert (mine.row, mine.observed) == (theirs["row"], theirs["observed"])
            for key in keys:
                assert_agrees(getattr(mine, key), theirs[key], key, relative=1e-7)


@pytest.mark.parametrize("case", SEPARATED, ids=lambda case: case["name"])
def test_separation_is_explained(case: dict[str, Any]) -> None:
    with pytest.raises(QuestionError, match="is told apart") as refused:
        asked(case)
    assert refused.value.slot == "vary_with"
    assert "Firth" in str(refused.value)


@pytest.mark.parametrize("case", SEPARATED, ids=lambda case: case["name"])
def test_penalised_likelihood_through_the_sentence(case: dict[str, Any]) -> None:
    given, expected = asked(case, options=odds(method="firth")), case["expected"]
    model = given.results.whole
    assert model.separation == expected["separation"]
    assert (model.likelihood.aic, model.likelihood.nagelkerke) == (None, None)
    assert "aic" in {each.quantity for each in given.unavailable}
    theirs = expected["firth"]["penalised_log_likelihood"]
    assert_agrees(model.likelihood.penalised_log_likelihood, theirs, "PLL")
    rows = {(row.term, row.level): row for row in given.opened.coefficients.coefficients}
    for each in expected["firth"]["coefficients"]:
        mine = rows[(each["term"], each["level"])]
        assert_agrees(mine.log_odds, each["log_odds"], "b", relative=1e-8)
        assert_agrees(mine.p, each["penalised_likelihood_ratio"]["p"], "p", relative=1e-6)
        if each["ci_95_profile_penalised"] is not None:
            limits = [*mine.ci]
            assert_agrees(limits, each["ci_95_profile_penalised"], "limits", relative=1e-6)
    check = next(check for check in given.checks if check.id == "separation")
    assert (check.status, "Firth" in check.text) == ("care", True)


@pytest.mark.parametrize("case", CASES[:4], ids=lambda case: case["name"])
def test_profile_intervals_where_they_are_asked_for(case: dict[str, Any]) -> None:
    given = asked(case, options=odds(limits="profile"))
    rows = {(row.term, row.level): row for row in given.opened.coefficients.coefficients}
    for theirs in case["expected"]["coefficients"]:
        mine = rows[(theirs["term"], theirs["level"])].log_odds_ci
        assert_agrees([*mine], theirs["log_odds_ci_95_profile"], relative=1e-7)


def test_one_yes_no_variable_gives_the_odds_ratio_of_the_table() -> None:
    table = [[30, 59], [72, 79]]
    sides: dict[str, Any] = {
        "outcome": {"variable": "column", "event": ["c1"]},
        "vary_with": [{"variable": "row", "reference": "r2"}],
    }
    model = cross(table, lens="odds", **sides).results.whole
    odds = cross(table, **sides).results.whole.groups.comparisons[0].odds_ratio
    row = model.terms[0].rows[0]
    assert row.odds_ratio == pytest.approx(odds.estimate, rel=1e-9)
    assert row.ci == pytest.approx(odds.ci, rel=1e-9)
    assert row.unadjusted == pytest.approx(row.odds_ratio, rel=1e-9)


def strata(**changes: Any) -> Answer:
    tables = [[[30, 60], [20, 90]], [[12, 30], [10, 44]]]
    fields = {
        "lens": "odds",
        "outcome": {"variable": "column"},
        "vary_with": [{"variable": "row"}],
        "allowing_for": [{"variable": "stratum"}],
        "counted_by": {"kind": "counts", "variable": "n"},
        **changes,
    }
    return answer(Question.model_validate(fields), stratified_frame(tables), panels=None)


def test_what_it_says_and_draws() -> None:
    given = strata()
    assert "Allowing for Stratum, the odds of “c1”" in given.reading.lead
    assert "Unadjusted it was" in given.reading.lead
    assert "percent more likely" in given.reading.notes[0]
    drawn = figures.of(given)["forest"]["data"]["values"]
    assert [line["label"] for line in drawn] == ["row: r1", "Stratum: s2"]
    assert given.opened.coefficients.equation.startswith("log odds = ")


@pytest.mark.parametrize(
    ("changes", "slot", "message"),
    [
        ({"allowing_for": [{"variable": "row"}]}, "allowing_for", "twice"),
        ({"allowing_for": [{"variable": "column"}]}, "allowing_for", "twice"),
        ({"vary_with": []}, "vary_with", "Choose what"),
        ({"outcome": None}, "outcome", "Choose the outcome"),
        (
            {"allowing_for": [{"variable": "stratum", "with": "row"}]},
            "allowing_for",
            "by themselves",
        ),
        ({"allowing_for": [{"variable": "stratum", "bend": "spline"}]}, "allowing_for", "bend as"),
        ({"options": odds(cutoff=1.5)}, "options.odds.cutoff", "between 0 and 1"),
        ({"options": odds(without_rows=[9999])}, "options.odds.without_rows", "not among"),
        (
            {"options": odds(profiles=[{"row": "nowhere"}])},
            "options.odds.profiles",
            "Nobody counted",
        ),
        ({"vary_with": [{"variable": "n", "per": 0}]}, "vary_with", "above 0"),
    ],
)
def test_what_cannot_be_asked(changes: dict[str, Any], slot: str, message: str) -> None:
    where, words = refusal(lambda: strata(**changes))
    assert where == slot
    assert message in words


def test_everybody_having_the_event_is_refused() -> None:
    fields = {
        "lens": "odds",
        "outcome": {"variable": "column", "event": ["c1"]},
        "vary_with": [{"variable": "row"}],
        "counted_by": {"kind": "counts", "variable": "n"},
    }
    with pytest.raises(QuestionError, match="nothing to explain"):
        answer(Question.model_validate(fields), counts_frame([[5, 0], [7, 0]]))


def test_variables_that_say_the_same_are_named() -> None:
    numbers = np.arange(40.0)
    table = pl.DataFrame(
        {
            "ill": ["yes" if i % 3 == 0 else "no" for i in range(40)],
            "a": [str(x) for x in numbers],
            "b": [str(2 * x + 1) for x in numbers],
        }
    )
    answers = (Category(value="no", label="No"), Category(value="yes", label="Yes"))
    variables = [
        Variable(name="ill", kind="nominal", categories=answers, event=("yes",)),
        Variable(name="a", kind="numeric"),
        Variable(name="b", kind="numeric"),
    ]
    frame = Frame.of(variables, {n: source_column(table[n]) for n in table.columns}, 40)
    question = {
        "lens": "odds",
        "outcome": {"variable": "ill"},
        "vary_with": [{"variable": "a"}],
        "allowing_for": [{"variable": "b"}],
    }
    with pytest.raises(QuestionError, match="can be worked out from the other"):
        answer(Question.model_validate(question), frame)


def test_what_a_lens_cannot_use_is_passed_over_and_said() -> None:
    for lens in ("crosstab", "proportions", "distribution"):
        given = strata(lens=lens)
        check = next(check for check in given.checks if check.id == "passed_over")
        assert check.status == "care"
        assert "does not allow for Stratum" in check.text
        assert check.remedies[0].question is not None
        assert check.remedies[0].question.lens == "odds"


def test_an_absent_reference_and_empty_categories_are_said() -> None:
    tables = [[[30, 60], [0, 0], [20, 90]], [[12, 30], [0, 0], [10, 44]]]
    frame = stratified_frame(tables)
    for lens in ("odds", "proportions", "crosstab"):
        fields = {
            "lens": lens,
            "outcome": {"variable": "column"},
            "vary_with": [{"variable": "row", "reference": "r2"}],
            "counted_by": {"kind": "counts", "variable": "n"},
        }
        given = answer(Question.model_validate(fields), frame)
        told = next(check.text for check in given.checks if check.id == "reference")
        assert "Nobody counted is in the reference" in told
        assert "“r1” instead" in told


def test_a_variable_with_one_category_is_refused() -> None:
    base = stratified_frame([[[30, 60], [20, 90]]])
    fields = {
        "lens": "odds",
        "outcome": {"variable": "column"},
        "vary_with": [{"variable": "row"}],
        "allowing_for": [{"variable": "stratum"}],
        "counted_by": {"kind": "counts", "variable": "n"},
    }
    with pytest.raises(QuestionError, match="one category only") as refused:
        answer(Question.model_validate(fields), base)
    assert refused.value.slot == "allowing_for"


def test_in_a_case_control_study_the_share_is_not_called_common() -> None:
    tables = [[[30, 60], [20, 90]], [[12, 30], [10, 44]]]
    fields = {
        "lens": "odds",
        "outcome": {"variable": "column"},
        "vary_with": [{"variable": "row"}],
        "counted_by": {"kind": "counts", "variable": "n"},
    }
    question = Question.model_validate(fields)
    ids = [
        {check.id for check in answer(question, stratified_frame(tables, design)).checks}
        for design in ("cohort", "case_control")
    ]
    assert "common_event" in ids[0]
    assert "common_event" not in ids[1]
