"""Run every benchmark, or those named: ``python -m benchmarks [crosstab] [importing] [route]``."""

import sys

from benchmarks import crosstab, importing, route

ALL = {"crosstab": crosstab.run, "importing": importing.run, "route": route.run}

for name in sys.argv[1:] or ALL:
    ALL[name]()
