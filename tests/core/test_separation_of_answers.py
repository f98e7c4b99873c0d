"""Outcomes with more than two answers and matched sets are refused exactly where no finite maximum exists,
by linear programmes that the fit itself goes to only where it has a reason."""

import numpy as np
import pytest

from hobrix.core.logistic import answers, matched
from hobrix.core.logistic.fit import Collinear
from hobrix.core.logistic.matched import MatchedSets
from hobrix.core.logistic.ordered import ORDERED
from hobrix.core.logistic.several import SEVERAL


def _random_answers(random: np.random.Generator) -> answers.AnswerPatterns:
    rows, variables = int(random.integers(15, 120)), int(random.integers(1, 4))
    columns = [
        (random.random(rows) < random.uniform(0.05, 0.5)).astype(float)
        if random.random() < 0.5
        else random.normal(size=rows) * 10 ** random.uniform(-3, 3)
        for _ in range(variables)
    ]
    x = np.column_stack(columns)
    slope = (x / (np.abs(x).max(axis=0) + 1e-9)) @ random.normal(0, 4, variables)
    noise = random.logistic(size=rows) * random.uniform(0.05, 1.5)
    answer = np.digitize(slope + noise, np.quantile(slope, [0.25, 0.5, 0.75]))
    given = np.unique(answer)
    counts = np.eye(len(given))[np.searchsorted(given, answer)]
    return answers.AnswerPatterns(np.column_stack([np.ones(rows), x]), counts)


def _is_refused(family: answers.Family, data: answers.AnswerPatterns) -> bool:
    try:
        answers.fit(family, data)
    except answers.Separated:
        return True
    return False


@pytest.mark.parametrize("family", [ORDERED, SEVERAL], ids=["ordered", "several"])
def test_answers_are_refused_where_they_are_separated_and_nowhere_else(
    family: answers.Family,
) -> None:
    random = np.random.default_rng(5)
    seen = []
    for _ in range(80):
        data = _random_answers(random)
        if data.counts.shape[1] < 2:
            continue
        try:
            refused = _is_refused(family, data)
        except Collinear:
            continue
        assert refused == (answers.separation(family, data).kind != "none")
        seen.append(refused)
    assert 20 < sum(seen) < len(seen) - 20


def test_sets_are_refused_where_they_are_separated_and_nowhere_else() -> None:
    random = np.random.default_rng(11)
    seen = []
    for _ in range(250):
        sets = int(random.integers(4, 25))
        set_of = np.repeat(np.arange(sets), random.integers(2, 5, sets))
        x = np.column_stack(
            [(random.random(len(set_of)) < 0.3).astype(float), random.normal(size=len(set_of))]
        )
        pull = x @ np.array([3.0, 2.0]) * random.uniform(0, 2) + random.gumbel(size=len(set_of))
        event = np.zeros(len(set_of))
        for one in range(sets):
            people = np.flatnonzero(set_of == one)
            event[people[pull[people].argmax()]] = 1
        data = MatchedSets(x, event, set_of)
        if data.constant.any():
            continue
        try:
            matched.fit(data)
            refused = False
        except answers.Separated:
            refused = True
        except Collinear:
            continue
        assert refused == (matched.separation(data).kind != "none")
        seen.append(refused)
    assert 20 < sum(seen) < len(seen) - 20


def test_many_people_with_answers_hardly_ever_given_are_still_fitted() -> None:
    """More rows than linear programmes go through, and chances far below any that would be looked at."""
    random = np.random.default_rng(1)
    x = np.column_stack([np.ones(140_000), random.normal(size=(140_000, 2))])
    # Shape (3, 2): two answers against the first.
    truth = np.array([[0.5, -0.5], [5.0, -3.0], [4.0, 6.0]])
    heights = np.column_stack([np.zeros(len(x)), x @ truth])
    answer = (heights + random.gumbel(size=heights.shape)).argmax(axis=1)
    found = answers.fit(SEVERAL, answers.AnswerPatterns(x, np.eye(3)[answer]))
    errors = np.sqrt(np.diag(found.covariance))
    assert np.all(np.abs(found.coefficients - truth.T.ravel()) < 4.5 * errors)
    assert errors.max() < 0.1
