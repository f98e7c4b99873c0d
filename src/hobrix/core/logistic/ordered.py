"""Proportional odds: log(P(Y > k) / P(Y <= k)) = a_k + x'b (Walker & Duncan 1967; McCullagh 1980).

Coefficients are the K - 1 thresholds a_1 > a_2 > ..., then b of the columns but the first. With neighbouring
answers alone, the likelihood is that of K - 1 yes/no models with common b and a term of the thresholds:
ln P(Y = k) = ln p_(k-1) + ln(1 - p_k) + ln(1 - exp(a_k - a_(k-1))), p_k = P(Y > k).
"""

import numpy as np
from numpy.typing import NDArray

from hobrix.core.logistic.answers import AnswerPatterns
from hobrix.core.logistic.climb import Height
from hobrix.core.logistic.likelihood import curve, logistic
from hobrix.core.logistic.patterns import FloatArray, IntArray


class Ordered:
    """The likelihood of answers from low to high."""

    def at(self, k: int, answers: int) -> IntArray:
        return np.concatenate([[0], np.arange(answers - 1, answers + k - 2)])[None, :]

    def start(self, data: AnswerPatterns) -> FloatArray:
        of_each = data.counts.sum(axis=0)
        below = np.cumsum(of_each)[:-1]
        thresholds = np.log(of_each.sum() - below) - np.log(below)
        return np.concatenate([thresholds, np.zeros(data.design.shape[1] - 1)])

    def surface(self, data: AnswerPatterns, b: FloatArray) -> Height | None:
        counts, x = data.counts, data.design[:, 1:]
        cuts = counts.shape[1] - 1
        a, slopes = b[:cuts], b[cuts:]
        apart = a[:-1] - a[1:]
        if np.any(apart <= 0) or not np.all(np.isfinite(b)):
            return None
        eta = a + (x @ slopes)[:, None]
        p, variance, size, whole = curve(eta)
        above, below = counts[:, 1:], counts[:, :-1]
        value = -float(
            ((size - eta) * above + (size + eta) * below).sum() / 2
            + ((above + below) * np.log(whole)).sum()
        )
        missed, weight = above - (above + below) * p, (above + below) * variance
        # What the thresholds gain by being apart.
        middle = counts[:, 1:-1].sum(axis=0)
        value += float(middle @ np.log(-np.expm1(-apart)))
        pull = np.exp(-apart) / -np.expm1(-apart)
        bent = middle * pull * (1 + pull)
        score = np.concatenate([missed.sum(axis=0), x.T @ missed.sum(axis=1)])
        score[: cuts - 1] += middle * pull
        score[1:cuts] -= middle * pull
        information = np.zeros((len(b), len(b)))
        at = np.arange(cuts)
        information[at, at] = weight.sum(axis=0)
        information[at[:-1], at[:-1]] += bent
        information[at[1:], at[1:]] += bent
        information[at[:-1], at[1:]] -= bent
        information[at[1:], at[:-1]] -= bent
        information[:cuts, cuts:] = weight.T @ x
        information[cuts:, :cuts] = information[:cuts, cuts:].T
        information[cuts:, cuts:] = (x * weight.sum(axis=1)[:, None]).T @ x
        return Height(value, score, information)

    def probabilities(self, design: FloatArray, b: FloatArray) -> FloatArray:
        """P(Y = k) without the loss of a difference of nearly equal numbers."""
        a, eta = _predicted(design, b)
        above, below = logistic(eta), logistic(-eta)
        middle = above[:, :-1] * below[:, 1:] * -np.expm1(a[1:] - a[:-1])
        return np.hstack([below[:, :1], middle, above[:, -1:]])

    def scores(self, design: FloatArray, b: FloatArray) -> FloatArray:
        a, eta = _predicted(design, b)
        cuts, above, below = len(a), logistic(eta), logistic(-eta)
        pull = np.exp(a[1:] - a[:-1]) / -np.expm1(a[1:] - a[:-1])
        found = np.zeros((len(design), cuts + 1, len(b)))
        at = np.arange(cuts)
        found[:, at + 1, at] = below
        found[:, at, at] = -above
        found[:, at[1:], at[:-1]] += pull
        found[:, at[1:], at[1:]] -= pull
        slope = np.zeros((len(design), cuts + 1))
        slope[:, 1:] += below
        slope[:, :-1] -= above
        found[:, :, cuts:] = slope[:, :, None] * design[:, None, 1:]
        return found

    def unturned(self, turn: FloatArray, answers: int) -> FloatArray:
        cuts, k = answers - 1, len(turn)
        found = np.eye(cuts + k - 1)
        found[cuts:, cuts:] = turn[1:, 1:]
        found[:cuts, cuts:] = turn[0, 1:]
        return found

    def rising(self, design: FloatArray, gave: NDArray[np.bool_]) -> FloatArray:
        answers = gave.shape[1]
        unit, x, rows = np.eye(answers - 1), design[:, 1:], []
        for k in range(answers):
            who = x[gave[:, k]]
            for cut, sign in ((k - 1, 1.0), (k, -1.0)):
                if 0 <= cut < answers - 1:
                    ones = np.broadcast_to(unit[cut], (len(who), answers - 1))
                    rows.append(sign * np.hstack([ones, who]))
        return np.concatenate(rows)


def _predicted(design: FloatArray, b: FloatArray) -> tuple[FloatArray, FloatArray]:
    """The thresholds, and the log odds of an answer above each, shape (J, K - 1)."""
    cuts = len(b) - design.shape[1] + 1
    a = b[:cuts]
    return a, a + (design[:, 1:] @ b[cuts:])[:, None]


ORDERED = Ordered()
