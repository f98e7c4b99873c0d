"""An ordered outcome whose every cut has slopes of its own, in one likelihood (Peterson & Harrell 1990, Appl Stat
39:205; Williams 2006): logit P(Y > k) = a_k + x'b_k.

ln(P(Y > k - 1) - P(Y > k)) is concave in both log odds, so that there is one maximum where there is any.
"""

from dataclasses import dataclass

import numpy as np

from hobrix.core.logistic.answers import AnswerPatterns
from hobrix.core.logistic.climb import Height, climb
from hobrix.core.logistic.fit import Fit, NotFinite
from hobrix.core.logistic.likelihood import logistic
from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test

# Answers between others that are predicted this rarely: the curves all but cross.
_CROSSED = 1e-9


@dataclass(frozen=True)
class _Surface:
    data: AnswerPatterns

    def __call__(self, b: FloatArray) -> Height | None:
        counts, x = self.data.counts, self.data.design
        cuts, k = counts.shape[1] - 1, x.shape[1]
        eta = x @ b.reshape(cuts, k).T
        apart = eta[:, :-1] - eta[:, 1:]
        if not np.all(np.isfinite(eta)) or np.any(apart <= 0):
            return None
        above, below = logistic(eta), logistic(-eta)
        middle = counts[:, 1:-1]
        pull = np.exp(-apart) / -np.expm1(-apart)
        value = float(
            -(counts[:, 1:] * np.logaddexp(0, -eta)).sum()
            - (counts[:, :-1] * np.logaddexp(0, eta)).sum()
            + (middle * np.log(-np.expm1(-apart))).sum()
        )
        slope = counts[:, 1:] * below - counts[:, :-1] * above
        slope[:, :-1] += middle * pull
        slope[:, 1:] -= middle * pull
        bent = middle * pull * (1 + pull)
        own = (counts[:, 1:] + counts[:, :-1]) * above * below
        own[:, :-1] += bent
        own[:, 1:] += bent
        information = np.zeros((cuts, k, cuts, k))
        for cut in range(cuts):
            information[cut, :, cut] = (x * own[:, cut, None]).T @ x
            if cut + 1 < cuts:
                beside = -(x * bent[:, cut, None]).T @ x
                information[cut, :, cut + 1] = beside
                information[cut + 1, :, cut] = beside
        return Height(value, (slope.T @ x).ravel(), information.reshape(cuts * k, cuts * k))


def own_slopes_test(data: AnswerPatterns, common: Fit) -> ChiSquareTest | None:
    """Twice what slopes of their own gain over ``common`` ones; None where that has no maximum, or where curves
    cross among the data."""
    cuts, x = data.counts.shape[1] - 1, data.design
    if cuts < 2:
        return None
    middle = x.mean(axis=0)
    middle[0] = 0.0
    spread = x.std(axis=0)
    spread[spread == 0] = 1.0
    turned = AnswerPatterns((x - middle) / spread, data.counts)
    slopes = common.coefficients[cuts:] * spread[1:]
    shift = float(common.coefficients[cuts:] @ middle[1:])
    start = np.column_stack([common.coefficients[:cuts] + shift, np.tile(slopes, (cuts, 1))])
    try:
        b, at = climb(_Surface(turned), start.ravel())
    except NotFinite:
        return None
    eta = turned.design @ b.reshape(cuts, -1).T
    least = (logistic(eta[:, :-1]) - logistic(eta[:, 1:])).min()
    if least < _CROSSED:
        return None
    gain = max(0.0, 2 * (at.value - common.log_likelihood))
    return chi_square_test(gain, (cuts - 1) * (x.shape[1] - 1))
