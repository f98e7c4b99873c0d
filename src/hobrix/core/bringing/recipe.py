"""Recipes: how a data set is made of others, as plain values that can be carried out again."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field, TypeAdapter

from hobrix.core.bringing.groups import Groups, groups
from hobrix.core.bringing.match import Match, match
from hobrix.core.bringing.one_per_case import OnePerCase, one_per_case
from hobrix.core.bringing.part import MadeData, Part
from hobrix.core.bringing.stack import Stack, stack
from hobrix.core.errors import RecipeError

Recipe = Annotated[Stack | Match | OnePerCase | Groups, Field(discriminator="recipe")]
recipes: TypeAdapter[Stack | Match | OnePerCase | Groups] = TypeAdapter(Recipe)


def carry_out(recipe: Stack | Match | OnePerCase | Groups, parts: Sequence[Part]) -> MadeData:
    """The data set a recipe makes of its parts.

    Raises:
        RecipeError: parts that do not fit it.
        QuestionError: a condition that does not fit the codebook of a part.
    """
    wanted = {"stack": None, "match": 2}.get(recipe.recipe, 1)
    needed = len(recipe.names) if isinstance(recipe, Stack) else wanted
    if len(parts) != needed:
        raise RecipeError(f"This takes {needed} data sets, not {len(parts)}.", field="sources")
    if isinstance(recipe, Stack):
        return stack(recipe, parts)
    if isinstance(recipe, Match):
        return match(recipe, parts)
    if isinstance(recipe, OnePerCase):
        return one_per_case(recipe, parts)
    return groups(recipe, parts)
