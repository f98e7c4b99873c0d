"""What has to be counted of data that stay where they are, for what is asked about."""

from collections.abc import Container, Mapping
from dataclasses import dataclass, field

from hobrix.core.data.prepare import Prepared
from hobrix.core.data.steps import Band, parents_of


@dataclass(frozen=True)
class About:
    """What is asked about: variables by name, ``weights`` of which only sums are needed, and numbers that are
    taken to the nearest multiple of a step."""

    names: tuple[str, ...]
    weights: str | None = None
    rounded: Mapping[str, float] = field(default_factory=dict)
    # Whether it is only looked at, as in the codebook: numbers may be seen roughly then, and as they were read.
    is_look: bool = False


@dataclass(frozen=True)
class Needed:
    """Variables of the file whose combinations are to be counted, in order of name, and variables in bands
    that are counted as such, because what they are made of has too many different numbers."""

    columns: tuple[str, ...]
    bands: Mapping[str, Band]
    # A variable of the file that is only added up, together with its squares.
    weights: str | None = None
    # Variables of the file that are rounded where they are, and to what.
    rounded: Mapping[str, float] = field(default_factory=dict)
    is_look: bool = False

    @property
    def names(self) -> tuple[str, ...]:
        return (*self.columns, *self.bands, *(() if self.weights is None else (self.weights,)))


def needed(about: About, state: Prepared, in_bands: Container[str]) -> Needed:
    """All that the variables asked about are made of; bands of variables in ``in_bands`` are counted
    themselves, and weights are added up where nothing else needs them. A variable that others are made of
    is not rounded. Names that are no variables are passed over."""
    columns: set[str] = set()
    bands: dict[str, Band] = {}
    left = [name for name in about.names if name in state.variables]
    parents: set[str] = set()
    while left:
        name = left.pop()
        making = state.made.get(name)
        if making is None:
            columns.add(name)
        elif isinstance(making, Band) and making.variable in in_bands:
            bands[name] = making
        else:
            left += parents_of(making)
            parents |= set(parents_of(making))
    return Needed(
        columns=tuple(sorted(columns)),
        bands={name: bands[name] for name in sorted(bands)},
        weights=None if about.weights in columns else about.weights,
        rounded={k: v for k, v in about.rounded.items() if k in columns and k not in parents},
        is_look=about.is_look,
    )
