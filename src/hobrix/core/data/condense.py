"""What has to be counted of data that stay where they are, for what is asked about."""

from collections.abc import Container, Iterable, Mapping
from dataclasses import dataclass

from hobrix.core.data.prepare import Prepared
from hobrix.core.data.steps import Band, parents_of


@dataclass(frozen=True)
class Needed:
    """Variables of the file whose combinations are to be counted, in order of name, and variables in bands
    that are counted as such, because what they are made of has too many different numbers."""

    columns: tuple[str, ...]
    bands: Mapping[str, Band]
    # A variable of the file that is only added up, together with its squares.
    weights: str | None = None

    @property
    def names(self) -> tuple[str, ...]:
        return (*self.columns, *self.bands, *(() if self.weights is None else (self.weights,)))


def needed(
    names: Iterable[str], state: Prepared, in_bands: Container[str], weights: str | None = None
) -> Needed:
    """All that the variables in ``names`` are made of; bands of variables in ``in_bands`` are counted
    themselves, and ``weights``, a variable of the file, are added up where nothing else needs them. Names
    that are no variables are passed over."""
    columns: set[str] = set()
    bands: dict[str, Band] = {}
    left = [name for name in names if name in state.variables]
    while left:
        name = left.pop()
        making = state.made.get(name)
        if making is None:
            columns.add(name)
        elif isinstance(making, Band) and making.variable in in_bands:
            bands[name] = making
        else:
            left += parents_of(making)
    summed = None if weights in columns else weights
    return Needed(tuple(sorted(columns)), {name: bands[name] for name in sorted(bands)}, summed)
