"""One odds ratio for each answer against a base: ln(P(Y = j) / P(Y = base)) = x'b_j (Cox 1966; Theil 1969).

The base is the first answer; coefficients are those of the second, then of the third and so on.
"""

import numpy as np
from numpy.typing import NDArray

from hobrix.core.logistic.answers import AnswerPatterns
from hobrix.core.logistic.climb import Height
from hobrix.core.logistic.patterns import FloatArray, IntArray


class Several:
    """The likelihood of answers in no order."""

    def at(self, k: int, answers: int) -> IntArray:
        return np.arange((answers - 1) * k).reshape(answers - 1, k)

    def start(self, data: AnswerPatterns) -> FloatArray:
        of_each = data.counts.sum(axis=0)
        found = np.zeros((len(of_each) - 1, data.design.shape[1]))
        found[:, 0] = np.log(of_each[1:]) - np.log(of_each[0])
        return found.ravel()

    def surface(self, data: AnswerPatterns, b: FloatArray) -> Height | None:
        x, counts, n = data.design, data.counts, data.counts.sum(axis=1)
        others, k = counts.shape[1] - 1, data.design.shape[1]
        if not np.all(np.isfinite(b)):
            return None
        eta, log_sum = _predicted(x, b)
        p = np.exp(eta - log_sum[:, None])[:, 1:]
        value = float((counts * eta).sum() - n @ log_sum)
        score = ((counts[:, 1:] - n[:, None] * p).T @ x).ravel()
        information = np.empty((others, k, others, k))
        for j in range(others):
            for other in range(j, others):
                weight = n * p[:, j] * ((j == other) - p[:, other])
                block = (x * weight[:, None]).T @ x
                information[j, :, other] = block
                information[other, :, j] = block
        return Height(value, score, information.reshape(others * k, others * k))

    def probabilities(self, design: FloatArray, b: FloatArray) -> FloatArray:
        eta, log_sum = _predicted(design, b)
        found: FloatArray = np.exp(eta - log_sum[:, None])
        return found

    def scores(self, design: FloatArray, b: FloatArray) -> FloatArray:
        p = self.probabilities(design, b)
        answers = p.shape[1]
        missed = np.eye(answers)[:, 1:] - p[:, None, 1:]
        cells = missed[:, :, :, None] * design[:, None, None, :]
        return np.asarray(cells.reshape(len(design), answers, -1), dtype=np.float64)

    def unturned(self, turn: FloatArray, answers: int) -> FloatArray:
        return np.asarray(np.kron(np.eye(answers - 1), turn), dtype=np.float64)

    def rising(self, design: FloatArray, gave: NDArray[np.bool_]) -> FloatArray:
        answers, rows = gave.shape[1], []
        unit = np.vstack([np.zeros(answers - 1), np.eye(answers - 1)])
        for given in range(answers):
            who = design[gave[:, given]]
            for other in range(answers):
                if other != given:
                    rows.append(np.kron(unit[given] - unit[other], who))
        return np.concatenate(rows)


def _predicted(x: FloatArray, b: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Log odds of each answer against the base, shape (J, K), and the log of the sum of their exponentials."""
    eta = np.hstack([np.zeros((len(x), 1)), x @ b.reshape(-1, x.shape[1]).T])
    most = eta.max(axis=1)
    return eta, most + np.log(np.exp(eta - most[:, None]).sum(axis=1))


SEVERAL = Several()
