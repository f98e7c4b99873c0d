"""What all tests share."""

import json
from pathlib import Path
from typing import Any

from hypothesis import settings

REFERENCE = Path(__file__).parent / "reference"


def reference_cases(name: str) -> list[Any]:
    """The cases of a file of numbers to agree with."""
    return json.loads((REFERENCE / f"{name}.json").read_text())["cases"]


# The first example of a test may have to import a large library.
settings.register_profile("hobrix", deadline=None)
settings.load_profile("hobrix")
