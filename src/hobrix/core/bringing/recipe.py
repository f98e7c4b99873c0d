"""Recipes: how a data set is made of others, as plain values that can be carried out again."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field, TypeAdapter

from hobrix.core.bringing.groups import GroupsLook, GroupsToCompare, groups, look_at_groups
from hobrix.core.bringing.harmony import CommonLook, look_at_stack
from hobrix.core.bringing.match import Match, MatchLook, look_at_match, match
from hobrix.core.bringing.one_per_case import OnePerCase, look_at_one_per_case, one_per_case
from hobrix.core.bringing.part import MadeData, Part
from hobrix.core.bringing.stack import Stack, stack
from hobrix.core.data import Frozen
from hobrix.core.data.cases import Finding
from hobrix.core.errors import RecipeError

Recipe = Annotated[Stack | Match | OnePerCase | GroupsToCompare, Field(discriminator="recipe")]
recipes: TypeAdapter[Stack | Match | OnePerCase | GroupsToCompare] = TypeAdapter(Recipe)


def carry_out(
    recipe: Stack | Match | OnePerCase | GroupsToCompare, parts: Sequence[Part]
) -> MadeData:
    """The data set a recipe makes of its parts.

    Raises:
        RecipeError: parts that do not fit it.
        QuestionError: a condition that does not fit the codebook of a part.
    """
    _refuse_other_number(recipe, parts)
    if isinstance(recipe, Stack):
        return stack(recipe, parts)
    if isinstance(recipe, Match):
        return match(recipe, parts)
    if isinstance(recipe, OnePerCase):
        return one_per_case(recipe, parts)
    return groups(recipe, parts)


class RecipeLook(Frozen):
    """What a recipe would make: rows, and what is to be seen of its kind."""

    rows: int
    findings: tuple[Finding, ...]
    common: tuple[CommonLook, ...] = ()
    match: MatchLook | None = None
    groups: GroupsLook | None = None


def look(recipe: Stack | Match | OnePerCase | GroupsToCompare, parts: Sequence[Part]) -> RecipeLook:
    """What would come of it, without making it; raises as ``carry_out`` does, but for groups that
    are empty so far."""
    _refuse_other_number(recipe, parts)
    if isinstance(recipe, Stack):
        made = stack(recipe.model_copy(update={"variables": ()}), parts)
        common = look_at_stack(recipe, parts)
        return RecipeLook(rows=made.rows, findings=made.findings, common=common)
    if isinstance(recipe, Match):
        found = look_at_match(recipe, parts)
        return RecipeLook(rows=parts[0].frame.rows, findings=found.findings, match=found)
    if isinstance(recipe, OnePerCase):
        rows, findings = look_at_one_per_case(recipe, parts)
        return RecipeLook(rows=rows, findings=findings)
    seen = look_at_groups(recipe, parts)
    rows = sum(group.n for group in seen.groups)
    return RecipeLook(rows=rows, findings=seen.findings, groups=seen)


def _refuse_other_number(
    recipe: Stack | Match | OnePerCase | GroupsToCompare, parts: Sequence[Part]
) -> None:
    if isinstance(recipe, Stack):
        needed = len(recipe.names)
    else:
        needed = 2 if isinstance(recipe, Match) else 1
    if len(parts) != needed:
        raise RecipeError(f"This takes {needed} data sets, not {len(parts)}.", field="sources")
