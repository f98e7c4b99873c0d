"""Many variables at once in a weighted sample: at a glance, what goes with the outcome, and the
table of characteristics."""

from typing import Any

import numpy as np
import polars as pl
import pytest
from scipy import stats

from core.closeness import assert_agrees
from core.test_survey_questions import design_of, each_case, frame_of
from core.weighted_people import DESIGN, TABLE, N, asked, frame
from hobrix.core.questions import FirstTable, Question, at_a_glance, first_table, screen

W = TABLE["w"].cast(pl.Float64).to_numpy()
AGE = TABLE["age"].cast(pl.Float64).to_numpy()
AMONG: dict[str, Any] = {"all": [{"variable": "source", "is": ["river", "well"]}]}


def question(**fields: Any) -> Question:
    return Question.model_validate({"outcome": {"variable": "ill"}, "counted_by": DESIGN, **fields})


def lines(*names: str, **options: Any) -> FirstTable:
    fields = {key: options.pop(key) for key in ("among", "counted_by") if key in options}
    terms = [{"variable": name} for name in names]
    return first_table(question(vary_with=terms, **fields), frame(), **options)


@pytest.mark.parametrize("among", [None, AMONG])
def test_shares_and_quartiles_at_a_glance_are_weighted_and_counts_are_not(among: Any) -> None:
    found = {e.variable: e for e in at_a_glance(question(among=among), frame())}
    inside = np.ones(N, bool) if among is None else (TABLE["source"] != "piped").to_numpy()
    assert "w" not in found
    schooling = TABLE["schooling"].to_numpy()
    weight_of = {level: W[inside & (schooling == level)].sum() for level in "0123"}
    most = max(weight_of, key=weight_of.__getitem__)
    assert found["schooling"].commonest == most
    share = 100 * weight_of[most] / W[inside].sum()
    assert found["schooling"].percent_commonest == pytest.approx(share, rel=1e-12)
    assert (found["schooling"].n_answered, found["schooling"].n_missing) == (inside.sum(), 0)
    # At least half of the weight lies at or below the median, and at or above it.
    median = found["age"].middle
    half = W[inside].sum() / 2
    assert W[inside & (median >= AGE)].sum() >= half <= W[inside & (median <= AGE)].sum()


@pytest.mark.parametrize("errors", ["linearised", "jackknife"])
def test_each_variable_at_a_glance_has_the_test_of_its_own_question(errors: str) -> None:
    how = {**DESIGN, "errors": errors}
    found = at_a_glance(question(counted_by=how), frame())
    tested = [each for each in found if each.test is not None]
    assert {each.variable for each in tested} >= {"ill", "schooling", "source", "district"}
    for each in tested[:3]:
        options = {"distribution": {"expected": {"kind": "equal"}}}
        alone: dict[str, Any] = {
            "outcome": {"variable": each.variable},
            "counted_by": how,
            "options": options,
        }
        fit = asked("distribution", **alone).results.variables[0].goodness_of_fit
        for key in ("statistic", "df", "df2", "p"):
            assert getattr(each.test, key) == getattr(fit.test, key)
    assert all(each.p_holm >= each.p == each.test.p for each in tested)


@pytest.mark.parametrize("among", [None, AMONG])
def test_screening_ranks_what_the_crosstab_says_of_each(among: Any) -> None:
    found = screen(question(among=among), frame(), ["schooling", "source", "half", "age", "w"])
    assert found.looked_at + found.passed_over == 5
    for each in found.related:
        if each.banded:
            continue
        vary = [{"variable": each.variable}]
        whole = asked("crosstab", vary_with=vary, among=among).results.whole
        assert each.test == whole.test
        assert (each.cramers_v, each.cramers_v_ci) == (whole.cramers_v, whole.cramers_v_ci)
        assert each.cramers_v_bias_corrected <= each.cramers_v
    strengths = [each.cramers_v_bias_corrected for each in found.related]
    assert strengths == sorted(strengths, reverse=True)


def test_numbers_are_screened_in_bands_of_equal_weight() -> None:
    """Bands at weighted quartiles, made beforehand, give the same line."""
    order = np.argsort(AGE, kind="stable")
    reached = np.cumsum(W[order]) / W.sum()
    cuts = [AGE[order][np.searchsorted(reached, q)] for q in (0.25, 0.5, 0.75)]
    bands = np.searchsorted(cuts, AGE, side="right").astype(str)
    banded = TABLE.with_columns(half=pl.Series(bands))
    (by_hand,) = screen(question(), frame(banded), ["half"]).related
    (made,) = screen(question(), frame(), ["age"]).related
    assert made.banded
    assert made.test == by_hand.test
    assert made.cramers_v == pytest.approx(by_hand.cramers_v, rel=1e-12)


