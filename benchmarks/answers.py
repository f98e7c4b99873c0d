"""Models of every answer, of matched sets and by a log link: beside a general-purpose library, and do 95 % intervals
cover what they should, with and without clusters?

Within clusters people are alike by a Gaussian copula, which leaves the model of everybody exactly what it is.
"""

import warnings
from collections.abc import Callable
from functools import partial

import numpy as np
import statsmodels.api as sm
from scipy import special
from statsmodels.miscmodels.ordinal_model import OrderedModel

from benchmarks.people import no_source
from benchmarks.timing import best_of, milliseconds
from hobrix.core.data import CategoricalColumn, Category, Frame, Variable
from hobrix.core.data.column import Column
from hobrix.core.logistic import answers, log_link, matched
from hobrix.core.logistic.answers import AnswerPatterns, Family
from hobrix.core.logistic.ordered import ORDERED
from hobrix.core.logistic.patterns import Patterns, distinct_rows, sums
from hobrix.core.logistic.several import SEVERAL
from hobrix.core.questions import Question, answer
from hobrix.core.survey import answers as weighted
from hobrix.core.survey.answers import AnswerTotals
from hobrix.core.survey.design import SampleDesign
from hobrix.core.survey.logistic import covariance_of
from hobrix.core.survey.patterns import PatternTotals

ROWS, FEW, SAMPLES = 1_000_000, 20_000, 4_000
SIZES = (5, 4, 3, 3, 2, 2)
ANSWERS = 5
CLUSTERS, IN_EACH, ALIKE = 80, 15, 0.15
Array = np.ndarray


def run(rows: int = ROWS, few: int = FEW, samples: int = SAMPLES) -> None:
    beside_a_library(few)
    large(rows)
    coverage(samples)


def made(rows: int) -> tuple[list[Array], Array, Array]:
    """Codes of six categorical variables, an ordered outcome that goes with them, and the design matrix."""
    random = np.random.default_rng(4)
    codes = [random.integers(0, size, rows).astype(np.int8) for size in SIZES]
    eta = sum(0.2 * (c - 1.0) for c in codes) + random.logistic(size=rows)
    y = np.digitize(eta, (-1.5, -0.3, 0.8, 2.0)).astype(np.int8)
    return codes, y, _design(codes)


def _design(codes: list[Array]) -> Array:
    dummies = [
        (c == level).astype(float)
        for c, size in zip(codes, SIZES, strict=True)
        for level in range(1, size)
    ]
    return np.column_stack([np.ones(len(codes[0])), *dummies])


def counted(codes: list[Array], y: Array) -> AnswerPatterns:
    """From decoded columns: patterns, with how many gave each answer."""
    first, place = distinct_rows(codes)
    cells = place.astype(np.int64) * ANSWERS + y
    counts = sums(cells, None, len(first) * ANSWERS).reshape(-1, ANSWERS)
    return AnswerPatterns(_design([c[first] for c in codes]), counts)


def fitted(family: Family, codes: list[Array], y: Array) -> Array:
    return answers.fit(family, counted(codes, y)).coefficients


def beside_a_library(rows: int) -> None:
    codes, y, design = made(rows)

    def ordered_there() -> Array:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            found = OrderedModel(y.astype(int), design[:, 1:], distr="logit")
            return np.asarray(found.fit(method="bfgs", disp=0).params)[: design.shape[1] - 1]

    def several_there() -> Array:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return np.asarray(sm.MNLogit(y, design).fit(method="newton", disp=0).params).T.ravel()

    rivals: dict[str, tuple[Family, Callable[[], Array], int]] = {
        "Proportional odds": (ORDERED, ordered_there, ANSWERS - 1),
        "Several answers": (SEVERAL, several_there, 0),
    }
    for what, (family, theirs, skipped) in rivals.items():
        found = fitted(family, codes, y)[skipped:]
        assert np.allclose(found, theirs(), atol=2e-3)
        times = best_of({"ours": partial(fitted, family, codes, y), "library": theirs}, rounds=3)
        print(f"\n{what}, {rows:,} rows, six categorical predictors, {ANSWERS} answers")
        print(f"  Hobrix            {milliseconds(times['ours'])}")
        print(f"  statsmodels       {milliseconds(times['library'])}")
        print(f"  {times['library'] / times['ours']:.0f} times as fast (aim: 20)")


def large(rows: int) -> None:
    codes, y, _ = made(rows)
    for what, family in (("Proportional odds", ORDERED), ("Several answers", SEVERAL)):
        took = best_of({"fit": partial(fitted, family, codes, y)}, rounds=3)["fit"]
        print(f"\n{what}, {rows:,} rows: counted and fitted{milliseconds(took)}")
    frame, question = asked(codes, y)
    took = best_of({"answer": lambda: answer(question, frame)}, rounds=3)["answer"]
    print(f"The whole answer in order, {rows:,} rows{milliseconds(took)} (aim: 1000)")


def asked(codes: list[Array], y: Array) -> tuple[Frame, Question]:
    columns: dict[str, Column] = {}
    variables = []
    for name, size, code in zip(("y", *"abcdef"), (ANSWERS, *SIZES), (y, *codes), strict=True):
        categories = tuple(Category(value=str(i), label=f"{name}{i}") for i in range(size))
        kind = "ordinal" if name == "y" else "nominal"
        variables.append(Variable(name=name, kind=kind, categories=categories))
        columns[name] = CategoricalColumn(code, categories)
    frame = Frame(
        rows=len(y),
        variables={variable.name: variable for variable in variables},
        load=lambda variable: columns[variable.name],
        source=no_source,
    )
    slots = {
        "vary_with": [{"variable": "a"}],
        "allowing_for": [{"variable": name} for name in "bcdef"],
    }
    question = {"lens": "odds", "outcome": {"variable": "y"}, **slots}
    return frame, Question.model_validate(question)


