"""What counting costs as rows grow: the combinations of four variables, of 1, 10 and 100 million rows, by the
engine that comes with Hobrix and, where HOBRIX_BENCH_CLUSTER is its address, by a cluster; and what comes
here of it."""

import os
import tempfile
import time
from pathlib import Path

from benchmarks.linked import FILES, make
from hobrix.linked.asked import Bounds, Field
from hobrix.linked.cluster import Cluster
from hobrix.linked.embedded import Embedded
from hobrix.linked.expression import counted
from hobrix.linked.patterns import in_order
from hobrix.linked.place import Place

SIZES = (1_000_000, 10_000_000, 100_000_000)
NAMES = ["v5", "v0", "v1", "v2"]


def run(sizes: tuple[int, ...] = SIZES) -> None:
    print(f"\nThe combinations of {len(NAMES)} of 40 variables, as rows grow")
    with tempfile.TemporaryDirectory(prefix="hobrix-bench-") as temporary:
        kept = Path(os.environ.get("HOBRIX_BENCH_FOLDER") or temporary)
        for rows in sizes:
            # The largest is the one that `linked` makes.
            folder = kept if rows == SIZES[-1] else kept / f"{rows}"
            make(folder, max(rows, FILES * 1000))
            _measure(Place("Bench", folder), rows)


def _measure(place: Place, rows: int) -> None:
    engines: dict[str, Embedded | Cluster] = {"embedded": Embedded(place, Bounds())}
    if address := os.environ.get("HOBRIX_BENCH_CLUSTER"):
        engines["cluster"] = Cluster(place, address, Bounds(seconds=1800))
    for name, engine in engines.items():
        fields = [Field(c.name, c.holds) for c in engine.columns("register") if c.holds]
        asked = counted(fields, NAMES, {}, 2_000_000)
        seconds = []
        for _ in range(2):
            began = time.perf_counter()
            found = engine.ask("register", fields, asked)
            seconds.append(time.perf_counter() - began)
        moved = len(in_order(found, NAMES).packed()) / 1000
        print(
            f"  {rows:12,} rows, {name:9} {min(seconds):8.2f} s (first {seconds[0]:.2f})   "
            f"{found.height:,} combinations, {moved:.0f} kB"
        )
