"""The first table of a paper: counts, shares either way, numbers, tests against a library."""

from typing import Any

import numpy as np
import pytest
from scipy import stats

from core.asking import categories, coded
from hobrix.core.data import Frame, Measured, Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import FirstTable, Question, first_table

RANDOM = np.random.default_rng(6)
ILL = RANDOM.integers(-1, 2, 200)
SOURCE = RANDOM.integers(-1, 3, 200)
AGE = np.where(RANDOM.random(200) < 0.05, np.nan, RANDOM.normal(40, 12, 200))


def frame() -> Frame:
    variables = [
        Variable(name="ill", kind="nominal", categories=categories("i", 2)),
        Variable(name="source", kind="nominal", categories=categories("s", 3)),
        Variable(name="age", kind="numeric", unit="years"),
        Variable(name="note", kind="text"),
    ]
    words = np.full(200, -1, np.int8)
    sources: dict[str, Any] = {
        "ill": coded(ILL.tolist(), "i", 2),
        "source": coded(SOURCE.tolist(), "s", 3),
        "age": Measured(AGE, words, ()),
        "note": coded([0] * 200, "t", 1),
    }
    return Frame.of(variables, sources, 200)


def table(*names: str, **options: Any) -> FirstTable:
    terms = [{"variable": name} for name in names]
    asked = {"outcome": {"variable": "ill"}, "vary_with": terms}
    return first_table(Question.model_validate(asked), frame(), **options)


def test_counts_and_shares_within_the_outcome() -> None:
    found = table("source")
    assert [head.n for head in found.columns] == [sum(ILL == 0), sum(ILL == 1), sum(ILL >= 0)]
    for code, line in enumerate(found.lines):
        for answer in (0, 1):
            both = (answer == ILL) & (SOURCE >= 0)
            n = int(np.sum(both & (code == SOURCE)))
            assert line.cells[answer].n == n
            assert line.cells[answer].share == pytest.approx(n / both.sum())
    assert found.lines[0].n_missing == np.sum((SOURCE < 0) & (ILL >= 0))


def test_shares_within_the_characteristic() -> None:
    for line in table("source", within="characteristic").lines:
        assert sum(cell.share or 0 for cell in line.cells[:-1]) == pytest.approx(1)
        assert line.cells[-1].share == pytest.approx(1)


@pytest.mark.parametrize("numbers", ["mean", "median"])
def test_numbers_and_their_test(numbers: Any) -> None:
    (line,) = table("age", numbers=numbers, tests=True).lines
    groups = [AGE[(code == ILL) & ~np.isnan(AGE)] for code in (0, 1)]
    for cell, values in zip(line.cells, groups, strict=False):
        middle = np.mean(values) if numbers == "mean" else np.median(values)
        assert cell.middle == pytest.approx(middle)
        spread = (
            (np.std(values, ddof=1),) if numbers == "mean" else np.quantile(values, (0.25, 0.75))
        )
        assert cell.spread == pytest.approx(tuple(spread))
    test = stats.ttest_ind(*groups) if numbers == "mean" else stats.kruskal(*groups)
    assert line.p == pytest.approx(test.pvalue)
    assert line.title == "age (years)"


def test_the_test_of_categories_is_pearsons() -> None:
    lines = table("source", tests=True).lines
    counts = [[np.sum((s == SOURCE) & (i == ILL)) for i in (0, 1)] for s in range(3)]
    assert lines[0].p == pytest.approx(stats.chi2_contingency(counts, correction=False).pvalue)
    assert [line.p for line in lines[1:]] == [None, None]


@pytest.mark.parametrize(
    ("names", "message"),
    [((), "Choose the characteristics"), (("ill",), "is the outcome"), (("note",), "free text")],
)
def test_what_cannot_be_listed(names: tuple[str, ...], message: str) -> None:
    with pytest.raises(QuestionError, match=message):
        table(*names)
