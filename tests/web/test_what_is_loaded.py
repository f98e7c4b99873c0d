"""Every process of a server loads what it needs for most questions, and no more: it starts in two thirds of the time."""

import subprocess
import sys

SELDOM = ("ibis", "duckdb", "scipy.stats", "xlsxwriter", "docx", "typst", "vl_convert")


def test_what_few_questions_need_waits_for_them() -> None:
    program = (
        "import sys, django; django.setup(); import hobrix.web.api; "
        f"print([name for name in {SELDOM} if name in sys.modules])"
    )
    found = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True)
    assert (found.stdout.strip(), found.stderr) == ("[]", "")
