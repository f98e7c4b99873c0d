"""Survey designs: do 95% intervals cover what they should, and what does the design cost?

A made-up population of households in villages within districts is sampled a thousand times;
shares, odds ratios of the table and of the model are compared with those of the population.
"""

from functools import partial

import numpy as np

from benchmarks.people import no_source
from benchmarks.timing import best_of, milliseconds
from hobrix.core.data import CategoricalColumn, Category, Frame, NumericColumn, Variable
from hobrix.core.data.column import Column
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import distinct_rows
from hobrix.core.questions import Question, answer
from hobrix.core.survey import logistic
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import SampleDesign
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.survey.replicates import Replication
from hobrix.core.survey.shares import Shares

SAMPLES = 1_000
STRATA, VILLAGES, HOUSEHOLDS = 6, 80, 60
DRAWN_VILLAGES, DRAWN_HOUSEHOLDS = 12, 15
ROWS, CLUSTERS = 1_000_000, 2_000
DESIGN = {"kind": "design", "weights": "w", "clusters": "village", "strata": "district"}


def population() -> dict[str, np.ndarray]:
    """Households: stratum, village, river water (more in some villages), age, ill."""
    random = np.random.default_rng(7)
    village = np.repeat(np.arange(STRATA * VILLAGES), HOUSEHOLDS)
    stratum = village // VILLAGES
    of_village = random.normal(0, 0.5, STRATA * VILLAGES)[village]
    lean = random.normal(0, 0.8, STRATA * VILLAGES)[village]
    river = (random.random(len(village)) < 1 / (1 + np.exp(1 - lean - 0.3 * stratum))).astype(int)
    age = random.integers(0, 4, len(village))
    eta = -1.4 + 0.7 * river + 0.25 * age + of_village - 0.1 * stratum
    ill = (random.random(len(village)) < 1 / (1 + np.exp(-eta))).astype(int)
    return {"village": village, "stratum": stratum, "river": river, "age": age, "ill": ill}


def sampled(random: np.random.Generator) -> np.ndarray:
    """Rows of a two-stage sample: villages within strata, households within villages."""
    rows = []
    for stratum in range(STRATA):
        # Strata are sampled at different rates: that is what the weights put right.
        many = DRAWN_VILLAGES if stratum % 2 else DRAWN_VILLAGES // 2
        for village in random.choice(VILLAGES, many, replace=False) + stratum * VILLAGES:
            first = village * HOUSEHOLDS
            rows.append(first + random.choice(HOUSEHOLDS, DRAWN_HOUSEHOLDS, replace=False))
    return np.concatenate(rows)


QUANTITIES = ("a share", "an odds ratio of the table", "an odds ratio of the model")
EVENT, RIVER = np.array([False, True, False, True]), np.array([False, False, True, True])


