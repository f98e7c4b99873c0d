"""How strong is an association in a weighted table? Values of the weighted cells, with errors that
are linearised, or from replicates where the design says so."""

from collections.abc import Sequence

import numpy as np

from hobrix.core.progress import Tell
from hobrix.core.questions.estimates import Limits
from hobrix.core.questions.sampling.shape import MeasureOf
from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import FloatArray
from hobrix.core.survey.replicates import TooFewReplicates
from hobrix.core.tables.association import Measure, all_measures

# An error below this is none: nothing tells how much it varies.
_NONE = 1e-9


def cramers_v(
    totals: CellTotals, rows: int, columns: int, confidence: float
) -> tuple[float, Limits | None]:
    """V and its interval, cut to 0 and 1; no interval where V is 0 or has no error."""

    def statistic(weighted: FloatArray) -> FloatArray:
        return v_of(weighted.reshape(*weighted.shape[:-1], rows, columns))[..., None]

    v = float(statistic(totals.weighted)[0])
    reach = totals.design.t_quantile(confidence)
    if v < 1e-12 or not np.isfinite(reach):
        return v, None
    table = totals.weighted.reshape(rows, columns)
    scores = _slopes(table / table.sum(), v).ravel() / table.sum()
    # Derivatives by cell totals add up to 0 over the sample.
    scores = scores - float(totals.weighted @ scores) / float(totals.weighted.sum())
    error = float(np.sqrt(totals.covariance_of(statistic, scores[:, None])[0, 0]))
    if error < _NONE:
        return v, None
    reach *= error
    return v, (max(0.0, v - reach), min(1.0, v + reach))


def v_of(tables: FloatArray) -> FloatArray:
    """Of tables of shape (..., R, C): shape (...)."""
    p = tables / tables.sum(axis=(-2, -1), keepdims=True)
    expected = p.sum(axis=-1, keepdims=True) * p.sum(axis=-2, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = np.where(expected > 0, (p - expected) ** 2 / expected, 0.0)
    least = min(p.shape[-2:]) - 1
    return np.asarray(np.sqrt(parts.sum(axis=(-2, -1)) / max(1, least)))


def _slopes(p: FloatArray, v: float) -> FloatArray:
    """Derivatives of V by the cells of p: V^2 (min(R, C) - 1) = sum p^2 / (r c) - 1."""
    r_, c = p.sum(axis=1, keepdims=True), p.sum(axis=0, keepdims=True)
    part = p**2 / (r_ * c)
    of_square = 2 * p / (r_ * c) - part.sum(axis=1, keepdims=True) / r_
    of_square = of_square - part.sum(axis=0, keepdims=True) / c
    found: FloatArray = of_square / (2 * v * (min(p.shape) - 1))
    return found


def measures(
    totals: CellTotals,
    rows: int,
    columns: int,
    confidence: float,
    keys: Sequence[str],
    tell: Tell,
) -> dict[str, MeasureOf]:
    """Those of the measures ``keys`` that have an error, with their values where each row counts
    once."""
    every = all_measures(totals.weighted.reshape(rows, columns))
    found = {key: each for key in keys if (each := every.get(key)) is not None}
    if not found:
        return {}
    plain = all_measures(totals.n.reshape(rows, columns))
    slopes = np.column_stack([each.gradient.ravel() for each in found.values()])
    slopes = slopes - totals.weighted @ slopes / totals.weighted.sum()
    errors = _errors(totals, rows, columns, list(found), slopes, tell)
    t = totals.design.t_quantile(confidence)
    named = {}
    for (key, each), se in zip(found.items(), errors, strict=True):
        if se is None:
            continue
        value, other = each.value, plain.get(key)
        ci = (value - t * se, value + t * se) if np.isfinite(t) and se > _NONE else None
        named[key] = MeasureOf(value, ci, se=se, unweighted=None if other is None else other.value)
    return named


def _errors(
    totals: CellTotals,
    rows: int,
    columns: int,
    keys: list[str],
    slopes: FloatArray,
    tell: Tell,
) -> list[float | None]:
    """The error of each measure; None where hardly a replicate has a value of it."""
    if totals.replicated is None:
        covariance = totals.covariance_of(lambda weighted: weighted, slopes)
        return [float(error) for error in np.sqrt(np.diag(covariance))]
    replicates = totals.design.replicates
    assert replicates is not None
    again = []
    with np.errstate(all="ignore"):
        for i, cells in enumerate(totals.replicated):
            tell(i / len(totals.replicated))
            again.append(_measures_of(cells.reshape(rows, columns)))
    whole = all_measures(totals.weighted.reshape(rows, columns))
    errors: list[float | None] = []
    for key in keys:
        values = [np.nan if (each := one.get(key)) is None else each.value for one in again]
        middle = whole[key]
        assert middle is not None
        try:
            variance = replicates.covariance(np.array(values)[:, None], np.array([middle.value]))
        except TooFewReplicates:
            errors.append(None)
        else:
            errors.append(float(np.sqrt(variance[0, 0])))
    return errors


def _measures_of(table: FloatArray) -> dict[str, Measure | None]:
    """Of one replicate: none where everybody left is in one row or gave one answer."""
    if min(np.count_nonzero(table.sum(axis=axis)) for axis in (0, 1)) < 2:
        return {}
    return all_measures(table)
