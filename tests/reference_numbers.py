"""The numbers to agree with, from tests/reference."""

import json
from pathlib import Path
from typing import Any

REFERENCE = Path(__file__).parent / "reference"


def reference_cases(name: str) -> list[Any]:
    """The cases of a file of numbers to agree with."""
    return json.loads((REFERENCE / f"{name}.json").read_text())["cases"]
