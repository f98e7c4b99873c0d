"""Killed again and again while people write and files are brought in: nothing that was acknowledged is
lost, and nothing is half done."""

import http.client
import json
import random
import shutil
import sqlite3
import threading
import time
from pathlib import Path
from typing import Any

from soak.served import Person, Served, until

CSV = "village,ill\n" + "V1,yes\nV2,no\n" * 30_000


def kills(served: Served, folder: Path, number: int = 200) -> None:
    """Half of them here, and half on a copy of the home with a server of its own beside it."""
    served.kill()
    copied = Served(folder / "copy", served.port + 1)
    shutil.copytree(served.home, copied.home)
    both = [_Killed(served, random.Random(19)), _Killed(copied, random.Random(91))]
    threads = [threading.Thread(target=each.often, args=(number // 2,)) for each in both]
    try:
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        copied.kill()
    problems = [problem for each in both for problem in each.problems]
    print(
        f"{sum(each.rounds for each in both)} SIGKILLs: {sum(len(each.questions) for each in both)} "
        f"questions and {sum(len(each.files) for each in both)} files acknowledged; lost "
        f"{sum(each.lost[0] for each in both)} and {sum(each.lost[1] for each in both)}; "
        f"{len(problems)} damaged or half done"
    )
    for problem in problems[:5]:
        print("  ", problem)


class _Killed:
    """One server that is killed, what it acknowledged, and what was wrong afterwards."""

    def __init__(self, served: Served, chooser: random.Random) -> None:
        self.served, self.chooser, self.rounds = served, chooser, 0
        self.questions: set[str] = set()
        self.files: set[str] = set()
        self.problems: list[str] = []
        self.lost = (0, 0)

    def often(self, number: int) -> None:
        self.served.start_again()
        study, people = self.served.people(4)
        at = f"/api/studies/{study}"
        for round_ in range(number):
            self._once(people, at, brings=round_ % 4 == 0)
            people = [Person(self.served.port, who.session) for who in people]
            self.rounds += 1
        _, listed = people[0].ask("GET", f"{at}/questions")
        kept = {each["id"] for each in listed}
        _, datasets = people[0].ask("GET", f"{at}/datasets")
        there = {each["id"] for each in datasets}
        until(lambda: not people[0].ask("GET", f"{at}/jobs")[1], 60, 0.5)
        self.lost = (len(self.questions - kept), len(self.files - there))

    def _once(self, people: list[Person], at: str, *, brings: bool) -> None:
        gone, dataset = threading.Event(), _round_one(people[0], at)
        threads = [
            threading.Thread(target=_write, args=(who, at, dataset, self.questions, gone))
            for who in people[:3]
        ]
        if brings:
            threads.append(threading.Thread(target=_bring, args=(people[3], at, self.files, gone)))
        for thread in threads:
            thread.start()
        time.sleep(self.chooser.uniform(0.1, 1.2))
        gone.set()
        self.served.kill()
        for thread in threads:
            thread.join()
        self.problems += _wrong(self.served)
        self.served.start_again()


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
