"""Run every benchmark, or those named: ``python -m benchmarks [crosstab] [screening] …``."""

import subprocess
import sys
from collections.abc import Callable

from benchmarks import (
    answers,
    bringing,
    crosstab,
    growing,
    importing,
    linked,
    logistic,
    measures,
    panels,
    route,
    screening,
    survey,
)

ALL: dict[str, Callable[[], None]] = {
    "crosstab": crosstab.run,
    "measures": measures.run,
    "screening": screening.run,
    "logistic": logistic.run,
    "survey": survey.run,
    "answers": answers.run,
    "importing": importing.run,
    "bringing": bringing.run,
    "linked": linked.run,
    "growing": growing.run,
    "route": route.run,
    "panels": panels.run,
}

named = sys.argv[1:] or list(ALL)
if len(named) == 1:
    ALL[named[0]]()
else:
    # Each in a process of its own: what one has in memory does not weigh on the next.
    for name in named:
        subprocess.run([sys.executable, "-m", "benchmarks", name], check=True)
