"""Models of some columns fitted side by side say what each says fitted by itself."""

import numpy as np
import pytest

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.logistic.together import Chosen, fit_parts


def people(seed: int, units: float = 1.0) -> Patterns:
    """Two numbers, one of them in other units, and a factor of three categories; several people a
    pattern."""
    random = np.random.default_rng(seed)
    n = int(random.integers(80, 2_000))
    level = random.integers(0, 3, n)
    number, other = random.normal(size=n), random.normal(size=n) * units
    design = np.column_stack([np.ones(n), number, other, level == 1, level == 2])
    eta = -1 + random.normal(size=4) @ [number, other / units, level == 1, level == 2]
    trials = random.integers(1, 4, n).astype(float)
    return Patterns(
        design, random.binomial(trials.astype(int), 1 / (1 + np.exp(-eta))).astype(float), trials
    )


@pytest.mark.parametrize("seed", range(20))
def test_each_part_is_what_it_is_by_itself(seed: int) -> None:
    data = people(seed, units=10.0 ** (seed % 5 - 2))
    whole = ml.fit(data)
    alone = [Chosen((0, 1)), Chosen((0, 2)), Chosen((0, 3, 4))]
    without = [Chosen(columns, is_value_only=True) for columns in ((0, 1, 2), (0, 2, 3, 4))]
    found = fit_parts(data, whole, [*alone, *without])
    assert set(found) == {*alone, *without}
    for part, fitted in found.items():
        itself = ml.fit(Patterns(data.design[:, part.columns], data.events, data.trials))
        assert fitted.log_likelihood == pytest.approx(itself.log_likelihood, rel=1e-13)
        if not part.is_value_only:
            np.testing.assert_allclose(fitted.coefficients, itself.coefficients, rtol=1e-10)
            np.testing.assert_allclose(fitted.covariance, itself.covariance, rtol=1e-9)


def test_what_plain_steps_do_not_settle_is_left_to_careful_ones() -> None:
    """One column tells the outcome apart: a model that keeps it has no maximum."""
    random = np.random.default_rng(1)
    number, apart = random.normal(size=200), np.repeat([0.0, 1.0], 100)
    data = Patterns(np.column_stack([np.ones(200), number, apart]), apart, np.ones(200))
    near = ml.Fit(np.array([0.0, 0.1, 1.0]), np.eye(3), -100.0, -100.0)
    good, bad = Chosen((0, 1)), Chosen((0, 2))
    assert set(fit_parts(data, near, [good, bad])) == {good}


def test_far_from_zero_wide_and_long_designs_are_left_to_fits_one_by_one() -> None:
    data = people(3)
    whole, part = ml.fit(data), Chosen((0, 1))
    far = Patterns(data.design + 1e6 * (np.arange(5) == 1), data.events, data.trials)
    long = Patterns(*(np.repeat(side, 200, axis=0) for side in _sides(data)))
    wide = Patterns(np.tile(data.design, 6), data.events, data.trials)
    assert fit_parts(data, whole, [part])
    assert not fit_parts(far, whole, [part])
    assert not fit_parts(long, whole, [part])
    assert not fit_parts(wide, whole, [part])


def _sides(data: Patterns) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    return data.design, data.events, data.trials


@pytest.mark.parametrize("seed", range(5))
def test_shares_of_categories_are_the_maximum_at_once(seed: int) -> None:
    """A model with a coefficient for every pattern, against Newton's steps from the middle."""
    random = np.random.default_rng(seed)
    trials = random.integers(5, 60, 4).astype(float)
    events = np.array([random.integers(1, n) for n in trials], dtype=float)
    design = np.column_stack([np.ones(4), np.eye(4)[:, 1:]])
    # Every pattern twice is no longer as many patterns as columns.
    twice = Patterns(
        np.repeat(design, 2, axis=0), np.repeat(events / 2, 2), np.repeat(trials / 2, 2)
    )
    quick = ml.fit(Patterns(design, events, trials), is_checked=True)
    slow = ml.fit(twice)
    np.testing.assert_allclose(quick.coefficients, slow.coefficients, rtol=1e-10, atol=1e-12)
    np.testing.assert_allclose(quick.covariance, slow.covariance, rtol=1e-9, atol=1e-13)
    assert quick.log_likelihood == pytest.approx(slow.log_likelihood, rel=1e-13)
