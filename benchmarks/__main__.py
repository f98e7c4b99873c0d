"""Run every benchmark, or those named: ``python -m benchmarks [crosstab] [screening] …``."""

import sys

from benchmarks import crosstab, importing, logistic, measures, panels, route, screening, survey

ALL = {
    "crosstab": crosstab.run,
    "measures": measures.run,
    "screening": screening.run,
    "logistic": logistic.run,
    "survey": survey.run,
    "importing": importing.run,
    "route": route.run,
    "panels": panels.run,
}

for name in sys.argv[1:] or ALL:
    ALL[name]()
