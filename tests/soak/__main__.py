"""``python -m soak [crowd] [stopping] [slow] [bombs] [backup] [kills]`` — all of them when none is named."""

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from soak.bombs import bombs
from soak.crowd import backup_under_load, crowd, slow_clients, stopping
from soak.kills import kills
from soak.served import Served

PARTS: dict[str, Callable[[Served, Path], None]] = {
    "crowd": lambda served, _: crowd(served),
    "stopping": lambda served, _: stopping(served),
    "slow": lambda served, _: slow_clients(served),
    "bombs": lambda served, _: bombs(served),
    "backup": backup_under_load,
    "kills": lambda served, folder: kills(served, folder),
}

began = time.monotonic()
with tempfile.TemporaryDirectory(prefix="hobrix-soak-") as folder:
    served = Served(Path(folder) / "home")
    served.home.mkdir()
    print(f"started with the demo study in {served.start():.1f} s", flush=True)
    try:
        for name in sys.argv[1:] or PARTS:
            PARTS[name](served, Path(folder))
            sys.stdout.flush()
    finally:
        served.kill()
print(f"in all {time.monotonic() - began:.0f} s")
