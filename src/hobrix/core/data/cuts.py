"""Cuts that band a numeric variable: equal widths, or equal counts as far as ties allow."""

from typing import Literal

import numpy as np

from hobrix.core.data.frame import Frame
from hobrix.core.errors import CodebookError


def suggested_cuts(
    frame: Frame, name: str, how: Literal["equal_width", "equal_count"], bands: int
) -> tuple[float, ...]:
    """At most ``bands`` - 1 rising cuts; each band includes its lower end.

    Equal widths are rounded to a step that reads well where that leaves as many bands. Equal
    counts are the type 7 quantiles (Hyndman & Fan 1996); ties can leave fewer bands.

    Raises:
        CodebookError: the variable holds fewer than two different numbers.
    """
    if name not in frame.variables:
        message = f"There is no variable called “{name}”."
        raise CodebookError(message, variable=name, field="variable")
    values = frame.numeric(name, "variable").values
    there = ~np.isnan(values)
    values = values[there]
    distinct, place = np.unique(values, return_inverse=True)
    if len(distinct) < 2:
        message = f"{frame.variables[name].title} holds fewer than two different numbers."
        raise CodebookError(message, variable=name, field="variable")
    shares = np.arange(1, bands) / bands
    if how == "equal_count":
        n = None if frame.stands_for is None else frame.stands_for[there]
        ends = np.cumsum(np.bincount(place, n))
        # A cut between two values moves up to the next value that occurs: the same bands, and
        # an end that somebody gave as an answer.
        at = np.ceil(np.round((ends[-1] - 1) * shares, 9))
        cuts = distinct[np.searchsorted(ends, at, side="right")]
    else:
        low, high = float(distinct[0]), float(distinct[-1])
        cuts = low + shares * (high - low)
        step = 10.0 ** np.floor(np.log10((high - low) / bands))
        rounded = np.round(cuts / step) * step
        cuts = rounded if len(np.unique(rounded)) == len(cuts) else cuts
    cuts = np.unique(cuts)
    return tuple(float(f"{cut:.12g}") for cut in cuts if cut > distinct[0])
