"""Two made-up lenders for the demo: their packages, and services of their own that offer them."""

import io
import json
import os
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from hobrix.core.formats import Codebook, read_codebook, read_file, write_file
from hobrix.web.demo import later
from hobrix.web.demo.generate import CODEBOOK_FILE, CSV_FILE

TERMS = (
    "Lent to the Ostra Basin study for the comparison of the two valleys. No household may be named, "
    "and nothing may be given to others. Results are sent to the office before they are published."
)
NOTE = "preliminary, not for publication"
VELL_OFFICE = "Vell Valley Water Office"
BASIN_ARCHIVE = "Basin Archive"
VELL_VISITS = "vell-visits"
_PARENT = "HOBRIX_DEMO_PROCESS"


def vell_visits() -> bytes:
    """What the office lends, under terms."""
    return _package(
        later.VELL.with_suffix(".csv"),
        later.VELL.with_suffix(".codebook.json"),
        NOTE,
        title="Visits in Vell valley",
        description="Households of the neighbouring valley, visited up to six times.",
        years="2031 to 2032",
        case="hh",
        order="round",
        terms=TERMS,
    )


def round_one() -> bytes:
    """What the archive lends, to anybody."""
    return _package(
        CSV_FILE,
        CODEBOOK_FILE,
        "",
        title="Ostra Basin, round one, as archived",
        description="The first round of the household water survey.",
        years="2031",
    )


def _package(data: Path, codebook: Path, note: str, **said: Any) -> bytes:
    table = read_file(data.name, data.read_bytes()).table
    known = read_codebook(codebook.read_bytes())
    described = Codebook(noun=known.noun, note=note, variables=known.variables)
    plain = write_file("zip", table, described, str(said["title"]))
    file = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(plain)) as parts, zipfile.ZipFile(file, "w") as made:
        for name in parts.namelist():
            content = parts.read(name)
            if name == "datapackage.json":
                content = json.dumps(json.loads(content) | said, ensure_ascii=False).encode()
            # Always of the same day, so that the same content is the same version.
            made.writestr(zipfile.ZipInfo(name), content, zipfile.ZIP_DEFLATED)
    return file.getvalue()


def start_lenders(folder: Path, free_port: Callable[[int], int]) -> dict[str, int]:
    """A service for each lender, in a process of its own that ends with this one; their processes."""
    from hobrix.web.studies.models import Lender

    lent = {VELL_OFFICE: (VELL_VISITS, vell_visits), BASIN_ARCHIVE: ("ostra-round-1", round_one)}
    started, port = {}, 8100
    for name, (offer, package) in lent.items():
        own = folder / offer
        own.mkdir(parents=True, exist_ok=True)
        (own / f"{offer}.zip").write_bytes(package())
        port = free_port(port)
        command = [sys.executable, "-m", "hobrix.web.demo.lending", str(own), name, str(port)]
        started[name] = subprocess.Popen(command, env={**os.environ, _PARENT: str(os.getpid())}).pid
        Lender.objects.update_or_create(name=name, defaults={"url": f"http://127.0.0.1:{port}"})
        port += 1
    return started


def _serve(folder: str, title: str, port: str) -> None:
    """Until the process that started it is gone."""
    from hobrix.web.lending.service import lender_server

    with lender_server(Path(folder), title, int(port)) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        while os.getppid() == int(os.environ[_PARENT]):
            time.sleep(0.5)


if __name__ == "__main__":
    _serve(*sys.argv[1:])
