"""Weighted shares, by group and compared, with linearised errors on design degrees of freedom."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.survey.cells import CellTotals, Statistic
from hobrix.core.survey.design import FloatArray
from hobrix.core.tables.interval import Interval


@dataclass(frozen=True)
class WeightedShare:
    """A share of the weighted population with its error; deff as of Kish 1965.

    Without an interval where the share is 0 or 1.
    """

    n: float
    events: float
    weighted_n: float
    estimate: float
    se: float
    ci: Interval | None
    deff: float | None

    @property
    def effective_sample_size(self) -> float | None:
        return self.n / self.deff if self.deff else None


@dataclass(frozen=True)
class Contrast:
    """A difference (on its own scale) or a ratio (error on the log scale), tested on t(df)."""

    estimate: float
    se: float
    t: float
    p: float
    ci: Interval


def share_scores(totals: CellTotals, inside: np.ndarray, event: np.ndarray) -> FloatArray:
    """The score of every cell in the share of the event among those inside: (y - p) / W inside, 0
    outside (Hajek 1971); masks of shape (K,)."""
    weight = float(totals.weighted[inside].sum())
    share = float(totals.weighted[inside & event].sum()) / weight
    return np.where(inside, (event - share) / weight, 0.0)


def shares_of(sets: Sequence[np.ndarray], event: np.ndarray) -> Statistic:
    """The shares of the event in sets of cells (masks of shape (K,)), from any cell totals."""
    whole = np.column_stack(sets).astype(np.float64)
    part = whole * event[:, None]

    def statistic(totals: FloatArray) -> FloatArray:
        found: FloatArray = (totals @ part) / (totals @ whole)
        return found

    return statistic


_NONE = 1e-9


def weighted_share(
    totals: CellTotals, inside: np.ndarray, event: np.ndarray, confidence: float
) -> WeightedShare:
    """The share of the event among cells that are inside; rows outside stay in the design."""
    n = float(totals.n[inside].sum())
    weight = float(totals.weighted[inside].sum())
    p = float(totals.weighted[inside & event].sum()) / weight
    statistic = shares_of([inside], event)
    scores = share_scores(totals, inside, event)[:, None]
    se = math.sqrt(float(totals.covariance_of(statistic, scores)[0, 0]))
    ci = None
    t = totals.design.t_quantile(confidence)
    # Within a single cluster nothing tells how much the share varies.
    if 0 < p < 1 and math.isfinite(t) and se > _NONE:
        middle, reach = float(special.logit(p)), t * se / (p * (1 - p))
        ci = Interval(float(special.expit(middle - reach)), float(special.expit(middle + reach)))
    simple = p * (1 - p) / (n - 1) if n > 1 else 0.0
    return WeightedShare(
        n=n,
        events=float(totals.n[inside & event].sum()),
        weighted_n=weight,
        estimate=p,
        se=se,
        ci=ci,
        deff=se**2 / simple if simple > 0 else None,
    )


@dataclass(frozen=True)
class Comparison:
    """Two groups: difference, ratio and odds ratio of their shares; None where one is 0 or 1."""

    covariance: float
    risk_difference: Contrast
    risk_ratio: Contrast | None
    odds_ratio: Contrast | None


def compare(
    totals: CellTotals,
    group: np.ndarray,
    reference: np.ndarray,
    event: np.ndarray,
    confidence: float,
) -> Comparison:
    """Shares of the event in two sets of cells (masks of shape (K,)), by linearisation or, where
    the design says so, by replicates of each measure itself."""
    shares = shares_of([group, reference], event)
    p1, p0 = shares(totals.weighted).tolist()
    scores = np.column_stack([share_scores(totals, side, event) for side in (group, reference)])
    both = totals.covariance_of(shares, scores)

    def contrast(
        of: Callable[[FloatArray], FloatArray], slope: tuple[float, float], *, is_log: bool
    ) -> Contrast:
        def difference(cells: FloatArray) -> FloatArray:
            on_scale = of(shares(cells))
            found: FloatArray = on_scale[..., :1] - on_scale[..., 1:]
            return found

        c = np.array(slope)
        variance = c @ both @ c
        if totals.replicated is not None:
            variance = totals.covariance_of(difference, (scores @ c)[:, None])[0, 0]
        estimate = float(difference(totals.weighted)[0])
        se = math.sqrt(max(0.0, float(variance)))
        return _contrast(totals, estimate, se, confidence, is_log=is_log)

    ratio = odds = None
    if p1 > 0 and p0 > 0:
        ratio = contrast(np.log, (1 / p1, -1 / p0), is_log=True)
    if 0 < p1 < 1 and 0 < p0 < 1:
        slopes = (1 / (p1 * (1 - p1)), -1 / (p0 * (1 - p0)))
        odds = contrast(special.logit, slopes, is_log=True)
    return Comparison(
        covariance=float(both[0, 1]),
        risk_difference=contrast(np.asarray, (1.0, -1.0), is_log=False),
        risk_ratio=ratio,
        odds_ratio=odds,
    )


def _contrast(
    totals: CellTotals, estimate: float, se: float, confidence: float, *, is_log: bool
) -> Contrast:
    t = estimate / se if se else math.inf
    reach = totals.design.t_quantile(confidence) * se
    low, high = estimate - reach, estimate + reach
    if is_log:
        low, high = (math.exp(min(709.0, limit)) for limit in (low, high))
    return Contrast(
        estimate=math.exp(estimate) if is_log else estimate,
        se=se,
        t=t,
        p=totals.design.p_of(t),
        ci=Interval(low, high),
    )
