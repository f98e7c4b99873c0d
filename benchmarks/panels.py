"""The odds model over HTTP: its sheet first, then each of its panels; and a long line of questions
listed by a server that has just started."""

import json
import statistics
from typing import Any

import numpy as np

from benchmarks.server import Asker, Serving, bring, home, serving_as

FEW, MANY = 2_400, 1_000_000
ROUNDS = 40
LINE = 500
MODEL = {
    "lens": "odds",
    "outcome": {"variable": "ill", "event": ["yes"]},
    "vary_with": [{"variable": "c0"}, {"variable": "x0"}],
    "allowing_for": [{"variable": name} for name in ("x1", "x2", "c1", "c2")],
}


def run() -> None:
    with home():
        from hobrix.web.demo.load import demo_user, load_demo

        load_demo()
        measure(demo_user(), serving_as)


def measure(
    user: Any,
    serving: Serving,
    sizes: tuple[int, ...] = (FEW, MANY),
    rounds: int = ROUNDS,
    line: int = LINE,
) -> None:
    studies = {rows: bring(user, f"People {rows}", _people(rows)) for rows in sizes}
    print("\nOdds model with 3 numeric and 3 categorical predictors, over HTTP")
    for rows, (study, dataset) in studies.items():
        with serving(user) as asker:
            _model(asker, study, dataset, rounds if rows <= FEW else 3)
    study, dataset = studies[sizes[0]]
    _line_of_questions(user, serving, study, dataset, line)


def _people(n: int) -> dict[str, Any]:
    """Rows that all differ; the outcome follows four of six predictors."""
    random = np.random.default_rng(1)
    numbers = [random.normal(50, 10, n), random.normal(0, 1, n), random.gamma(2, 300, n)]
    codes = [random.integers(0, k, n) for k in (4, 3, 2)]
    eta = -1.5 + 0.02 * (numbers[0] - 50) + 0.3 * numbers[1] + 0.2 * codes[0] - 0.1 * codes[1]
    ill = np.where(random.random(n) < 1 / (1 + np.exp(-eta)), "yes", "no")
    return {
        "ill": ill,
        **{f"x{i}": values for i, values in enumerate(numbers)},
        **{f"c{i}": np.char.add("c", values.astype(str)) for i, values in enumerate(codes)},
    }


def _model(asker: Asker, study: str, dataset: Any, rounds: int) -> None:
    path = f"/studies/{study}/answer"
    seconds = []
    for i in range(rounds):
        # Another level makes another question.
        asked = {"dataset": str(dataset.id), "question": {**MODEL, "confidence": 0.95 - i / 1000}}
        took, content = asker.send(path, asked)
        seconds.append(took)
    answer = json.loads(content)["answer"]
    size = len(json.dumps(answer, ensure_ascii=False, separators=(",", ":")).encode()) / 1000
    print(
        f"  {dataset.rows:,} rows: sheet {1000 * statistics.median(seconds):7.1f} ms, {size:.1f} kB"
    )
    for head in answer["panels"]:
        if head["finds"]:
            took, _ = asker.send(f"{path}/panels/{head['name']}", asked)
            print(f"    {head['title']:24} {1000 * took:7.1f} ms")


def _line_of_questions(user: Any, serving: Serving, study: str, dataset: Any, line: int) -> None:
    with serving(user) as asker:
        for i in range(line):
            question = {
                "outcome": {"variable": "ill"},
                "vary_with": [{"variable": f"c{i % 3}"}],
                "confidence": 0.99 - i / 2000,
            }
            asked = {"dataset": str(dataset.id), "question": question}
            asker.send(f"/studies/{study}/questions", asked)
            asker.send(f"/studies/{study}/answer", asked)
    with serving(user) as asker:
        took, content = asker.send(f"/studies/{study}/questions")
        listed = json.loads(content)
        assert len(listed) == line
        assert all(each["headline"] for each in listed)
        again = statistics.median(asker.send(f"/studies/{study}/questions")[0] for _ in range(9))
    print(
        f"  {line} questions listed after a restart: {1000 * took:.1f} ms, then {1000 * again:.1f} ms"
    )
