"""Data that stay where they are: a register in Parquet, its codebook, a cross-tabulation within strata and an
odds model, beside the same group-by typed directly into DuckDB; and the second question from what was kept.

``python -m benchmarks linked`` makes 100,000,000 rows of 40 variables once (about 7 GB of hard links to a few
files, in HOBRIX_BENCH_FOLDER or a temporary folder)."""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import duckdb
import numpy as np
import polars as pl

ROWS, COLUMNS, FILES = 100_000_000, 40, 4
SIZES = (4, 6, 5, 3, 4, 2, 5, 7)
MODEL = ("v0", "v1", "v2", "v3", "v4", "v6")


def make(folder: Path, rows: int) -> Path:
    """The register: a few different files, linked as often as it takes."""
    table = folder / "register"
    if table.exists():
        return table
    table.mkdir(parents=True)
    each = min(2_500_000, rows // FILES)
    random = np.random.default_rng(1)
    for i in range(FILES):
        columns = {}
        for k in range(COLUMNS):
            match k % 8:
                case 5:
                    columns[f"v{k}"] = np.array(["no", "yes"])[
                        (random.random(each) < 0.2).astype(int)
                    ]
                case 7:
                    columns[f"v{k}"] = random.integers(15, 90, each)
                case _:
                    names = np.array([f"answer {j}" for j in range(SIZES[k % 8])])
                    columns[f"v{k}"] = names[random.integers(0, SIZES[k % 8], each)]
        pl.DataFrame(columns).write_parquet(table / f"part-{i}.parquet")
    for n in range(FILES, rows // each):
        os.link(table / f"part-{n % FILES}.parquet", table / f"part-{n}.parquet")
    return table


def directly(table: Path, columns: list[str]) -> float:
    """Seconds that the group-by takes as somebody would type it."""
    began = time.perf_counter()
    with duckdb.connect(config={"threads": 2, "memory_limit": "2GB"}) as opened:
        named = ", ".join(columns)
        opened.execute(
            f"SELECT {named}, count(*) FROM read_parquet('{table}/*.parquet') GROUP BY {named}"
        ).fetchall()
    return time.perf_counter() - began


def run(rows: int = ROWS) -> None:
    kept = os.environ.get("HOBRIX_BENCH_FOLDER")
    with tempfile.TemporaryDirectory(prefix="hobrix-bench-") as folder:
        place = Path(kept) if kept else Path(folder)
        table = make(place, rows)
        command = [sys.executable, "-m", "benchmarks.linked", str(place), folder, str(rows)]
        done = subprocess.run(command, capture_output=True, text=True, check=True)
        print(done.stdout, end="")
        crosstab = directly(table, ["v0", "v1", "v2"])
        model = directly(table, ["v5", *MODEL])
        print(
            f"  directly in DuckDB: the table's group-by {crosstab:.2f} s, the model's {model:.2f} s"
        )


def _measure(place: Path, home: Path, rows: int) -> None:
    os.environ["HOBRIX_HOME"] = str(home / "home")
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrix.web.config.settings")
    import django

    django.setup()
    from uuid import uuid4

    from django.core.management import call_command
    from django.test import Client

    call_command("migrate", verbosity=0)
    from django.conf import settings
    from django.contrib.auth import get_user_model

    from hobrix.web.studies.linked_codebook import link
    from hobrix.web.studies.models import Membership, Place, Study

    settings.BESIDE = False
    settings.ALLOWED_HOSTS = ["*"]
    user = get_user_model().objects.create_user("bench")
    study = Study.objects.create(name="Bench")
    Membership.objects.create(study=study, user=user, role="owner")
    Place.objects.create(name="Bench", where=str(place))
    began = time.perf_counter()
    dataset = link(study, user, "Bench", "register", uuid4())
    print(f"\nA register of {rows:,} rows x {COLUMNS} that stays where it is")
    print(f"  codebook of all variables            {time.perf_counter() - began:8.1f} s")
    client = Client()
    client.force_login(user)

    def ask(words: str, aim: str, **question: object) -> None:
        body = {"dataset": str(dataset.id), "question": question}
        began = time.perf_counter()
        reply = client.post(f"/api/studies/{study.id}/answer", body, "application/json")
        seconds = time.perf_counter() - began
        assert reply.status_code == 200, reply.content
        print(f"  {words:36} {seconds:8.3f} s   {aim}")

    # A process that has answered before, as those beside the server have.
    body = {"lens": "crosstab", "outcome": {"variable": "v8"}, "vary_with": [{"variable": "v11"}]}
    ask("6 x 3 table, the first answer of all", "", **body)
    ill = {"variable": "v5", "event": ["yes"]}
    table = {"lens": "crosstab", "outcome": {"variable": "v0"}, "vary_with": [{"variable": "v1"}]}
    ask("6 x 4 table within 5 strata", "(aim: 1.3 times its group-by)", within=["v2"], **table)
    ask("the table alone, from what is kept", "(aim: 0.050)", **table)
    terms = [{"variable": name} for name in MODEL[1:]]
    model = {"lens": "odds", "outcome": ill, "vary_with": [{"variable": MODEL[0]}]}
    ask(
        "odds model of six predictors", "(aim: 1.5 times its group-by)", allowing_for=terms, **model
    )
    ask("the same without one, from what is kept", "", allowing_for=terms[1:], **model)
    status = Path("/proc/self/status").read_text()
    peak = next(line for line in status.splitlines() if line.startswith("VmHWM"))
    print(
        f"  peak memory, DuckDB's 2 GB in it     {int(peak.split()[1]) / 1024:8,.0f} MB   (aim: 3,000)"
    )


if __name__ == "__main__":
    _measure(Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3]))
