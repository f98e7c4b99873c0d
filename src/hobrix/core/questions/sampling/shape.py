"""What a lens may ask of the way an answer is estimated."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from hobrix.core.data import Variable
from hobrix.core.data.column import IntArray
from hobrix.core.data.subset import Mask
from hobrix.core.logistic.answers import Family
from hobrix.core.progress import Stages
from hobrix.core.questions.answer import Sample
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.estimates import Effect, Limits, NamedTest, Share
from hobrix.core.questions.modelling.answers import PreparedAnswers
from hobrix.core.questions.modelling.answers_fitted import AnswersFitted
from hobrix.core.questions.modelling.estimation import Estimation
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.prepare import Prepared
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.one_proportion import Method

Adjust = Callable[[FloatArray], FloatArray]
# Value and label of what a share is the share of.
Heads = Sequence[tuple[str, str]]


@dataclass(frozen=True)
class Departures:
    """How far every cell is from what it would be were the two unrelated, shape (R, C): in standard
    errors, with p by itself and with all cells allowed for."""

    z: FloatArray
    p: FloatArray
    p_adjusted: FloatArray


@dataclass(frozen=True)
class Apart:
    """One group against another."""

    odds_ratio: Effect
    risk_ratio: Effect | None
    risk_difference: Effect
    clearness: float


@dataclass(frozen=True)
class MeasureOf:
    """The value of a measure of association and what is known of its error."""

    value: float
    ci: Limits | None
    p: float | None = None
    ase: float | None = None
    ase_null: float | None = None
    z: float | None = None
    se: float | None = None
    unweighted: float | None = None


class PairTable(Protocol):
    """A two-way table without its empty rows and columns: groups down, answers across."""

    @property
    def kept(self) -> tuple[tuple[int, ...], tuple[int, ...]]:
        """Positions in the codebook of the rows and of the columns."""

    @property
    def counts(self) -> FloatArray:
        """Cases, shape (R, C)."""

    @property
    def weighed(self) -> FloatArray:
        """What they stand for, shape (R, C): the same where rows count once."""

    @property
    def replicates_lost(self) -> int:
        """Replicates in which a group or an answer is empty."""

    def collapsed(self, is_event: Mask) -> "PairTable":
        """The event against all other answers, shape (R, 2)."""

    def at(self, confidence: float) -> "PairTable":
        """The same with limits at another level."""

    def test(self) -> NamedTest | None:
        """Are the two unrelated? None where the design leaves no degree of freedom."""

    def departures(self, adjust: Adjust) -> Departures: ...

    def cramers_v(self) -> tuple[float, Limits | None]: ...

    def measures(self, keys: Sequence[str]) -> Mapping[str, MeasureOf]:
        """Those of the measures asked for that are defined here."""

    def shares(self, is_event: Mask, heads: Heads, method: Method) -> tuple[list[Share], Share]:
        """The event's share in each row, and in all rows together; ``is_event`` of shape (C,)."""

    def against(self, is_event: Mask, base: int) -> list[Apart | None]:
        """Every row against one of them; None for itself."""

    def apart(self, is_event: Mask, row: int, base: int) -> Apart:
        """One row against another."""


@dataclass(frozen=True)
class Number:
    """A number among those that have it; everything is weighted under a design but ``n`` and
    ``unweighted_mean``."""

    n: float
    mean: float
    ci: Limits | None
    sd: float | None
    minimum: float
    quartiles: tuple[float, float, float]
    maximum: float
    moments: tuple[float | None, float | None, float | None, float | None]
    se: float | None
    sum_of_weights: float | None
    deff: float | None
    unweighted_mean: float
    unweighted_sd: float | None


class Sampling(Protocol):
    """Estimates for one question; ``where`` limits them to some rows."""

    @property
    def rows(self) -> Rows: ...

    @property
    def confidence(self) -> float: ...

    @property
    def stages(self) -> Stages:
        """Told of long work; a lens says how many parts there will be."""

    @property
    def where(self) -> Mask | None:
        """Rows counted, shape (rows,); None for all."""

    @property
    def sample(self) -> Sample | None:
        """What the design of the sample is; None where rows count for themselves."""

    def within(self, where: NDArray[np.bool_]) -> "Sampling":
        """The same among some rows; under a design everybody else stays in it."""

    def people(self, where: NDArray[np.bool_]) -> float:
        """Cases among the rows of a mask."""

    def cells(self, codes: Sequence[NDArray[Any]], sizes: Sequence[int]) -> FloatArray:
        """Cases by the combination of codes, shape (sizes[0] + 1, ...), those without at index 0."""

    def pairs(
        self,
        codes: Sequence[IntArray],
        sizes: tuple[int, int],
        strata: IntArray | None,
        many: int,
        where: Mask | None,
    ) -> "Pairs": ...

    def answers(self, codes: NDArray[Any], heads: Heads, method: Method) -> list[Share]:
        """The share of every answer among those who gave one; of very many under a design those of
        the most common."""

    def missing(self, variable: Variable) -> list["Gone"]: ...

    def number(self, values: FloatArray) -> Number | None:
        """None where nobody counted has one."""

    def binned(self, values: FloatArray, edges: FloatArray) -> FloatArray:
        """Cases, or what they stand for, between edges, shape (len(edges) - 1,); the last bin holds
        both its ends."""

    def against_stated(self, codes: NDArray[Any], shares: FloatArray) -> "AgainstStated": ...

    def model(self, prepared: Prepared, asked: Estimation, *, is_whole: bool) -> Fitted:
        """Fit a model of an event. ``is_whole`` also fits what stands beside it.

        Raises:
            Separated, Collinear, NotFinite: there is no such estimate.
        """

    def model_of_answers(
        self, prepared: PreparedAnswers, family: Family, asked: Estimation, *, is_whole: bool
    ) -> AnswersFitted:
        """Fit a model of all answers. ``is_whole`` also fits what stands beside it.

        Raises:
            Separated (of answers), Collinear, NotFinite: there is no such estimate.
        """


@dataclass(frozen=True)
class Pairs:
    """Two variables counted together: ``full``, shape (K + 1, R + 1, C + 1), cases with those
    without an answer or stratum at index 0; the whole table and that of every stratum."""

    full: FloatArray
    whole: Callable[[], PairTable]
    stratum: Callable[[int], PairTable]


@dataclass(frozen=True)
class Gone:
    """Cases without an answer for one reason; ``share`` of all, weighted under a design."""

    value: str
    label: str
    n: float
    share: float


@dataclass(frozen=True)
class AgainstStated:
    """Observed against stated shares: the test (None without degrees of freedom), and every answer
    by itself."""

    test: NamedTest | None
    z: FloatArray
    p_adjusted: FloatArray
