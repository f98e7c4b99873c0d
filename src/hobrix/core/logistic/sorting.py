"""How well a model tells those with the event from those without."""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import special

from hobrix.core.logistic.calibration import SAME, values_of
from hobrix.core.logistic.patterns import FloatArray, Patterns, sums
from hobrix.core.tables.interval import Interval, normal_quantile


@dataclass(frozen=True)
class Sorted:
    """People by distinct predicted probability from the lowest, shape (V,): those with the event
    and those without."""

    fitted: FloatArray
    events: FloatArray
    others: FloatArray

    @cached_property
    def _so_far(self) -> dict[str, FloatArray]:
        sides = {"events": self.events, "others": self.others}
        return {side: np.concatenate([[0.0], np.cumsum(n)]) for side, n in sides.items()}

    def below(self, side: str, cutoff: float) -> tuple[float, float]:
        """How many of the ``events`` or ``others`` have p below the cut-off, and of how many."""
        at = int(np.searchsorted(self.fitted, cutoff - SAME / 1e3, side="left"))
        return float(self._so_far[side][at]), float(self._so_far[side][-1])


@dataclass(frozen=True)
class Classification:
    """The event is predicted where p >= ``cutoff``; None where a share has no denominator."""

    cutoff: float
    true_positive: float
    false_positive: float
    true_negative: float
    false_negative: float
    accuracy: float
    sensitivity: float | None
    specificity: float | None
    ppv: float | None
    npv: float | None
    baseline_accuracy: float


@dataclass(frozen=True)
class AreaUnderCurve:
    """How often somebody with the event has the higher p; ``ci_logit`` stays between 0 and 1."""

    estimate: float
    se: float | None
    ci: Interval | None
    ci_logit: Interval | None


@dataclass(frozen=True)
class Concordance:
    """Pairs of one with the event and one without, by whose predicted probability is higher; ``c``
    counts ties half."""

    pairs: float
    concordant: float
    discordant: float
    tied: float
    somers_d: float
    goodman_kruskal_gamma: float | None
    kendall_tau_a: float
    c: float


def sort_people(data: Patterns, fitted: FloatArray) -> Sorted:
    """Put people with the same predicted probability (within 1e-9) together."""
    order, number = values_of(fitted)
    events, trials = data.events[order], data.trials[order]
    first = np.flatnonzero(np.diff(number, prepend=-1))
    return Sorted(
        fitted[order][first],
        sums(number, events, 0),
        sums(number, trials - events, 0),
    )


def classify(people: Sorted, cutoff: float) -> Classification:
    """Sensitivity and specificity (Yerushalmy 1947), predictive values (Vecchio 1966), in the
    sample the model was fitted to."""
    (fn, n1), (tn, n0) = (people.below(side, cutoff) for side in ("events", "others"))
    tp, fp = n1 - fn, n0 - tn

    def share(part: float, whole: float) -> float | None:
        return part / whole if whole else None

    return Classification(
        cutoff=cutoff,
        true_positive=tp,
        false_positive=fp,
        true_negative=tn,
        false_negative=fn,
        accuracy=(tp + tn) / (n1 + n0),
        sensitivity=share(tp, n1),
        specificity=share(tn, n0),
        ppv=share(tp, tp + fp),
        npv=share(tn, tn + fn),
        baseline_accuracy=max(n1, n0) / (n1 + n0),
    )


def roc_curve(people: Sorted) -> tuple[FloatArray, FloatArray]:
    """False and true positive shares for every cut-off from the highest to the lowest, from
    (0, 0) to (1, 1), shape (V + 1,) each."""
    false_share, true_share = (
        np.concatenate([[0.0], np.cumsum(side[::-1]) / side.sum()])
        for side in (people.others, people.events)
    )
    return false_share, true_share


def area_under_curve(people: Sorted, confidence: float) -> AreaUnderCurve:
    """Bamber 1975; standard error of DeLong, DeLong & Clarke-Pearson 1988, Biometrics 44:837."""
    n1, n0 = float(people.events.sum()), float(people.others.sum())
    # Of each value: the share of the other side that lies below it, ties half.
    below = (np.cumsum(people.others) - people.others / 2) / n0
    above = 1 - (np.cumsum(people.events) - people.events / 2) / n1
    area = float(people.events @ below) / n1
    if min(n1, n0) < 2:
        return AreaUnderCurve(area, None, None, None)
    variance = (
        float(people.events @ (below - area) ** 2) / (n1 - 1) / n1
        + float(people.others @ (above - area) ** 2) / (n0 - 1) / n0
    )
    se = math.sqrt(variance)
    reach = normal_quantile(confidence) * se
    ci = Interval(max(0.0, area - reach), min(1.0, area + reach))
    if not 0 < area < 1:
        return AreaUnderCurve(area, se, ci, None)
    middle, reach = float(special.logit(area)), reach / (area * (1 - area))
    logit = Interval(float(special.expit(middle - reach)), float(special.expit(middle + reach)))
    return AreaUnderCurve(area, se, ci, logit)


def concordance(people: Sorted) -> Concordance:
    """Somers 1962; Goodman & Kruskal 1954; Kendall 1938."""
    n1, n0 = float(people.events.sum()), float(people.others.sum())
    n = n1 + n0
    concordant = float(people.events @ (np.cumsum(people.others) - people.others))
    tied = float(people.events @ people.others)
    pairs = n1 * n0
    discordant = pairs - concordant - tied
    untied = concordant + discordant
    return Concordance(
        pairs=pairs,
        concordant=concordant,
        discordant=discordant,
        tied=tied,
        somers_d=(concordant - discordant) / pairs,
        goodman_kruskal_gamma=(concordant - discordant) / untied if untied else None,
        kendall_tau_a=(concordant - discordant) / (n * (n - 1) / 2),
        c=(concordant + tied / 2) / pairs,
    )
