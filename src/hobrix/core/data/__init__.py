"""Columns, codebook, frames, subsets and ways of counting: what every question starts from."""

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
from hobrix.core.data.frame import Frame, RowNoun
from hobrix.core.data.inference import Proposal, propose
from hobrix.core.data.subset import AllOf, AnyOf, IsBetween, IsMissing, IsOneOf, Subset
from hobrix.core.data.variable import Category, Frozen, Kind, MissingCode, Variable

__all__ = [
    "AllOf",
    "AnyOf",
    "CategoricalColumn",
    "Category",
    "Coded",
    "Column",
    "Counting",
    "CountsColumn",
    "EachRow",
    "Frame",
    "Frozen",
    "IsBetween",
    "IsMissing",
    "IsOneOf",
    "Kind",
    "Measured",
    "MissingCode",
    "NumericColumn",
    "Proposal",
    "RowNoun",
    "Source",
    "Subset",
    "Variable",
    "decode",
    "propose",
    "row_counts",
]
