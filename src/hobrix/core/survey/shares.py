"""Weighted shares, by group and compared, with errors on the degrees of freedom of the design."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy import special

from hobrix.core.survey.cells import CellTotals
from hobrix.core.survey.design import FloatArray
from hobrix.core.tables.interval import Interval
from hobrix.core.tables.one_proportion import clopper_pearson

Mask = NDArray[np.bool_]

# An error below this is that of a share that nothing varies in.
_NONE = 1e-9


@dataclass(frozen=True)
class WeightedShare:
    """A share of the weighted population with its error; ``deff`` as of Kish 1965.

    ``ci_logit`` are logit limits, ``ci_wald`` estimate ± t se, not cut. Without the first where the
    share is 0 or 1, and without both where nothing tells how much it varies, as within a single
    cluster. ``ci_at_end`` are the limits of a share of 0 or 1: exact ones (Clopper & Pearson 1934) on
    the effective number of first-stage units, (sum of W)² / sum of W² with W their weights, times
    the squared ratio of t quantiles (Korn & Graubard 1998), which errs on the wide side.
    """

    n: float
    unweighted_count_of_events: float
    sum_of_weights: float
    estimate: float
    se: float
    ci_logit: Interval | None
    ci_wald: Interval | None
    ci_at_end: Interval | None
    deff: float | None
    deft: float | None
    effective_sample_size: float | None
    coefficient_of_variation: float | None


@dataclass(frozen=True)
class WeightedDifference:
    """A difference of shares, tested on t(df). Without test and limits where nothing tells how much
    it varies."""

    estimate: float
    se: float
    t: float | None
    df: int
    p: float | None
    ci: Interval | None


@dataclass(frozen=True)
class WeightedRatio:
    """A ratio with the error of its log; otherwise as a difference."""

    estimate: float
    log_se: float
    t: float | None
    df: int
    p: float | None
    ci: Interval | None


@dataclass(frozen=True)
class WeightedComparison:
    """Two groups: difference, ratio and odds ratio of their shares; None where one is 0 or 1."""

    covariance: float
    risk_difference: WeightedDifference
    risk_ratio: WeightedRatio | None
    odds_ratio: WeightedRatio | None


@dataclass(frozen=True)
class Shares:
    """Shares of the event among m sets of cells; rows outside a set stay in the design.

    ``sets`` are masks of shape (m, K), each with somebody in it; ``event`` is a mask of shape (K,),
    or (m, K) where every set has an event of its own.
    """

    totals: CellTotals
    sets: Mask
    event: Mask

    @classmethod
    def among(cls, totals: CellTotals, sets: Sequence[Mask] | Mask, event: Mask) -> "Shares":
        return cls(totals, np.array(sets, dtype=bool), event)

    @cached_property
    def _kept(self) -> dict[int, tuple[list[tuple[float, float] | None], ...]]:
        """Contrasts to each reference asked for: levels change only their limits."""
        return {}

    @cached_property
    def _whole(self) -> FloatArray:
        return self.sets.T.astype(np.float64)

    @cached_property
    def _part(self) -> FloatArray:
        return (self.sets & self.event).T.astype(np.float64)

    def of(self, cells: FloatArray) -> FloatArray:
        """The shares from any cell totals, shape (..., K): shape (..., m)."""
        found: FloatArray = (cells @ self._part) / (cells @ self._whole)
        return found

    @cached_property
    def estimates(self) -> FloatArray:
        """Shape (m,) (Hajek 1971)."""
        return self.of(self.totals.weighted)

    @cached_property
    def _again(self) -> FloatArray | None:
        """The shares in every replicate, shape (R, m), NaN where nobody is left in a set; None where
        errors are linearised."""
        if self.totals.replicated is None:
            return None
        with np.errstate(all="ignore"):
            return self.of(self.totals.replicated)

    @cached_property
    def _linearised(self) -> FloatArray:
        """The covariance, shape (m, m). Scores are (y - p) / W inside the set, 0 outside."""
        weights = self.totals.weighted @ self._whole
        scores = (self._part - self._whole * self.estimates) / weights
        return self.totals.covariance_of(self.of, scores)

    def covariance(self, at: Sequence[int]) -> FloatArray:
        """Of some of the shares, from the replicates that have a value of all of these.

        Raises:
            TooFewReplicates: hardly a replicate has.
        """
        places = list(at)
        if self._again is None or self.totals.design.replicates is None:
            return self._linearised[np.ix_(places, places)]
        replicates = self.totals.design.replicates
        return replicates.covariance(self._again[:, places], self.estimates[places])

    @cached_property
    def errors(self) -> FloatArray:
        """Shape (m,)."""
        if self._again is None:
            errors: FloatArray = np.sqrt(np.diag(self._linearised))
            return errors
        return np.array([math.sqrt(self.covariance([i])[0, 0]) for i in range(len(self.sets))])

    def shares(self, confidence: float) -> list[WeightedShare]:
        """Every share with its limits."""
        p, se, t = self.estimates, self.errors, self.totals.design.t_quantile(confidence)
        n, events = self.totals.n @ self._whole, self.totals.n @ self._part
        with np.errstate(all="ignore"):
            reach, spread = t * se, p * (1 - p)
            middle, far = special.logit(p), reach / spread
            logit = special.expit(np.stack([middle - far, middle + far], axis=1))
            wald = np.stack([p - reach, p + reach], axis=1)
            deff = se**2 * (n - 1) / spread
        varies = (se > _NONE) & np.isfinite(t)
        inner = (p > 0) & (p < 1)
        known = inner & (n > 1)
        return [
            WeightedShare(
                n=numbers[0],
                unweighted_count_of_events=numbers[1],
                sum_of_weights=numbers[2],
                estimate=numbers[3],
                se=numbers[4],
                ci_logit=Interval(*logit[i].tolist()) if varies[i] and inner[i] else None,
                ci_wald=Interval(*wald[i].tolist()) if varies[i] else None,
                ci_at_end=None if inner[i] else self._at_end(i, confidence),
                deff=numbers[5] if known[i] else None,
                deft=math.sqrt(numbers[5]) if known[i] else None,
                effective_sample_size=numbers[0] / numbers[5] if known[i] and numbers[5] else None,
                coefficient_of_variation=numbers[4] / numbers[3] if numbers[3] else None,
            )
            for i, numbers in enumerate(
                np.stack(
                    [n, events, self.totals.weighted @ self._whole, p, se, deff], axis=1
                ).tolist()
            )
        ]

    def _at_end(self, i: int, confidence: float) -> Interval | None:
        """Of a share of 0 or 1; None without degrees of freedom."""
        totals, inside = self.totals, self._whole[:, i]
        t = totals.design.t_quantile(confidence)
        if not math.isfinite(t):
            return None
        squared = totals.squared_by_stratum
        units = (totals.by_cluster @ inside) ** 2 if squared is None else squared @ inside
        n = float(totals.weighted @ inside) ** 2 / float(units.sum())
        if n > 1:
            n *= min(1.0, float(special.stdtrit(n - 1, 0.5 + confidence / 2) / t) ** 2)
        return clopper_pearson(n if self.estimates[i] > 0.5 else 0.0, n, confidence)

    def against(
        self, reference: int, confidence: float, at: Sequence[int] | None = None
    ) -> list[WeightedComparison]:
        """Every share, or those ``at`` some places, against one of them, by linearisation or, where the design
        says so, by replicates of each measure itself."""
        if reference not in self._kept:
            self._kept[reference] = (
                self._contrasts(reference, np.asarray, np.ones_like),
                self._contrasts(reference, np.log, lambda p: 1 / p),
                self._contrasts(reference, special.logit, lambda p: 1 / (p * (1 - p))),
            )
        scales = self._kept[reference]
        found = []
        for i in range(len(self.sets)) if at is None else at:
            gap, ratio, of_odds = (of_each[i] for of_each in scales)
            assert gap is not None
            t, p, ci = self._tested(*gap, confidence)
            both = float(self.covariance([i, reference])[0, 1])
            df = self.totals.design.df
            difference = WeightedDifference(gap[0], gap[1], t, df, p, ci)
            found.append(
                WeightedComparison(
                    both,
                    difference,
                    self._ratio(ratio, confidence),
                    self._ratio(of_odds, confidence),
                )
            )
        return found

    def _contrasts(
        self,
        reference: int,
        on_scale: Callable[[FloatArray], FloatArray],
        slope: Callable[[FloatArray], FloatArray],
    ) -> list[tuple[float, float] | None]:
        """Differences from the reference on a scale with this slope, each with its error; None where
        a share has no place on it."""
        with np.errstate(all="ignore"):
            placed, slopes = on_scale(self.estimates), slope(self.estimates)
            gaps = placed - placed[reference]
            again = None if self._again is None else on_scale(self._again)
            variances = self._of_gaps(gaps, slopes, again, reference)
            errors = np.sqrt(np.maximum(0.0, variances))
        return [
            (gap, error) if math.isfinite(gap) else None
            for gap, error in zip(gaps.tolist(), errors.tolist(), strict=True)
        ]

    def _of_gaps(
        self, gaps: FloatArray, slopes: FloatArray, again: FloatArray | None, reference: int
    ) -> FloatArray:
        """Variances of ``_contrasts``, shape (m,); anything where a share has no place."""
        replicates = self.totals.design.replicates
        if again is None or replicates is None:
            v, slope = self._linearised, slopes[reference]
            own, other = slopes**2 * np.diag(v), slope**2 * v[reference, reference]
            found: FloatArray = own + other - 2 * slopes * slope * v[reference]
            return found
        apart = again - again[:, [reference]]
        return np.array(
            [
                replicates.covariance(apart[:, [i]], gaps[[i]])[0, 0] if math.isfinite(gap) else 0.0
                for i, gap in enumerate(gaps.tolist())
            ]
        )

    def _tested(
        self, estimate: float, se: float, confidence: float
    ) -> tuple[float | None, float | None, Interval | None]:
        """t, p and limits on the scale of the estimate."""
        design = self.totals.design
        if design.df < 1 or se <= _NONE:
            return None, None, None
        t, reach = estimate / se, design.t_quantile(confidence) * se
        return t, design.p_of(t), Interval(estimate - reach, estimate + reach)

    def _ratio(self, log: tuple[float, float] | None, confidence: float) -> WeightedRatio | None:
        if log is None:
            return None
        t, p, limits = self._tested(*log, confidence)
        ci = None
        if limits is not None:
            ci = Interval(*(math.exp(min(709.0, limit)) for limit in limits))
        return WeightedRatio(math.exp(log[0]), log[1], t, self.totals.design.df, p, ci)
