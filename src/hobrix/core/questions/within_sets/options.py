"""What only the model of matched sets may be asked."""

from hobrix.core.data import Frozen
from hobrix.core.questions.modelling.estimation import LimitsBy


class MatchedOptions(Frozen):
    """``new_step_at`` names variables that begin a step of their own."""

    limits: LimitsBy = "wald"
    new_step_at: tuple[str, ...] = ()
