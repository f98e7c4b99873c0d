"""The answer route over HTTP: new questions each time, then the same again."""

import itertools
import random
import statistics
from typing import Any

from benchmarks.server import Asker, Serving, bring, home, serving_as

ROWS, COLUMNS = 1_000_000, 40
QUESTIONS = 120


def run() -> None:
    with home():
        from hobrix.web.demo.load import demo_user, load_demo

        measure(load_demo(whole=False), demo_user(), serving_as)


def measure(
    demo: Any, user: Any, serving: Serving, rows: int = ROWS, questions: int = QUESTIONS
) -> None:
    survey = demo.datasets.get(name="Round one")
    named = ["ill", "source", "boil", "flooded", "trust", "schooling", "income_third", "toilet"]
    columns = _columns(rows)
    study, large = bring(user, "Large", columns)
    with serving(user) as asker:
        print("\nAnswer route over HTTP (median and 95th percentile)")
        for name, of, dataset, variables in (
            (f"demo ({survey.rows:,} rows)", str(demo.id), survey, named),
            (f"large ({rows:,} x {COLUMNS})", study, large, list(columns)),
        ):
            for kind, seconds in _ask(asker, of, dataset, variables, questions).items():
                median = 1000 * statistics.median(seconds)
                high = 1000 * statistics.quantiles(seconds, n=20)[-1]
                print(f"  {name:28} {kind:22} {median:6.1f} ms {high:6.1f} ms")
        print("  (aim: under 50 ms and 120 ms)")


def _columns(rows: int) -> dict[str, list[str]]:
    chooser = random.Random(2)
    columns = {}
    for i in range(COLUMNS):
        answers = [f"answer {k}" for k in range(2 + i % 6)]
        sample = chooser.choices(answers, k=min(rows, 10_000))
        columns[f"v{i}"] = (sample * (rows // len(sample)))[i:] + sample[:i]
    return columns


def _ask(
    asker: Asker, study: str, dataset: Any, variables: list[str], questions: int
) -> dict[str, list[float]]:
    pairs = list(itertools.permutations(variables, 2))
    random.Random(3).shuffle(pairs)
    bodies = [
        {
            "dataset": str(dataset.id),
            "question": {
                "outcome": {"variable": outcome},
                "vary_with": [{"variable": explanatory}],
                # Another level makes another question once the pairs run out.
                "confidence": 0.95 - 0.001 * (i // len(pairs)),
            },
        }
        for i, (outcome, explanatory) in zip(range(questions), itertools.cycle(pairs), strict=False)
    ]

    def once(body: Any) -> float:
        return asker.send(f"/studies/{study}/answer", body)[0]

    return {
        "first time asked": [once(body) for body in bodies],
        "asked again": [once(body) for body in bodies],
    }
