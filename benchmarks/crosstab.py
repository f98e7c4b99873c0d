"""A 6 x 4 cross-tabulation of a million rows, from decoded columns to the finished answer."""

import numpy as np
import pandas as pd
from scipy import stats

from benchmarks.people import as_texts, no_source
from benchmarks.timing import best_of, milliseconds
from hobrix.core.data import CategoricalColumn, Category, Frame, Variable
from hobrix.core.questions import Question, answer
from hobrix.core.questions.crosstab.results import CrosstabResults

ROWS = 1_000_000
SHAPE = (6, 4)


def run(rows: int = ROWS) -> None:
    random = np.random.default_rng(1)
    codes = [random.integers(-1, size, rows).astype(np.int8) for size in SHAPE]
    variables, columns = [], {}
    for name, code, size in zip(("group", "outcome"), codes, SHAPE, strict=True):
        categories = tuple(Category(value=str(i), label=f"{name} {i}") for i in range(size))
        variables.append(Variable(name=name, kind="nominal", categories=categories))
        columns[name] = CategoricalColumn(codes=code, categories=categories)
    question = Question.model_validate(
        {"outcome": {"variable": "outcome", "event": ["0"]}, "vary_with": [{"variable": "group"}]}
    )
    texts = [as_texts(code) for code in codes]
    as_text = pd.DataFrame({"group": texts[0], "outcome": texts[1]})
    as_category = as_text.astype("category")

    def hobrix() -> float:
        # A new frame each time: its columns are decoded, nothing else is remembered.
        frame = Frame(
            rows=rows,
            variables={variable.name: variable for variable in variables},
            load=lambda variable: columns[variable.name],
            source=no_source,
        )
        results = answer(question, frame).results
        assert isinstance(results, CrosstabResults)
        test = results.whole.test
        assert test is not None
        assert test.statistic is not None
        return test.statistic

    def pandas(data: pd.DataFrame) -> float:
        table = pd.crosstab(data["group"], data["outcome"])
        return float(stats.chi2_contingency(table, correction=False).statistic)

    assert np.isclose(hobrix(), pandas(as_category), rtol=1e-9)
    times = best_of(
        {
            "hobrix": hobrix,
            "category": lambda: pandas(as_category),
            "text": lambda: pandas(as_text),
        }
    )
    print(f"\n6 x 4 cross-tabulation of {rows:,} rows")
    print(f"  Hobrix, whole answer (tests, checks, reading)      {milliseconds(times['hobrix'])}")
    for kind in ("category", "text"):
        ratio = times[kind] / times["hobrix"]
        print(
            f"  pandas.crosstab + chi2_contingency ({kind:8} columns) {milliseconds(times[kind])}"
            f"   {ratio:5.1f} times as long (aim: 30)"
        )
