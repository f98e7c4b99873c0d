"""Every benchmark runs to its end, on next to no data. Nothing is timed here."""

from collections.abc import Callable
from typing import Any

import pytest
from benchmarks import (
    answers,
    bringing,
    crosstab,
    growing,
    importing,
    linked,
    logistic,
    measures,
    screening,
    survey,
)


@pytest.mark.parametrize(
    ("run", "size", "told"),
    [
        (crosstab.run, {"rows": 2_000}, "6 x 4 cross-tabulation of 2,000 rows"),
        (measures.run, {"rows": 2_000, "draws": 2_000}, "2,000 tables drawn"),
        (screening.run, {"rows": 500, "variables_in_all": 5}, "Screening 5 variables x 500 rows"),
        (logistic.run, {"rows": 4_000, "usual_rows": 600}, "an Odds model, 4,000 rows"),
        (survey.run, {"samples": 2, "rows": 20_000}, "20,000 rows in 2,000 clusters"),
        (answers.run, {"rows": 5_000, "few": 4_000, "samples": 2}, "of 2 samples"),
        (importing.run, {"rows": 1_000, "rounds": 1}, "Import of 1,000 x 50"),
        (linked.run, {"rows": 8_000}, "A register of 8,000 rows x 40"),
        (growing.run, {"sizes": (8_000,)}, "8,000 rows, embedded"),
        (bringing.run, {"rows": 500, "matched": 800}, "Matching 800 rows by key"),
    ],
    ids=[
        "crosstab",
        "measures",
        "screening",
        "logistic",
        "survey",
        "answers",
        "importing",
        "linked",
        "growing",
        "bringing",
    ],
)
def test_a_benchmark_runs_to_its_end(
    run: Callable[..., None],
    size: dict[str, Any],
    told: str,
    capsys: pytest.CaptureFixture[str],
) -> None:
    run(**size)
    assert told in capsys.readouterr().out
