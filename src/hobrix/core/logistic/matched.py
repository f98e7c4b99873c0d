"""Conditional likelihood of matched sets (Breslow, Day, Halvorsen, Prentice & Sabai 1978).

A set with m events among N people contributes exp(sum of x'b over the events) over the sum of the same over all
choices of m of its people. The sum is worked out by recursion over the people (Gail, Lubin & Rubinstein 1981), as
the mean over choices, so that no set is too large.
"""

from collections import Counter
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy import special

from hobrix.core.logistic import climb
from hobrix.core.logistic.answers import Apart, Separated
from hobrix.core.logistic.directions import Cone
from hobrix.core.logistic.fit import Collinear, Fit, NotFinite, redundant
from hobrix.core.logistic.patterns import FloatArray, IntArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test
from hobrix.core.tables.interval import Interval

# What columns differ by within sets, relative to their size, that is rounding.
_SAME = 1e-12
# Fitted chances this near to 1 for whole sets are looked at for separation.
_EDGE = 1e-9


@dataclass(frozen=True)
class _Group:
    """Sets of one shape: ``x`` of shape (S, N, k), the events of each set first, ``m`` of them."""

    x: FloatArray
    m: int


@dataclass(frozen=True)
class MatchedSets:
    """People in sets: columns of shape (n, k), who has the event, and the set of each, numbered from 0."""

    columns: FloatArray
    event: FloatArray
    set: IntArray

    @cached_property
    def people_of(self) -> IntArray:
        return np.bincount(self.set)

    @cached_property
    def events_of(self) -> IntArray:
        return np.bincount(self.set, weights=self.event).astype(np.int64)

    @cached_property
    def tells(self) -> np.ndarray:
        """Sets with an event and somebody without, shape (sets,)."""
        found: np.ndarray = (self.events_of > 0) & (self.events_of < self.people_of)
        return found

    @cached_property
    def shapes(self) -> dict[tuple[int, int], int]:
        """How many sets that tell something have how many events and others."""
        events, people = self.events_of[self.tells], self.people_of[self.tells]
        found = Counter(zip(events.tolist(), (people - events).tolist(), strict=True))
        return dict(sorted(found.items()))

    @cached_property
    def groups(self) -> list[_Group]:
        """Sets that tell something, by shape, each column less its mean in the set."""
        order = np.lexsort((-self.event, self.set))
        at = np.concatenate([[0], np.cumsum(self.people_of)])[:-1]
        shape = self.people_of * (self.events_of.max(initial=0) + 1) + self.events_of
        found = []
        for each in np.unique(shape[self.tells]):
            chosen = np.flatnonzero(self.tells & (shape == each))
            n, m = int(self.people_of[chosen[0]]), int(self.events_of[chosen[0]])
            x = self.columns[order[at[chosen][:, None] + np.arange(n)]]
            found.append(_Group(x - x.mean(axis=1, keepdims=True), m))
        return found

    @cached_property
    def constant(self) -> np.ndarray:
        """Columns that are the same for all members of every set that tells something, shape (k,)."""
        size = np.abs(self.columns).max(axis=0, initial=0.0)
        differs = np.zeros(self.columns.shape[1])
        for group in self.groups:
            differs = np.maximum(differs, np.abs(group.x).max(axis=(0, 1)))
        found: np.ndarray = differs <= _SAME * np.maximum(size, 1e-300)
        return found

    @property
    def alike(self) -> int:
        """Sets that tell something but whose members do not differ in any column."""
        size = np.abs(self.columns).max(axis=0, initial=0.0)
        return sum(
            int(np.count_nonzero((np.abs(g.x) <= _SAME * size).all(axis=(1, 2))))
            for g in self.groups
        )

    @property
    def null(self) -> float:
        """The log-likelihood of no association: every choice is as likely."""
        return -float(
            sum(many * _log_choices(m + others, m) for (m, others), many in self.shapes.items())
        )

    def keep(self, columns: np.ndarray | list[int]) -> "MatchedSets":
        return MatchedSets(self.columns[:, columns], self.event, self.set)

    def surface(self, b: FloatArray) -> climb.Height | None:
        """The conditional log-likelihood."""
        if not np.all(np.isfinite(b)):
            return None
        value, score = 0.0, np.zeros(len(b))
        information = np.zeros((len(b), len(b)))
        for group in self.groups:
            log_sum, mean, spread = _over_choices(group, b)
            of_events = group.x[:, : group.m].sum(axis=1)
            value += float((of_events @ b - log_sum).sum())
            score += (of_events - mean).sum(axis=0)
            information += spread
        return climb.Height(value, score, information)


