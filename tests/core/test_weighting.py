"""Steps that make weights: network sizes, and totals met by raking."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.asking import categories, coded
from hobrix.core.data import Frame, Measured, NetworkWeights, Rake, Variable, look_at_weights
from hobrix.core.data.prepare import Prepared, apply
from hobrix.core.data.raking import rake
from hobrix.core.data.weighting import Margin, made_weights
from hobrix.core.errors import CodebookError


def numbers(values: list[float]) -> Measured:
    return Measured(np.array(values, float), np.full(len(values), -1, np.int8), ())


def frame(**columns: Any) -> Frame:
    """Numbers from lists of floats, categories a1, a2, … from lists of codes."""
    variables, sources = [], {}
    for name, values in columns.items():
        is_number = all(isinstance(value, float) for value in values)
        sources[name] = numbers(values) if is_number else coded(values, name, 3)
        variables.append(
            Variable(
                name=name,
                label=name.upper(),
                kind="numeric" if is_number else "nominal",
                categories=() if is_number else categories(name, 3),
            )
        )
    return Frame.of(variables, sources, len(next(iter(columns.values()))))


def test_two_margins_are_met_and_odds_ratios_kept() -> None:
    """Raking keeps the odds ratios of the table it starts from; both margins are those asked for."""
    cells = np.array([[30, 10], [20, 40]])
    a, b = np.repeat([0, 0, 1, 1], cells.ravel()), np.repeat([0, 1, 0, 1], cells.ravel())
    found = rake(np.ones(100), [a, b], [np.array([600.0, 400.0]), np.array([300.0, 700.0])])
    table = np.bincount(2 * a + b, weights=found.weights).reshape(2, 2)
    assert found.is_converged
    np.testing.assert_allclose(table.sum(axis=1), [600, 400], rtol=1e-9)
    np.testing.assert_allclose(table.sum(axis=0), [300, 700], rtol=1e-9)
    assert table[0, 0] * table[1, 1] / (table[0, 1] * table[1, 0]) == pytest.approx(6.0, rel=1e-9)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 2**31), st.integers(1, 3))
def test_margins_of_any_sample_without_gaps_are_met(seed: int, variables: int) -> None:
    random = np.random.default_rng(seed)
    every = np.array(np.meshgrid(*[range(3)] * variables)).reshape(variables, -1)
    codes = [np.concatenate([own, random.integers(0, 3, 60)]) for own in every]
    weights = random.uniform(0.5, 2, len(codes[0]))
    totals = [1000 * random.dirichlet([4, 4, 4]) for _ in codes]
    found = rake(weights, codes, totals)
    assert found.is_converged
    for code, total in zip(codes, totals, strict=True):
        np.testing.assert_allclose(np.bincount(code, weights=found.weights), total, rtol=1e-9)
    # Rows alike in everything keep their proportions.
    factor = found.weights / weights
    alike = np.all([code == code[-1] for code in codes], axis=0)
    np.testing.assert_allclose(factor[alike], factor[-1], rtol=1e-12)


def test_one_margin_is_post_stratification() -> None:
    found = rake(np.array([1.0, 1, 2, 4]), [np.array([0, 0, 1, 1])], [np.array([10.0, 30.0])])
    np.testing.assert_allclose(found.weights, [5, 5, 10, 20])


def test_many_variables_of_many_categories_at_once() -> None:
    """More combinations than a whole number of 64 bits can tell apart: 60 to the 12th."""
    random = np.random.default_rng(8)
    codes = [np.concatenate([np.arange(60), random.integers(0, 60, 1200)]) for _ in range(12)]
    totals = [np.bincount(code) * random.uniform(0.98, 1.02, 60) for code in codes]
    totals = [total * (1000 / total.sum()) for total in totals]
    found = rake(np.ones(1260), codes, totals)
    assert found.is_converged
    for code, total in zip(codes, totals, strict=True):
        np.testing.assert_allclose(np.bincount(code, weights=found.weights), total, rtol=1e-9)


def test_bounds_hold_the_weights_back() -> None:
    a = np.repeat([0, 1], [90, 10])
    free = rake(np.ones(100), [a], [np.array([50.0, 50.0])])
    held = rake(np.ones(100), [a], [np.array([50.0, 50.0])], (1 / 3, 3.0))
    assert free.is_converged
    assert not held.is_converged
    assert held.weights.max() == pytest.approx(3.0)


def test_totals_that_cannot_be_met_say_so() -> None:
    """Nobody is a1 with b2, nor a2 with b1, so the two variables must have the same totals."""
    data = frame(a=[0] * 5 + [1] * 5, b=[0] * 5 + [1] * 5)
    step = Rake(
        name="fitted",
        margins=(
            Margin(variable="a", totals={"a1": 50, "a2": 50}),
            Margin(variable="b", totals={"b1": 30, "b2": 70}),
        ),
    )
    with pytest.raises(CodebookError, match=r"is still .*% off its total: the totals contradict"):
        look_at_weights(step, data)


@pytest.mark.parametrize(
    ("totals", "message"),
    [
        ({"a1": 50}, "no total for “a2”, which 5 rows have"),
        ({"a1": 50, "a2": 40, "a3": 10}, "Nobody in the sample is “a3”"),
        ({"a1": 50, "a2": 40, "x": 10}, "“x” is not an answer to A"),
    ],
)
def test_totals_that_do_not_fit_the_sample(totals: dict[str, float], message: str) -> None:
    data = frame(a=[0] * 5 + [1] * 5)
    step = Rake(name="fitted", margins=(Margin(variable="a", totals=totals),))
    with pytest.raises(CodebookError, match=message) as refused:
        look_at_weights(step, data)
    assert refused.value.field == "margins"


def test_before_and_after() -> None:
    data = frame(w=[1.0, 1.0, 2.0, 4.0, 0.0, 3.0], a=[0, 0, 1, 1, 1, -1])
    step = Rake(
        variable="w",
        name="fitted",
        margins=(Margin(variable="a", totals={"a1": 0.4, "a2": 0.6}),),
        population=1000,
    )
    look = look_at_weights(step, data)
    # Weight 0 and the row without an answer stay out.
    assert look.left_out == 2
    assert [(row.n, row.before, row.asked) for row in look.margins[0].rows] == [
        (2, 0.25, 0.4),
        (2, 0.75, 0.6),
    ]
    assert [row.after for row in look.margins[0].rows] == pytest.approx([0.4, 0.6])
    assert look.after.total == pytest.approx(1000)
    weights = [200, 200, 200, 400]
    assert (look.after.least, look.after.most) == pytest.approx((200, 400))
    effect = 4 * sum(w * w for w in weights) / 1000**2
    assert look.after.effect == pytest.approx(effect)


def test_rescaling_keeps_proportions() -> None:
    data = frame(w=[1.0, 3.0, 4.0])
    step = Rake(variable="w", name="scaled", population=80)
    made = made_weights(step, [data.column("w")])
    np.testing.assert_allclose(made.numbers, [10, 30, 40])


def test_network_weights_are_one_over_the_size_within_bounds() -> None:
    step = NetworkWeights(variable="known", name="w", lowest=2, highest=50)
    data = frame(known=[0.0, 1.0, 4.0, 200.0, -8.0, float("nan")])
    made = made_weights(step, [data.column("known")]).numbers
    raw = np.array([1 / 2, 1 / 2, 1 / 4, 1 / 50])
    np.testing.assert_allclose(made[:4], raw / raw.mean())
    assert np.isnan(made[4:]).all()
    assert "chance of being recruited" in look_at_weights(step, data).assumption
    assert "in proportion to it" in step.words("People known")


@pytest.mark.parametrize(
    "fields",
    [
        {"margins": []},
        {"margins": [], "population": 10},
        {"margins": [{"variable": "a", "totals": {"a1": 0}}]},
        {"margins": [{"variable": "a", "totals": {"a1": 1}}] * 2},
        {"margins": [{"variable": "a", "totals": {"a1": 1}}], "most_change": 1},
    ],
)
def test_steps_that_make_no_sense_are_refused(fields: dict[str, Any]) -> None:
    with pytest.raises(ValueError, match=r"."):
        Rake.model_validate({"name": "x", **fields})


def test_weights_are_made_from_what_they_can_be_made_from() -> None:
    data = frame(a=[0, 1, 1], w=[1.0, 2.0, 3.0])
    state = Prepared(data.variables, {})
    with pytest.raises(CodebookError, match="A does not hold numbers"):
        apply(state, NetworkWeights(variable="a", name="x"))
    with pytest.raises(CodebookError, match="W has no categories"):
        apply(state, Rake(name="x", margins=(Margin(variable="w", totals={"1": 1}),)))
    made = apply(state, NetworkWeights(variable="w", name="x"))
    assert made.variables["x"].kind == "numeric"
    assert list(made.variables) == ["a", "w", "x"]
