"""What a question may ask otherwise than usual: each lens has its own options under its name.

One line per lens here, and one in ``lenses``.
"""

from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field

from hobrix.core.data import Frozen
from hobrix.core.questions.crosstab.options import CrosstabOptions
from hobrix.core.questions.distribution.options import DistributionOptions
from hobrix.core.questions.every_answer.options import EveryAnswerOptions
from hobrix.core.questions.odds.options import OddsOptions
from hobrix.core.questions.proportions.options import ProportionOptions
from hobrix.core.questions.recast import Recast
from hobrix.core.questions.within_sets.options import MatchedOptions

Step = Annotated[float, Field(gt=0, allow_inf_nan=False)]


class Options(Frozen):
    """``categories`` says how this question alone uses the categories of variables, by name;
    ``rounded`` takes numbers to the nearest multiple of a step, by name; ``beside`` shows an answer with a
    survey design three ways."""

    categories: dict[str, Recast] = {}
    rounded: dict[str, Step] = {}
    beside: bool = False
    distribution: DistributionOptions = DistributionOptions()
    crosstab: CrosstabOptions = CrosstabOptions()
    proportions: ProportionOptions = ProportionOptions()
    odds: OddsOptions = OddsOptions()
    every_answer: EveryAnswerOptions = EveryAnswerOptions()
    within_sets: MatchedOptions = MatchedOptions()


# The lens of a question that names none.
USUAL = "crosstab"
LENS_NAMES = tuple(
    name
    for name, field in Options.model_fields.items()
    if isinstance(field.annotation, type) and issubclass(field.annotation, Frozen)
)

if TYPE_CHECKING:
    LensName = str
else:
    LensName = Literal[LENS_NAMES]


def options_of_version_1(flat: dict[str, Any], lens: str) -> dict[str, Any]:
    """Options as they stood side by side in version 1, each now with the lenses that knew it; what
    two lenses named alike belongs to the lens of the question first."""
    found: dict[str, Any] = {key: flat[key] for key in ("categories", "beside") if key in flat}
    for name in LENS_NAMES:
        model = Options.model_fields[name].annotation
        assert isinstance(model, type)
        assert issubclass(model, Frozen)
        renamed: dict[str, str] = getattr(model, "VERSION_1", {})
        own = {new: flat[old] for old, new in renamed.items() if old in flat}
        own |= {k: v for k, v in flat.items() if k in model.model_fields and k not in renamed}
        if name == lens or _is_valid(model, own):
            found |= {name: own} if own else {}
    return found


def _is_valid(model: type[Frozen], options: dict[str, Any]) -> bool:
    try:
        model.model_validate(options)
    except ValueError:
        return False
    return True
