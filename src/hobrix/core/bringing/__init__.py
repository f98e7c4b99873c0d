"""Data sets brought together: stacked, matched, one row per case, groups to compare."""

from hobrix.core.bringing.alike import Alike, alike
from hobrix.core.bringing.common import CommonVariable, Taken
from hobrix.core.bringing.groups import Group, GroupsLook, GroupsToCompare, look_at_groups
from hobrix.core.bringing.harmony import CommonLook, look_at_stack, proposed, with_taken
from hobrix.core.bringing.match import KeyPair, Match, MatchLook, look_at_match
from hobrix.core.bringing.one_per_case import Ever, OnePerCase, OverRows
from hobrix.core.bringing.part import MadeData, Part
from hobrix.core.bringing.recipe import Recipe, RecipeLook, carry_out, look, recipes
from hobrix.core.bringing.stack import Stack, free_common_name

__all__ = [
    "Alike",
    "CommonLook",
    "CommonVariable",
    "Ever",
    "Group",
    "GroupsLook",
    "GroupsToCompare",
    "KeyPair",
    "MadeData",
    "Match",
    "MatchLook",
    "OnePerCase",
    "OverRows",
    "Part",
    "Recipe",
    "RecipeLook",
    "Stack",
    "Taken",
    "alike",
    "carry_out",
    "free_common_name",
    "look",
    "look_at_groups",
    "look_at_match",
    "look_at_stack",
    "proposed",
    "recipes",
    "with_taken",
]
