"""Columns, codebook, frames, subsets and ways of counting: what every question starts from."""

from hobrix.core.data.cases import Cases, Finding
from hobrix.core.data.cases_look import CasesLook, look_at_cases
from hobrix.core.data.column import (
    CategoricalColumn,
    Coded,
    Column,
    Measured,
    NumericColumn,
    Source,
    decode,
)
from hobrix.core.data.counting import Counting, CountsColumn, EachRow, row_counts
from hobrix.core.data.cuts import suggested_cuts
from hobrix.core.data.design import Design
from hobrix.core.data.design_look import DesignLook, look_at
from hobrix.core.data.frame import Frame, RowNoun
from hobrix.core.data.inference import (
    Look,
    Proposal,
    counts_candidate,
    missing_in_many,
    propose,
    with_event,
)
from hobrix.core.data.missing import MissingReason, missing_reasons
from hobrix.core.data.prepare import Failure, Prepared, apply, made_source, replay, replay_what_fits
from hobrix.core.data.steps import Making, Step, parents_of
from hobrix.core.data.subset import AllOf, AnyOf, IsBetween, IsDated, IsMissing, IsOneOf, Subset
from hobrix.core.data.totals import total_row
from hobrix.core.data.variable import Category, Frozen, Kind, MissingCode, Variable
from hobrix.core.data.weighting import NetworkWeights, Rake
from hobrix.core.data.weights_look import WeightsLook, look_at_weights

__all__ = [
    "AllOf",
    "AnyOf",
    "Cases",
    "CasesLook",
    "CategoricalColumn",
    "Category",
    "Coded",
    "Column",
    "Counting",
    "CountsColumn",
    "Design",
    "DesignLook",
    "EachRow",
    "Failure",
    "Finding",
    "Frame",
    "Frozen",
    "IsBetween",
    "IsDated",
    "IsMissing",
    "IsOneOf",
    "Kind",
    "Look",
    "Making",
    "Measured",
    "MissingCode",
    "MissingReason",
    "NetworkWeights",
    "NumericColumn",
    "Prepared",
    "Proposal",
    "Rake",
    "RowNoun",
    "Source",
    "Step",
    "Subset",
    "Variable",
    "WeightsLook",
    "apply",
    "counts_candidate",
    "decode",
    "look_at",
    "look_at_cases",
    "look_at_weights",
    "made_source",
    "missing_in_many",
    "missing_reasons",
    "parents_of",
    "propose",
    "replay",
    "replay_what_fits",
    "row_counts",
    "suggested_cuts",
    "total_row",
    "with_event",
]
