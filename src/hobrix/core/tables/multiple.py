"""Adjusted p-values where several tests are looked at together. Each takes and gives shape (m,)."""

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]


def bonferroni(p: FloatArray) -> FloatArray:
    """min(1, m p) (Dunn 1961, JASA 56:52)."""
    return np.minimum(1.0, len(p) * p)


def holm(p: FloatArray) -> FloatArray:
    """Running maximum of (m - i + 1) p_(i), at most 1 (Holm 1979, Scand J Stat 6:65)."""
    m = len(p)
    order = np.argsort(p, kind="stable")
    adjusted = np.empty(m)
    adjusted[order] = np.minimum(1.0, np.maximum.accumulate((m - np.arange(m)) * p[order]))
    return adjusted


def benjamini_hochberg(p: FloatArray) -> FloatArray:
    """Running minimum, from the largest, of m p_(i) / i (Benjamini & Hochberg 1995, JRSS B 57:289)."""
    m = len(p)
    order = np.argsort(p, kind="stable")
    steps = p[order] * m / np.arange(1, m + 1)
    adjusted = np.empty(m)
    adjusted[order] = np.minimum(1.0, np.minimum.accumulate(steps[::-1])[::-1])
    return adjusted


def unadjusted(p: FloatArray) -> FloatArray:
    return p


BY_NAME = {
    "holm": holm,
    "bonferroni": bonferroni,
    "benjamini_hochberg": benjamini_hochberg,
    "none": unadjusted,
}
