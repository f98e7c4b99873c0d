"""Run every benchmark, or those named: ``python -m benchmarks [crosstab] [route]``."""

import sys

from benchmarks import crosstab, route

ALL = {"crosstab": crosstab.run, "route": route.run}

for name in sys.argv[1:] or ALL:
    ALL[name]()
