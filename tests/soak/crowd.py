"""Fifty people in one study for a minute, while one of them asks ten long models; then stopping, slow
clients, and a backup under load."""

import itertools
import random
import socket
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any
from urllib.parse import quote

from soak.served import Person, Served, quantile, until

LONG: dict[str, Any] = {
    "lens": "odds",
    "outcome": {"variable": "ill", "event": ["1"]},
    "vary_with": [{"variable": "source"}],
    "allowing_for": [
        {"variable": "age", "bend": "spline"},
        {"variable": "income", "bend": "spline"},
        {"variable": "flooded"},
    ],
    "counted_by": {
        "kind": "design",
        "weights": "weight",
        "strata": "district",
        "clusters": "village",
        "errors": "bootstrap",
        "draws": 2000,
    },
}
OUTCOMES = ("ill", "source", "flood", "filter", "trust", "boils")


def crowd(served: Served, people: int = 50, seconds: float = 60) -> None:
    study, everybody = served.people(people)
    at = f"/api/studies/{study}"
    dataset, names = _survey(everybody[0], at)
    _in_use(everybody[:6], at, dataset)
    lists: list[float] = []
    answers: list[float] = []
    errors: list[str] = []
    long: list[float] = []
    rest = served.memory
    end = time.monotonic() + seconds

    def ask(who: Person, number: int) -> None:
        chooser = random.Random(number)
        # People do not all begin in one instant: fifty requests at once are 7 % of all of a minute's.
        time.sleep(chooser.uniform(0, 4))
        for turn in itertools.count():
            if time.monotonic() > end:
                return
            question = {
                "lens": "crosstab",
                "outcome": {"variable": chooser.choice(names)},
                "vary_with": [{"variable": chooser.choice(names)}],
                "confidence": chooser.choice((0.9, 0.95, 0.99)),
            }
            _timed(who, "GET", f"{at}/questions", None, lists, errors)
            body = {"dataset": dataset, "question": question}
            _timed(who, "POST", f"{at}/answer", body, answers, errors, f"{number}-{turn}")
            _timed(who, "POST", f"{at}/pulse", {"window": f"{number}", "screen": "ask"}, [], errors)
            time.sleep(chooser.uniform(2, 6))

    for each in range(10):
        asked = (each, everybody[0], at, dataset, long, errors)
        threading.Thread(target=_ask_long, args=asked, daemon=True).start()
    threads = [threading.Thread(target=ask, args=(who, i)) for i, who in enumerate(everybody)]
    most = rest
    for thread in threads:
        thread.start()
    while any(thread.is_alive() for thread in threads):
        most = max(most, served.memory)
        time.sleep(2)
    for each in range(10):
        Person(served.port, everybody[0].session).ask(
            "DELETE", f"{at}/answer/under-way/long-{each}"
        )
    print(
        f"{people} people for {seconds:.0f} s beside ten long models of one of them: {len(lists)} lists, p95 "
        f"{1000 * quantile(lists, 0.95):.0f} ms; {len(answers)} answers, p95 "
        f"{quantile(answers, 0.95):.2f} s, slowest {max(answers):.1f} s; {len(errors)} errors; {len(long)} "
        f"long models done; memory {rest / 1e6:.0f} MB at rest, at most {most / 1e6:.0f} MB"
    )
    for error in errors[:5]:
        print("  ", error)


def _ask_long(
    number: int, of: Person, at: str, dataset: str, took: list[float], errors: list[str]
) -> None:
    who = Person(of.port, of.session)
    body = {"dataset": dataset, "question": {**LONG, "confidence": 0.99 - number / 100}}
    began = time.monotonic()
    status, told = who.ask("POST", f"{at}/answer", body, f"long-{number}")
    took.append(time.monotonic() - began)
    if status not in (200, 409, 422):
        errors.append(f"long {status} {str(told)[:200]}")


def _stop_long(who: Person, at: str) -> None:
    for each in range(10):
        Person(who.port, who.session).ask("DELETE", f"{at}/answer/under-way/long-{each}")


def _in_use(people: list[Person], at: str, dataset: str) -> None:
    """A server that has been at work for a while: what is started when it is needed has been."""
    for turn in range(3):
        threads = []
        for number, who in enumerate(people):
            level = 0.9 + number / 100 + turn / 1000
            question = {"lens": "distribution", "outcome": {"variable": "ill"}, "confidence": level}
            body = {"dataset": dataset, "question": question}
            asked = (who, f"{at}/answer", body, f"first {number} {turn}")
            threads.append(threading.Thread(target=_wait_for, args=asked))
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()


def _timed(
    who: Person,
    method: str,
    path: str,
    body: Any,
    into: list[float],
    errors: list[str],
    work: str = "",
) -> None:
    began = time.monotonic()
    try:
        status, told = who.ask(method, path, body, work)
    except OSError as error:
        errors.append(repr(error))
        return
    into.append(time.monotonic() - began)
    if status not in (200, 422):
        errors.append(f"{method} {path} {status} {str(told)[:200]}")


