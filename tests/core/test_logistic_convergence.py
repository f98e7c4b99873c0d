"""Separated and nearly collinear models: estimates and profile limits are found, and are right."""

import itertools
import math

import numpy as np
import pytest
from scipy import optimize, special

from hobrix.core.logistic import firth, likelihood
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import FloatArray, Patterns
from hobrix.core.logistic.profile import profile_interval
from hobrix.core.tables.interval import Interval

QUANTILE = special.chdtri(1, 0.05)


def penalised(data: Patterns, b: FloatArray) -> float:
    """From the definition, without care for speed."""
    p = special.expit(data.design @ b)
    information = data.design.T @ (data.design * (data.trials * p * (1 - p))[:, None])
    return likelihood.log_likelihood(data.design @ b, data) + 0.5 * float(
        np.linalg.slogdet(information)[1]
    )


def separated(seed: int) -> Patterns:
    """An outcome that a number tells apart, beside others that do not; units from 0.1 to 100."""
    random = np.random.default_rng(seed)
    n, k = int(random.integers(20, 80)), int(random.integers(1, 3))
    x = np.ones((n, k + 1))
    x[:, 1] = random.normal(size=n) * 10.0 ** random.integers(-1, 3)
    if k > 1:
        x[:, 2] = random.random(n) < 0.3
        x[:2, 2] = 0, 1
    y = (x[:, 1] > np.median(x[:, 1])).astype(float)
    return Patterns(x, y, np.ones(n))


@pytest.mark.parametrize("first", range(0, 100, 25))
def test_limits_of_separated_models_are_found(first: int) -> None:
    finite = 0
    for seed in range(first, first + 25):
        data = separated(seed)
        found = firth.fit(data)
        for column in range(1, data.design.shape[1]):
            limits = firth.profile_interval(
                data, found, np.eye(len(found.coefficients))[column], 0.95
            )
            assert limits.low <= found.coefficients[column] <= limits.high
            finite += math.isfinite(limits.low) and math.isfinite(limits.high)
        if seed % 10 == 0 and data.design.shape[1] == 2:
            loses_what_it_should(data, found, limits)
    assert finite >= 25


def loses_what_it_should(data: Patterns, found: ml.Fit, limits: Interval) -> None:
    """By another way of climbing: the intercept that is best for a given slope."""
    best = penalised(data, found.coefficients)
    for slope in limits:

        def loss(intercept: float, slope: float = slope) -> float:
            return -penalised(data, np.array([intercept, slope]))

        centre = -slope * float(np.median(data.design[:, 1]))
        wide = 5 * abs(slope) * data.design[:, 1].std() + 10
        there = optimize.minimize_scalar(
            loss, bounds=(centre - wide, centre + wide), method="bounded", options={"xatol": 1e-10}
        )
        assert 2 * (best + there.fun) == pytest.approx(QUANTILE, rel=1e-6)


@pytest.mark.parametrize(
    ("low", "high", "steps"), [(0, 50, 1), (0, 20, 2)], ids=["0 to 49 and 60 to 109", "a dose"]
)
def test_separation_by_a_number(low: int, high: int, steps: int) -> None:
    below = np.repeat(np.arange(low, high, dtype=float), steps)
    x = np.concatenate([below, below + high + 10])
    y = np.repeat([0.0, 1.0], len(below))
    data = Patterns(np.column_stack([np.ones(len(x)), x]), y, np.ones(len(x)))
    found = firth.fit(data)
    limits = firth.profile_interval(data, found, np.array([0.0, 1.0]), 0.95)
    assert 0 < limits.low < found.coefficients[1] < limits.high < math.inf
    loses_what_it_should(data, found, limits)


@pytest.mark.parametrize("correlation", [0.9, 0.99, 0.998, 0.9994, 0.99999])
def test_limits_of_collinear_models_are_found(correlation: float) -> None:
    for seed in range(80):
        random = np.random.default_rng(seed)
        one, other = random.normal(size=(2, 200))
        other = correlation * one + math.sqrt(1 - correlation**2) * other
        y = (random.random(200) < special.expit(one)).astype(float)
        data = Patterns(np.column_stack([np.ones(200), one, other]), y, np.ones(200))
        found = ml.fit(data)
        for column in (1, 2):
            limits = profile_interval(data, found, np.eye(3)[column], 0.95)
            assert math.isfinite(limits.low)
            assert math.isfinite(limits.high)
            # Where columns say much the same, profile and Wald limits are far wider than the curve
            # of the likelihood, and close to each other.
            reach = 1.96 * math.sqrt(found.covariance[column, column])
            assert limits.low == pytest.approx(found.coefficients[column] - reach, abs=0.2 * reach)
            assert limits.high == pytest.approx(found.coefficients[column] + reach, abs=0.2 * reach)


def test_the_order_of_terms_does_not_matter() -> None:
    random = np.random.default_rng(3)
    one = random.normal(size=60)
    other = one + 1e-4 * random.normal(size=60)
    third = (random.random(60) < 0.4).astype(float)
    y = (one + third > 0.3).astype(float)
    columns = [one, other, third]
    found = []
    for order in itertools.permutations(range(3)):
        x = np.column_stack([np.ones(60), *(columns[i] for i in order)])
        b = firth.fit(Patterns(x, y, np.ones(60))).coefficients
        found.append([b[0], *(b[1 + order.index(i)] for i in range(3))])
    np.testing.assert_allclose(found, np.broadcast_to(found[0], (6, 4)), rtol=1e-9)


@pytest.mark.parametrize("apart", [1e-3, 1e-4, 1e-5])
def test_columns_that_are_nearly_the_same_are_fitted(apart: float) -> None:
    """Against the same model in columns that are far from the same: their mean and difference."""
    for seed in range(20):
        random = np.random.default_rng(seed)
        x, more = random.normal(size=(2, 400))
        y = (random.random(400) < special.expit(x)).astype(float)
        ones = np.ones(400)
        near = ml.fit(Patterns(np.column_stack([ones, x, x + apart * more]), y, ones))
        plain = ml.fit(Patterns(np.column_stack([ones, x, more]), y, ones))
        assert near.coefficients[1:].sum() == pytest.approx(plain.coefficients[1], rel=1e-7)
        assert apart * near.coefficients[2] == pytest.approx(plain.coefficients[2], rel=1e-7)


@pytest.mark.parametrize("apart", [1e-7, 1e-9, 0.0])
def test_columns_that_cannot_be_told_apart_are_refused_as_such(apart: float) -> None:
    random = np.random.default_rng(1)
    x, more = random.normal(size=(2, 400))
    y = (random.random(400) < special.expit(x)).astype(float)
    ones = np.ones(400)
    with pytest.raises(ml.Collinear):
        ml.fit(Patterns(np.column_stack([ones, x, x + apart * more]), y, ones))
