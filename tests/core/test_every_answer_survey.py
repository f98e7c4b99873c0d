"""Models of every answer under a design: errors worked out here from the likelihood of each row."""

from typing import Any

import numpy as np
import polars as pl
import pytest
from scipy import special

from core.weighted_people import DESIGN, TABLE, asked, frame
from hobrix.core.questions import Question, answer
from hobrix.core.survey.design import SampleDesign

W = TABLE["w"].cast(pl.Float64).to_numpy()
SOURCES = ["piped", "well", "river"]


def codes(name: str, order: list[str]) -> np.ndarray:
    values = TABLE[name].to_list()
    return np.array([order.index(v) if v in order else -1 for v in values])


SCHOOLING = sorted(set(TABLE["schooling"]) - {""})
VARY: dict[str, Any] = {"vary_with": [{"variable": "source"}]}


def columns() -> np.ndarray:
    kinds = sorted(set(TABLE["source"]) - {""})
    source = TABLE["source"].to_numpy()
    reference = asked("odds", **VARY).results.whole.terms[0].reference
    return np.column_stack([source == kind for kind in kinds if kind != reference]).astype(float)


def of_each_row(b: np.ndarray, x: np.ndarray, y: np.ndarray, many: int) -> np.ndarray:
    """ln P of what each row answered; b holds thresholds and slopes and may be complex."""
    above = 1 / (1 + np.exp(-(b[: many - 1] + (x @ b[many - 1 :])[:, None])))
    padded = np.hstack([np.ones((len(y), 1)), above, np.zeros((len(y), 1))])
    rows = np.arange(len(y))
    return np.log(padded[rows, y] - padded[rows, y + 1])


def scores_of(b: np.ndarray, x: np.ndarray, y: np.ndarray, many: int) -> np.ndarray:
    """Derivatives by a step into the complex plane, exact to rounding; shape (rows, p)."""
    step = 1e-30j
    return np.column_stack(
        [np.imag(of_each_row(b + step * unit, x, y, many)) / 1e-30 for unit in np.eye(len(b))]
    )


def ordered(**more: Any) -> Any:
    question = {"outcome": {"variable": "schooling"}, **VARY, **more}
    whole = {"lens": "odds", "options": {"every_answer": {"taken": "in_order"}}, **question}
    return answer(Question.model_validate(whole), frame(TABLE), panels=["coefficients"])


@pytest.fixture(scope="module")
def designed() -> Any:
    return ordered(counted_by=DESIGN)


def test_linearised_errors_are_those_of_the_scores_by_cluster(designed: Any) -> None:
    found = designed.opened.coefficients.coefficients
    b = np.array([each.log_odds for each in found])
    y, x = codes("schooling", SCHOOLING), columns()
    inside = (y >= 0) & (W > 0) & (TABLE["source"].to_numpy() != "")
    many = len(SCHOOLING)
    scores = np.zeros((len(y), len(b)))
    scores[inside] = scores_of(b, x[inside], y[inside], many)
    # The weighted scores add up to nothing at the maximum.
    assert np.abs((W[:, None] * scores).sum(axis=0)).max() < 1e-6 * W.sum()
    step = 1e-5
    bread = np.array(
        [
            (
                W[inside] @ scores_of(b + step * unit, x[inside], y[inside], many)
                - W[inside] @ scores_of(b - step * unit, x[inside], y[inside], many)
            )
            / (2 * step)
            for unit in np.eye(len(b))
        ]
    )
    design = SampleDesign.of(
        W,
        TABLE["district"].cast(pl.Int64).to_numpy(),
        TABLE["village"].cast(pl.Int64).to_numpy(),
    )
    spread = design.cluster_totals(W[:, None] * scores) @ np.linalg.inv(bread)
    errors = np.sqrt(np.diag(design.covariance(spread)))
    mine = np.array([each.se for each in found])
    assert mine == pytest.approx(errors, rel=1e-6)


def test_replicates_come_near_to_linearised_errors(designed: Any) -> None:
    again = ordered(counted_by={**DESIGN, "errors": "jackknife"})
    one, other = (
        [each.se for each in given.opened.coefficients.coefficients] for given in (designed, again)
    )
    assert one == pytest.approx(other, rel=0.1)
    assert [each.log_odds for each in designed.opened.coefficients.coefficients] == pytest.approx(
        [each.log_odds for each in again.opened.coefficients.coefficients], rel=1e-9
    )


def test_of_a_saturated_model_robust_errors_are_those_of_the_likelihood() -> None:
    question = {
        "lens": "odds",
        "outcome": {"variable": "schooling"},
        "vary_with": [{"variable": "half"}],
    }
    question["options"] = {"every_answer": {"taken": "in_no_order"}}
    plain, alone = (
        answer(
            Question.model_validate({**question, "counted_by": counted}),
            frame(TABLE.with_columns(w=pl.lit("1"))),
            panels=["coefficients"],
        )
        for counted in ({"kind": "each"}, {"kind": "design", "weights": "w"})
    )
    # Rows that did not answer stay in the design with a score of 0.
    n = len(TABLE)
    for one, other in zip(
        plain.opened.coefficients.coefficients, alone.opened.coefficients.coefficients, strict=True
    ):
        assert other.log_odds == pytest.approx(one.log_odds, rel=1e-9)
        assert other.se == pytest.approx(one.se * np.sqrt(n / (n - 1)), rel=1e-9)


def test_predicted_shares_are_the_weighted_ones_of_a_saturated_model() -> None:
    given = ordered(counted_by=DESIGN, vary_with=[{"variable": "half"}])
    in_no_order = {"every_answer": {"taken": "in_no_order"}}
    given = answer(
        given.question.changed(options=given.question.options.model_validate(in_no_order)),
        frame(TABLE),
        panels=["predicted"],
    )
    (variable,) = given.opened.predicted.variables
    y, half = codes("schooling", SCHOOLING), TABLE["half"].to_numpy()
    order = [SCHOOLING.index(each.value) for each in given.results.answers]
    for level in variable.levels:
        inside = (y >= 0) & (half == level.value)
        shares = np.array([W[inside & (y == k)].sum() for k in order]) / W[inside].sum()
        mine = [each.share for each in level.answers]
        assert mine == pytest.approx(shares, rel=1e-9)
        for each in level.answers:
            middle = special.logit(each.share)
            low, high = special.logit(each.ci)
            assert (low + high) / 2 == pytest.approx(middle, abs=1e-9)