def _survey(who: Person, at: str) -> tuple[str, list[str]]:
    """The demo survey, and its variables with few answers."""
    _, listed = who.ask("GET", f"{at}/datasets")
    dataset = next(each["id"] for each in listed if each["name"] == "Round one")
    _, codebook = who.ask("GET", f"{at}/datasets/{dataset}/codebook")
    variables = [entry["variable"] for entry in codebook]
    few = [each["name"] for each in variables if 2 <= len(each.get("categories") or ()) <= 8]
    return dataset, few


def stopping(served: Served) -> None:
    """How soon long work of each kind ends once it is stopped: until its process is idle again."""
    study, (who, looker) = served.people(2)
    at = f"/api/studies/{study}"
    dataset, _ = _survey(who, at)
    kinds: dict[str, tuple[str, dict[str, Any]]] = {
        "replicates of a model": ("/answer", {**LONG, "confidence": 0.77}),
        "a panel of a model": ("/answer/panels/steps", {**LONG, "confidence": 0.76}),
        "a penalised model of sixty villages": (
            "/answer",
            {
                "lens": "odds",
                "outcome": LONG["outcome"],
                "vary_with": [{"variable": "village"}],
                "allowing_for": [{"variable": "income", "bend": "spline"}, {"variable": "age"}],
                "options": {"odds": {"method": "firth", "limits": "profile"}},
            },
        ),
        "a million tables drawn for an exact test": (
            "/answer/panels/tests",
            {
                "lens": "crosstab",
                "outcome": {"variable": "ill"},
                "vary_with": [{"variable": "village"}],
                "options": {"crosstab": {"exact": "monte_carlo", "draws": 1_000_000}},
            },
        ),
        "a comparison": ("/compare", {}),
    }
    for name, (path, question) in kinds.items():
        body: dict[str, Any] = {"dataset": dataset, "question": question}
        if path == "/compare":
            asked = [{**LONG, "confidence": c} for c in (0.71, 0.72)]
            body = {"questions": [{"dataset": dataset, "question": q, "title": "x"} for q in asked]}
        thread = threading.Thread(target=_wait_for, args=(who, f"{at}{path}", body, name))
        thread.start()
        time.sleep(2.2)
        if not thread.is_alive():
            print(f"stopping {name}: it took less than 2 s")
            continue
        began = time.monotonic()
        looker_of = Person(served.port, who.session)
        looker_of.ask("DELETE", f"{at}/answer/under-way/{quote(name)}")
        until(lambda: _metric(looker, "hobrix_answers_running") == 0, 30, 0.02)
        print(f"stopping {name}: its process is idle after {time.monotonic() - began:.2f} s")
        thread.join(10)


def _wait_for(who: Person, path: str, body: Any, work: str) -> None:
    who.ask("POST", path, body, work)


def _metric(who: Person, name: str) -> float:
    _, content = who.ask("GET", "/metrics")
    line = next(line for line in content.decode().splitlines() if line.startswith(name + " "))
    return float(line.split()[1])


def slow_clients(served: Served, number: int = 300) -> None:
    """Connections that never finish what they ask, of two kinds, and what others notice of them."""
    study, (who,) = served.people(1)
    held = []
    for each in range(number):
        line = socket.create_connection(("127.0.0.1", served.port))
        head = b"POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Length: 100000\r\n"
        line.sendall(head[: 20 + each % 40] if each % 2 else head + b"\r\n{")
        held.append(line)
    took: list[float] = []
    for _ in range(50):
        errors: list[Any] = []
        _timed(who, "GET", f"/api/studies/{study}/questions", None, took, errors)
        assert not errors
    print(
        f"{number} half-open connections: the list of questions p95 {1000 * quantile(took, 0.95):.0f} ms"
    )
    for line in held:
        line.close()


def backup_under_load(served: Served, folder: Path) -> None:
    """A backup while three people write, put back elsewhere and looked through."""
    study, writers = served.people(3)
    at, done, written = f"/api/studies/{study}", threading.Event(), []
    dataset, _ = _survey(writers[0], at)

    def write(who: Person) -> None:
        while not done.is_set():
            body = {"dataset": dataset, "question": {"outcome": {"variable": "ill"}}, "title": "x"}
            status, told = who.ask("POST", f"{at}/questions", body)
            if status == 201:
                written.append(told["id"])

    threads = [threading.Thread(target=write, args=(who,)) for who in writers]
    for thread in threads:
        thread.start()
    time.sleep(1)
    before = set(written)
    hobrix = [sys.executable, "-m", "hobrix.cli"]
    began = time.monotonic()
    subprocess.run([*hobrix, "backup", str(folder / "backup")], env=served.environment, check=True)
    took = time.monotonic() - began
    done.set()
    for thread in threads:
        thread.join()
    other = {**served.environment, "HOBRIX_HOME": str(folder / "other")}
    (folder / "other").mkdir()
    subprocess.run([*hobrix, "restore", str(folder / "backup")], env=other, check=True)
    checked = subprocess.run([*hobrix, "check"], env=other, capture_output=True, text=True)
    import sqlite3

    with sqlite3.connect(folder / "other" / "hobrix.sqlite3") as opened:
        kept = {row[0] for row in opened.execute("SELECT id FROM studies_savedquestion")}
    lost = {each.replace("-", "") for each in before} - kept
    print(
        f"backup beside three writers: {took:.1f} s; of {len(before)} questions kept before it, "
        f"{len(lost)} are not in it; check: {checked.stdout.strip()}"
    )
