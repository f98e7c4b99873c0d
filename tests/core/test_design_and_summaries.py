"""Survey designs as recorded, summaries recognised, and who is set aside."""

from typing import Any

import numpy as np
import pytest
from scipy import stats

from core.asking import categories, coded, crosstab_question
from hobrix.core.data import (
    Coded,
    Design,
    Frame,
    Measured,
    RowNoun,
    Variable,
    counts_candidate,
    look_at,
)
from hobrix.core.errors import QuestionError
from hobrix.core.questions import compare_set_aside, rows_set_aside


def sample(weights: list[float], strata: list[int], clusters: list[int]) -> Frame:
    variables = [
        Variable(name="w", label="Weight", kind="numeric"),
        Variable(name="s", kind="nominal", categories=categories("s", 3)),
        Variable(name="c", kind="nominal", categories=categories("c", 9)),
    ]
    sources: dict[str, Any] = {
        "w": Measured(np.array(weights), np.full(len(weights), -1, np.int8), ()),
        "s": coded(strata, "s", 3),
        "c": coded(clusters, "c", 9),
    }
    return Frame.of(variables, sources, len(weights), RowNoun("household", "households"))


DESIGN = Design(weights="w", strata="s", clusters="c")


def test_kish_factor_and_effective_size() -> None:
    weights = [1.0, 1.0, 2.0, 4.0]
    factor = 4 * sum(w**2 for w in weights) / sum(weights) ** 2
    findings = look_at(Design(weights="w"), sample(weights, [0] * 4, [0] * 4)).findings
    assert (
        f"factor of {factor:.2f} (Kish), as if there were {4 / factor:,.0f} households"
        in findings[0]
    )


def test_degrees_of_freedom_are_clusters_minus_strata() -> None:
    findings = look_at(DESIGN, sample([1.0] * 6, [0, 0, 0, 1, 1, 1], [0, 1, 2, 3, 4, 4])).findings
    assert findings[-1] == "5 clusters in 2 strata: 3 degrees of freedom."


def test_a_single_cluster_is_named_by_its_stratum() -> None:
    findings = look_at(DESIGN, sample([1.0] * 4, [0, 0, 1, 2], [0, 1, 2, 3])).findings
    assert "Only one cluster in 2 of the strata (s2, s3)" in findings[-2]


def test_clusters_in_two_strata_count_as_different_ones() -> None:
    findings = look_at(DESIGN, sample([1.0] * 4, [0, 0, 1, 1], [0, 1, 0, 2])).findings
    assert (
        "1 cluster stands in more than one stratum (c1): taken as different clusters in each."
        in findings
    )
    assert findings[-1] == "4 clusters in 2 strata: 2 degrees of freedom."


def test_strata_taken_together_are_one_and_no_longer_single() -> None:
    frame = sample([1.0] * 5, [0, 0, 1, 2, 2], [0, 1, 2, 3, 4])
    assert [c.value for c in look_at(DESIGN, frame).single] == ["s2"]
    together = DESIGN.model_copy(update={"together": (("s1", "s2"),)})
    look = look_at(together, frame)
    assert look.single == ()
    assert [c.label for c in look.strata] == ["s1 with s2", "s3"]
    assert look.findings[-1] == "5 clusters in 2 strata: 3 degrees of freedom."


@pytest.mark.parametrize(
    ("together", "message"),
    [((("s1", "north"),), "“north” is no answer"), ((("s1", "s2"), ("s2", "s3")), "named twice")],
)
def test_strata_that_cannot_be_taken_together(together: Any, message: str) -> None:
    frame = sample([1.0] * 5, [0, 0, 1, 2, 2], [0, 1, 2, 3, 4])
    with pytest.raises(QuestionError, match=message):
        look_at(DESIGN.model_copy(update={"together": together}), frame)


def test_strata_that_are_long_numbers_are_told_apart_in_full() -> None:
    codes = [70_000_001.0, 70_000_001.0, 70_000_002.0, 0.1, 0.1]
    n = len(codes)
    frame = Frame.of(
        [Variable(name=name, kind="numeric") for name in ("w", "s")],
        {"w": Measured.of(np.ones(n)), "s": Measured.of(np.array(codes))},
        n,
    )
    design = Design(weights="w", strata="s")
    assert [c.value for c in look_at(design, frame).strata] == ["0.1", "70000001", "70000002"]
    assert [c.value for c in look_at(design, frame).single] == ["70000002"]
    together = design.model_copy(update={"together": (("70000001", "70000002"),)})
    assert look_at(together, frame).single == ()


def test_clusters_in_several_strata_are_counted_once() -> None:
    """One cluster in three strata is one cluster that stands in more than one."""
    findings = look_at(DESIGN, sample([1.0] * 6, [0, 0, 1, 1, 2, 2], [0, 1, 0, 2, 0, 3])).findings
    assert any(finding.startswith("1 cluster stands in more") for finding in findings)


