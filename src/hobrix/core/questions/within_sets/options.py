"""What only the model of matched sets may be asked."""

from hobrix.core.data import Frozen
from hobrix.core.questions.modelling.estimation import LimitsBy


class MatchedOptions(Frozen):
    limits: LimitsBy = "wald"
