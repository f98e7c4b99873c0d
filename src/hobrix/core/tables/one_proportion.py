"""One share: x of n with the event. Intervals, and tests against a stated share."""

import math
from dataclasses import dataclass
from typing import Literal

from scipy import special

from hobrix.core.tables.interval import Interval, normal_quantile

Method = Literal["wilson", "clopper_pearson", "agresti_coull", "jeffreys", "wald"]
Alternative = Literal["two_sided", "less", "greater"]


def share_interval(x: float, n: float, confidence: float, method: Method = "wilson") -> Interval:
    """The interval of x / n by one of the usual methods; n > 0."""
    match method:
        case "wilson":
            return wilson(x, n, confidence)
        case "clopper_pearson":
            return clopper_pearson(x, n, confidence)
        case "agresti_coull":
            return _within_0_and_1(agresti_coull_untruncated(x, n, confidence))
        case "jeffreys":
            return jeffreys(x, n, confidence)
        case "wald":
            return _within_0_and_1(wald_untruncated(x, n, confidence))


def wilson(x: float, n: float, confidence: float) -> Interval:
    """Score interval, without continuity correction (Wilson 1927, JASA 22:209)."""
    z = normal_quantile(confidence)
    middle = x + z**2 / 2
    half = z * math.sqrt(x * (n - x) / n + z**2 / 4)
    return Interval(
        0.0 if x == 0 else (middle - half) / (n + z**2),
        1.0 if x == n else (middle + half) / (n + z**2),
    )


def clopper_pearson(x: float, n: float, confidence: float) -> Interval:
    """Exact interval from the tails of the binomial (Clopper & Pearson 1934, Biometrika 26:404)."""
    tail = (1 - confidence) / 2
    return Interval(
        0.0 if x == 0 else float(special.betaincinv(x, n - x + 1, tail)),
        1.0 if x == n else float(special.betainccinv(x + 1, n - x, tail)),
    )


def agresti_coull_untruncated(x: float, n: float, confidence: float) -> Interval:
    """Wald's interval after adding z²/2 to both sides (Agresti & Coull 1998, Am Stat 52:119)."""
    z = normal_quantile(confidence)
    return _wald((x + z**2 / 2) / (n + z**2), n + z**2, z)


def wald_untruncated(x: float, n: float, confidence: float) -> Interval:
    """p ± z sqrt(p (1 - p) / n)."""
    return _wald(x / n, n, normal_quantile(confidence))


def jeffreys(x: float, n: float, confidence: float) -> Interval:
    """Equal tails of Beta(x + 1/2, n - x + 1/2), 0 at x = 0 and 1 at x = n (Brown et al. 2001)."""
    tail = (1 - confidence) / 2
    return Interval(
        0.0 if x == 0 else float(special.betaincinv(x + 0.5, n - x + 0.5, tail)),
        1.0 if x == n else float(special.betainccinv(x + 0.5, n - x + 0.5, tail)),
    )


def _wald(p: float, n: float, z: float) -> Interval:
    half = z * math.sqrt(p * (1 - p) / n)
    return Interval(p - half, p + half)


def _within_0_and_1(interval: Interval) -> Interval:
    return Interval(max(0.0, interval.low), min(1.0, interval.high))


@dataclass(frozen=True)
class ShareTest:
    """p for each alternative: the share differs, is below, is above the stated one."""

    p_two_sided: float
    p_less: float
    p_greater: float
    statistic: float | None = None

    def p(self, alternative: Alternative) -> float:
        """Of the alternative that is asked."""
        by = {"two_sided": self.p_two_sided, "less": self.p_less, "greater": self.p_greater}
        return by[alternative]


def exact_binomial_test(x: int, n: int, stated: float) -> ShareTest:
    """Against a stated share in (0, 1), by the binomial itself.

    Two-sided: the probability of all outcomes no more probable than x (relative tolerance 1e-7).
    Tails come from the incomplete beta function, so n may be large.
    """

    def log_probability(k: int) -> float:
        return float(-special.betaln(k + 1, n - k + 1)) + (
            k * math.log(stated) + (n - k) * math.log1p(-stated)
        )

    def at_most(k: int) -> float:
        return (
            1.0 if k >= n else float(special.betainc(n - k, k + 1, 1 - stated)) if k >= 0 else 0.0
        )

    def at_least(k: int) -> float:
        return 1.0 if k <= 0 else float(special.betainc(k, n - k + 1, stated)) if k <= n else 0.0

    observed = log_probability(x) + math.log1p(1e-7)
    mode = min(n, int((n + 1) * stated))
    if log_probability(mode) <= observed:
        two_sided = 1.0
    elif x < mode:
        # The first k above the mode that is no more probable than x.
        low, high = mode, n + 1
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if log_probability(middle) <= observed else (middle, high)
        two_sided = at_most(x) + at_least(high)
    else:
        low, high = -1, mode
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (middle, high) if log_probability(middle) <= observed else (low, middle)
        two_sided = at_least(x) + at_most(low)
    return ShareTest(min(1.0, two_sided), at_most(x), at_least(x))


def score_test(x: float, n: float, stated: float) -> ShareTest:
    """z = (x/n - stated) / sqrt(stated (1 - stated) / n)."""
    z = (x / n - stated) / math.sqrt(stated * (1 - stated) / n)
    below = float(special.ndtr(z))
    return ShareTest(2 * float(special.ndtr(-abs(z))), below, float(special.ndtr(-z)), z)