def coverage(samples: int) -> None:
    people = population()
    truth = the_truth(people)
    # The model is fitted again for every replicate, so it is shown with linearised errors only.
    ways = {"linearised": None, "jackknife": Replication("jackknife"), "bootstrap": None}
    hits = {way: dict.fromkeys(QUANTITIES, 0) for way in ways}
    plain, misfits = 0, 0
    random = np.random.default_rng(11)
    for i in range(samples):
        drawn = {name: column[at] for at in [sampled(random)] for name, column in people.items()}
        rate = np.where(drawn["stratum"] % 2, DRAWN_VILLAGES, DRAWN_VILLAGES // 2) / VILLAGES
        weights = 1 / (rate * DRAWN_HOUSEHOLDS / HOUSEHOLDS)
        ways["bootstrap"] = Replication("bootstrap", draws=500, seed=i)
        for way, replication in ways.items():
            design = SampleDesign.of(
                weights, drawn["stratum"], drawn["village"], replication=replication
            )
            limits = of_tables(design, drawn)
            if replication is None:
                limits["an odds ratio of the model"], is_misfit = of_model(design, drawn)
                misfits += is_misfit
            for name, (low, high) in limits.items():
                hits[way][name] += low <= truth[name] <= high
        p, n = drawn["ill"].mean(), len(drawn["ill"])
        plain += abs(p - truth["a share"]) <= 1.96 * np.sqrt(p * (1 - p) / n)
    print(f"\n{samples:,} samples of a made-up population: how often 95% intervals hold the truth")
    for way, found in hits.items():
        for name, n in found.items():
            if n:
                print(f"  {name:27} {way:11} {100 * n / samples:5.1f}% (aim: 93 to 97)")
    print(f"  {'a share, design ignored':39} {100 * plain / samples:5.1f}%")
    print(
        f"  the fit test at 5% finds fault with a model that holds in {100 * misfits / samples:.1f}%"
    )


def the_truth(people: dict[str, np.ndarray]) -> dict[str, float]:
    """What a sample of everybody would give."""
    columns = np.column_stack([np.ones(len(people["ill"])), people["river"], people["age"]])
    model = ml.fit(ml.collapse(columns, people["ill"].astype(float)))
    (a, b), (c, d) = (
        [np.sum((people["river"] == r) & (people["ill"] == i)) for i in (0, 1)] for r in (0, 1)
    )
    values = (people["ill"].mean(), d * a / (c * b), np.exp(model.coefficients[1]))
    return dict(zip(QUANTITIES, values, strict=True))


def of_tables(design: SampleDesign, drawn: dict[str, np.ndarray]) -> dict[str, tuple[float, float]]:
    totals = CellTotals.count(design, [drawn["river"], drawn["ill"]], [2, 2])
    share = Shares.among(totals, [np.ones(4, dtype=bool)], EVENT).shares(0.95)[0].ci_logit
    odds = Shares.among(totals, [RIVER, ~RIVER], EVENT).against(1, 0.95)[0].odds_ratio
    assert share is not None
    assert odds is not None
    assert odds.ci is not None
    limits = ((share.low, share.high), (odds.ci.low, odds.ci.high))
    return dict(zip(QUANTITIES, limits, strict=False))


def of_model(
    design: SampleDesign, drawn: dict[str, np.ndarray]
) -> tuple[tuple[float, float], bool]:
    """Limits of the odds ratio, and whether the fit test finds fault."""
    columns = np.column_stack([np.ones(len(drawn["ill"])), drawn["river"], drawn["age"]])
    first, place = distinct_rows(list(columns.T))
    totals = PatternTotals.count(design, columns[first], place, drawn["ill"].astype(float))
    found = logistic.fit(totals).fit
    fit = logistic.fit_test(totals, found, np.bincount(place).astype(float), 6)
    reach = design.t_quantile(0.95) * np.sqrt(found.covariance[1, 1])
    low, high = np.exp(found.coefficients[1] + np.array([-reach, reach]))
    return (low, high), fit is not None and fit.p < 0.05


def cost(rows: int) -> None:
    random = np.random.default_rng(3)
    sizes = {"ill": 2, "source": 5, "school": 4, "district": 10}
    variables = [Variable(name="w", kind="numeric")]
    columns: dict[str, Column] = {"w": NumericColumn(random.uniform(0.5, 2, rows))}
    for name, size in {**sizes, "village": CLUSTERS}.items():
        categories = tuple(Category(value=str(i), label=f"{name} {i}") for i in range(size))
        event = ("1",) if name == "ill" else ()
        variables.append(Variable(name=name, kind="nominal", categories=categories, event=event))
        codes = random.integers(0, size, rows).astype(np.int16)
        columns[name] = CategoricalColumn(codes, categories)
    village = columns["village"]
    assert isinstance(village, CategoricalColumn)
    of_village = (village.codes % 10).astype(np.int16)
    district = columns["district"]
    assert isinstance(district, CategoricalColumn)
    columns["district"] = CategoricalColumn(of_village, district.categories)
    frame = Frame(
        rows=rows,
        variables={variable.name: variable for variable in variables},
        load=lambda variable: columns[variable.name],
        source=no_source,
    )
    plain = {"outcome": {"variable": "ill"}, "vary_with": [{"variable": "source"}]}
    print(f"\n{rows:,} rows in {CLUSTERS:,} clusters, the whole answer")
    for lens, aim in (("crosstab", 2), ("odds", 2)):
        more = {"allowing_for": [{"variable": "school"}]} if lens == "odds" else {}
        both = {
            name: Question.model_validate({"lens": lens, **plain, **more, **counted})
            for name, counted in (("plain", {}), ("design", {"counted_by": DESIGN}))
        }
        times = best_of(
            {name: partial(answer, q, frame) for name, q in both.items()},
            rounds=15 if lens == "crosstab" else 3,
        )
        ratio = times["design"] / times["plain"]
        print(
            f"  {lens:9} unweighted{milliseconds(times['plain'])}   with the design"
            f"{milliseconds(times['design'])}   {ratio:.1f} times (aim: at most {aim})"
        )


def run(samples: int = SAMPLES, rows: int = ROWS) -> None:
    coverage(samples)
    cost(rows)