def fit(data: MatchedSets) -> Fit:
    """The maximum of the conditional likelihood; columns that are constant within sets left out beforehand.

    Raises:
        Collinear: columns that add nothing within sets.
        Separated: it has none that is finite.
        NotFinite: it does not settle.
    """
    spread = _spread(data)
    within = np.concatenate([group.x.reshape(-1, data.columns.shape[1]) for group in data.groups])
    if found := redundant(within / spread):
        raise Collinear(found)
    scaled = MatchedSets(data.columns / spread, data.event, data.set)
    try:
        b, at = climb.climb(scaled.surface, np.zeros(len(spread)))
        covariance = np.linalg.inv(at.information)
    except (NotFinite, np.linalg.LinAlgError):
        _refuse_separated(data)
        raise NotFinite from None
    if at.value > -_EDGE * max(1, len(data.people_of)) or np.diag(covariance).max() > 1e4:
        _refuse_separated(data)
    return Fit(b / spread, covariance / np.outer(spread, spread), at.value, at.value)


def profile_interval(
    data: MatchedSets, found: Fit, contrast: FloatArray, confidence: float
) -> Interval:
    """Profile limits of c'b."""
    return climb.profile_interval(data.surface, found, contrast, confidence)


def score_test(data: MatchedSets, start: FloatArray, columns: list[int]) -> ChiSquareTest:
    """U'I^-1 U of the full model at ``start``, the estimates without some columns, which are 0 there
    (Rao 1948). For pairs and one yes/no column it is McNemar's."""
    at = data.surface(start)
    assert at is not None
    statistic = float(at.score @ np.linalg.solve(at.information, at.score))
    return chi_square_test(statistic, len(columns))


def separation(data: MatchedSets) -> Apart:
    """Decide for columns that are not collinear within sets."""
    rows = [
        (group.x[:, : group.m, None] - group.x[:, None, group.m :]).reshape(-1, group.x.shape[2])
        for group in data.groups
    ]
    together = np.concatenate(rows)
    scale = np.abs(together).max(axis=0)
    scale[scale == 0] = 1.0
    cone = Cone(np.unique(together / scale, axis=0))
    strict = cone.strict()
    if not strict.any():
        return Apart("none", tuple("finite" for _ in scale))
    fates = tuple(cone.fate(j) for j in range(len(scale)))
    return Apart("complete" if strict.all() else "quasi_complete", fates)


def _refuse_separated(data: MatchedSets) -> None:
    apart = separation(data)
    if apart.kind != "none":
        raise Separated(apart)


def _spread(data: MatchedSets) -> FloatArray:
    """Of each column within sets, shape (k,)."""
    people = sum(group.x.shape[0] * group.x.shape[1] for group in data.groups)
    squares = sum(np.square(group.x).sum(axis=(0, 1)) for group in data.groups)
    found: FloatArray = np.sqrt(squares / people)
    found[found == 0] = 1.0
    return found


def _over_choices(group: _Group, b: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """The log of the sum over all choices, shape (S,), the mean of the sum of x over choices, shape (S, k), and
    its covariance added over sets, shape (k, k).

    E_m is the mean over choices of m of the first i people of the product of their weights w = exp(x'b):
    E_m(i) = (i - m)/i E_m(i - 1) + m/i w_i E_(m-1)(i - 1). Choosing those without the event instead is the
    same with -b.
    """
    sets, n, k = group.x.shape
    m, sign = (group.m, 1.0) if 2 * group.m <= n else (n - group.m, -1.0)
    eta = sign * (group.x @ b)
    most = eta.max(axis=1)
    weight = np.exp(eta - most[:, None])
    value = np.zeros((m + 1, sets))
    first, second = np.zeros((m + 1, sets, k)), np.zeros((m + 1, sets, k, k))
    value[0] = 1.0
    for i in range(1, n + 1):
        x = group.x[:, i - 1]
        # All sizes at once that those still to come can make up to m.
        sizes = np.arange(max(1, m - (n - i)), min(i, m) + 1)
        now, before = slice(sizes[0], sizes[-1] + 1), slice(sizes[0] - 1, sizes[-1])
        stays, w = (i - sizes)[:, None] / i, (sizes / i)[:, None] * weight[:, i - 1]
        value_, first_, second_ = value[before], first[before], second[before]
        crossed = x[:, :, None] * first_[:, :, None, :]
        more = crossed + np.swapaxes(crossed, 2, 3)
        more += second_
        more += (x[:, :, None] * x[:, None, :]) * value_[:, :, None, None]
        more *= w[:, :, None, None]
        second[now] *= stays[:, :, None, None]
        second[now] += more
        first[now] = stays[:, :, None] * first[now] + w[:, :, None] * (
            first_ + x * value_[:, :, None]
        )
        value[now] = stays * value[now] + w * value_
    mean = first[m] / value[m][:, None]
    spread = second[m] / value[m][:, None, None] - mean[:, :, None] * mean[:, None, :]
    log_sum = np.log(value[m]) + m * most + _log_choices(n, m)
    # The columns add up to 0 in a set, so those chosen and the others are each other's negative.
    if sign < 0:
        mean = -mean
    return log_sum, mean, spread.sum(axis=0)


def _log_choices(n: int, m: int) -> float:
    """ln of the number of choices of m of n."""
    return float(special.gammaln(n + 1) - special.gammaln(m + 1) - special.gammaln(n - m + 1))
