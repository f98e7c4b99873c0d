"""Agreement with a reference value to a relative 1e-9 (near zero: absolute 1e-12)."""

import math
from typing import Any

RELATIVE = 1e-9


def assert_agrees(
    found: Any, expected: Any, where: str = "", *, relative: float = RELATIVE
) -> None:
    """Compare numbers, None, "Infinity" and nested lists of them."""
    if isinstance(expected, list):
        assert len(found) == len(expected), where
        for i, (one, other) in enumerate(zip(found, expected, strict=True)):
            assert_agrees(one, other, f"{where}[{i}]", relative=relative)
    elif expected is None:
        assert found is None, f"{where}: {found} should not be defined"
    elif expected == "Infinity":
        assert found in (math.inf, "Infinity"), where
    else:
        close = math.isclose(found, expected, rel_tol=relative, abs_tol=1e-12)
        assert close, f"{where}: {found!r} is not {expected!r}"