def test_equal_weights_and_a_cluster_per_row_are_told() -> None:
    findings = look_at(DESIGN, sample([2.0] * 4, [0, 0, 1, 1], [0, 1, 2, 3])).findings
    assert findings[0].startswith("All weights are 2: they change no share.")
    assert "Every household is a cluster of its own, as without clusters." in findings


def test_numbers_of_rows_do_not_pass_for_weights() -> None:
    told = "Weight numbers the rows from 1 to 4: hardly a weight."
    for weights, is_told in ([3.0, 1.0, 2.0, 4.0], True), ([1.0, 2.0, 2.0, 4.0], False):
        findings = look_at(DESIGN, sample(weights, [0, 0, 1, 1], [0, 1, 2, 3])).findings
        assert (told in findings) == is_told


def test_many_clusters_in_two_strata_are_named_by_number_and_cut_short() -> None:
    villages = np.tile(np.arange(101.0, 108.0), 2)
    frame = Frame.of(
        [Variable(name=name, kind="numeric") for name in ("w", "s", "c")],
        {
            "w": Measured.of(np.ones(14)),
            "s": Measured.of(np.repeat([1.0, 2.0], 7)),
            "c": Measured.of(villages),
        },
        14,
    )
    findings = look_at(DESIGN, frame).findings
    told = "7 clusters stand in more than one stratum (101, 102, 103, 104, 105 …)"
    assert any(finding.startswith(told) for finding in findings)


def test_rows_without_weight_are_told() -> None:
    frame = sample([1.0, 0.0, np.nan, 2.0], [0] * 4, [0] * 4)
    findings = look_at(Design(weights="w"), frame).findings
    assert findings[:2] == (
        "Left out: 1 household without a weight.",
        "Left out: 1 household with weight 0.",
    )


@pytest.mark.parametrize(
    ("weights", "message"),
    [([1.0, -1.0], "negative weight, in row 2"), ([0.0, np.nan], "no weight above zero")],
)
def test_weights_that_are_refused(weights: list[float], message: str) -> None:
    with pytest.raises(QuestionError, match=message):
        look_at(Design(weights="w"), sample(weights, [0, 0], [0, 0]))


def values(*cells: str) -> Coded:
    distinct = tuple(dict.fromkeys(cells))
    return Coded(np.array([distinct.index(cell) for cell in cells], np.int8), distinct)


@pytest.mark.parametrize(
    ("columns", "expected"),
    [
        (
            {
                "a": values("x", "x", "y", "y"),
                "b": values("p", "q", "p", "q"),
                "n": values("5", "7", "9", "2"),
            },
            "n",
        ),
        ({"a": values("x", "y"), "how_many": values("5", "7")}, "how_many"),
        # The same group twice: rows, not groups.
        ({"a": values("x", "x", "y"), "n": values("5", "7", "9")}, None),
        # Counts are not negative, and not all the same.
        ({"a": values("x", "y"), "n": values("5", "-7")}, None),
        ({"a": values("x", "y"), "n": values("1", "1")}, None),
        # Two columns of whole numbers, none of them named as a count.
        ({"a": values("x", "y"), "age": values("30", "40"), "visits": values("2", "3")}, None),
    ],
)
def test_summaries_are_recognised(columns: Any, expected: str | None) -> None:
    rows = len(next(iter(columns.values())))
    assert counts_candidate(columns, rows) == expected


def survey(sources: list[int], ill: list[int]) -> Frame:
    variables = [
        Variable(name="row", label="Source", kind="nominal", categories=categories("r", 2)),
        Variable(name="column", label="Illness", kind="nominal", categories=categories("c", 2)),
    ]
    return Frame.of(
        variables, {"row": coded(sources, "r", 2), "column": coded(ill, "c", 2)}, len(ill)
    )


QUESTION = crosstab_question(counted_by={"kind": "each"})


def test_rows_set_aside_say_what_they_lack() -> None:
    frame = survey([0, 0, -1, 1, -1], [0, -1, 0, 1, -1])
    aside = rows_set_aside(QUESTION, frame, 0, 10)
    assert aside.rows.tolist() == [1, 2, 4]
    assert aside.unanswered == (("Illness",), ("Source",), ("Illness", "Source"))
    page = rows_set_aside(QUESTION, frame, 2, 10)
    assert (page.rows.tolist(), page.total) == ([4], 3)


def test_the_comparison_is_the_chi_square_of_being_set_aside() -> None:
    rows = [0] * 60 + [1] * 60
    ill = [0, 1] * 29 + [-1] * 2 + [0, 1] * 20 + [-1] * 20
    illness, source = compare_set_aside(QUESTION, survey(rows, ill))
    assert illness.p is None
    assert source.answers == (("r1", 58 / 98, 2 / 22), ("r2", 40 / 98, 20 / 22))
    other = stats.chi2_contingency([[58, 2], [40, 20]], correction=False)
    assert source.p == pytest.approx(other.pvalue, rel=1e-9)
