"""Whether ratios of shares by a log link have an estimate, told without and with linear programmes."""

from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import log_link

# Directions in which shares of two yes/no columns can fall without end: their corners have small whole numbers.
DIRECTIONS = np.array(list(product((-2, -1, 0, 1, 2), repeat=3)))
CELLS = np.array([(1, 0, 0), (1, 0, 1), (1, 1, 0), (1, 1, 1)], dtype=float)


def of_cells(counts: list[tuple[int, int]]) -> tuple[np.ndarray, np.ndarray]:
    """Columns and events of single people: ``counts`` are those with and without the event in each cell."""
    rows = [
        (cell, event)
        for cell, (events, others) in zip(CELLS, counts, strict=True)
        for event, many in ((1.0, events), (0.0, others))
        for _ in range(many)
    ]
    return np.array([cell for cell, _ in rows]), np.array([event for _, event in rows])


@given(st.lists(st.tuples(st.integers(0, 2), st.integers(1, 3)), min_size=4, max_size=4))
def test_there_is_none_where_shares_can_fall_without_end(counts: list[tuple[int, int]]) -> None:
    columns, event = of_cells(counts)
    if not event.any():
        return
    moved = CELLS @ DIRECTIONS.T
    has_event = np.array([events > 0 for events, _ in counts])
    falls = (moved[has_event] == 0).all(axis=0) & (moved[~has_event] <= 0).all(axis=0)
    falls &= (moved[~has_event] < 0).any(axis=0)
    people = ml.collapse(columns, event)
    if falls.any():
        with pytest.raises(log_link.NoEstimate, match="diverges"):
            log_link.poisson(people)
    else:
        found = log_link.poisson(people).fit.coefficients
        left = event - np.exp(columns @ found)
        np.testing.assert_allclose(left @ columns, 0, atol=1e-6)


def test_many_different_numbers_need_no_linear_programme(monkeypatch: pytest.MonkeyPatch) -> None:
    random = np.random.default_rng(5)
    columns = np.column_stack([np.ones(2_000), random.normal(size=(2_000, 3))])
    event = (random.random(2_000) < 0.1).astype(float)
    monkeypatch.setattr(log_link, "Cone", None)
    assert np.isfinite(log_link.poisson(ml.collapse(columns, event)).fit.coefficients).all()