TRUTH = 0.6
THRESHOLDS = np.array([1.2, 0.0, -1.3])
SEVERAL_TRUTH = np.array([[0.2, TRUTH, -0.3], [-0.4, -0.5, 0.4]])
LOG_TRUTH = np.array([-1.3, 0.35, -0.2])


def people(random: np.random.Generator, alike: float) -> tuple[Array, Array, Array]:
    """Columns (the second much the same within clusters), a rank of everybody from 0 to 1, alike within clusters, and
    the clusters."""
    cluster = np.repeat(np.arange(CLUSTERS), IN_EACH)
    n = len(cluster)
    of_cluster = random.random(CLUSTERS) < 0.5
    first = np.where(random.random(n) < 0.8, of_cluster[cluster], random.random(n) < 0.5)
    x = np.column_stack([np.ones(n), first, random.random(n) < 0.4]).astype(float)
    z = np.sqrt(alike) * random.normal(size=CLUSTERS)[cluster]
    z = z + np.sqrt(1 - alike) * random.normal(size=n)
    return x, special.ndtr(z), cluster


def coverage(samples: int) -> None:
    """How often 95 % intervals hold what the data were made with."""
    random = np.random.default_rng(13)
    names = ("proportional odds", "several answers", "ratios by a log link")
    hits = {(name, how): 0 for name in names for how in ("alone", "clusters", "clusters unheeded")}
    hits[("matched sets", "alone")] = 0
    for _ in range(samples):
        for how, alike in (("alone", 0.0), ("clusters", ALIKE)):
            x, rank, cluster = people(random, alike)
            design = SampleDesign.of(np.ones(len(rank)), None, cluster) if alike else None
            for name, find in (
                (names[0], _ordered),
                (names[1], _several),
                (names[2], _ratio),
            ):
                truth, estimate, error = find(x, rank, design)
                reach = 1.959963984540054 if design is None else design.t_quantile(0.95)
                hits[(name, how)] += abs(estimate - truth) <= reach * error
                if design is not None:
                    truth, estimate, error = find(x, rank, None)
                    hits[(name, "clusters unheeded")] += abs(estimate - truth) <= 1.96 * error
        estimate, error = _matched(random)
        hits[("matched sets", "alone")] += abs(estimate - TRUTH) <= 1.959963984540054 * error
    print(f"\n95 % intervals that hold the truth, of {samples:,} samples (aim: 94 to 96 %)")
    for (name, how), many in hits.items():
        print(f"  {name}, {how}: {100 * many / samples:.1f} %")


def _estimate(
    family: Family, x: Array, y: Array, design: SampleDesign | None, at: int
) -> tuple[float, float]:
    many = int(y.max()) + 1
    if design is None:
        counts = np.eye(many)[y]
        fit = answers.fit(family, AnswerPatterns(x, counts))
    else:
        totals = AnswerTotals.count(design, x, many, np.arange(len(y)), y)
        fit = weighted.fit(family, totals).fit
    return float(fit.coefficients[at]), float(np.sqrt(fit.covariance[at, at]))


def _ordered(x: Array, rank: Array, design: SampleDesign | None) -> tuple[float, float, float]:
    above = special.expit(THRESHOLDS + (TRUTH * x[:, 1] - 0.4 * x[:, 2])[:, None])
    y = (rank[:, None] < above).sum(axis=1)
    return TRUTH, *_estimate(ORDERED, x, y, design, len(THRESHOLDS))


def _several(x: Array, rank: Array, design: SampleDesign | None) -> tuple[float, float, float]:
    eta = np.hstack([np.zeros((len(x), 1)), x @ SEVERAL_TRUTH.T])
    p = special.softmax(eta, axis=1)
    y = (rank[:, None] > np.cumsum(p, axis=1)[:, :-1]).sum(axis=1)
    return TRUTH, *_estimate(SEVERAL, x, y, design, 1)


def _ratio(x: Array, rank: Array, design: SampleDesign | None) -> tuple[float, float, float]:
    y = (rank < np.exp(x @ LOG_TRUTH)).astype(float)
    found = log_link.poisson(Patterns(x, y, np.ones(len(y))))
    covariance = found.fit.covariance
    if design is not None:
        totals = PatternTotals.count(design, x, np.arange(len(y)), y)
        missed = totals.missed(np.exp(x @ found.fit.coefficients))
        covariance = covariance_of(design, (missed @ x) @ found.inverse)
    return float(LOG_TRUTH[1]), float(found.fit.coefficients[1]), float(np.sqrt(covariance[1, 1]))


def _matched(random: np.random.Generator, sets: int = 250) -> tuple[float, float]:
    """One with the event and two without, alike in what nobody asked."""
    shared = random.normal(size=(sets, 1))
    exposed = (random.random((sets, 3)) < special.expit(shared)).astype(float)
    number = random.normal(size=(sets, 3)) + shared
    odds = np.exp(TRUTH * exposed + 0.3 * number)
    chosen = (random.random((sets, 1)) * odds.sum(axis=1, keepdims=True)) < np.cumsum(odds, axis=1)
    event = np.zeros((sets, 3))
    event[np.arange(sets), chosen.argmax(axis=1)] = 1.0
    columns = np.column_stack([exposed.ravel(), number.ravel()])
    data = matched.MatchedSets(columns, event.ravel(), np.repeat(np.arange(sets), 3))
    found = matched.fit(data)
    return float(found.coefficients[0]), float(np.sqrt(found.covariance[0, 0]))
