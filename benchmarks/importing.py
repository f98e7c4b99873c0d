"""Reading a million rows of fifty columns, with the codebook proposed and columns packed, beside
polars.read_csv of the same file. Each in a process of its own, so that peaks can be told apart."""

import random
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROWS, COLUMNS = 1_000_000, 50


def run(rows: int = ROWS, rounds: int = 3) -> None:
    with tempfile.TemporaryDirectory(prefix="hobrix-bench-") as folder:
        file = Path(folder) / "large.csv"
        _write(file, rows)
        print(f"\nImport of {rows:,} x {COLUMNS} ({file.stat().st_size / 1e6:.0f} MB)")
        results: dict[str, tuple[float, float]] = {}
        # The best of several rounds that alternate, so that noise hits both.
        for _ in range(rounds):
            for rival in ("hobrix", "polars"):
                command = [sys.executable, "-m", "benchmarks.importing", rival, str(file)]
                output = subprocess.run(command, capture_output=True, text=True, check=True).stdout
                seconds, megabytes = (float(part) for part in output.split())
                results[rival] = min((seconds, megabytes), results.get(rival, (seconds, megabytes)))
        for rival, (seconds, megabytes) in results.items():
            name = "Hobrix: read, propose, pack" if rival == "hobrix" else "polars.read_csv"
            print(f"  {name:30} {seconds:6.1f} s   peak {megabytes:7,.0f} MB")
        ratio = results["hobrix"][0] / results["polars"][0]
        print(f"  {ratio:.1f} times as long as polars (aim: at most 2.5; peak under 2,000 MB)")


def _write(file: Path, rows: int) -> None:
    import polars as pl

    chooser = random.Random(5)
    size, columns = min(rows, 20_000), {}
    for i in range(COLUMNS):
        match i % 5:
            case 0:
                sample = [f"{chooser.gauss(50, 12):.3f}" for _ in range(size)]
            case 1:
                sample = chooser.choices(["1", "2", "3", "4", "5", "99", "."], k=size)
            case 2:
                sample = chooser.choices(["yes", "no", ""], k=size)
            case 3:
                sample = [str(chooser.randint(18, 94)) for _ in range(size)]
            case _:
                sample = chooser.choices(["Norrin", "Upper Vale", "Estuary", "Port"], k=size)
        columns[f"v{i}"] = sample * (rows // len(sample))
    pl.DataFrame(columns).write_csv(file)


def _measure(rival: str, file: Path) -> None:
    start = time.perf_counter()
    if rival == "polars":
        import polars as pl

        start = time.perf_counter()
        pl.read_csv(file)
    else:
        from hobrix.core.data import propose
        from hobrix.core.formats import read_file
        from hobrix.web.studies.blobs import pack_all

        start = time.perf_counter()
        table = read_file(file.name, file.read_bytes()).table
        for name, source in table.columns.items():
            propose(name, source)
        pack_all(list(table.columns.values()))
    seconds = time.perf_counter() - start
    # The high water mark of this process alone; that of getrusage holds its parent's as well.
    status = Path("/proc/self/status").read_text()
    peak = next(line for line in status.splitlines() if line.startswith("VmHWM"))
    print(seconds, int(peak.split()[1]) / 1024)


if __name__ == "__main__":
    _measure(sys.argv[1], Path(sys.argv[2]))