def test_with_equal_weights_and_no_clusters_strength_is_that_of_counted_rows() -> None:
    alone = {"kind": "design", "weights": "one"}
    weighted = screen(question(counted_by=alone), frame(), ["schooling", "source", "half"])
    counted = screen(
        question(counted_by={"kind": "each"}), frame(), ["schooling", "source", "half"]
    )
    plain = {each.variable: each for each in counted.related}
    for each in weighted.related:
        assert each.cramers_v == pytest.approx(plain[each.variable].cramers_v, rel=1e-9)
        # The mean design effect of such a sample is 1 but for n / (n - 1) and chance.
        corrected = plain[each.variable].cramers_v_bias_corrected
        assert each.cramers_v_bias_corrected == pytest.approx(corrected, abs=0.01)


@each_case
def test_the_table_of_characteristics_agrees_with_the_reference(case: dict[str, Any]) -> None:
    for given, expected in zip(case["two_way"], case["expected"]["two_way"], strict=True):
        sentence = {
            "outcome": {"variable": given["columns"]},
            "vary_with": [{"variable": given["rows"]}],
            "counted_by": design_of(case),
        }
        asked = Question.model_validate(sentence)
        found = first_table(asked, frame_of(case), within="characteristic", tests=True)
        assert found.weighted
        p = expected["rao_scott_pearson"]["second_order"]["p_f"]
        assert_agrees(found.lines[0].p, p, "p", relative=1e-7)
        cells = np.array(expected["cell_proportions"])
        shares = cells / cells.sum(axis=1, keepdims=True)
        for line, share, n in zip(found.lines, shares, expected["counts"], strict=True):
            assert [cell.n for cell in line.cells[:-1]] == n
            assert_agrees([cell.share for cell in line.cells[:-1]], share.tolist(), "shares")


def test_numbers_in_the_table_of_characteristics_and_the_test_of_equal_means() -> None:
    (line,) = lines("age", tests=True).lines
    ill = (TABLE["ill"] == "yes").to_numpy()
    groups = [~ill, ill, np.ones(N, bool)]
    for cell, inside in zip(line.cells, groups, strict=True):
        mean = np.average(AGE[inside], weights=W[inside])
        sd = np.sqrt(np.average((AGE[inside] - mean) ** 2, weights=W[inside]))
        assert (cell.n, cell.middle) == (inside.sum(), pytest.approx(mean, rel=1e-12))
        assert cell.spread == (pytest.approx(sd, rel=1e-12),)
    assert line.test == "Wald F, adjusted"
    # By the definition: z of each row, added up by village, spread within districts.
    means = [np.average(AGE[g], weights=W[g]) for g in groups[:2]]
    z = W * sum(
        sign * g * (AGE - m) / W[g].sum()
        for sign, g, m in zip((1, -1), groups, means, strict=False)
    )
    villages = TABLE["village"].cast(pl.Int64).to_numpy()
    totals = np.bincount(villages, weights=z, minlength=45)
    variance = sum(9 * totals[np.arange(45) % 5 == d].var(ddof=1) for d in range(5))
    t = (means[0] - means[1]) / np.sqrt(variance)
    assert line.p == pytest.approx(2 * stats.t.sf(abs(t), 40), rel=1e-9)


def test_medians_have_no_test_and_several_groups_have_one() -> None:
    (line,) = lines("age", numbers="median", tests=True).lines
    assert (line.p, line.test) == (None, None)
    terms = [{"variable": "age"}]
    asked = question(outcome={"variable": "source"}, vary_with=terms)
    p = [
        first_table(asked.model_copy(update={"counted_by": how}), frame(), tests=True).lines[0].p
        for how in (
            asked.counted_by,
            asked.counted_by.model_copy(update={"errors": "jackknife"}),
        )
    ]
    assert p[0] == pytest.approx(p[1], rel=0.05)
    assert 0 < p[0] < 1


def test_no_line_depends_on_the_scale_of_the_weights() -> None:
    heavier = TABLE.with_columns(w=pl.Series([repr(40 * float(w)) for w in TABLE["w"]]))
    terms = [{"variable": name} for name in ("source", "age", "schooling")]
    one, other = (
        first_table(question(vary_with=terms), frame(data), tests=True) for data in (TABLE, heavier)
    )
    for a, b in zip(one.lines, other.lines, strict=True):
        assert [c.n for c in a.cells] == [c.n for c in b.cells]
        for x, y in zip(a.cells, b.cells, strict=True):
            found, expected = (c.middle if c.share is None else c.share for c in (x, y))
            assert found == pytest.approx(expected, rel=1e-12)
        assert (a.p or 0) == pytest.approx(b.p or 0, rel=1e-9)
    assert sum(head.share for head in one.columns[:-1]) == pytest.approx(1)
