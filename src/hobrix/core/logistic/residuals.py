"""Unusual observations: residuals, leverage and influence, one person being one observation.

Pregibon 1981, Annals of Statistics 9:705; Cook 1977, Technometrics 19:15.
"""

from dataclasses import dataclass

import numpy as np

from hobrix.core.logistic.fit import Fit
from hobrix.core.logistic.patterns import FloatArray, blocks


@dataclass(frozen=True)
class Residuals:
    """Of people without and with the event in each pattern: shape (2, J), leverage (J,)."""

    fitted: FloatArray
    leverage: FloatArray
    pearson: FloatArray
    standardized_pearson: FloatArray
    deviance: FloatArray
    cooks_distance: FloatArray


def residuals(design: FloatArray, found: Fit, fitted: FloatArray) -> Residuals:
    """What somebody of each pattern would have, for either outcome."""
    k = design.shape[1]
    variance = fitted * (1 - fitted)
    leverage = np.empty(len(design))
    for part in blocks(slice(0, len(design))):
        x = design[part]
        leverage[part] = variance[part] * np.einsum("ij,ij->i", x @ found.covariance, x)
    root = np.sqrt(variance)
    pearson = np.stack([-fitted / root, (1 - fitted) / root])
    left = 1 - leverage
    return Residuals(
        fitted=fitted,
        leverage=leverage,
        pearson=pearson,
        standardized_pearson=pearson / np.sqrt(left),
        deviance=np.stack([-np.sqrt(-2 * np.log1p(-fitted)), np.sqrt(-2 * np.log(fitted))]),
        cooks_distance=pearson**2 * leverage / (k * left**2),
    )


def change_in_coefficients(
    design: FloatArray, found: Fit, of: Residuals, outcome: np.ndarray, pattern: np.ndarray
) -> FloatArray:
    """What each coefficient would lose in standard errors without one person, in one step:
    V x (y - p) / (1 - h) / se, shape (people, k). ``outcome`` 0 or 1 and ``pattern`` name them."""
    x = design[pattern]
    missed = outcome - of.fitted[pattern]
    step = (x @ found.covariance) * (missed / (1 - of.leverage[pattern]))[:, None]
    moved: FloatArray = step / np.sqrt(np.diag(found.covariance))
    return moved
