"""Killed again and again while people write and files are brought in: nothing that was acknowledged is
lost, and nothing is half done."""

import http.client
import json
import random
import sqlite3
import threading
import time
from typing import Any

from soak.served import Person, Served, until

CSV = "village,ill\n" + "V1,yes\nV2,no\n" * 30_000


def kills(served: Served, number: int = 200) -> None:
    chooser = random.Random(19)
    acknowledged: dict[str, set[str]] = {"questions": set(), "files": set()}
    gone, problems = threading.Event(), []

    for round_ in range(number):
        study, people = served.people(4) if round_ == 0 else (study, people)  # noqa: F821
        at = f"/api/studies/{study}"
        gone.clear()
        dataset = _round_one(people[0], at)
        threads = [
            threading.Thread(
                target=_write, args=(who, at, dataset, acknowledged["questions"], gone)
            )
            for who in people[:3]
        ]
        if round_ % 4 == 0:
            threads.append(
                threading.Thread(target=_bring, args=(people[3], at, acknowledged["files"], gone))
            )
        for thread in threads:
            thread.start()
        time.sleep(chooser.uniform(0.1, 1.2))
        gone.set()
        served.kill()
        for thread in threads:
            thread.join()
        problems += _wrong(served)
        served.start_again()
        people = [Person(served.port, who.session) for who in people]
    _, listed = people[0].ask("GET", f"{at}/questions")
    kept = {each["id"] for each in listed}
    _, datasets = people[0].ask("GET", f"{at}/datasets")
    there = {each["id"] for each in datasets}
    until(lambda: not people[0].ask("GET", f"{at}/jobs")[1], 60, 0.5)
    print(
        f"{number} SIGKILLs: {len(acknowledged['questions'])} questions and {len(acknowledged['files'])} "
        f"files acknowledged; lost {len(acknowledged['questions'] - kept)} and "
        f"{len(acknowledged['files'] - there)}; {len(problems)} damaged or half done"
    )
    for problem in problems[:5]:
        print("  ", problem)


def _round_one(who: Person, at: str) -> str:
    _, listed = who.ask("GET", f"{at}/datasets")
    return next(str(each["id"]) for each in listed if each["name"] == "Round one")


def _write(who: Person, at: str, dataset: str, into: set[str], gone: threading.Event) -> None:
    body = {"dataset": dataset, "question": {"outcome": {"variable": "ill"}}, "title": "x"}
    while not gone.is_set():
        try:
            status, told = who.ask("POST", f"{at}/questions", body)
        except (OSError, http.client.HTTPException, ValueError):
            return
        if status == 201:
            into.add(told["id"])


def _bring(who: Person, at: str, into: set[str], gone: threading.Event) -> None:
    head = '--x\r\nContent-Disposition: form-data; name="file"; filename="survey.csv"\r\n\r\n'
    data = head.encode() + CSV.encode() + b"\r\n--x--\r\n"
    headers = {
        "Cookie": f"sessionid={who.session}; csrftoken={'a' * 32}",
        "X-CSRFToken": "a" * 32,
        "Content-Type": "multipart/form-data; boundary=x",
    }
    while not gone.is_set():
        line = http.client.HTTPConnection("127.0.0.1", who.port, timeout=60)
        try:
            line.request("POST", f"{at}/datasets", data, headers)
            reply = line.getresponse()
            told: Any = json.loads(reply.read())
        except (OSError, http.client.HTTPException, ValueError):
            return
        if reply.status == 201:
            into.add(told["id"])


def _wrong(served: Served) -> list[str]:
    """What a database shows that was left by a kill."""
    found = []
    with sqlite3.connect(served.home / "hobrix.sqlite3") as opened:
        (said,) = opened.execute("PRAGMA integrity_check(1)").fetchone()
        if said != "ok":
            found.append(f"integrity: {said}")
        bare = opened.execute(
            "SELECT count(*) FROM studies_codebookentry WHERE id NOT IN (SELECT entry_id FROM studies_blob)"
        ).fetchone()[0]
        empty = opened.execute(
            "SELECT count(*) FROM studies_dataset WHERE id NOT IN (SELECT dataset_id FROM studies_codebookentry)"
        ).fetchone()[0]
        if bare or empty:
            found.append(f"{bare} variables without values, {empty} data sets without variables")
    return found
