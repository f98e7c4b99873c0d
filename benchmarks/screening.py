"""Screening 200 variables of 16,000 rows for association with one outcome."""

import numpy as np
import pandas as pd
from scipy import stats

from benchmarks.people import as_texts, no_source
from benchmarks.timing import best_of, milliseconds
from hobrix.core.data import CategoricalColumn, Category, Frame, Variable
from hobrix.core.questions import Question, at_a_glance, screen

ROWS, VARIABLES = 16_000, 200


def run(rows: int = ROWS, variables_in_all: int = VARIABLES) -> None:
    random = np.random.default_rng(2)
    sizes = {"outcome": 2} | {f"v{i}": 2 + i % 6 for i in range(variables_in_all)}
    variables, columns, texts = [], {}, {}
    for name, size in sizes.items():
        code = random.integers(-1, size, rows).astype(np.int8)
        categories = tuple(Category(value=str(i), label=f"{name} {i}") for i in range(size))
        variables.append(Variable(name=name, kind="nominal", categories=categories))
        columns[name] = CategoricalColumn(codes=code, categories=categories)
        texts[name] = as_texts(code)
    question = Question.model_validate({"outcome": {"variable": "outcome"}})
    data = pd.DataFrame(texts).astype("category")

    def frame() -> Frame:
        known = {variable.name: variable for variable in variables}
        return Frame(rows, known, lambda variable: columns[variable.name], no_source)

    def hobrix() -> dict[str, float]:
        return {r.variable: float(r.test.statistic or 0) for r in screen(question, frame()).related}

    def pandas() -> dict[str, float]:
        return {
            name: float(
                stats.chi2_contingency(
                    pd.crosstab(data[name], data["outcome"]), correction=False
                ).statistic
            )
            for name in sizes
            if name != "outcome"
        }

    mine, theirs = hobrix(), pandas()
    assert all(np.isclose(mine[name], theirs[name], rtol=1e-9) for name in theirs)
    times = best_of({"hobrix": hobrix, "pandas": pandas})
    glance = best_of({"glance": lambda: at_a_glance(question, frame())})["glance"]
    print(
        f"\nScreening {variables_in_all} variables x {rows:,} rows (ours with intervals and adjusted p)"
    )
    print(f"  Hobrix                              {milliseconds(times['hobrix'])}")
    print(f"  pandas.crosstab + chi2_contingency  {milliseconds(times['pandas'])}")
    print(f"  {times['pandas'] / times['hobrix']:.1f} times as fast (aim: 45)")
    print(f"  All {variables_in_all + 1} variables at a glance          {milliseconds(glance)}")
