"""Maximum likelihood agrees with the reference numbers and with statsmodels."""

from typing import Any

import numpy as np
import polars as pl
import pytest
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st

from core.closeness import assert_agrees
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import inference
from hobrix.core.logistic.profile import profile_interval
from reference_numbers import REFERENCE, reference_cases

CASES = reference_cases("logistic")
FINITE = [case for case in CASES if case["expected"]["maximum_likelihood_finite"]]
SEPARATED = [case for case in CASES if not case["expected"]["maximum_likelihood_finite"]]


def design_of(case: dict[str, Any]) -> tuple[ml.Patterns, dict[tuple[str, str | None], int]]:
    """Patterns of a case, and the column of every (term, level), by the definitions."""
    frame = pl.read_csv(REFERENCE / case["data"], infer_schema=False)
    terms = [*case["allowing_for"], *case["vary_with"]]
    names = {t["variable"] for t in terms} | {t["with"] for t in terms if t.get("with")}
    needed = [case["outcome"]["variable"], *sorted(names)]
    frame = frame.drop_nulls(needed)
    for name in needed:
        frame = frame.filter(pl.col(name) != "")
    counts = None
    if case["counts"]:
        counts = frame[case["counts"]].cast(pl.Float64).to_numpy()
        frame, counts = frame.filter(pl.Series(counts > 0)), counts[counts > 0]
    known = {t["variable"]: t for t in terms if not t.get("with")}

    def columns(name: str) -> list[tuple[str | None, np.ndarray]]:
        term = known[name]
        if term["kind"] == "numeric":
            return [(None, frame[name].cast(pl.Float64).to_numpy() / term.get("per", 1))]
        levels = sorted(set(frame[name]) - {term["reference"]})
        return [(level, (frame[name] == level).cast(pl.Float64).to_numpy()) for level in levels]

    places: dict[tuple[str, str | None], int] = {("intercept", None): 0}
    made = [np.ones(frame.height)]
    for term in terms:
        if not term.get("with"):
            parts = [(term["variable"], level, x) for level, x in columns(term["variable"])]
        else:
            first, second = columns(term["variable"]), columns(term["with"])
            name = f"{term['variable']}*{term['with']}"
            parts = [
                (name, ":".join(each for each in (l1, l2) if each is not None) or None, x1 * x2)
                for l1, x1 in first
                for l2, x2 in second
            ]
        for name, level, x in parts:
            places[(name, level)] = len(made)
            made.append(x)
    outcome = (frame[case["outcome"]["variable"]] == case["outcome"]["event"]).cast(pl.Float64)
    return ml.collapse(np.column_stack(made), outcome.to_numpy(), counts), places


@pytest.mark.parametrize("case", FINITE, ids=lambda case: case["name"])
def test_coefficients_terms_and_likelihood(case: dict[str, Any]) -> None:
    data, places = design_of(case)
    found, expected = ml.fit(data), case["expected"]
    assert (data.trials.sum(), data.events.sum()) == (expected["n"], expected["events"])
    assert len(data.trials) == expected["covariate_patterns"]
    assert_agrees(found.log_likelihood, expected["log_likelihood"], "log-likelihood")
    wald = inference.wald_intervals(found, 0.95)
    for row in expected["coefficients"]:
        at = places[(row["term"], row["level"])]
        assert_agrees(
            float(found.coefficients[at]), row["log_odds"], f"{row['term']} b", relative=1e-8
        )
        error = float(np.sqrt(found.covariance[at, at]))
        assert_agrees(error, row["se"], f"{row['term']} se", relative=1e-8)
        assert_agrees([wald[at].low, wald[at].high], row["log_odds_ci_95_wald"], relative=1e-8)
    for term in expected["terms"]:
        columns = [i for (name, _), i in places.items() if name == term["term"]]
        for key, test in (
            ("wald", inference.wald_test(found, columns)),
            ("likelihood_ratio", inference.likelihood_ratio_test(data, found, columns)),
        ):
            assert test.df == term[key]["df"]
            assert_agrees(
                test.statistic, term[key]["statistic"], f"{term['term']} {key}", relative=1e-8
            )


@pytest.mark.parametrize("case", FINITE, ids=lambda case: case["name"])
def test_profile_intervals(case: dict[str, Any]) -> None:
    data, places = design_of(case)
    found = ml.fit(data)
    for row in case["expected"]["coefficients"][:4]:
        at = np.eye(len(places))[places[(row["term"], row["level"])]]
        mine = profile_interval(data, found, at, 0.95)
        theirs = row["log_odds_ci_95_profile"]
        assert_agrees([mine.low, mine.high], theirs, row["term"], relative=1e-7)


@pytest.mark.parametrize("case", SEPARATED, ids=lambda case: case["name"])
def test_separation_is_noticed(case: dict[str, Any]) -> None:
    try:
        noticed = ml.fit(design_of(case)[0]).on_the_edge
    except ml.NotFinite:
        noticed = True
    assert noticed


def test_collinear_columns_are_named() -> None:
    x = np.random.default_rng(1).normal(size=(60, 2))
    design = np.column_stack([np.ones(60), x, x[:, 0] - 2 * x[:, 1]])
    with pytest.raises(ml.Collinear) as refused:
        ml.fit(ml.collapse(design, (x[:, 0] > 0.3 * x[:, 1]).astype(float)))
    assert len(refused.value.columns) == 1


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**31), st.integers(1, 4), st.floats(1e-6, 1e9))
def test_random_models_against_a_library(seed: int, terms: int, unit: float) -> None:
    random = np.random.default_rng(seed)
    x = np.column_stack([np.ones(400), random.normal(size=(400, terms)).round(1)])
    y = (random.random(400) < 1 / (1 + np.exp(-(x @ random.normal(0, 0.5, terms + 1))))).astype(
        float
    )
    theirs = sm.Logit(y, x).fit(disp=0, method="newton", tol=1e-14, maxiter=100)
    scaled = x.copy()
    scaled[:, 1] *= unit
    mine = ml.fit(ml.collapse(scaled, y))
    assert mine.log_likelihood == pytest.approx(theirs.llf, rel=1e-9)
    assert mine.coefficients[1] * unit == pytest.approx(theirs.params[1], rel=1e-6, abs=1e-8)
    np.testing.assert_allclose(np.sqrt(np.diag(mine.covariance))[0], theirs.bse[0], rtol=1e-6)
