"""Logistic models beside those of a general-purpose library, in one run: a million rows of mixed
columns, a million rows of categorical terms, and the whole answer on a survey of usual size."""

import tracemalloc
import warnings
from collections.abc import Callable
from functools import partial

import numpy as np
import statsmodels.api as sm

from benchmarks.people import no_source
from benchmarks.timing import best_of, milliseconds
from hobrix.core.data import CategoricalColumn, Category, Frame, NumericColumn, Variable
from hobrix.core.data.column import Column
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns, distinct_rows, sums
from hobrix.core.questions import Question, answer

ROWS, NUMERIC, BINARY = 1_000_000, 6, 11
CATEGORIES = (5, 4, 3, 2)
USUAL = 2_400


def mixed(rows: int = ROWS) -> tuple[np.ndarray, np.ndarray]:
    """An intercept, six numbers and eleven yes/no columns: eighteen in all."""
    random = np.random.default_rng(1)
    x = np.ones((rows, 1 + NUMERIC + BINARY))
    x[:, 1 : 1 + NUMERIC] = random.normal(size=(rows, NUMERIC))
    x[:, 1 + NUMERIC :] = random.random((rows, BINARY)) < 0.4
    eta = x @ random.normal(0, 0.25, x.shape[1])
    return x, (random.random(rows) < 1 / (1 + np.exp(-eta))).astype(float)


def ours(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    found = ml.fit(Patterns(x, y, np.ones(len(y))))
    return np.concatenate([found.coefficients, np.sqrt(np.diag(found.covariance))])


def library(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        found = sm.Logit(y, x).fit(disp=0, method="newton")
    return np.concatenate([found.params, found.bse])


def peak(work: Callable[[], object]) -> float:
    """Megabytes taken at most beyond what was there before."""
    tracemalloc.start()
    work()
    most = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return most / 1e6


def run(rows: int = ROWS, usual_rows: int = USUAL) -> None:
    x, y = mixed(rows)
    mine, theirs = ours(x, y), library(x, y)
    assert np.allclose(mine, theirs, rtol=1e-6)
    times = best_of({"ours": lambda: ours(x, y), "library": lambda: library(x, y)}, rounds=7)
    told("Mixed columns", f"{rows:,} rows x {x.shape[1]}", times, 4)
    most = {name: peak(partial(fit, x, y)) for name, fit in (("ours", ours), ("library", library))}
    print(f"  memory beyond the data: {most['ours']:,.0f} MB, library {most['library']:,.0f} MB")
    categorical(rows)
    usual(usual_rows, rows)


def categorical(rows: int) -> None:
    random = np.random.default_rng(2)
    codes = [random.integers(0, size, rows).astype(np.int8) for size in CATEGORIES]
    eta = sum(0.2 * (c - 1.0) for c in codes) - 0.5
    y = (random.random(rows) < 1 / (1 + np.exp(-eta))).astype(float)

    def design(columns: list[np.ndarray]) -> np.ndarray:
        dummies = [
            (c == level).astype(float)
            for c, size in zip(columns, CATEGORIES, strict=True)
            for level in range(1, size)
        ]
        return np.column_stack([np.ones(len(columns[0])), *dummies])

    def table() -> np.ndarray:
        """From decoded columns: count first, then fit the table."""
        first, place = distinct_rows(codes)
        events = sums(place, y, len(first))
        trials = sums(place, None, len(first))
        return ml.fit(Patterns(design([c[first] for c in codes]), events, trials)).coefficients

    whole = design(codes)
    assert np.allclose(table(), library(whole, y)[: whole.shape[1]], rtol=1e-6)
    times = best_of({"ours": table, "library": lambda: library(whole, y)}, rounds=9)
    told("Categorical terms only", f"{rows:,} rows, {len(CATEGORIES)} terms", times, 100)


def told(what: str, size: str, times: dict[str, float], aim: int) -> None:
    print(f"\n{what}, {size}")
    print(f"  Hobrix            {milliseconds(times['ours'])}")
    print(f"  statsmodels Logit {milliseconds(times['library'])}")
    print(f"  {times['library'] / times['ours']:.1f} times as fast (aim: {aim})")


def usual(few: int, many: int) -> None:
    """The whole answer with every check and panel, from decoded columns."""
    for rows in (few, many):
        frame, question = asked(rows)
        rounds = 7 if rows == few else 1
        taken = best_of({"answer": partial(answer, question, frame)}, rounds=rounds)["answer"]
        aim = " (aim: 100)" if rows == few else ""
        print(f"\nThe whole answer of an Odds model, {rows:,} rows{milliseconds(taken)}{aim}")


def asked(rows: int) -> tuple[Frame, Question]:
    """A survey: age, income and household size, and five categorical variables."""
    random = np.random.default_rng(3)
    variables = [Variable(name=name, kind="numeric") for name in ("age", "income", "size")]
    columns: dict[str, Column] = {
        "age": NumericColumn(random.integers(18, 90, rows).astype(float)),
        "income": NumericColumn(random.lognormal(6, 0.7, rows).round(0)),
        "size": NumericColumn(random.integers(1, 12, rows).astype(float)),
    }
    sizes = {"source": 5, "district": 5, "school": 4, "flooded": 2, "trust": 3, "ill": 2}
    for name, size in sizes.items():
        categories = tuple(Category(value=str(i), label=f"{name} {i}") for i in range(size))
        variables.append(
            Variable(
                name=name,
                kind="nominal",
                categories=categories,
                event=("1",) if name == "ill" else (),
            )
        )
        codes = random.integers(0, size, rows).astype(np.int8)
        columns[name] = CategoricalColumn(codes, categories)
    frame = Frame(
        rows=rows,
        variables={variable.name: variable for variable in variables},
        load=lambda variable: columns[variable.name],
        source=no_source,
    )
    question = Question.model_validate(
        {
            "lens": "odds",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "source"}, {"variable": "flooded"}],
            "allowing_for": [
                {"variable": "age", "per": 10},
                {"variable": "income", "per": 100},
                {"variable": "size"},
                {"variable": "district"},
                {"variable": "school"},
                {"variable": "trust"},
            ],
        }
    )
    return frame, question
