"""What the Odds model lens gives: quantities named as in docs/methods.md."""

from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.quantities import ChiSquare, MaybeInfinite, Unavailable


class OddsRow(Frozen):
    """One coefficient: a category against the reference, or a numeric term ``per`` its unit.

    ``unadjusted`` is from a model with this term alone, on the same people.
    """

    term: str
    level: str | None
    label: str
    n: float | None
    events: float | None
    log_odds: float
    se: float
    z: float
    p: float
    odds_ratio: MaybeInfinite
    ci: tuple[float, MaybeInfinite]
    unadjusted: MaybeInfinite | None
    unadjusted_ci: tuple[float, MaybeInfinite] | None


class OddsTerm(Frozen):
    """One term with its tests; ``reference`` names the category the others are against."""

    variable: str
    title: str
    role: Literal["vary_with", "allowing_for"]
    reference: str | None
    reference_n: float | None
    reference_events: float | None
    wald: ChiSquare
    likelihood_ratio: ChiSquare
    rows: tuple[OddsRow, ...]


class Step(Frozen):
    """What a step gains over the one before, in twice the log-likelihood."""

    step: Literal["allowing_for", "vary_with"]
    titles: tuple[str, ...]
    log_likelihood: float
    gain: ChiSquare
    aic: float


class OddsModel(Frozen):
    n: float
    events: float
    covariate_patterns: int
    parameters: int
    intercept: float
    terms: tuple[OddsTerm, ...]
    steps: tuple[Step, ...]
    log_likelihood: float
    log_likelihood_null: float
    model_likelihood_ratio: ChiSquare
    aic: float
    bic: float
    mcfadden: float
    cox_snell: float
    nagelkerke: float
    tjur: float
    equation: str


class OddsResults(Frozen):
    lens: Literal["odds"] = "odds"
    whole: OddsModel
    event_label: str
    unavailable: tuple[Unavailable, ...]
