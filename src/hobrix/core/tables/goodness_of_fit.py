"""Do counts fit stated shares? Chi-square, likelihood ratio, effect size, exact multinomial."""

import math
from dataclasses import dataclass

import numpy as np
from scipy import special

from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test, likelihood_ratio

# Beyond this many outcomes the exact test is not made.
MOST_OUTCOMES = 2_000_000


@dataclass(frozen=True)
class Fit:
    """Observed counts against shares; arrays of shape (k,)."""

    shares: FloatArray
    expected: FloatArray
    pearson: ChiSquareTest
    likelihood_ratio: ChiSquareTest
    pearson_residuals: FloatArray
    standardized_residuals: FloatArray
    cohens_w: float


def goodness_of_fit(counts: FloatArray, shares: FloatArray) -> Fit:
    """Counts of shape (k,) against shares of shape (k,), all above 0, of any sum.

    Pearson 1900; likelihood ratio Wilks 1935; w = sqrt(X2/n) (Cohen 1988); standardised
    residuals (O - E) / sqrt(E (1 - share)). df = k - 1.
    """
    shares = shares / shares.sum()
    n = float(counts.sum())
    expected = n * shares
    raw = counts - expected
    pearson = float(np.sum(raw**2 / expected))
    df = len(counts) - 1
    return Fit(
        shares=shares,
        expected=expected,
        pearson=chi_square_test(pearson, df),
        likelihood_ratio=chi_square_test(likelihood_ratio(counts, expected), df),
        pearson_residuals=raw / np.sqrt(expected),
        standardized_residuals=raw / np.sqrt(expected * (1 - shares)),
        cohens_w=math.sqrt(pearson / n),
    )


@dataclass(frozen=True)
class ExactMultinomial:
    p: float
    observed_probability: float
    number_of_outcomes: int


def exact_multinomial(counts: FloatArray, shares: FloatArray) -> ExactMultinomial | None:
    """Probability of all outcomes no more probable than the observed (relative tolerance 1e-7).

    Every way n cases can fall into k categories is enumerated, category by category, in arrays.
    None where there are more than ``MOST_OUTCOMES`` ways.
    """
    n, k = int(counts.sum()), len(counts)
    outcomes = math.comb(n + k - 1, k - 1)
    if outcomes > MOST_OUTCOMES:
        return None
    logs = np.log(shares / shares.sum())
    each = np.arange(n + 1)
    # The log of share^x / x! for every category and count.
    terms = each[None, :] * logs[:, None] - special.gammaln(each + 1.0)[None, :]
    left = np.array([n])
    log_probability = np.array([float(special.gammaln(n + 1.0))])
    for category in range(k - 1):
        choices = left + 1
        starts = np.cumsum(choices) - choices
        taken = np.arange(int(choices.sum())) - np.repeat(starts, choices)
        log_probability = np.repeat(log_probability, choices) + terms[category][taken]
        left = np.repeat(left, choices) - taken
    log_probability += terms[k - 1][left]
    observed = float(special.gammaln(n + 1.0)) + float(
        sum(terms[i][int(x)] for i, x in enumerate(counts))
    )
    probable = np.exp(log_probability[log_probability <= observed + math.log1p(1e-7)])
    return ExactMultinomial(min(1.0, math.fsum(probable)), math.exp(observed), outcomes)
