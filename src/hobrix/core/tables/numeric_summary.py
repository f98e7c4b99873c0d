"""A numeric variable in a few numbers, from its distinct values and how often each occurs."""

import math
from dataclasses import dataclass

import numpy as np

from hobrix.core.tables.counts import FloatArray


@dataclass(frozen=True)
class NumericSummary:
    """``sd`` divides by n - 1. What is not defined (too few values, all equal) is None."""

    n: float
    mean: float
    sd: float | None
    min: float
    q1: float
    median: float
    q3: float
    max: float
    skewness_g1: float | None
    skewness_adjusted: float | None
    excess_kurtosis_g2: float | None
    excess_kurtosis_adjusted: float | None


@dataclass(frozen=True)
class Distinct:
    """Distinct values in rising order with their counts, both of shape (d,)."""

    values: FloatArray
    counts: FloatArray


def distinct(values: FloatArray, weights: FloatArray | None = None) -> Distinct:
    """The distinct numbers among ``values``, shape (rows,), no NaN; rows of weight 0 fall out."""
    found, inverse = np.unique(values, return_inverse=True)
    counts = np.bincount(inverse, weights=weights, minlength=len(found)).astype(np.float64)
    return Distinct(found[counts > 0], counts[counts > 0])


def quantile(of: Distinct, share: float) -> float:
    """Type 7 (Hyndman & Fan 1996): h = (n - 1) q, x_[k] + (h - k)(x_[k+1] - x_[k]), k = floor(h)."""
    ends = np.cumsum(of.counts)
    h = (ends[-1] - 1) * share
    k = math.floor(h)
    low = of.values[np.searchsorted(ends, k, side="right")]
    high = of.values[min(len(of.values) - 1, np.searchsorted(ends, k + 1, side="right"))]
    return float(low + (h - k) * (high - low))


def summarise(of: Distinct) -> NumericSummary:
    """Moments by two passes; adjusted forms after Joanes & Gill 1998. At least one value."""
    n = float(of.counts.sum())
    mean = of.values[0] + float(of.counts @ (of.values - of.values[0])) / n
    away = of.values - mean
    m2, m3, m4 = (float(of.counts @ away**power) / n for power in (2, 3, 4))
    varies = m2**2 > 0  # values may also be too near for their spread to show in a double
    g1 = m3 / m2**1.5 if varies else None
    g2 = m4 / m2**2 - 3 if varies else None
    return NumericSummary(
        n=n,
        mean=float(mean),
        sd=math.sqrt(m2 * n / (n - 1)) if n > 1 else None,
        min=float(of.values[0]),
        q1=quantile(of, 0.25),
        median=quantile(of, 0.5),
        q3=quantile(of, 0.75),
        max=float(of.values[-1]),
        skewness_g1=g1,
        skewness_adjusted=g1 * math.sqrt(n * (n - 1)) / (n - 2)
        if g1 is not None and n >= 3
        else None,
        excess_kurtosis_g2=g2,
        excess_kurtosis_adjusted=(n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6)
        if g2 is not None and n >= 4
        else None,
    )


@dataclass(frozen=True)
class Histogram:
    """Counts per bin of equal width, shape (b,); bin i holds edges[i] <= x < edges[i + 1], the
    last one its upper end too."""

    edges: FloatArray
    counts: FloatArray
    width: float


_MOST_BINS = 200


def histogram(of: Distinct, width: float | None = None) -> Histogram:
    """Bins of a width that reads well (1, 2, 2.5 or 5 times a power of ten).

    Without a width asked for, the rule of Freedman & Diaconis (1981) is rounded up to such a
    width, with 5 to 40 bins; whole numbers get bins of whole width. A width that would give more
    than 200 bins is widened to the next one that does not.
    """
    low, high = float(of.values[0]), float(of.values[-1])
    span = high - low
    whole = bool(np.all(of.values == np.floor(of.values)))
    # Equal, or too near each other for edges between them that a double can hold.
    if span < max(1e-290, 1e-12 * max(abs(low), abs(high))):
        step = max(width or 1.0, span)
    elif width is not None:
        step = width
        while span / step > _MOST_BINS:
            step *= 2
    else:
        spread = quantile(of, 0.75) - quantile(of, 0.25)
        rule = 2 * spread / float(of.counts.sum()) ** (1 / 3) or span / 15
        step = _reads_well(min(max(rule, span / 40), span / 5))
        if whole:
            step = max(1.0, math.ceil(step))
    # Rounding may put the first edge above the least value; whole numbers end with a bin of
    # their own, other greatest values go into the last bin.
    first = math.floor(low / step + 1e-9) * step
    first -= step if first > low else 0.0
    reach = (high - first) / step
    bins = max(1, math.floor(reach + 1e-9) + 1 if whole else math.ceil(reach - 1e-9))
    bins += 1 if first + bins * step < high else 0
    edges = first + step * np.arange(bins + 1)
    place = np.clip(np.searchsorted(edges, of.values, side="right") - 1, 0, bins - 1)
    counts = np.bincount(place, weights=of.counts, minlength=bins).astype(np.float64)
    return Histogram(edges.astype(np.float64), counts, step)


def _reads_well(width: float) -> float:
    power = 10.0 ** math.floor(math.log10(width))
    return next(step * power for step in (1, 2, 2.5, 5, 10) if step * power >= width * (1 - 1e-9))
